import { Router } from "express";
import { Problem, SENT, route } from "../http/index.js";
import type { Backups } from "./backups.js";
import type { Doctor } from "./doctor.js";
import { pipeline } from "node:stream/promises";

/** Backups of all that the service keeps, and what is wrong with the installation. */
export function upkeepRoutes(backups: Backups, doctor: Doctor): Router {
  const router = Router();

  route(router, "GET /v1/backup", async ({ query, response }) => {
    const backup = await backups.create(query.secret === "true");
    response.status(200).set("Content-Type", "application/gzip").set("Cache-Control", "no-store");
    response.set("Content-Disposition", 'attachment; filename="orisma-backup.gz"');
    await pipeline(backup, response).catch((error: unknown) => {
      // What is sent has no last line, by which it is known not to be whole.
      response.destroy(error as Error);
    });
    return SENT;
  });

  route(router, "POST /v1/restore", async ({ request, response }) => {
    if (request.is(["application/gzip", "application/octet-stream"]) === false) {
      throw new Problem("unsupported-media", "Send the backup as it was sent, as application/gzip");
    }
    const sent = Number(request.headers["content-length"] ?? 0);
    const restored = await backups.restore(request, sent);
    response.once("close", () => backups.restart());
    return restored;
  });

  route(router, "GET /v1/doctor", async () => ({ findings: await doctor.findings() }));

  return router;
}
