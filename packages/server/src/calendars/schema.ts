import type { CalendarDeclaration } from "@orisma/core/internal";
import { z } from "zod";

/** An iCalendar file. */
export const CALENDAR_FILE = z
  .string({ error: "an iCalendar file as the body" })
  .min(1, "an iCalendar file as the body");

/** How a calendar is kept; what is left out has the default of ISO 8601. */
export const CALENDAR = z.strictObject({
  weekStart: z.string().optional(),
  firstWeekDays: z.number().optional(),
  finYearStart: z.string().optional(),
  workdays: z.array(z.string()).max(7, "seven weekdays at most").optional(),
  holidays: z.array(z.string()).max(10_000, "10,000 days at most").optional(),
  holidayLists: z.array(z.string()).max(20, "20 lists at most").optional(),
});

type Sent = z.output<typeof CALENDAR>;

/** A calendar that was sent, as the core has it. */
export function calendarOf(
  sent: Sent = {},
): CalendarDeclaration & { readonly holidayLists?: readonly string[] } {
  return Object.fromEntries(Object.entries(sent).filter(([, value]) => value !== undefined));
}
