import { readValues } from "@orisma/core/internal";
import { Router } from "express";
import { requireRole } from "../access/index.js";
import { parse, problemOf } from "../http/index.js";
import { READ_REQUEST, readingOf } from "./schema.js";

/** Reading values under a reading, without any source. */
export function dateRoutes(): Router {
  const router = Router();
  router.post("/dates/read", requireRole("reader"), (request, response) => {
    const { values, reading } = parse(READ_REQUEST, request.body);
    const results = readValues(values, readingOf(reading));
    if (!results.ok) throw problemOf(results.faults);
    response.json({ results: results.value });
  });
  return router;
}
