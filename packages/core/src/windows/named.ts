import { isoDay, type Interval } from "../calendar/index.js";
import { failure, success, type Result } from "../faults/index.js";
import { windowInWords } from "./describe.js";
import { fiscalLabel } from "./fiscal.js";
import { firstMoment } from "./edge.js";
import type { Window } from "./notation.js";
import { readWindow } from "./read.js";
import { resolveWindow, type WindowContext } from "./resolve.js";
import { ISO_CALENDAR } from "./settings.js";

/** A window with a label, for people who pick. */
export interface NamedWindow {
  readonly name: string;
  readonly label: string;
  /** In the notation of windows. */
  readonly window: string;
}

/** The windows that people most often pick; a declaration may add to them. */
export const NAMED_WINDOWS: readonly NamedWindow[] = [
  { name: "today", label: "today", window: "today" },
  { name: "yesterday", label: "yesterday", window: "yesterday" },
  { name: "tomorrow", label: "tomorrow", window: "tomorrow" },
  { name: "week-so-far", label: "this week so far", window: "week/now" },
  { name: "week", label: "this week", window: "week" },
  { name: "last-week", label: "last week", window: "week-1" },
  { name: "next-week", label: "next week", window: "week+1" },
  { name: "seven-days-before-today", label: "the 7 days before today", window: "day-7/yesterday" },
  { name: "seven-days-with-today", label: "the 7 days up to today", window: "day-6/today" },
  {
    name: "thirty-days-before-today",
    label: "the 30 days before today",
    window: "day-30/yesterday",
  },
  { name: "thirty-days-with-today", label: "the 30 days up to today", window: "day-29/today" },
  { name: "month-so-far", label: "this month so far", window: "month/now" },
  { name: "month", label: "this month", window: "month" },
  { name: "last-month", label: "last month", window: "month-1" },
  { name: "next-month", label: "next month", window: "month+1" },
  { name: "quarter", label: "this quarter", window: "quarter" },
  { name: "last-quarter", label: "last quarter", window: "quarter-1" },
  { name: "year-so-far", label: "this year so far", window: "year/now" },
  { name: "year", label: "this year", window: "year" },
  { name: "last-year", label: "last year", window: "year-1" },
  { name: "fiscal-year", label: "this fiscal year", window: "fiscalyear" },
  {
    name: "five-working-days",
    label: "the 5 working days before today",
    window: "workday-5/workday-1",
  },
  { name: "coming-seven-days", label: "the coming 7 days", window: "tomorrow/P7D" },
  { name: "coming-thirty-days", label: "the coming 30 days", window: "tomorrow/P30D" },
  { name: "ahead", label: "today and later", window: "today/.." },
  { name: "overdue", label: "overdue", window: "../yesterday" },
];

/** Windows by their names in lower case, for whatever takes a name in place of a window. */
export type WindowsByName = ReadonlyMap<string, Window>;

/** Whether a name is a window itself, such as `day-7` or `P1M/now`, which no other window can then bear. */
export function isWindowText(name: string): boolean {
  return readWindow(name).ok;
}

/**
 * The windows of some names, as they are written. Left out are those that cannot be read, and names that
 * are windows themselves: what is written in the notation always means what it says.
 */
export function windowsByName(windows: readonly NamedWindow[]): WindowsByName {
  return new Map(
    windows.flatMap(({ name, window }) => {
      if (isWindowText(name)) return [];
      const read = readWindow(window, name);
      return read.ok ? [[name.toLowerCase(), read.value.window] as const] : [];
    }),
  );
}

/** A named window with its dates on the as-of day. */
export interface ListedWindow extends NamedWindow {
  readonly sentence: string;
  readonly intervals: readonly Interval[];
}

/** Named windows with their dates; fails with the faults of one that cannot be read. */
export function listWindows(
  windows: readonly NamedWindow[],
  context: WindowContext,
): Result<readonly ListedWindow[]> {
  const listed: ListedWindow[] = [];
  for (const each of windows) {
    const read = readWindow(each.window, each.name);
    if (!read.ok) return read;
    const resolved = resolveWindow(read.value.window, context);
    if (!resolved.ok) return failure(...resolved.faults);
    const { intervals } = resolved.value;
    const { name, label, window } = each;
    const calendar = context.calendar ?? ISO_CALENDAR;
    const fiscal = fiscalLabel(read.value.window, resolved.value, calendar);
    listed.push({
      name,
      label,
      window,
      intervals,
      sentence: windowInWords(read.value.window, resolved.value, context.zone, fiscal),
    });
  }
  return success(listed);
}

/** An interval of days on which a ladder does not tile. */
export interface LadderFault {
  /** The first as-of day on which it is so. */
  readonly day: string;
  readonly kind: "gap" | "overlap" | "empty";
  /** The two rungs between which it lies, or the one that is empty. */
  readonly between: readonly string[];
}

/**
 * Checks that the rungs of a ladder lie side by side, without gap or overlap, whatever day it
 * is: resolved at the first moment of every day of an interval, counted from 1970-01-01. Each pair of
 * rungs is reported once, for the first day on which it does not tile.
 */
export function checkLadder(
  rungs: readonly NamedWindow[],
  days: { readonly from: number; readonly to: number },
  context: Omit<WindowContext, "asOf">,
): Result<readonly LadderFault[]> {
  const found = new Map<string, LadderFault>();
  for (let day = days.from; day < days.to; day++) {
    const asOf = firstMoment(day, context.zone);
    const listed = listWindows(rungs, { ...context, asOf });
    if (!listed.ok) return listed;
    for (const fault of tilingFaults(listed.value, isoDay(day))) {
      const key = `${fault.kind} ${fault.between.join()}`;
      if (!found.has(key)) found.set(key, fault);
    }
  }
  return success([...found.values()]);
}

function tilingFaults(rungs: readonly ListedWindow[], day: string): readonly LadderFault[] {
  const empty = rungs.filter(({ intervals }) => intervals.length === 0);
  const intervals = rungs
    .flatMap(({ name, intervals }) => intervals.map((interval) => ({ name, ...interval })))
    .sort((a, b) => (a.start?.instant ?? -Infinity) - (b.start?.instant ?? -Infinity));
  const faults = intervals.slice(1).flatMap((next, index): readonly LadderFault[] => {
    const before = intervals[index];
    if (before === undefined) return [];
    const [end, start] = [before.end?.instant ?? Infinity, next.start?.instant ?? -Infinity];
    if (end === start) return [];
    return [{ day, kind: end < start ? "gap" : "overlap", between: [before.name, next.name] }];
  });
  return [
    ...empty.map(({ name }) => ({ day, kind: "empty" as const, between: [name] })),
    ...faults,
  ];
}
