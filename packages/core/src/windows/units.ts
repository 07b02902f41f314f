import { civilDay, dayNumber, weekday } from "../calendar/index.js";
import type { Unit } from "./notation.js";
import { fiscalYearDay, isWorkday, type CalendarSettings } from "./settings.js";

/** Units of whole days: those that begin and end at midnight. */
export type DayUnit = Exclude<Unit, "minute" | "hour" | "workday">;

/** An interval of whole days, counted from 1970-01-01; the end is not in it. */
export interface DaySpan {
  readonly start: number;
  readonly end: number;
}

/** The unit in which a day lies, moved by so many units. */
export function unitAround(
  day: number,
  unit: DayUnit,
  offset: number,
  calendar: CalendarSettings,
): DaySpan {
  const { year, month } = civilDay(day);
  const months = (from: number, length: number): DaySpan => ({
    start: dayNumber(year, from + offset * length, 1),
    end: dayNumber(year, from + (offset + 1) * length, 1),
  });
  switch (unit) {
    case "day":
      return { start: day + offset, end: day + offset + 1 };
    case "week": {
      const start = day - ((weekday(day) - calendar.weekStart + 7) % 7) + offset * 7;
      return { start, end: start + 7 };
    }
    case "month":
      return months(month, 1);
    case "quarter":
      return months(month - ((month - 1) % 3), 3);
    case "year":
      return months(1, 12);
    case "fiscalyear": {
      const first = fiscalYearOf(day, calendar) + offset;
      return {
        start: fiscalYearDay(first, 0, calendar),
        end: fiscalYearDay(first + 1, 0, calendar),
      };
    }
    case "fiscalquarter": {
      const first = fiscalYearOf(day, calendar);
      let quarter = 0;
      while (quarter < 3 && fiscalYearDay(first, quarter * 3 + 3, calendar) <= day) quarter++;
      const start = (quarter + offset) * 3;
      return {
        start: fiscalYearDay(first, start, calendar),
        end: fiscalYearDay(first, start + 3, calendar),
      };
    }
  }
}

/** The civil year in which the fiscal year of a day begins. */
function fiscalYearOf(day: number, calendar: CalendarSettings): number {
  const { year } = civilDay(day);
  return fiscalYearDay(year, 0, calendar) <= day ? year : year - 1;
}

/** Days that are looked at for working days: among so many there is one, or there never is. */
const MAX_DAYS_OFF = 4_000;

/**
 * The n-th working day strictly before or after a day; for 0 the day itself, if people work
 * on it. Null where there is none.
 */
export function workdayFrom(
  day: number,
  offset: number,
  calendar: CalendarSettings,
): number | null {
  if (offset === 0) return isWorkday(day, calendar) ? day : null;
  const step = offset < 0 ? -1 : 1;
  let remaining = Math.abs(offset);
  let found = day;
  for (let off = 0; remaining > 0;) {
    found += step;
    if (isWorkday(found, calendar)) {
      remaining--;
      off = 0;
    } else if (++off > MAX_DAYS_OFF) return null;
  }
  return found;
}
