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
import { EVERYTHING, readCql2, type Catalogue, type Filter } from "../filters/index.js";
import type { RecordOrder } from "../sql/index.js";
import { blankName, readBlanks } from "./blanks.js";
import type { PlanContext } from "./context.js";
import { planDates, type EffectiveCondition } from "./dates.js";
import {
  ENVELOPE_PARAMETERS,
  MOMENT_PARAMETERS,
  RESERVED_PARAMETERS,
  takesDates,
  type ListingDeclaration,
  type ParameterDeclaration,
  type ValueParameter,
} from "./declaration.js";
import { movement, type SentParameters } from "./effective.js";
import { withDefaults, type GivenParameters } from "./given.js";
import { planOrder } from "./order.js";
import { planValues, type ValueCondition } from "./values.js";

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
  const faults: Fault[] = [...nameFaults(listing, asked, context), ...given.faults];
  const notices: Notice[] = [...ignoredNotices(listing, asked, context)];
  const conditions: EffectiveCondition[] = [];
  const values: ValueCondition[] = [];
  const found: Filter[] = [];
  for (const group of groupsOf(listing.parameters)) {
    const dates = group.filter(takesDates);
    if (dates.length > 0) {
      const planned = planDates(dates, listing, sent, context);
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
export function parameterNames(
  listing: ListingDeclaration,
  permitted: PlanContext["permitted"] = [],
): readonly string[] {
  const declared = listing.parameters.flatMap((parameter) => [
    parameter.name,
    ...(takesDates(parameter) ? Object.values(parameter.fields ?? {}) : []),
    // What is found somewhere in several columns is blank in none of them, or in some.
    ...(parameter.type === "search" ? [] : [blankName(parameter.name)]),
  ]);
  const compound = listing.filter === undefined ? [] : [COMPOUND];
  const rows = listing.rows === undefined ? [] : ["rows"];
  const page = listing.page.numbered === true ? ["page"] : [];
  return [...declared, ...compound, ...rows, ...page, ...ENVELOPE_PARAMETERS, ...permitted];
}

/** The parameter that carries a compound condition. */
const COMPOUND = "filter";

/** The columns of the source that callers may speak of; `all` of them where the listing shows all. */
function spokenOf(
  { columns: shown }: ListingDeclaration,
  declared: readonly string[] | "all",
): readonly string[] | "all" {
  if (declared !== "all") return declared;
  return shown.length === 0 ? "all" : shown;
}

/** Reads a compound condition, of the columns that the listing lets callers speak of. */
function planCompound(
  listing: ListingDeclaration,
  sent: SentParameters,
  { asOf, zone, calendar, columns, caller }: PlanContext,
): Result<CompoundCondition | null> {
  const values = sent.get(COMPOUND) ?? [];
  const raw = values.length === 1 ? (values[0] ?? "") : "";
  if (listing.filter === undefined || raw.trim() === "") return success(null);
  const declared = spokenOf(listing, listing.filter.columns);
  const known = new Map(
    [...columns].filter(([name]) => declared === "all" || declared.includes(name)),
  );
  const source = sourceOf(raw);
  const read = source.ok
    ? readCql2(source.value, { window: { asOf, zone, calendar }, columns: known, caller })
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
  { asOf, zone, calendar, columns, caller }: Omit<PlanContext, "forms">,
): Result<Filter> {
  const { fixed } = listing;
  if (fixed === undefined) return success(EVERYTHING);
  const held = fixedFilters.get(listing);
  if (held?.columns === columns) return success(held.filter);
  const read = readCql2(fixed, { window: { asOf, zone, calendar }, columns, caller });
  if (!read.ok) return failure(...read.faults.map((each) => placed(each, { path: "fixed" })));
  if (!mayMove(fixed) && !/\bcaller\b/i.test(fixed))
    fixedFilters.set(listing, { columns, filter: read.value });
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

/** Ignored, these would give the records of another time than was asked for. */
const NEVER_IGNORED: ReadonlySet<string> = new Set(MOMENT_PARAMETERS);

function mayIgnore(name: string, listing: ListingDeclaration): boolean {
  return listing.unknown === "ignore" && !NEVER_IGNORED.has(name);
}

/** What was sent under names that the listing does not have, and ignores. */
function ignoredNotices(
  listing: ListingDeclaration,
  sent: SentParameters,
  { permitted }: PlanContext,
): readonly Notice[] {
  const known = parameterNames(listing, permitted);
  const names = [...sent.keys()].filter(
    (name) => !known.includes(name) && mayIgnore(name, listing),
  );
  return names.length === 0 ? [] : [notice("parameter.ignored", { names })];
}

function nameFaults(
  listing: ListingDeclaration,
  sent: SentParameters,
  { permitted }: PlanContext,
): readonly Fault[] {
  const known = parameterNames(listing, permitted);
  const repeatable = new Set(["order", "columns", ...severalNames(listing)]);
  return [...sent].flatMap(([name, values]) => {
    const place = { parameter: name, value: values.join(", ") };
    if (!known.includes(name)) {
      if (mayIgnore(name, listing)) return [];
      const reserved = (RESERVED_PARAMETERS as readonly string[]).includes(name);
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
