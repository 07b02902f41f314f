import {
  epochMs,
  wallAt,
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_MINUTE,
  type EpochMs,
} from "../calendar/index.js";
import { firstMoment } from "./edge.js";
import { partsOf, type Part, type Window } from "./notation.js";
import { resolveWindow, type ResolvedWindow, type WindowContext } from "./resolve.js";
import { ISO_CALENDAR } from "./settings.js";
import { unitAround, type DayUnit } from "./units.js";

/** Moments that are tried before a window is said not to change any more. */
const MAX_TRIES = 1_000;

/**
 * When what a window covers next changes, for caches and pages that roll: the instant of
 * the request itself where it moves all the time, null where it never does.
 */
export function nextChange(window: Window, context: WindowContext): EpochMs | null {
  const parts = window.alternatives.flatMap(({ range }) => partsOf(range));
  if (parts.some(({ base }) => base.kind === "now")) return context.asOf;
  const steps = new Set(parts.flatMap(stepOf));
  if (steps.size === 0) return null;
  const now = shape(resolveWindow(window, context));
  let at = context.asOf;
  for (let tries = 0; tries < MAX_TRIES; tries++) {
    at = epochMs(Math.min(...[...steps].map((step) => nextStep(step, at, context))));
    if (!Number.isFinite(at)) return null;
    if (shape(resolveWindow(window, { ...context, asOf: at })) !== now) return at;
  }
  return null;
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

function shape(resolved: ReturnType<typeof resolveWindow>): string {
  if (!resolved.ok) return "fault";
  const { intervals, recurring }: ResolvedWindow = resolved.value;
  return JSON.stringify([intervals, recurring]);
}
