import {
  MS_PER_DAY,
  dayNumber,
  daysInYear,
  isoDay,
  isoInstant,
  isoWall,
  wallMs,
  type Interval,
} from "../calendar/index.js";
import {
  failure,
  renderNotice,
  success,
  type Notice,
  type RenderedNotice,
  type Result,
} from "../faults/index.js";
import { edgeAt } from "./edge.js";
import { windowInWords } from "./describe.js";
import { fiscalLabel } from "./fiscal.js";
import type { ListedWindow, NamedWindow } from "./named.js";
import { nextChange } from "./next-change.js";
import { readWindow } from "./read.js";
import { resolveWindow, type WindowContext } from "./resolve.js";
import { ISO_CALENDAR } from "./settings.js";
import { windowText, recurringText } from "./write.js";

/** An interval as it is sent: instants in UTC, and the wall clock in the zone; null is open. */
export interface IntervalText {
  readonly start: string | null;
  readonly end: string | null;
  readonly startLocal: string | null;
  readonly endLocal: string | null;
}

/** What a window comes to, as it is sent. */
export interface WindowAnswer {
  readonly window: string;
  readonly canonical: string;
  readonly sentence: string;
  readonly zone: string;
  readonly asOf: string;
  readonly intervals: readonly IntervalText[];
  /** Parts that recur without end, each in its interval. */
  readonly recurring?: readonly (IntervalText & { readonly parts: readonly string[] })[];
  readonly truncated?: boolean;
  /** Null for never; the instant of the request where it moves all the time. */
  readonly nextChange: string | null;
  readonly notices: readonly RenderedNotice[];
}

/**
 * Reads and resolves a window, with its sentence, its canonical text and when it next changes.
 * Fails as {@link readWindow} and {@link resolveWindow} do.
 */
export function answerWindow(text: string, context: WindowContext): Result<WindowAnswer> {
  const read = readWindow(text);
  if (!read.ok) return read;
  const { window, notices } = read.value;
  const resolved = resolveWindow(window, context);
  if (!resolved.ok) return failure(...resolved.faults);
  const { intervals, recurring, truncated } = resolved.value;
  const next = nextChange(window, context);
  const label = fiscalLabel(window, resolved.value, context.calendar ?? ISO_CALENDAR);
  const returned: readonly Notice[] = [...notices, ...resolved.value.notices];
  return success({
    window: text,
    canonical: windowText(window),
    sentence: windowInWords(window, resolved.value, context.zone, label),
    zone: context.zone.id,
    asOf: isoInstant(context.asOf),
    // A day that the clocks omitted has no moment, which a notice says.
    intervals: intervals.filter(hasMoments).map(intervalText),
    ...(recurring.length === 0
      ? {}
      : {
          recurring: recurring.map(({ interval, recurring: rules }) => ({
            ...intervalText(interval),
            parts: rules.map(recurringText),
          })),
        }),
    ...(truncated ? { truncated } : {}),
    nextChange: next === null ? null : isoInstant(next),
    notices: returned.map(renderNotice),
  });
}

function hasMoments({ start, end }: Interval): boolean {
  return start === null || end === null || start.instant < end.instant;
}

/** Both faces of an interval's edges: RFC 3339 in UTC, and the wall clock without offset. */
export function intervalText({ start, end }: Interval): IntervalText {
  return {
    start: start === null ? null : isoInstant(start.instant),
    end: end === null ? null : isoInstant(end.instant),
    startLocal: start === null ? null : isoWall(start.wall),
    endLocal: end === null ? null : isoWall(end.wall),
  };
}

/** A named window with its dates, as it is sent. */
export interface ListedWindowAnswer extends NamedWindow {
  readonly sentence: string;
  readonly intervals: readonly IntervalText[];
}

/** A named window with its dates, as it is sent. */
export function listedWindowAnswer({ intervals, ...named }: ListedWindow): ListedWindowAnswer {
  return { ...named, intervals: intervals.filter(hasMoments).map(intervalText) };
}

/** What a window comes to as of noon of every day of a year. */
export interface YearOfWindow {
  readonly days: readonly {
    readonly day: string;
    readonly intervals: readonly IntervalText[];
    readonly notices: readonly RenderedNotice[];
    /** How it lies to that of the day before: days omitted between, or covered by both. */
    readonly since: "same" | "next" | "gap" | "overlap" | "apart" | "empty" | null;
  }[];
}

/** Resolves a window for every day of a year, as it is at noon of each. */
export function yearOfWindow(
  text: string,
  year: number,
  context: Omit<WindowContext, "asOf">,
): Result<YearOfWindow> {
  const read = readWindow(text);
  if (!read.ok) return read;
  let before: readonly Interval[] | null = null;
  const found: YearOfWindow["days"][number][] = [];
  const first = dayNumber(year, 1, 1);
  for (let day = first; day < first + daysInYear(year); day++) {
    const noon = wallMs(day * MS_PER_DAY + MS_PER_DAY / 2);
    const { instant: asOf } = edgeAt(noon, context.zone, "earlier", () => undefined);
    const resolved = resolveWindow(read.value.window, { ...context, asOf });
    if (!resolved.ok) return failure(...resolved.faults);
    const { intervals, notices } = resolved.value;
    found.push({
      day: isoDay(day),
      intervals: intervals.map(intervalText),
      notices: notices.map(renderNotice),
      since: before === null ? null : compared(before, intervals),
    });
    before = intervals;
  }
  return success({ days: found });
}

function compared(before: readonly Interval[], now: readonly Interval[]) {
  const [last, first] = [before.at(-1), now[0]];
  if (last === undefined && first === undefined) return "same";
  if (last === undefined || first === undefined) return "empty";
  if (before.length > 1 || now.length > 1) return "apart";
  const [from, to] = [first.start?.instant ?? -Infinity, last.end?.instant ?? Infinity];
  const [start, end] = [last.start?.instant ?? -Infinity, first.end?.instant ?? Infinity];
  if (from === start && to === end) return "same";
  if (from === to) return "next";
  return from > to ? "gap" : "overlap";
}

/** As-of days, one after the other, on which a window has the same edges. */
export interface YearSpan {
  readonly first: string;
  readonly last: string;
  readonly intervals: readonly IntervalText[];
  readonly notices: readonly RenderedNotice[];
  /** How its edges lie to those of the day before the first. */
  readonly since: YearOfWindow["days"][number]["since"];
}

/** A year of a window with the days of the same edges together. */
export function yearSpans({ days }: YearOfWindow): readonly YearSpan[] {
  const found: YearSpan[] = [];
  for (const { day, intervals, notices, since } of days) {
    const open = found.at(-1);
    if (since === "same" && open !== undefined) found[found.length - 1] = { ...open, last: day };
    else found.push({ first: day, last: day, intervals, notices, since });
  }
  return found;
}

/** How the edges of a year's days lie to one another, in words. */
export function yearInWords({ days }: YearOfWindow): string {
  const count = (what: string) => days.filter(({ since }) => since === what).length;
  const empty = days.filter(({ intervals }) => intervals.length === 0).length;
  const apart = count("apart");
  return (
    `${days.length} days, each at noon; the bounds are those of the day before on ${count("same")}, ` +
    `follow on ${count("next")}, overlap on ${count("overlap")}, leave a gap on ${count("gap")}; ` +
    (apart === 0 ? "" : `on ${apart} there are several intervals; `) +
    `${empty} empty`
  );
}
