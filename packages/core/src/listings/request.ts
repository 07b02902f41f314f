import {
  MS_PER_DAY,
  dayOf,
  isoDay,
  isoWall,
  type EpochMs,
  type Interval,
  type Zone,
} from "../calendar/index.js";
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
import {
  BLANK_POLICIES,
  EVERYTHING,
  readCql2,
  type BlankPolicy,
  type Catalogue,
  type DateCondition,
  type Filter,
} from "../filters/index.js";
import type { CompiledDateForm } from "../reading/index.js";
import type { RecordOrder } from "../sql/index.js";
import {
  isReversed,
  isTimeOfDay,
  type CalendarSettings,
  type WindowContext,
} from "../windows/index.js";
import {
  ENVELOPE_PARAMETERS,
  RESERVED_PARAMETERS,
  isStart,
  takesDates,
  type DateParameter,
  type ListingDeclaration,
  type ParameterDeclaration,
  type ValueParameter,
} from "./declaration.js";
import {
  effectiveParameter,
  movement,
  stretchesOf,
  valueText,
  type EffectiveParameter,
  type SentParameters,
} from "./effective.js";
import { withDefaults, type GivenParameters } from "./given.js";
import { beyondLimits } from "./limits.js";
import { planOrder } from "./order.js";
import { planValues, type ValueCondition } from "./values.js";

/** One condition of a request: one parameter, or the two ends of a pair. */
export interface EffectiveCondition {
  readonly parameters: readonly EffectiveParameter[];
  readonly condition: DateCondition;
}

/** A condition that a caller wrote in CQL2. */
export interface CompoundCondition {
  /** The text as it came. */
  readonly raw: string;
  readonly filter: Filter;
  /** Whether it may have a window that moves with the clock. */
  readonly moves: boolean;
}

/** What a request to a listing comes to. */
export interface PlannedRequest {
  /** What the caller asked for. */
  readonly filter: Filter;
  /** Inside which all of it is told: what the listing says for every caller. */
  readonly fixed: Filter;
  readonly conditions: readonly EffectiveCondition[];
  readonly values: readonly ValueCondition[];
  /** The defaults that took effect, by parameter. */
  readonly defaults: GivenParameters["defaults"];
  /** The caller's own compound condition, or null. */
  readonly compound: CompoundCondition | null;
  readonly order: RecordOrder;
  readonly notices: readonly Notice[];
  /** How what is shown depends on when it is asked for: not at all, in steps, or all the time. */
  readonly moves: Movement;
}

/** What the meaning of a request depends on beside its parameters. */
export interface PlanContext {
  /** The instant of asking, which every page of an answer shares. */
  readonly asOf: EpochMs;
  readonly zone: Zone;
  readonly calendar: CalendarSettings;
  readonly columns: Catalogue;
  /** The forms that parameters declare, ready for reading. */
  readonly forms: ReadonlyMap<string, CompiledDateForm>;
}

/**
 * Works out a request to a listing: its filter, order and notices.
 *
 * Parameters that are absent, empty or a spelling of "nothing" make no condition. Fails with
 * every fault of the request at once, in the order in which the parameters came.
 */
export function planRequest(
  listing: ListingDeclaration,
  asked: SentParameters,
  context: PlanContext,
): Result<PlannedRequest> {
  const given = withDefaults(listing, asked);
  const { sent } = given;
  const faults: Fault[] = [...nameFaults(listing, asked), ...given.faults];
  const notices: Notice[] = [];
  const conditions: EffectiveCondition[] = [];
  const values: ValueCondition[] = [];
  const found: Filter[] = [];
  for (const group of groupsOf(listing.parameters)) {
    const dates = group.filter(takesDates);
    if (dates.length > 0) {
      const planned = planGroup(dates, listing, sent, context);
      faults.push(...planned.faults);
      notices.push(...planned.notices);
      if (planned.condition === null) continue;
      conditions.push(planned.condition);
      found.push(planned.condition.condition);
      continue;
    }
    const others = group.filter((each): each is ValueParameter => !takesDates(each));
    const blanks = readBlanks(others, sent);
    const planned = planValues(others, sent, blanks.ok ? blanks.value : "leave", {
      listing,
      columns: context.columns,
    });
    if (!blanks.ok) faults.push(...blanks.faults);
    if (!planned.ok) {
      faults.push(...planned.faults);
      continue;
    }
    notices.push(...planned.value.notices);
    if (planned.value.condition === null) continue;
    values.push(planned.value.condition);
    found.push(planned.value.condition.filter);
  }
  const compound = planCompound(listing, sent, context);
  if (!compound.ok) faults.push(...compound.faults);
  const order = planOrder(listing, sent);
  if (!order.ok) faults.push(...order.faults);
  const fixed = fixedFilter(listing, context);
  if (!fixed.ok) faults.push(...fixed.faults);
  if (faults.length > 0 || !order.ok || !compound.ok || !fixed.ok) {
    return failure(...inOrderOfSending(faults, asked));
  }
  const written = compound.value;
  const moves = written?.moves === true || mayMove(listing.fixed);
  return success({
    filter: { kind: "all", of: written === null ? found : [...found, written.filter] },
    fixed: fixed.value,
    conditions,
    values,
    defaults: given.defaults,
    compound: written,
    order: order.value,
    notices,
    moves: moves ? "always" : movesOf(conditions, context.columns),
  });
}

/** The names that a listing takes, in the order of its declaration. */
export function parameterNames(listing: ListingDeclaration): readonly string[] {
  const declared = listing.parameters.flatMap((parameter) => [
    parameter.name,
    ...(takesDates(parameter) ? Object.values(parameter.fields ?? {}) : []),
    blankName(parameter.name),
  ]);
  const compound = listing.filter === undefined ? [] : [COMPOUND];
  const rows = listing.rows === undefined ? [] : ["rows"];
  const page = listing.page.numbered === true ? ["page"] : [];
  return [...declared, ...compound, ...rows, ...page, ...ENVELOPE_PARAMETERS];
}

/** The parameter that carries a compound condition. */
const COMPOUND = "filter";

/** Reads a compound condition, of the columns that the listing lets callers speak of. */
function planCompound(
  listing: ListingDeclaration,
  sent: SentParameters,
  { asOf, zone, calendar, columns }: PlanContext,
): Result<CompoundCondition | null> {
  const values = sent.get(COMPOUND) ?? [];
  const raw = values.length === 1 ? (values[0] ?? "") : "";
  if (listing.filter === undefined || raw.trim() === "") return success(null);
  const declared = listing.filter.columns.length > 0 ? listing.filter.columns : listing.columns;
  const known =
    declared.length === 0
      ? columns
      : new Map([...columns].filter(([name]) => declared.includes(name)));
  const source = sourceOf(raw);
  const read = source.ok
    ? readCql2(source.value, { window: { asOf, zone, calendar }, columns: known })
    : source;
  if (read.ok) return success({ raw, filter: read.value, moves: mayMove(raw) });
  return failure(...read.faults.map((each) => placed(each, { parameter: COMPOUND })));
}

/**
 * The condition that a listing sets for every caller, at a moment; everything where it sets none.
 * Fails as {@link readCql2}, with the path of its place.
 */
export function fixedFilter(
  listing: ListingDeclaration,
  { asOf, zone, calendar, columns }: Omit<PlanContext, "forms">,
): Result<Filter> {
  const { fixed } = listing;
  if (fixed === undefined) return success(EVERYTHING);
  const held = fixedFilters.get(listing);
  if (held?.columns === columns) return success(held.filter);
  const read = readCql2(fixed, { window: { asOf, zone, calendar }, columns });
  if (!read.ok) return failure(...read.faults.map((each) => placed(each, { path: "fixed" })));
  if (!mayMove(fixed)) fixedFilters.set(listing, { columns, filter: read.value });
  return read;
}

/** Those that are the same at any moment, read once. */
const fixedFilters = new WeakMap<
  ListingDeclaration,
  { readonly columns: Catalogue; readonly filter: Filter }
>();

/** Whether a condition in CQL2 may have a window that moves with the clock. */
function mayMove(cql2: string | undefined): boolean {
  return cql2 !== undefined && /inWindow/i.test(cql2);
}

/** A document where the text is one of JSON, else the text itself. */
function sourceOf(raw: string): Result<unknown> {
  if (!raw.trimStart().startsWith("{")) return success(raw);
  try {
    return success(JSON.parse(raw) as unknown);
  } catch {
    const facts = { at: 0, text: raw, reason: "is not JSON" };
    return failure(fault("filter.syntax", facts, { value: raw }));
  }
}

function nameFaults(listing: ListingDeclaration, sent: SentParameters): readonly Fault[] {
  const known = parameterNames(listing);
  const repeatable = new Set(["order", "columns", ...severalNames(listing)]);
  return [...sent].flatMap(([name, values]) => {
    const place = { parameter: name, value: values.join(", ") };
    if (!known.includes(name)) {
      const reserved = (RESERVED_PARAMETERS as readonly string[]).includes(name);
      if (!reserved && listing.unknown === "ignore") return [];
      return reserved
        ? [fault("parameter.notAllowed", { name }, place)]
        : [fault("parameter.unknown", { name, known }, place)];
    }
    if (repeatable.has(name)) return [];
    const { length: times } = values;
    return times > 1 ? [fault("parameter.repeated", { name, times }, place)] : [];
  });
}

function severalNames({ parameters }: ListingDeclaration): readonly string[] {
  return parameters.filter(({ type }) => type === "several").map(({ name }) => name);
}

function groupsOf(parameters: readonly ParameterDeclaration[]) {
  const groups = new Map<string, ParameterDeclaration[]>();
  for (const parameter of parameters) {
    const key = parameter.pair === undefined ? `name ${parameter.name}` : `pair ${parameter.pair}`;
    groups.set(key, [...(groups.get(key) ?? []), parameter]);
  }
  return [...groups.values()];
}

interface PlannedGroup {
  readonly condition: EffectiveCondition | null;
  readonly faults: readonly Fault[];
  readonly notices: readonly Notice[];
}

function planGroup(
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

function blankName(parameter: string): string {
  return `${parameter}.blank`;
}

/** The blank policy of a condition: as sent under either name of a pair, else as declared. */
function readBlanks(
  group: readonly ParameterDeclaration[],
  sent: SentParameters,
): Result<BlankPolicy> {
  const faults: Fault[] = [];
  const said = new Map<string, BlankPolicy>();
  for (const { name } of group) {
    const values = sent.get(blankName(name)) ?? [];
    const value = values.length === 1 ? (values[0] ?? "").trim() : "";
    if (value === "") continue;
    const policy = BLANK_POLICIES.find((each) => each === value);
    if (policy !== undefined) said.set(blankName(name), policy);
    else {
      const facts = { accepted: BLANK_POLICIES.join(", ") };
      faults.push(fault("parameter.value", facts, { parameter: blankName(name), value }));
    }
  }
  const [first, second] = [...said];
  if (first !== undefined && second !== undefined && first[1] !== second[1]) {
    const facts = { first: first[0], second: second[0] };
    faults.push(fault("parameter.conflict", facts, { parameter: second[0], value: second[1] }));
  }
  if (faults.length > 0) return failure(...faults);
  return success(first?.[1] ?? group[0]?.blanks ?? "leave");
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

/** How what is shown depends on when it is asked for. */
export type Movement = (typeof MOVEMENTS)[number];
const MOVEMENTS = ["never", "steps", "always"] as const;

function movesOf(conditions: readonly EffectiveCondition[], columns: Catalogue): Movement {
  const found = conditions.flatMap(({ parameters, condition }) => {
    const column = columns.get(condition.column);
    const isDays = column?.type === "date" && column.kind === "date";
    return parameters.map(({ value }) => MOVEMENTS.indexOf(movement(value, isDays)));
  });
  return MOVEMENTS[Math.max(0, ...found)] ?? "never";
}

function inOrderOfSending(faults: readonly Fault[], sent: SentParameters): readonly Fault[] {
  const names = [...sent.keys()];
  const place = ({ parameter }: Fault) => names.indexOf(parameter ?? "");
  return [...faults].sort((a, b) => place(a) - place(b));
}
