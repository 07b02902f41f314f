import { Router } from "express";
import type { DataSource } from "typeorm";
import { SENT, route } from "../http/index.js";

/**
 * Whether the process lives, and whether it can answer; open to all, and telling beside it no more
 * than the names of listings that cannot be served.
 */
export function healthRoutes(dataSource: DataSource, broken: () => readonly string[]): Router {
  const router = Router();
  route(router, "GET /health/live", () => ({ status: "live" }));
  route(router, "GET /health/ready", async ({ response }) => {
    try {
      await dataSource.query("SELECT 1");
      return { status: "ready", listings: broken() };
    } catch {
      response
        .status(503)
        .set("Retry-After", "5")
        .json({ status: "the database cannot be reached" });
      return SENT;
    }
  });
  return router;
}
