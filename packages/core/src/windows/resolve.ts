import {
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_MINUTE,
  civilDay,
  dayNumber,
  daysInMonth,
  epochMs,
  isoDay,
  isoWall,
  wallAt,
  wallMs,
  type Edge,
  type EpochMs,
  type Interval,
  type Span,
  type WallMs,
  type Zone,
} from "../calendar/index.js";
import {
  failure,
  fault,
  notice,
  success,
  type Fault,
  type Notice,
  type Result,
} from "../faults/index.js";
import { edgeAt } from "./edge.js";
import { recurringInWords } from "./recurring-words.js";
import type { Alternative, Duration, Part, Range, Recurring, Window } from "./notation.js";
import type { ReversedPolicy } from "./pair.js";
import { canMatch, recurringIntervals, type ClosedInterval } from "./recurring.js";
import { ISO_CALENDAR, isWritable, type CalendarSettings } from "./settings.js";
import { unitAround, workdayFrom } from "./units.js";
import { partText } from "./write.js";

/** What a window is resolved against. */
export interface WindowContext {
  /** The instant of the request: nothing here reads a clock. */
  readonly asOf: EpochMs;
  readonly zone: Zone;
  readonly calendar?: CalendarSettings;
  /** What becomes of two absolute ends in reverse order; `swap` by default. */
  readonly reversed?: ReversedPolicy;
  /**
   * For columns of days: whether `now` is all of today, so that a start at it is the beginning
   * of this day and an end at it the end.
   */
  readonly wholeDays?: boolean;
}

/** An interval within which only the parts that recur count: kept as its rules. */
export interface RecurringInterval {
  readonly interval: Interval;
  readonly recurring: readonly Recurring[];
}

/** A window resolved against a clock and a zone. */
export interface ResolvedWindow {
  /** In order, apart from one another; one whose edges are one instant is a day that never was. */
  readonly intervals: readonly Interval[];
  readonly recurring: readonly RecurringInterval[];
  /** What each alternative covers but for its recurring parts; null for nothing. */
  readonly ranges: readonly (Interval | null)[];
  /** Whether there are more intervals than are listed. */
  readonly truncated: boolean;
  readonly notices: readonly Notice[];
}

/** A window resolved for a condition: nothing is cut, whatever its length. */
export interface ExactWindow {
  readonly intervals: readonly Interval[];
  /** What is open on a side, or would be too many intervals. */
  readonly recurring: readonly RecurringInterval[];
  /** What each alternative covers but for its recurring parts; null for nothing. */
  readonly ranges: readonly (Interval | null)[];
  readonly notices: readonly Notice[];
}

/** Intervals that a window lists at most where it is shown. */
export const MAX_INTERVALS = 10_000;

/**
 * Intervals up to which a recurring window is a list of them in a condition; one with more stays a
 * rule, which the database tests for each record. Measured: see docs/bench.md.
 */
export const MAX_LISTED_INTERVALS = 1_000;

/** Intervals that all alternatives of a window together are laid out into where it is shown. */
const MAX_LAID_OUT = 3 * MAX_INTERVALS;

/** Days over which a rule is laid out for a condition at most: 100 years. */
const MAX_DAYS_LAID_OUT = 36_525;

/**
 * Resolves a window to the intervals that it covers, merged and in order, to show them: beyond
 * {@link MAX_INTERVALS} they are cut, and `truncated` says so. A condition is made of
 * {@link resolveExactly}.
 *
 * Days and longer begin at the first moment of their first day in the zone. An edge with a time
 * of day that the clocks show twice widens, one that they never show is the moment of the
 * change; each is reported by a notice, as is the reason why a window is empty.
 *
 * Fails with `window.tooFar` where it leads out of the years 0001 to 9999, and with
 * `window.reversed` where two absolute ends come in reverse order and the policy refuses that.
 */
export function resolveWindow(window: Window, context: WindowContext): Result<ResolvedWindow> {
  const most = Math.floor(MAX_LAID_OUT / window.alternatives.length);
  const resolver = new Resolver(context, "cut", Math.min(most, MAX_INTERVALS));
  const found = window.alternatives.map((alternative) => resolver.alternative(alternative));
  const { faults, notices } = resolver;
  const [first, ...others] = faults;
  if (first !== undefined) return failure(first, ...others);
  // Where one alternative is cut, those that go on for longer would be listed with holes.
  const cut = Math.min(...found.map(({ cutAt }) => cutAt));
  const whole = merged(found.flatMap((each) => each.intervals));
  const intervals = whole.filter(({ start }) => start === null || start.instant < cut);
  return success({
    intervals: intervals.slice(0, MAX_INTERVALS),
    recurring: found.flatMap((each) => each.recurring),
    ranges: found.map(({ range }) => range),
    truncated: intervals.length > MAX_INTERVALS || cut < Infinity,
    notices,
  });
}

/**
 * What each alternative covers but for its recurring parts, as {@link ResolvedWindow.ranges} has
 * it, without laying these out; null for a window that has a fault.
 */
export function resolveRanges(
  window: Window,
  context: WindowContext,
): readonly (Interval | null)[] | null {
  const resolver = new Resolver(context, "keepRules");
  const ranges = window.alternatives.map(({ range }) => resolver.range(range));
  return resolver.faults.length === 0 ? ranges : null;
}

/** The notice of days that a zone omitted, so that they hold no moment; none for any other interval. */
export function skippedDay({ start, end }: Span, zone: Zone): Notice[] {
  if (start.instant !== end.instant || start.wall === end.wall) return [];
  return [
    notice("window.skippedDay", {
      day: isoDay(Math.floor(start.wall / MS_PER_DAY)),
      zone: zone.id,
    }),
  ];
}

/** Resolves a window as {@link resolveWindow} does, for a condition: see {@link ExactWindow}. */
export function resolveExactly(window: Window, context: WindowContext): Result<ExactWindow> {
  const resolver = new Resolver(context, "keepRules");
  const found = window.alternatives.map((alternative) => resolver.alternative(alternative));
  const { faults, notices } = resolver;
  const [first, ...others] = faults;
  if (first !== undefined) return failure(first, ...others);
  return success({
    intervals: merged(found.flatMap(({ intervals }) => intervals)),
    recurring: found.flatMap(({ recurring }) => recurring),
    ranges: found.map(({ range }) => range),
    notices,
  });
}

/** One part resolved: what it covers, and whether that moves with the clock. */
export interface ResolvedPart {
  /** Null where it covers nothing, which a notice reports. */
  readonly span: Span | null;
  /** Whether it is the same whenever it is requested. */
  readonly isAbsolute: boolean;
  readonly notices: readonly Notice[];
}

/** Resolves one part; fails with `window.tooFar`. See {@link resolveWindow}. */
export function resolvePart(part: Part, context: WindowContext): Result<ResolvedPart> {
  const resolver = new Resolver(context, "cut");
  const found = resolver.span(part);
  const [first, ...others] = resolver.faults;
  if (first !== undefined) return failure(first, ...others);
  return success({
    span: found?.span ?? null,
    isAbsolute: found?.isAbsolute ?? part.base.kind === "written",
    notices: resolver.notices,
  });
}

/** Whether an interval is longer than a length of time that begins where it does. */
export function isLonger({ start, end }: ClosedInterval, length: Duration, zone: Zone): boolean {
  const wall = movedWall(start.wall, length, 1);
  if (length.elapsedMs === 0) return end.wall > wall;
  const { instant } = edgeAt(wallMs(wall), zone, "earlier", () => undefined);
  return end.instant > instant + length.elapsedMs;
}

/** A resolved edge that knows how it came about. */
interface PartEdge {
  readonly wall: WallMs;
  /** Known where the edge is a point in time; else worked out from the wall clock. */
  readonly instant: EpochMs | null;
}

/** Where a part starts and ends. */
interface PartEdges {
  readonly start: PartEdge;
  readonly end: PartEdge;
  readonly isAbsolute: boolean;
}

interface ResolvedAlternative {
  readonly intervals: readonly Interval[];
  readonly recurring: readonly RecurringInterval[];
  /** What it covers but for its recurring parts; null where that is nothing. */
  readonly range: Interval | null;
  /** The end of the last interval that is listed where others are not; Infinity where all are. */
  readonly cutAt: number;
}

const NOTHING: ResolvedAlternative = {
  ...{ intervals: [], recurring: [] },
  ...{ range: null, cutAt: Infinity },
};

class Resolver {
  readonly faults: Fault[] = [];
  readonly notices: Notice[] = [];
  readonly #zone: Zone;
  readonly #calendar: CalendarSettings;
  readonly #now: WallMs;

  constructor(
    private readonly context: WindowContext,
    /** What becomes of a recurring window of too many intervals. */
    private readonly whenTooMany: "cut" | "keepRules",
    /** Intervals at most that one alternative is laid out into. */
    private readonly most: number = MAX_LISTED_INTERVALS,
  ) {
    this.#zone = context.zone;
    this.#calendar = context.calendar ?? ISO_CALENDAR;
    this.#now = wallAt(context.zone, context.asOf);
  }

  alternative({ range, recurring }: Alternative): ResolvedAlternative {
    const interval = this.range(range);
    if (interval === null) return NOTHING;
    if (recurring.length === 0) return { ...NOTHING, range: interval, intervals: [interval] };
    return { ...this.#within(interval, recurring), range: interval };
  }

  #within(interval: Interval, recurring: readonly Recurring[]): ResolvedAlternative {
    const { start, end } = interval;
    const keepsRules = this.whenTooMany === "keepRules";
    if (start === null || end === null || (keepsRules && isTooLong({ start, end }))) {
      if (canMatch(recurring, this.#calendar)) {
        return { ...NOTHING, recurring: [{ interval, recurring }] };
      }
      this.notices.push(notice("window.noMatch", { parts: recurringInWords(recurring) }));
      return NOTHING;
    }
    const { intervals, isCut } = recurringIntervals(
      recurring,
      { start, end },
      this.#zone,
      this.#calendar,
      this.most,
    );
    if (isCut && keepsRules) return { ...NOTHING, recurring: [{ interval, recurring }] };
    if (intervals.length === 0) {
      this.notices.push(notice("window.noMatch", { parts: recurringInWords(recurring) }));
    }
    return {
      ...NOTHING,
      intervals,
      cutAt: isCut ? (intervals.at(-1)?.end?.instant ?? Infinity) : Infinity,
    };
  }

  /** The span of one part, with both faces of its edges. */
  span(part: Part): { readonly span: Span; readonly isAbsolute: boolean } | null {
    const found = this.#part(part);
    if (found === null) return null;
    const { start, end, isAbsolute } = found;
    const span = { start: this.#resolved(start, "earlier"), end: this.#resolved(end, "later") };
    return { span, isAbsolute };
  }

  range(range: Range): Interval | null {
    switch (range.kind) {
      case "part": {
        const part = this.#part(range.part);
        return part === null ? null : this.#interval(part.start, part.end, range.part.text);
      }
      case "ends":
        return this.#ends(range.start, range.end);
      case "lengthBefore": {
        const part = this.#part(range.part);
        if (part === null) return null;
        const start = this.#moved(part.end, range.length, -1, range.part.text);
        return start === null ? null : this.#interval(start, part.end, range.part.text);
      }
      case "lengthAfter": {
        const part = this.#part(range.part);
        if (part === null) return null;
        const end = this.#moved(part.start, range.length, 1, range.part.text);
        return end === null ? null : this.#interval(part.start, end, range.part.text);
      }
    }
  }

  #ends(from: Part | null, to: Part | null): Interval | null {
    const [a, b] = [from === null ? null : this.#part(from), to === null ? null : this.#part(to)];
    if ((from !== null && a === null) || (to !== null && b === null)) return null;
    if (a === null || b === null) {
      return {
        start: a === null ? null : this.#resolved(a.start, "earlier"),
        end: b === null ? null : this.#resolved(b.end, "later"),
      };
    }
    const [startOfA, startOfB] = [
      this.#resolved(a.start, "earlier"),
      this.#resolved(b.start, "earlier"),
    ];
    const endOfB = this.#resolved(b.end, "later");
    const isReversed = startOfB.instant < startOfA.instant && endOfB.instant <= startOfA.instant;
    if (!isReversed) return this.#interval(a.start, b.end, `${from?.text ?? ""}/${to?.text ?? ""}`);
    const [first, second] = [to?.text ?? "", from?.text ?? ""];
    if (!a.isAbsolute || !b.isAbsolute) {
      this.notices.push(notice("window.notBegun", { start: isoWall(startOfA.wall) }));
      return null;
    }
    if (this.context.reversed === "reject") {
      this.faults.push(fault("window.reversed", { first: second, second: first }));
      return null;
    }
    this.notices.push(notice("window.swapped", { first, second }));
    return this.#interval(b.start, a.end, `${first}/${second}`);
  }

  /** An interval between two edges; null, with a notice, where nothing can lie in it. */
  #interval(from: PartEdge, to: PartEdge, text: string): Interval | null {
    const [start, end] = [this.#resolved(from, "earlier"), this.#resolved(to, "later")];
    if (end.wall > start.wall || end.instant > start.instant) {
      const interval = { start, end };
      this.notices.push(...skippedDay(interval, this.#zone));
      return interval;
    }
    this.notices.push(
      end.instant === start.instant
        ? notice("window.noLength", { text })
        : notice("window.empty", { start: isoWall(start.wall), end: isoWall(end.wall) }),
    );
    return null;
  }

  #part(part: Part): PartEdges | null {
    const base = this.#base(part);
    if (base === null || part.shifts.length === 0) return base;
    let start: PartEdge | null = base.start;
    for (const { sign, duration } of part.shifts) {
      start = this.#moved(start, duration, sign, part.text);
      if (start === null) return null;
    }
    // The start moves, and the length stays one unit of the part.
    const end = base.unit === null ? start : this.#moved(start, base.unit, 1, part.text);
    return end === null ? null : { ...base, start, end };
  }

  #base(part: Part): (PartEdges & { readonly unit: Duration | null }) | null {
    const { base } = part;
    switch (base.kind) {
      case "now": {
        if (this.context.wholeDays === true) {
          const today = Math.floor(this.#now / MS_PER_DAY);
          return this.#days(part, today, today + 1, ONE.day);
        }
        const edge = { wall: this.#now, instant: this.context.asOf };
        return { start: edge, end: edge, isAbsolute: false, unit: null };
      }
      case "written": {
        const { start, end, offset, precision } = base.written;
        const edge = (wall: WallMs): PartEdge => {
          if (offset === null) return { wall, instant: null };
          const instant = epochMs(wall - offset);
          return { wall: wallAt(this.#zone, instant), instant };
        };
        return { start: edge(start), end: edge(end), isAbsolute: true, unit: ONE[precision] };
      }
      case "unit": {
        const { unit, offset, nth } = base;
        if (unit === "minute" || unit === "hour") {
          const length = unit === "hour" ? MS_PER_HOUR : MS_PER_MINUTE;
          const into = ((this.#now % length) + length) % length;
          const start = epochMs(this.context.asOf - into + offset * length);
          return this.#checked(part, {
            start: this.#at(start),
            end: this.#at(epochMs(start + length)),
            isAbsolute: false,
            unit: elapsed(length),
          });
        }
        const today = Math.floor(this.#now / MS_PER_DAY);
        if (unit === "workday") {
          const day = workdayFrom(today, offset, this.#calendar);
          if (day !== null) return this.#days(part, day, day + 1, ONE.day);
          this.notices.push(notice("window.dayOff", { day: isoDay(today) }));
          return null;
        }
        const span = unitAround(today, unit, offset, this.#calendar);
        if (nth === null) return this.#days(part, span.start, span.end, ONE_UNIT[unit]);
        const day = nth > 0 ? span.start + nth - 1 : span.end + nth;
        if (day >= span.start && day < span.end) return this.#days(part, day, day + 1, ONE.day);
        const days = span.end - span.start;
        const text = partText(base, []);
        const around = `the ${unit} that begins on ${isoDay(span.start)}`;
        this.notices.push(notice("window.lacksDay", { text, unit: around, days }));
        return null;
      }
    }
  }

  #days(part: Part, start: number, end: number, unit: Duration) {
    const edge = (day: number): PartEdge => ({ wall: wallMs(day * MS_PER_DAY), instant: null });
    return this.#checked(part, { start: edge(start), end: edge(end), isAbsolute: false, unit });
  }

  #checked<T extends PartEdges>(part: Part, resolved: T): T | null {
    const [first, last] = [resolved.start.wall, resolved.end.wall].map((wall) =>
      Math.floor(wall / MS_PER_DAY),
    );
    if (isWritable(first ?? NaN) && isWritable(last ?? NaN)) return resolved;
    this.faults.push(fault("window.tooFar", { text: part.text }, { value: part.text }));
    return null;
  }

  /** An edge moved by a length: by the calendar on the wall clock, then by elapsed time. */
  #moved(edge: PartEdge, length: Duration, sign: 1 | -1, text: string): PartEdge | null {
    const { years, months, weeks, days, elapsedMs } = length;
    const moves = years !== 0 || months !== 0 || weeks !== 0 || days !== 0;
    const wall = moves ? movedWall(edge.wall, length, sign) : edge.wall;
    if (!Number.isFinite(wall) || !isWritable(Math.floor(wall / MS_PER_DAY))) {
      this.faults.push(fault("window.tooFar", { text }, { value: text }));
      return null;
    }
    const calendar: PartEdge = moves ? { wall: wallMs(wall), instant: null } : edge;
    if (elapsedMs === 0) return calendar;
    const from = this.#resolved(calendar, "earlier").instant;
    const moved = this.#at(epochMs(from + sign * elapsedMs));
    if (isWritable(Math.floor(moved.wall / MS_PER_DAY))) return moved;
    this.faults.push(fault("window.tooFar", { text }, { value: text }));
    return null;
  }

  #at(instant: EpochMs): PartEdge {
    const isFar = !isWritable(Math.floor(instant / MS_PER_DAY));
    return { wall: isFar ? wallMs(instant) : wallAt(this.#zone, instant), instant };
  }

  #resolved({ wall, instant }: PartEdge, which: "earlier" | "later"): Edge {
    return instant === null ? this.#edge(wall, which) : { wall, instant };
  }

  #edge(wall: WallMs, which: "earlier" | "later"): Edge {
    return edgeAt(wall, this.#zone, which, (returned) => this.#tell(returned));
  }

  #tell(returned: Notice): void {
    const text = JSON.stringify(returned);
    if (!this.notices.some((each) => JSON.stringify(each) === text)) this.notices.push(returned);
  }
}

/** Whether an interval has too many days to look at one by one. */
function isTooLong({ start, end }: ClosedInterval): boolean {
  return end.wall - start.wall > MAX_DAYS_LAID_OUT * MS_PER_DAY;
}

/** A wall-clock time moved by years, months, weeks and days; the last day of a month is kept to. */
function movedWall(wall: number, { years, months, weeks, days }: Duration, sign: 1 | -1): number {
  const day = Math.floor(wall / MS_PER_DAY);
  const time = wall - day * MS_PER_DAY;
  const civil = civilDay(day);
  const month = civil.year * 12 + civil.month - 1 + sign * (years * 12 + months);
  const [year, ofYear] = [Math.floor(month / 12), (((month % 12) + 12) % 12) + 1];
  if (Math.abs(year) > FURTHEST_YEAR) return NaN;
  const clamped = Math.min(civil.day, daysInMonth(year, ofYear));
  return (dayNumber(year, ofYear, clamped) + sign * (weeks * 7 + days)) * MS_PER_DAY + time;
}

/** Beyond, the arithmetic of the runtime's own dates ends. */
const FURTHEST_YEAR = 200_000;

const ZERO: Duration = { years: 0, months: 0, weeks: 0, days: 0, elapsedMs: 0 };

function elapsed(elapsedMs: number): Duration {
  return { ...ZERO, elapsedMs };
}

/** One unit of each precision in which a date can be written. */
const ONE = {
  year: { ...ZERO, years: 1 },
  quarter: { ...ZERO, months: 3 },
  month: { ...ZERO, months: 1 },
  week: { ...ZERO, days: 7 },
  day: { ...ZERO, days: 1 },
  hour: elapsed(MS_PER_HOUR),
  minute: elapsed(MS_PER_MINUTE),
  second: elapsed(1_000),
  millisecond: elapsed(1),
} as const satisfies Readonly<Record<string, Duration>>;

/** One unit of what a part begins from; null for `now`, which has no length. */
export function unitLength({ base }: Part): Duration | null {
  if (base.kind === "now") return null;
  if (base.kind === "written") return ONE[base.written.precision];
  if (base.unit === "minute" || base.unit === "hour") return ONE[base.unit];
  return base.nth !== null || base.unit === "workday" ? ONE.day : ONE_UNIT[base.unit];
}

const ONE_UNIT = {
  day: ONE.day,
  week: ONE.week,
  month: ONE.month,
  quarter: ONE.quarter,
  fiscalquarter: ONE.quarter,
  year: ONE.year,
  fiscalyear: ONE.year,
} as const;

/** Intervals in order, those that overlap or touch in one. */
export function merged(intervals: readonly Interval[]): readonly Interval[] {
  if (intervals.length < 2) return intervals;
  const sorted = [...intervals].sort((a, b) => startOf(a) - startOf(b) || endOf(a) - endOf(b));
  const found: Interval[] = [];
  for (const interval of sorted) {
    const last = found.at(-1);
    if (last === undefined || startOf(interval) > endOf(last)) found.push(interval);
    else if (endOf(interval) > endOf(last)) {
      found[found.length - 1] = { start: last.start, end: interval.end };
    }
  }
  return found;
}

function startOf({ start }: Interval): number {
  return start?.instant ?? -Infinity;
}

function endOf({ end }: Interval): number {
  return end?.instant ?? Infinity;
}
