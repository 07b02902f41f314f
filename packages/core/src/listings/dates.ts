import { MS_PER_DAY, dayOf, isoDay, isoWall, type Interval } from "../calendar/index.js";
import {
  failure,
  fault,
  notice,
  placed,
  success,
  type Fault,
  type Notice,
  type Result,
} from "../faults/index.js";
import type { DateCondition } from "../filters/index.js";
import { isReversed, isTimeOfDay, type WindowContext } from "../windows/index.js";
import type { PlanContext } from "./context.js";
import { isStart, type DateParameter, type ListingDeclaration } from "./declaration.js";
import {
  effectiveParameter,
  stretchesOf,
  valueText,
  type EffectiveParameter,
  type SentParameters,
} from "./effective.js";
import { readBlanks } from "./blanks.js";
import { beyondLimits } from "./limits.js";

/** One condition of a request: one parameter, or the two ends of a pair. */
export interface EffectiveCondition {
  readonly parameters: readonly EffectiveParameter[];
  readonly condition: DateCondition;
}

/** What the parameters of one condition come to. */
export interface PlannedGroup {
  readonly condition: EffectiveCondition | null;
  readonly faults: readonly Fault[];
  readonly notices: readonly Notice[];
}

/** Works out the condition of a parameter of dates, or of the two ends of a pair. */
export function planDates(
  group: readonly DateParameter[],
  listing: ListingDeclaration,
  sent: SentParameters,
  context: PlanContext,
): PlannedGroup {
  const faults: Fault[] = [];
  const [first] = group;
  if (first === undefined) return { condition: null, faults, notices: [] };
  const column = context.columns.get(first.column);
  const isDays = column?.type === "date" && column.kind === "date";
  const { asOf, zone, calendar } = context;
  const { reversed } = listing;
  const window: WindowContext = { asOf, zone, calendar, reversed, wholeDays: isDays };
  const given = group.flatMap((declaration) => {
    const form = context.forms.get(declaration.name);
    const read = effectiveParameter(declaration, sent, { window, column, form });
    if (read.ok) return read.value === null ? [] : [read.value];
    faults.push(...read.faults);
    return [];
  });
  const blanks = readBlanks(group, sent);
  if (!blanks.ok) faults.push(...blanks.faults);
  const isAsked = given.length > 0 || (blanks.ok && blanks.value === "only");
  if (faults.length > 0 || !blanks.ok || !isAsked) return { condition: null, faults, notices: [] };
  const arranged = arrangePair(given, listing);
  if (!arranged.ok) return { condition: null, faults: arranged.faults, notices: [] };
  const { parameters, notices, hasBegun } = arranged.value;
  const stretches = hasBegun ? intersection(parameters) : [];
  const limited = limitFault(group, parameters, stretches, window);
  if (limited !== null) return { condition: null, faults: [limited], notices: [] };
  const [only] = parameters;
  const condition: DateCondition = {
    kind: "date",
    column: first.column,
    side: first.comparison === "notOn" ? "outside" : "inside",
    intervals: stretches.filter(hasLength),
    recurring: only?.value.kind === "window" ? only.value.recurring : [],
    blanks: blanks.value,
  };
  // On days and wall-clock times the other face of an edge is compared, which is never in doubt.
  const isTold = ({ code }: Notice) =>
    (column?.type === "date" && column.kind === "instant") ||
    (code !== "edge.repeated" && code !== "edge.skipped");
  return {
    condition: { parameters, condition },
    faults,
    notices: [
      ...notices,
      ...midnights(parameters),
      ...parameters.flatMap(({ value }) => value.notices.filter(isTold)),
      ...emptiness(stretches),
    ],
  };
}

interface ArrangedPair {
  readonly parameters: readonly EffectiveParameter[];
  readonly notices: readonly Notice[];
  /** Whether there can be anything in it: a pair in reverse order of which one moves has none. */
  readonly hasBegun: boolean;
}

/**
 * Puts two dates in reverse order right, or refuses them, as the listing says. Where one of them
 * moves with the clock they are as they are meant, and what lies between has not begun.
 */
function arrangePair(
  given: readonly EffectiveParameter[],
  listing: ListingDeclaration,
): Result<ArrangedPair> {
  const start = given.find(({ declaration }) => isStart(declaration.comparison));
  const end = given.find((parameter) => parameter !== start);
  const [from, to] = [start?.value, end?.value];
  if (
    start === undefined ||
    end === undefined ||
    from?.kind !== "part" ||
    to?.kind !== "part" ||
    from.span === null ||
    to.span === null ||
    !isReversed(from.span, to.span)
  ) {
    return success({ parameters: given, notices: [], hasBegun: true });
  }
  if (!from.isAbsolute || !to.isAbsolute) {
    const begins = notice("window.notBegun", { start: isoWall(from.span.start.wall) });
    return success({ parameters: given, notices: [begins], hasBegun: false });
  }
  const facts = { first: valueText(from), second: valueText(to) };
  if (listing.reversed === "refuse") {
    const place = { parameter: end.declaration.name, value: end.raw };
    return failure(fault("window.reversed", facts, place));
  }
  return success({
    parameters: [
      { ...start, value: to },
      { ...end, value: from },
    ],
    notices: [notice("window.swapped", { first: facts.second, second: facts.first })],
    hasBegun: true,
  });
}

/** What the two ends of a pair have between them; one parameter alone has what it stands for. */
function intersection(parameters: readonly EffectiveParameter[]): readonly Interval[] {
  const [first, second] = parameters.map(stretchesOf);
  if (first === undefined) return [];
  if (second === undefined) return first;
  const [from, to] = [first[0], second[0]];
  // Of an end that covers nothing, nothing is within.
  if (from === undefined || to === undefined) return [];
  return [{ start: to.start ?? from.start, end: to.end ?? from.end }];
}

/** The first limit that what was asked for goes beyond, named by the parameter that was sent. */
function limitFault(
  group: readonly DateParameter[],
  parameters: readonly EffectiveParameter[],
  stretches: readonly Interval[],
  window: WindowContext,
): Fault | null {
  const endless = parameters.flatMap(({ value }) =>
    value.kind === "window" ? value.recurring.map(({ interval }) => interval) : [],
  );
  const asked = [...stretches, ...endless];
  const [sent] = parameters;
  if (sent === undefined || asked.length === 0) return null;
  for (const { limits } of group) {
    const found = limits === undefined ? null : beyondLimits(limits, asked, window);
    if (found !== null) return placed(found, { parameter: sent.declaration.name, value: sent.raw });
  }
  return null;
}

/** Pickers send midnight as an end when people mean the day. */
function midnights(parameters: readonly EffectiveParameter[]): readonly Notice[] {
  return parameters.flatMap(({ declaration: { comparison, name: parameter }, value }) => {
    const base = value.kind === "part" ? value.part.base : null;
    if ((comparison !== "to" && comparison !== "before") || base?.kind !== "written") return [];
    const { written } = base;
    if (!isTimeOfDay(written.precision) || written.start % MS_PER_DAY !== 0) return [];
    return [notice("edge.midnight", { parameter, day: isoDay(dayOf(written.start)) })];
  });
}

/** A day that a zone left out has no moment, and is a day all the same for a column of days. */
function hasLength({ start, end }: Interval): boolean {
  return start === null || end === null || start.instant < end.instant || start.wall < end.wall;
}

function emptiness(stretches: readonly Interval[]): readonly Notice[] {
  return stretches.flatMap(({ start, end }) =>
    start === null || end === null || hasLength({ start, end })
      ? []
      : [notice("window.empty", { start: isoWall(start.wall), end: isoWall(end.wall) })],
  );
}
