import { type RecurringSpan } from "./conditions/index.js";
import { ISO_CALENDAR, type RecurringInterval, type WindowContext } from "../windows/index.js";

/** The rules of a recurring window as a condition has them: with their weeks and their clock. */
export function recurringSpans(
  recurring: readonly RecurringInterval[],
  { calendar = ISO_CALENDAR, zone }: WindowContext,
): readonly RecurringSpan[] {
  const { weekStart, firstWeekDays } = calendar;
  return recurring.map(({ interval, recurring: rules }) => ({
    interval,
    rules,
    weeks: { weekStart, firstWeekDays },
    zone: zone.id,
  }));
}
