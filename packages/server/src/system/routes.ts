import { Router } from "express";
import type { DataSource } from "typeorm";
import { DatabaseUnavailable, within } from "../database/index.js";
import { SENT, route } from "../http/index.js";

/**
 * Whether the process lives, and whether it can answer; open to all, and telling beside it no more
 * than the names of listings that cannot be served.
 */
export function healthRoutes(
  dataSource: DataSource,
  broken: () => readonly string[],
  isEnding: () => boolean,
): Router {
  const router = Router();
  route(router, "GET /health/live", () => ({ status: "live" }));
  route(router, "GET /health/ready", async ({ response }) => {
    const notReady = (status: string) => {
      response.status(503).set("Retry-After", "5").json({ status });
      return SENT;
    };
    if (isEnding()) return notReady("the service is ending");
    try {
      const late = () => new DatabaseUnavailable("the database does not answer");
      await within(READY_WITHIN_MS, dataSource.query("SELECT 1"), late);
      return { status: "ready", listings: broken() };
    } catch {
      return notReady("the database cannot be reached");
    }
  });
  return router;
}

/** Milliseconds that the database may take to answer: a frozen one is away. */
const READY_WITHIN_MS = 2_000;
