import { Router } from "express";
import type { DataSource } from "typeorm";

/**
 * Whether the process lives, and whether it can answer; open to all, and telling beside it no more
 * than the names of listings that cannot be served.
 */
export function healthRoutes(dataSource: DataSource, broken: () => readonly string[]): Router {
  const router = Router();
  router.get("/health/live", (_request, response) => {
    response.json({ status: "live" });
  });
  router.get("/health/ready", async (_request, response) => {
    try {
      await dataSource.query("SELECT 1");
      response.json({ status: "ready", listings: broken() });
    } catch {
      response
        .status(503)
        .set("Retry-After", "5")
        .json({ status: "the database cannot be reached" });
    }
  });
  return router;
}
