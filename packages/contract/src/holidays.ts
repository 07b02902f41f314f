import { z } from "zod";
import { describeCalls } from "./call.js";
import type { Shown } from "./schema.js";

export const HOLIDAY = z
  .object({ day: z.string(), label: z.string() })
  .meta({ id: "Holiday", description: "A day off, in ISO 8601, and what it is called." });
export type Holiday = Shown<typeof HOLIDAY>;

export const HOLIDAY_LIST_DESCRIPTION = z
  .object({
    name: z.string(),
    days: z.number().describe("How many there are."),
    first: z.string().nullable(),
    last: z.string().nullable(),
    importedAt: z.string(),
  })
  .meta({ id: "HolidayListDescription", description: "A list of days off." });
export type HolidayListDescription = Shown<typeof HOLIDAY_LIST_DESCRIPTION>;

const tag = "windows";

/** Lists of days off. */
export const HOLIDAY_CALLS = describeCalls({
  "GET /v1/holidays": {
    tag,
    summary: "The lists of days off",
    role: "reader",
    answer: z.object({ holidayLists: z.array(HOLIDAY_LIST_DESCRIPTION) }),
  },
  "GET /v1/holidays/{name}": {
    tag,
    summary: "A list of days off, day by day",
    role: "reader",
    answer: HOLIDAY_LIST_DESCRIPTION.extend({ holidays: z.array(HOLIDAY) }),
  },
  "PUT /v1/holidays/{name}": {
    tag,
    summary: "Import a list of days off from an iCalendar file (RFC 5545)",
    role: "author",
    body: { media: ["text/calendar"], description: "the file itself" },
    answer: HOLIDAY_LIST_DESCRIPTION.extend({
      skipped: z
        .array(z.string())
        .describe("Events that were skipped, as they are not whole days."),
    }),
  },
  "DELETE /v1/holidays/{name}": {
    tag,
    summary: "Delete a list of days off",
    role: "author",
    answer: null,
    problems: ["already-there"],
  },
});
