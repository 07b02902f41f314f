import {
  MS_PER_DAY,
  civilDay,
  dayNumber,
  daysInMonth,
  epochMs,
  wallAt,
  wallMs,
  type Edge,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import { edgeAt } from "./edge.js";

/** How far back the period before lies. */
export const PERIODS_BEFORE = ["length", "month", "year"] as const;
export type PeriodBefore = (typeof PERIODS_BEFORE)[number];

/**
 * The period before an interval: of the same length and ending where it begins, or the same
 * dates one calendar month or one year earlier. Null for an interval that is open on a side.
 *
 * An interval of whole days is moved by whole days, so that clock changes do not shift it. One
 * of whole months goes back by as many months, whatever their lengths: before March lies all of
 * February. A 29 February, or any day that the earlier month lacks, becomes its last day.
 */
export function periodBefore(
  { start, end }: Interval,
  by: PeriodBefore,
  zone: Zone,
): Interval | null {
  if (start === null || end === null) return null;
  const isWholeDays = start.wall % MS_PER_DAY === 0 && end.wall % MS_PER_DAY === 0;
  const months = isWholeDays ? wholeMonths(start.wall, end.wall) : null;
  const at = (wall: number, which: "earlier" | "later") =>
    edgeAt(wallMs(wall), zone, which, () => undefined);
  if (by !== "length") {
    const back = by === "year" ? 12 : 1;
    return {
      start: at(monthsBack(start.wall, back), "earlier"),
      end: at(endBack(end.wall, back), "later"),
    };
  }
  if (months !== null) return { start: at(monthsBack(start.wall, months), "earlier"), end: start };
  if (isWholeDays)
    return { start: at(start.wall - (end.wall - start.wall), "earlier"), end: start };
  const instant = epochMs(start.instant - (end.instant - start.instant));
  const edge: Edge = { instant, wall: wallAt(zone, instant) };
  return { start: edge, end: start };
}

/** The number of whole calendar months between two midnights, or null where it is none. */
function wholeMonths(start: number, end: number): number | null {
  const [from, to] = [civilDay(start / MS_PER_DAY), civilDay(end / MS_PER_DAY)];
  return from.day === 1 && to.day === 1 ? (to.year - from.year) * 12 + to.month - from.month : null;
}

function monthsBack(wall: number, months: number): number {
  const day = Math.floor(wall / MS_PER_DAY);
  const civil = civilDay(day);
  const first = civilDay(dayNumber(civil.year, civil.month - months, 1));
  const clamped = Math.min(civil.day, daysInMonth(first.year, first.month));
  return dayNumber(first.year, first.month, clamped) * MS_PER_DAY + (wall - day * MS_PER_DAY);
}

/** An end at midnight is the end of a last day, and it is that day which goes back. */
function endBack(wall: number, months: number): number {
  if (wall % MS_PER_DAY !== 0) return monthsBack(wall, months);
  const last = monthsBack(wall - MS_PER_DAY, months);
  const { day } = civilDay(wall / MS_PER_DAY);
  // The last day of a month goes back to the last day of a month.
  return day === 1 ? monthsBack(wall, months) : last + MS_PER_DAY;
}
