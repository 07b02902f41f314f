import { readValues } from "@orisma/core/internal";
import { Router } from "express";
import { problemOf, route } from "../http/index.js";

/** Reading values under a reading, without any source. */
export function dateRoutes(): Router {
  const router = Router();
  route(router, "POST /v1/dates/read", ({ body: { values, reading } }) => {
    const results = readValues(values, reading);
    if (!results.ok) throw problemOf(results.faults);
    return { results: results.value };
  });
  return router;
}
