import { readValues, type ReadAnswer } from "@orisma/core/internal";
import { Router } from "express";
import { Turns, problemOf, route } from "../http/index.js";

/** Values that are read before others have their turn, if it is time. */
const READ_AT_ONCE = 50;

/** Reading values under a reading, without any source. */
export function dateRoutes(): Router {
  const router = Router();
  route(router, "POST /v1/dates/read", async ({ body: { values, reading } }) => {
    const turns = new Turns();
    const results: ReadAnswer[] = [];
    // Once at least, so that a reading which is wrong is refused without values too.
    for (let at = 0; at === 0 || at < values.length; at += READ_AT_ONCE) {
      const read = readValues(values.slice(at, at + READ_AT_ONCE), reading);
      if (!read.ok) throw problemOf(read.faults);
      results.push(...read.value);
      await turns.pause();
    }
    return { results };
  });
  return router;
}
