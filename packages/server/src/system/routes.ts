import { FAULT_CODES } from "@orisma/core";
import { Router } from "express";
import type { DataSource } from "typeorm";
import { PROBLEMS } from "../http/index.js";

/** Whether the process lives, and whether it can answer; open to all, and telling nothing else. */
export function healthRoutes(dataSource: DataSource): Router {
  const router = Router();
  router.get("/health/live", (_request, response) => {
    response.json({ status: "live" });
  });
  router.get("/health/ready", async (_request, response) => {
    try {
      await dataSource.query("SELECT 1");
      response.json({ status: "ready" });
    } catch {
      response
        .status(503)
        .set("Retry-After", "5")
        .json({ status: "the database cannot be reached" });
    }
  });
  return router;
}

/** The page to which the `type` of every problem document points. */
export function problemRoutes(): Router {
  const router = Router();
  const rows = Object.entries(PROBLEMS).map(
    ([name, { status, title }]) =>
      `<tr id="${name}"><td>${name}</td><td>${status}</td><td>${title}</td></tr>`,
  );
  const codes = FAULT_CODES.map((code) => `<li><code>${code}</code></li>`);
  const page =
    `<!doctype html><html lang="en"><meta charset="utf-8"><title>Orisma: problems</title>` +
    `<h1>Problems</h1><table><tr><th>Problem</th><th>Status</th><th>Meaning</th></tr>${rows.join("")}</table>` +
    `<h2>Codes of faults</h2><ul>${codes.join("")}</ul></html>`;
  router.get("/problems", (_request, response) => {
    response.type("html").send(page);
  });
  return router;
}
