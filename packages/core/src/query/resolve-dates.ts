import {
  MS_PER_DAY,
  dayNumber,
  dayOf,
  isoDay,
  isoWall,
  wallAt,
  type EpochMs,
  type Interval,
  type Span,
  type Zone,
} from "../calendar/index.js";
import { failure, fault, notice, success, type Notice, type Result } from "../faults/index.js";
import {
  intervalOf,
  recurringSpans,
  type DateComparison,
  type RecurringSpan,
} from "../filters/index.js";
import {
  isReversed,
  isTimeOfDay,
  resolveExactly,
  resolvePart,
  skippedDay,
  type Part,
  type WindowContext,
} from "../windows/index.js";
import { periodTest, windowOfPart, type DateTest } from "./query.js";

/** What a test of dates comes to at a moment. */
export interface ResolvedDates {
  /** The test as it was applied: two dates in reverse order may have been swapped. */
  readonly applied: DateTest;
  /** What each written date of a part, or of the two ends, covers; null for nothing. */
  readonly spans: readonly (Span | null)[];
  readonly intervals: readonly Interval[];
  readonly recurring: readonly RecurringSpan[];
  /** Of a window: what each of its alternatives covers but for its recurring parts. */
  readonly ranges?: readonly (Interval | null)[];
  readonly notices: readonly Notice[];
}

/** How the dates of a test are named in notices, and what reading them gave notice of. */
export interface TestSource {
  /** The name of the start, then that of the end; a single date has the one or the other. */
  readonly names: readonly string[];
  readonly notices: readonly Notice[];
}

/**
 * Resolves what a column of dates is compared with.
 *
 * Fails as {@link resolvePart} and {@link resolveExactly} do, and with `window.reversed` where two
 * fixed dates come in reverse order and the listing rejects that.
 */
export function resolveDates(
  test: DateTest,
  source: TestSource,
  context: WindowContext,
): Result<ResolvedDates> {
  switch (test.kind) {
    case "window": {
      const resolved = resolveExactly(test.window, context);
      if (!resolved.ok) return resolved;
      const { intervals, recurring, ranges } = resolved.value;
      const spans = recurringSpans(recurring, context);
      const notices = [...source.notices, ...resolved.value.notices];
      return success({ applied: test, spans: [], intervals, recurring: spans, ranges, notices });
    }
    case "part":
      return resolveOne(test, source, context);
    case "between":
      return resolveBetween(test, source, context);
  }
}

/**
 * Days around today, or elapsed time around now, with an end outside the calendar left open where all dates lie before or behind it; null
 * where none does.
 */
export function withinCalendar(test: DateTest, { asOf, zone }: WindowContext): DateTest | null {
  if (test.kind === "window") return test;
  const start =
    test.kind === "between" ? test.start.part : test.comparison === "from" ? test.part : null;
  const end = test.kind === "between" ? test.end.part : test.comparison === "to" ? test.part : null;
  const day = (part: Part | null) => (part === null ? null : dayOfPart(part, asOf, zone));
  const [from, to] = [day(start) ?? FIRST_DAY, day(end) ?? LAST_DAY];
  if (from > LAST_DAY || to < FIRST_DAY) return null;
  return periodTest(from < FIRST_DAY ? null : start, to > LAST_DAY ? null : end);
}

/** The day that a part names by days from today, or by elapsed time from now; null for any other. */
function dayOfPart({ base, shifts }: Part, asOf: EpochMs, zone: Zone): number | null {
  if (base.kind === "unit" && base.unit === "day") return dayOf(wallAt(zone, asOf)) + base.offset;
  if (base.kind !== "now") return null;
  const ms = shifts.reduce((sum, { sign, duration }) => sum + sign * duration.elapsedMs, 0);
  return Math.floor((asOf + ms) / MS_PER_DAY);
}

const FIRST_DAY = dayNumber(1, 1, 1);
const LAST_DAY = dayNumber(9_999, 12, 31);

function resolveOne(
  test: Extract<DateTest, { readonly kind: "part" }>,
  source: TestSource,
  context: WindowContext,
): Result<ResolvedDates> {
  const { comparison, part } = test;
  if (comparison === "on" || comparison === "notOn") {
    const resolved = resolveExactly(windowOfPart(part), context);
    if (!resolved.ok) return resolved;
    const { intervals } = resolved.value;
    const notices = [...source.notices, ...resolved.value.notices];
    const spans = [spanOf(intervals[0])];
    return success({ applied: test, spans, intervals, recurring: [], notices });
  }
  const resolved = resolvePart(part, context);
  if (!resolved.ok) return resolved;
  const { span } = resolved.value;
  const notices = [...source.notices, ...resolved.value.notices];
  const nothing = { applied: test, spans: [span], intervals: [], recurring: [] };
  if (span === null) return success({ ...nothing, notices });
  return success({
    ...nothing,
    intervals: [intervalOf(comparison, span)],
    notices: [
      ...midnightNotices([{ comparison, part }], source.names),
      ...notices,
      ...(comparison === "from" && isAhead(part, span, context) ? [notBegun(span)] : []),
    ],
  });
}

function spanOf(interval: Interval | undefined): Span | null {
  if (interval?.start == null || interval.end === null) return null;
  return { start: interval.start, end: interval.end };
}

type Between = Extract<DateTest, { readonly kind: "between" }>;

function resolveBetween(
  test: Between,
  source: TestSource,
  context: WindowContext,
): Result<ResolvedDates> {
  const [from, to] = [test.start, test.end].map(({ part }) => resolvePart(part, context));
  if (from?.ok !== true || to?.ok !== true) {
    return failure(...[from, to].flatMap((each) => (each?.ok === false ? each.faults : [])));
  }
  const [a, b] = [from.value, to.value];
  const read = [...source.notices, ...a.notices, ...b.notices];
  const returned = [...midnightNotices([test.start, test.end], source.names), ...read];
  const nothing = { applied: test, spans: [a.span, b.span], intervals: [], recurring: [] };
  // Of an end that covers nothing, nothing is within.
  if (a.span === null || b.span === null) return success({ ...nothing, notices: returned });
  if (!test.maySwap || !isReversed(a.span, b.span)) {
    return success(periodBetween(test, a.span, b.span, context, returned));
  }
  if (!a.isAbsolute || !b.isAbsolute) {
    return success({ ...nothing, notices: [notBegun(a.span), ...returned] });
  }
  const [first, second] = [test.start.part.text, test.end.part.text];
  if (context.reversed === "reject") {
    return failure(fault("window.reversed", { first, second }, { value: second }));
  }
  const swapped: Between = {
    ...test,
    start: { ...test.start, part: test.end.part },
    end: { ...test.end, part: test.start.part },
  };
  const swap = notice("window.swapped", { first: second, second: first });
  return success(
    periodBetween(swapped, b.span, a.span, context, [
      swap,
      ...midnightNotices([swapped.start, swapped.end], source.names),
      ...read,
    ]),
  );
}

function periodBetween(
  applied: Between,
  from: Span,
  to: Span,
  { zone }: WindowContext,
  notices: readonly Notice[],
): ResolvedDates {
  const start = applied.start.comparison === "from" ? from.start : from.end;
  const end = applied.end.comparison === "to" ? to.end : to.start;
  // A day that a zone omitted has no moment, and is a day all the same for a column of days.
  const spans = [from, to];
  if (start.instant < end.instant || start.wall < end.wall) {
    const interval = { start, end };
    const returned = [...notices, ...skippedDay(interval, zone)];
    return { applied, spans, intervals: [interval], recurring: [], notices: returned };
  }
  const empty = notice("window.empty", { start: isoWall(start.wall), end: isoWall(end.wall) });
  return { applied, spans, intervals: [], recurring: [], notices: [...notices, empty] };
}

function notBegun({ start }: Span): Notice {
  return notice("window.notBegun", { start: isoWall(start.wall) });
}

/** Whether a period begins on a day of the current unit that has not come yet, such as `month.20`. */
function isAhead({ base, shifts }: Part, { start }: Span, { asOf }: WindowContext): boolean {
  const isDayOfUnit = base.kind === "unit" && base.nth !== null && base.offset === 0;
  return isDayOfUnit && shifts.length === 0 && start.instant > asOf;
}

/** Date pickers send midnight as an end when people mean the day. */
function midnightNotices(
  ends: readonly { readonly comparison: DateComparison; readonly part: Part }[],
  names: readonly string[],
): readonly Notice[] {
  return ends.flatMap(({ comparison, part: { base } }, index) => {
    if ((comparison !== "to" && comparison !== "before") || base.kind !== "written") return [];
    const { written } = base;
    if (!isTimeOfDay(written.precision) || written.start % MS_PER_DAY !== 0) return [];
    const parameter = names[index] ?? names[0] ?? "";
    return [notice("edge.midnight", { parameter, day: isoDay(dayOf(written.start)) })];
  });
}
