import { MS_PER_DAY, type EpochMs } from "../calendar/index.js";
import { fault, type Fault } from "../faults/index.js";
import type { Catalogue } from "../filters/index.js";
import { nextChangeOf, nextDay } from "../query/index.js";
import { readLength, type WindowContext } from "../windows/index.js";
import type { ListingDeclaration } from "./declaration.js";
import { derivedMovement } from "./derived.js";
import { durationMs, lengthMs } from "./length.js";
import type { PlannedRequest } from "./planned.js";
import { requiredDates } from "./words.js";

/** The longest time that an answer may be cached, in days. */
const MAX_DAYS = 366;

/**
 * How long an answer may be held without another request, in milliseconds: what the listing declares,
 * and never beyond the next edge of a window that moves. 0 where it declares nothing, or where what
 * is shown changes all the time.
 */
export function maxAge(
  { cacheFor, mainDate, derived = {} }: ListingDeclaration,
  planned: PlannedRequest,
  columns: Catalogue,
  context: WindowContext,
  /** The instant of the request, which the request may have named another for. */
  now: EpochMs,
): number {
  const { timeDependence } = planned;
  const dependence = derivedMovement(derived, columns);
  if (cacheFor === undefined || timeDependence === "always" || dependence === "always") return 0;
  const { current, past } = cacheFor;
  const isPast =
    timeDependence === "never" &&
    dependence === "never" &&
    requiredDates(planned).some(({ filter }) => {
      const { column, side, intervals, recurring, blanks } = filter;
      const ranges = [...intervals, ...recurring.map(({ interval }) => interval)];
      const hasPassed = ranges.every(({ end }) => end !== null && end.instant <= now);
      const isPlain = side === "inside" && blanks === "exclude";
      return column === mainDate && isPlain && ranges.length > 0 && hasPassed;
    });
  const declared = (isPast ? past : undefined) ?? current;
  const most = declared === undefined ? 0 : lengthMs(declared);
  return Math.max(0, Math.min(most, untilChange({ derived }, planned, columns, context)));
}

/**
 * Milliseconds until what a request keeps can become another by the clock alone: at the next edge of a window that
 * moves. Infinity where it never does, 0 where it does all the time.
 */
export function untilChange(
  { derived = {} }: Pick<ListingDeclaration, "derived">,
  { query, fixedQuery, timeDependence }: PlannedRequest,
  columns: Catalogue,
  context: WindowContext,
): number {
  const dependence = derivedMovement(derived, columns);
  if (timeDependence === "always" || dependence === "always") return 0;
  const changes = [
    nextChangeOf(query, columns, context),
    nextChangeOf(fixedQuery, columns, context),
    dependence === "steps" ? nextDay(context) : null,
  ].filter((change) => change !== null);
  return Math.min(Infinity, ...changes.map((change) => change - context.asOf));
}

/** The faults of `cacheFor`: `window.form`, and `parameter.setting` for what is too long. */
export function cacheForFaults({ cacheFor = {} }: ListingDeclaration): readonly Fault[] {
  return Object.entries(cacheFor).flatMap(([name, text]) => {
    const place = { path: `cacheFor.${name}`, value: text };
    const read = readLength(text);
    if (!read.ok) return read.faults.map((each) => ({ ...each, ...place }));
    const { years, months } = read.value;
    if (years === 0 && months === 0 && durationMs(read.value) <= MAX_DAYS * MS_PER_DAY) return [];
    const reason = `it is a length of weeks, days or less, such as PT5M or P1D, of ${MAX_DAYS} days at most`;
    return [fault("parameter.setting", { name, reason }, place)];
  });
}
