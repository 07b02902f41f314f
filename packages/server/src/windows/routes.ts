import { answerWindow, calendarSettings, epochMs, findZone, placed } from "@orisma/core";
import { Router } from "express";
import { requireRole } from "../access/index.js";
import { parse, problemOf } from "../http/index.js";
import { RESOLVE, calendarOf } from "./schema.js";

/** Resolving windows: without any source, for any instant and zone. */
export function windowRoutes(now: () => number): Router {
  const router = Router();
  router.post("/windows/resolve", requireRole("reader"), (request, response) => {
    const { window, asOf, zone, calendar } = parse(RESOLVE, request.body);
    const [found, settings] = [findZone(zone), calendarSettings(calendarOf(calendar))];
    const faults = [
      ...(found.ok ? [] : found.faults.map((each) => placed(each, { path: "zone", value: zone }))),
      ...(settings.ok ? [] : settings.faults),
    ];
    if (!found.ok || !settings.ok) throw problemOf(faults);
    const answer = answerWindow(window, {
      asOf: epochMs(asOf === undefined ? now() : Date.parse(asOf)),
      zone: found.value,
      calendar: settings.value,
    });
    if (!answer.ok) {
      throw problemOf(answer.faults.map((each) => ({ ...each, path: "window" })));
    }
    response.json(answer.value);
  });
  return router;
}
