import {
  LAST_YEAR,
  dayNumber,
  epochMs,
  wallAt,
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_MINUTE,
  type Edge,
  type EpochMs,
  type Interval,
} from "../calendar/index.js";
import { firstMoment } from "./edge.js";
import { partsOf, type Part, type Recurring, type Window } from "./notation.js";
import { canMatch, holdsWithin } from "./recurring.js";
import { merged, resolveRanges, type WindowContext } from "./resolve.js";
import { ISO_CALENDAR, type WeekRules } from "./settings.js";
import { unitAround, type DayUnit } from "./units.js";

/** Units that are looked at one after the other before it is looked further away. */
const NEAR_UNITS = 60;
/** Days within which a window that is empty for a while, as working days are on holidays, is found again. */
const NEAR_DAYS = 20;

/**
 * When what a window covers next changes, for caches and pages that roll: the instant of
 * the request itself where it moves all the time, null where it never does. Where alternatives
 * overlap it may be a moment at which only one of them changes, and where days off lie between working days one
 * at which those pass by; it is never later than the change.
 */
export function nextChange(window: Window, context: WindowContext): EpochMs | null {
  const parts = window.alternatives.flatMap(({ range }) => partsOf(range));
  if (parts.some(({ base }) => base.kind === "now")) return context.asOf;
  const steps = new Set(parts.flatMap(stepOf));
  if (steps.size === 0) return null;
  const calendar = context.calendar ?? ISO_CALENDAR;
  const rules = window.alternatives.map(({ recurring }) => ({
    recurring,
    canHold: recurring.length === 0 || canMatch(recurring, calendar),
  }));
  const rangesAt = (asOf: EpochMs) => resolveRanges(window, { ...context, asOf });
  const now = rangesAt(context.asOf);
  let at = context.asOf;
  for (let unit = 0; unit < NEAR_UNITS; unit++) {
    at = epochMs(Math.min(...[...steps].map((step) => nextStep(step, at, context))));
    if (!Number.isFinite(at)) return null;
    const then = rangesAt(at);
    if (now === null || then === null) {
      if (now !== then) return at;
    } else if (isOtherwise(rules, now, then, calendar)) return at;
  }
  const before = withoutGaps(rangesAt, context.asOf, -MS_PER_DAY);
  return firstOf(at, (moment) => {
    const after = withoutGaps(rangesAt, moment, MS_PER_DAY);
    if (before === null || after === null) return before !== after;
    return hasChanged(rules, before, after, calendar);
  });
}

/**
 * The ranges of a moment, of an alternative that is empty then those of the first day on which it is not, going one
 * way: a window that is empty at two moments may well have covered something between.
 */
function withoutGaps(
  rangesAt: (asOf: EpochMs) => Ranges | null,
  moment: EpochMs,
  stepMs: number,
): Ranges | null {
  let found = rangesAt(moment);
  for (let days = 1; days <= NEAR_DAYS && found?.includes(null) === true; days++) {
    const other = rangesAt(epochMs(moment + days * stepMs));
    found = found.map((range, at) => range ?? other?.[at] ?? null);
  }
  return found;
}

/**
 * The first moment at which something holds that goes on holding: looked for from a moment on, three times as
 * far away each time, and then between. Null where it does not until the last year that can be written.
 */
function firstOf(start: EpochMs, holds: (at: EpochMs) => boolean): EpochMs | null {
  if (holds(start)) return start;
  let [from, to] = [start, epochMs(start + MS_PER_MINUTE)];
  while (!holds(to)) {
    if (to >= LAST_MOMENT) return null;
    [from, to] = [to, epochMs(Math.min(LAST_MOMENT, to + 2 * (to - start)))];
  }
  while (to - from > 1) {
    const between = epochMs(Math.floor((from + to) / 2));
    if (holds(between)) to = between;
    else from = between;
  }
  return to;
}

/** Beyond, windows lead out of the years that can be written. */
const LAST_MOMENT = dayNumber(LAST_YEAR, 1, 1) * MS_PER_DAY;

/** The recurring parts of an alternative, and whether they hold at all. */
interface AlternativeRules {
  readonly recurring: readonly Recurring[];
  readonly canHold: boolean;
}

type Ranges = readonly (Interval | null)[];

/** Whether a window covers anything else by the ranges of another moment. */
function isOtherwise(
  rules: readonly AlternativeRules[],
  now: Ranges,
  then: Ranges,
  calendar: WeekRules,
): boolean {
  const plain = (ranges: Ranges) =>
    JSON.stringify(
      merged(ranges.flatMap((each, at) => (rules[at]?.recurring.length === 0 ? (each ?? []) : []))),
    );
  if (plain(now) !== plain(then)) return true;
  return rules.some(({ recurring, canHold }, at) => {
    const [before, after] = [now[at] ?? null, then[at] ?? null];
    return recurring.length > 0 && canHold && differsWithin(recurring, before, after, calendar);
  });
}

/**
 * Whether a window has covered anything else since another moment, between the two also. Edges only ever move
 * forward: what is the same at both was the same between, and what has moved was nowhere but between its first
 * start and its last end, which changes nothing while the alternatives that have not moved cover all of that. What
 * is empty for long may have been anything.
 */
function hasChanged(
  rules: readonly AlternativeRules[],
  now: Ranges,
  then: Ranges,
  calendar: WeekRules,
): boolean {
  const alternatives = rules.map((each, at) => {
    const [before, after] = [now[at] ?? null, then[at] ?? null];
    return { ...each, before, after };
  });
  const unmoved = merged(
    alternatives.flatMap(({ recurring, before, after }) =>
      recurring.length === 0 && before !== null && isSameRange(before, after) ? [before] : [],
    ),
  );
  return alternatives.some(({ recurring, canHold, before, after }) => {
    if (!canHold) return false;
    if (before === null || after === null) return true;
    if (isSameRange(before, after)) return false;
    if (recurring.length > 0) return differsWithin(recurring, before, after, calendar);
    return !unmoved.some((each) => covers(each, { start: before.start, end: after.end }));
  });
}

function covers(outer: Interval, inner: Interval): boolean {
  return (
    (outer.start?.instant ?? -Infinity) <= (inner.start?.instant ?? -Infinity) &&
    (outer.end?.instant ?? Infinity) >= (inner.end?.instant ?? Infinity)
  );
}

function isSameRange(before: Interval, after: Interval | null): boolean {
  return (
    after !== null && isSameEdge(before.start, after.start) && isSameEdge(before.end, after.end)
  );
}

/** Whether recurring parts hold anywhere in one of two ranges and not in the other. */
function differsWithin(
  rules: readonly Recurring[],
  before: Interval | null,
  after: Interval | null,
  calendar: WeekRules,
): boolean {
  if (before === null || after === null) {
    const range = before ?? after;
    return range !== null && holdsIn(rules, range.start, range.end, calendar);
  }
  const [isStart, isEnd] = [
    isSameEdge(before.start, after.start),
    isSameEdge(before.end, after.end),
  ];
  if (isStart && isEnd) return false;
  // Without an end the parts are shown as rules in their range, which is another then.
  if (before.start === null || before.end === null) return true;
  return (
    (!isStart && holdsIn(rules, ...inOrder(before.start, after.start), calendar)) ||
    (!isEnd && holdsIn(rules, ...inOrder(before.end, after.end), calendar))
  );
}

function isSameEdge(a: Edge | null, b: Edge | null): boolean {
  return a?.instant === b?.instant && a?.wall === b?.wall;
}

function inOrder(a: Edge | null, b: Edge | null): readonly [Edge | null, Edge | null] {
  return a !== null && b !== null && a.wall > b.wall ? [b, a] : [a, b];
}

function holdsIn(
  rules: readonly Recurring[],
  start: Edge | null,
  end: Edge | null,
  calendar: WeekRules,
): boolean {
  if (start === null || end === null) return canMatch(rules, calendar);
  // One hour of the wall clock that the clocks show twice: it is another, and is not looked into.
  if (start.wall === end.wall) return true;
  return holdsWithin(rules, { start: start.wall, end: end.wall }, calendar);
}

type Step = DayUnit | "minute" | "hour";

function stepOf({ base }: Part): readonly Step[] {
  if (base.kind !== "unit") return [];
  return [base.unit === "workday" ? "day" : base.unit];
}

/** The first moment after another at which a new unit begins. */
function nextStep(
  step: Step,
  at: EpochMs,
  { zone, calendar = ISO_CALENDAR }: WindowContext,
): number {
  const wall = wallAt(zone, at);
  if (step === "minute" || step === "hour") {
    const length = step === "hour" ? MS_PER_HOUR : MS_PER_MINUTE;
    return at + length - (((wall % length) + length) % length);
  }
  const { end } = unitAround(Math.floor(wall / MS_PER_DAY), step, 0, calendar);
  // A midnight that was shown once already, before the clocks went back, is no new day.
  const first = firstMoment(end, zone);
  return first > at ? first : at + MS_PER_DAY;
}
