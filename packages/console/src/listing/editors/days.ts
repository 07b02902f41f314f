import { civilDay, dayNumber, daysInMonth, weekday } from "@orisma/core/internal";

/** The first and the last day that can be written. */
const LEAST = dayNumber(1, 1, 1);
const MAX = dayNumber(9_999, 12, 31);

/** The nearest day that can be written. */
function written(day: number): number {
  return Math.min(MAX, Math.max(LEAST, day));
}

/** The same day of the month some months on, or the month's last where it has no such day. */
export function monthsOn(day: number, months: number): number {
  const { year, month, day: ofMonth } = civilDay(day);
  const at = year * 12 + month - 1 + months;
  const [toYear, toMonth] = [Math.floor(at / 12), (at % 12) + 1];
  if (toYear < 1 || toYear > 9_999) return months < 0 ? LEAST : MAX;
  return dayNumber(toYear, toMonth, Math.min(ofMonth, daysInMonth(toYear, toMonth)));
}

/** The day that a key leads to from another, or null for a key that leads nowhere. */
export function dayByKey(key: string, from: number, isRightToLeft: boolean): number | null {
  const onwards = isRightToLeft ? -1 : 1;
  const { year, month } = civilDay(from);
  switch (key) {
    case "ArrowLeft":
      return written(from - onwards);
    case "ArrowRight":
      return written(from + onwards);
    case "ArrowUp":
      return written(from - 7);
    case "ArrowDown":
      return written(from + 7);
    case "PageUp":
      return monthsOn(from, -1);
    case "PageDown":
      return monthsOn(from, 1);
    case "Home":
      return dayNumber(year, month, 1);
    case "End":
      return dayNumber(year, month, daysInMonth(year, month));
    default:
      return null;
  }
}

const NAMES = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"];

/** The names of the days of a week that begins with one of them, 1 for Monday to 7 for Sunday. */
export function weekFrom(weekStart: number): readonly string[] {
  return [...NAMES.slice(weekStart - 1), ...NAMES.slice(0, weekStart - 1)];
}

/** The place of a day in its week, from 0. */
export function placeInWeek(day: number, weekStart: number): number {
  return (weekday(day) - weekStart + 7) % 7;
}
