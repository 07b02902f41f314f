import express, { Router } from "express";
import { z } from "zod";
import { parse, route } from "../http/index.js";
import type { HolidayLists } from "./service.js";

/** Bytes of an iCalendar file at most. */
const LARGEST_CALENDAR = "4mb";

const CALENDAR_FILE = z
  .string({ error: "an iCalendar file as the body" })
  .min(1, "an iCalendar file as the body");

/** Lists of days off. */
export function calendarRoutes(
  lists: HolidayLists,
  mustNotUse: (holidayList: string) => void,
): Router {
  const router = Router();

  route(router, "GET /v1/holidays", () => ({ holidayLists: lists.list() }));
  route(router, "GET /v1/holidays/{name}", ({ path: { name } }) => ({
    ...lists.describe(name),
    holidays: lists.days(name),
  }));

  const readText = express.text({ type: () => true, limit: LARGEST_CALENDAR });
  route(router, "PUT /v1/holidays/{name}", { before: readText }, ({ path, request }) =>
    lists.put(path.name, parse(CALENDAR_FILE, request.body)),
  );

  route(router, "DELETE /v1/holidays/{name}", async ({ path: { name } }) => {
    mustNotUse(name);
    await lists.remove(name);
  });

  return router;
}
