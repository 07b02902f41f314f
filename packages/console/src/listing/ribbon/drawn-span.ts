/** The days that a ribbon draws, both included; as `2025-02-28`, on the clocks of the listing. */
export interface DrawnSpan {
  readonly first: string;
  readonly last: string;
}

/** The window of a ribbon, on the wall clock of the listing's zone. */
export interface RibbonWindow {
  readonly start: string | null;
  readonly end: string | null;
}

const DAY_MS = 86_400_000;
/** A window keeps the span around it as long as it is so much of it: shorter ones are seen better nearer by. */
const LEAST_SHARE = 1 / 12;

/**
 * The span that a ribbon draws: the window with as much before and after it, within the days of the records; the
 * one that is drawn already where the window lies well in it, so that nothing moves under the hand. Null for all of
 * the records, where there is no window, or none of them lies in it.
 */
export function spanAround(
  window: RibbonWindow | null,
  records: DrawnSpan,
  drawn: DrawnSpan | null,
): DrawnSpan | null {
  if (window === null) return null;
  const whole = daysOf(records);
  const { from, to } = windowDays(window, whole);
  const seen = within({ from, to }, whole);
  if (seen.from > seen.to) return null;
  if (drawn !== null) {
    const held = daysOf(drawn);
    const isIn = held.from <= seen.from && held.to >= seen.to;
    if (isIn && lengthOf(seen) >= lengthOf(held) * LEAST_SHARE) return drawn;
  }
  if (window.start === null || window.end === null) return null;
  const length = to - from + 1;
  const span = unlessWhole(within({ from: from - length, to: to + length }, whole), whole);
  // The same one, where it is the same: what is drawn has not changed.
  return span?.first === drawn?.first && span?.last === drawn?.last ? drawn : span;
}

/**
 * A span that is nearer by, around a day, or farther off; never beyond the records, and always with all that is
 * seen of the window.
 */
export function zoomed(
  span: DrawnSpan,
  factor: number,
  around: string,
  { window, records }: { readonly window: RibbonWindow | null; readonly records: DrawnSpan },
): DrawnSpan {
  const [now, whole, at] = [daysOf(span), daysOf(records), dayNumber(around)];
  // Farther off as much is seen on either side, also at an end; nearer by the day stays at its place.
  const more = Math.ceil((lengthOf(now) * (factor - 1)) / 2);
  const moved =
    factor > 1
      ? { from: now.from - more, to: now.to + more }
      : {
          from: Math.ceil(at - (at - now.from) * factor),
          to: Math.floor(at + (now.to - at) * factor),
        };
  const seen = window === null ? { from: at, to: at } : within(windowDays(window, whole), whole);
  const wide = { from: Math.min(moved.from, seen.from), to: Math.max(moved.to, seen.to) };
  return spanOf(within(wide, whole));
}

/** Whether a span that was zoomed to is still drawn: as long as all that is seen of the window lies in it. */
export function holds(span: DrawnSpan, window: RibbonWindow | null, records: DrawnSpan): boolean {
  if (window === null) return true;
  const [held, whole] = [daysOf(span), daysOf(records)];
  const seen = within(windowDays(window, whole), whole);
  return held.from <= seen.from && held.to >= seen.to;
}

/** The days of a window, open ends at those of the records. */
function windowDays({ start, end }: RibbonWindow, whole: Days): Days {
  return {
    from: start === null ? whole.from : dayNumber(start),
    to: end === null ? whole.to : lastDayNumber(end),
  };
}

interface Days {
  readonly from: number;
  readonly to: number;
}

function unlessWhole(days: Days, whole: Days): DrawnSpan | null {
  if (days.from <= whole.from && days.to >= whole.to) return null;
  return spanOf(days);
}

function spanOf({ from, to }: Days): DrawnSpan {
  return { first: textOf(from), last: textOf(to) };
}

function within({ from, to }: Days, whole: Days): Days {
  return { from: Math.max(from, whole.from), to: Math.min(to, whole.to) };
}

function daysOf({ first, last }: DrawnSpan): Days {
  return { from: dayNumber(first), to: dayNumber(last) };
}

function lengthOf({ from, to }: Days): number {
  return to - from + 1;
}

function dayNumber(text: string): number {
  return Date.parse(`${text.slice(0, 10)}T00:00:00Z`) / DAY_MS;
}

/** The last day of what ends at a moment: at midnight the day before. */
function lastDayNumber(end: string): number {
  return end.slice(10) === "T00:00:00" ? dayNumber(end) - 1 : dayNumber(end);
}

function textOf(day: number): string {
  return new Date(day * DAY_MS).toISOString().slice(0, 10);
}
