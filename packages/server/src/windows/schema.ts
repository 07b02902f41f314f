import type { CalendarDeclaration } from "@orisma/core";
import { z } from "zod";

/** How a calendar is kept; what is left out has the default of ISO 8601. */
export const CALENDAR = z.strictObject({
  weekStart: z.string().optional(),
  firstWeekDays: z.number().optional(),
  finYearStart: z.string().optional(),
  workdays: z.array(z.string()).max(7, "seven weekdays at most").optional(),
  holidays: z.array(z.string()).max(10_000, "10,000 days at most").optional(),
});

/** A window to be resolved. */
export const RESOLVE = z.strictObject({
  window: z.string({ error: "a window, such as month-1/now" }),
  /** An instant; the moment of the request unless told. */
  asOf: z.iso
    .datetime({ offset: true, error: "an instant such as 2026-11-25T09:00:00Z" })
    .optional(),
  zone: z.string({ error: "an IANA time zone, such as Europe/London" }),
  calendar: CALENDAR.optional(),
});

type Sent = z.output<typeof CALENDAR>;

/** A calendar that was sent, as the core has it. */
export function calendarOf(sent: Sent = {}): CalendarDeclaration {
  return Object.fromEntries(Object.entries(sent).filter(([, value]) => value !== undefined));
}
