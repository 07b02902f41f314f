import type { ListingCalendar } from "@orisma/core/internal";
import { z } from "zod";
import { tied } from "./schema.js";

/** How a calendar is kept; what is not given has the default of ISO 8601. */
export const CALENDAR = tied<ListingCalendar>()(
  z.strictObject({
    weekStart: z
      .string()
      .meta({
        title: "First day of a week",
        description: "The first day of a week; MO by default.",
      })
      .exactOptional(),
    firstWeekDays: z
      .number()
      .meta({
        title: "Days of a first week",
        description:
          "Days of a week that must lie in the year whose first week it is; 4 by default.",
      })
      .exactOptional(),
    fiscalYearStart: z
      .string()
      .meta({
        title: "Financial year",
        description:
          "The first day of the fiscal year as MM-DD, 1 to 28 of a month; 01-01 by default.",
      })
      .exactOptional(),
    workdays: z
      .array(z.string())
      .max(7, "seven weekdays at most")
      .meta({ title: "Working days", description: "Monday to Friday by default." })
      .exactOptional(),
    holidays: z
      .array(z.string())
      .max(10_000, "10,000 days at most")
      .meta({ title: "Holidays", description: "Days off, in ISO 8601." })
      .exactOptional(),
    holidayLists: z
      .array(z.string())
      .max(20, "20 lists at most")
      .meta({
        title: "Lists of holidays",
        description: "Lists of days off that the service holds, by name.",
      })
      .exactOptional(),
  }),
);
