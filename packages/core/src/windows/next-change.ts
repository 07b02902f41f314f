import {
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

/** Ranges that are resolved before it is given up to look for the next change. */
const MAX_RESOLVED = 2_000;

/**
 * When what a window covers next changes, for caches and pages that roll: the instant of
 * the request itself where it moves all the time, null where it never does.
 *
 * A window that stays as it is for long (`minute;BYMONTH=2` in May) is not looked at until it
 * changes: the result is then the moment up to which it does not, as it is where alternatives
 * overlap and one of them has recurring parts.
 */
export function nextChange(window: Window, context: WindowContext): EpochMs | null {
  const parts = window.alternatives.flatMap(({ range }) => partsOf(range));
  if (parts.some(({ base }) => base.kind === "now")) return context.asOf;
  const steps = new Set(parts.flatMap(stepOf));
  if (steps.size === 0) return null;
  const now = resolveRanges(window, context);
  const tries = Math.max(1, Math.floor(MAX_RESOLVED / window.alternatives.length));
  let at = context.asOf;
  for (let tried = 0; tried < tries; tried++) {
    at = epochMs(Math.min(...[...steps].map((step) => nextStep(step, at, context))));
    if (!Number.isFinite(at)) return null;
    const then = resolveRanges(window, { ...context, asOf: at });
    if (then === null || now === null) {
      if (then !== now) return at;
    } else if (isOtherwise(window, now, then, context.calendar ?? ISO_CALENDAR)) return at;
  }
  return at;
}

type Ranges = readonly (Interval | null)[];

/** Whether a window covers anything else by the ranges of another moment. */
function isOtherwise(window: Window, now: Ranges, then: Ranges, calendar: WeekRules): boolean {
  const { alternatives } = window;
  const plain = (ranges: Ranges) =>
    JSON.stringify(
      merged(
        ranges.flatMap((each, at) =>
          alternatives[at]?.recurring.length === 0 ? (each ?? []) : [],
        ),
      ),
    );
  if (plain(now) !== plain(then)) return true;
  return alternatives.some(({ recurring }, at) => {
    const [before, after] = [now[at] ?? null, then[at] ?? null];
    return recurring.length > 0 && differsWithin(recurring, before, after, calendar);
  });
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
