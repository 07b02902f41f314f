import express, { Router } from "express";
import { callerWith, requireRole } from "../access/index.js";
import { parse, pathParameter } from "../http/index.js";
import { CALENDAR_FILE } from "./schema.js";
import type { HolidayLists } from "./service.js";

/** Bytes of an iCalendar file at most. */
const LARGEST_CALENDAR = "4mb";

/** Lists of days off. */
export function calendarRoutes(
  lists: HolidayLists,
  mustNotUse: (holidayList: string) => void,
): Router {
  const router = Router();

  router.get("/holidays", (_request, response) => {
    callerWith("reader", response);
    response.json({ holidayLists: lists.list() });
  });

  router.get("/holidays/:name", (request, response) => {
    callerWith("reader", response);
    const name = pathParameter(request, "name");
    response.json({ ...lists.describe(name), holidays: lists.days(name) });
  });

  router.put(
    "/holidays/:name",
    requireRole("maker"),
    express.text({ type: () => true, limit: LARGEST_CALENDAR }),
    async (request, response) => {
      const text = parse(CALENDAR_FILE, request.body);
      response.json(await lists.put(pathParameter(request, "name"), text));
    },
  );

  router.delete("/holidays/:name", requireRole("maker"), async (request, response) => {
    const name = pathParameter(request, "name");
    mustNotUse(name);
    await lists.remove(name);
    response.status(204).end();
  });

  return router;
}
