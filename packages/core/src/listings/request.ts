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
import type { Catalogue } from "../filters/index.js";
import {
  ANY_RECORD,
  columnsOfQuery,
  conditionsIn,
  conjunctsOf,
  isConstant,
  mostDependent,
  queryOfValues,
  readCql2Query,
  resolveQuery,
  timeDependence,
  type Query,
  type ResolveContext,
  type ResolvedQuery,
} from "../query/index.js";
import { blankName, readBlanks } from "./blanks.js";
import type { PlanContext } from "./context.js";
import { limitFault, readDateQuery } from "./dates.js";
import { expandDerived, withDerivedColumns } from "./derived-conditions.js";
import {
  ENVELOPE_PARAMETERS,
  MOMENT_PARAMETERS,
  RESERVED_PARAMETERS,
  takesDates,
  type ListingDeclaration,
  type ParameterDeclaration,
  type ValueParameter,
} from "./declaration.js";
import { withDefaults, type GivenParameters } from "./given.js";
import { planOrder } from "./order.js";
import type { PlannedRequest } from "./planned.js";
import type { SentParameters } from "./sent.js";
import { planValues, type ValueCondition } from "./values.js";
import { partInWords } from "./words.js";

/**
 * Works out a request to a listing: its query, order and notices.
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
  const { sent, defaults } = given;
  const faults: Fault[] = [...nameFaults(listing, asked, context), ...given.faults];
  const notices: Notice[] = [...ignoredNotices(listing, asked, context)];
  const values: ValueCondition[] = [];
  const conditions: Query[] = [];
  const groups = groupsOf(listing.parameters);
  const { derived = {} } = listing;
  const columns = withDerivedColumns(context.columns, derived);
  for (const group of groups) {
    const dates = group.filter(takesDates);
    if (dates.length > 0) {
      const read = readDateQuery(dates, sent, defaults, context);
      faults.push(...read.faults);
      if (read.query !== null) conditions.push(read.query);
      continue;
    }
    const others = group.filter((each): each is ValueParameter => !takesDates(each));
    const blanks = readBlanks(others, sent);
    const planned = planValues(others, sent, blanks.ok ? blanks.value : "leave", {
      listing,
      columns,
    });
    if (!blanks.ok) faults.push(...blanks.faults);
    if (!planned.ok) {
      faults.push(...planned.faults);
      continue;
    }
    notices.push(...planned.value.notices);
    const { condition } = planned.value;
    if (condition === null) continue;
    values.push(condition);
    conditions.push(valueQuery(condition, others, defaults));
  }
  const filter = readFilter(listing, sent, { ...context, columns });
  faults.push(...filter.faults);
  const order = planOrder(listing, sent);
  if (!order.ok) faults.push(...order.faults);
  const fixed = fixedFilter(listing, context);
  if (!fixed.ok) faults.push(...fixed.faults);
  const own = filter.query && expandDerived(filter.query, derived, context.columns);
  const query: Query = {
    kind: "all",
    of: [
      ...conditions.map((each) => expandDerived(each, derived, context.columns)),
      ...(own === null ? [] : [own]),
    ],
  };
  const requested = resolveQuery(query, resolveContext(listing, context));
  faults.push(
    ...(requested.ok ? limitFaults(groups, requested.value, context) : inFilter(requested.faults)),
  );
  if (faults.length > 0 || !order.ok || !fixed.ok || !requested.ok) {
    return failure(...inOrderOfSending(faults, asked));
  }
  return success({
    query,
    requested: requested.value,
    fixedQuery: fixed.value.query,
    fixedFilter: fixed.value.resolved,
    fixedWords: fixedWords(listing, fixed.value, context.viewer),
    values,
    filter: own === null ? null : { raw: filter.raw, query: own },
    defaults,
    order: order.value,
    notices: [...notices, ...requested.value.notices],
    timeDependence: mostDependent(
      [query, fixed.value.query].map((each) => timeDependence(each, context.columns)),
    ),
  });
}

function resolveContext(
  { reversed }: ListingDeclaration,
  { asOf, zone, calendar, columns, caller }: Omit<PlanContext, "forms" | "permitted">,
): ResolveContext {
  return { window: { asOf, zone, calendar, reversed }, columns, caller };
}

/** A condition on values as a part of the query. */
function valueQuery(
  { parameters, filter }: ValueCondition,
  group: readonly ValueParameter[],
  defaults: GivenParameters["defaults"],
): Query {
  const names = parameters.map(({ declaration: { name } }) => name);
  const sent = parameters.map(({ declaration: { name: parameter }, raw }) => ({
    parameter,
    raw: raw.join(", "),
    form: "value" as const,
    isDefault: parameter in defaults,
  }));
  const id = names.length === 0 ? (group[0]?.name ?? "") : names.join("/");
  return queryOfValues(filter, { kind: "parameter", names, sent }, id);
}

/** The faults of dates beyond what their parameters allow. */
function limitFaults(
  groups: readonly (readonly ParameterDeclaration[])[],
  { dates }: ResolvedQuery,
  { asOf, zone, calendar }: PlanContext,
): readonly Fault[] {
  return dates.flatMap((resolved) => {
    const { origin } = resolved.query;
    if (origin.kind !== "parameter") return [];
    const group = groups.find((each) => each.some(({ name }) => origin.names.includes(name)));
    const found = limitFault((group ?? []).filter(takesDates), resolved, { asOf, zone, calendar });
    return found === null ? [] : [found];
  });
}

/** Faults of what was resolved: those that name no parameter are of the caller's own filter. */
function inFilter(faults: readonly Fault[]): readonly Fault[] {
  return faults.map((each) =>
    each.parameter === undefined ? placed(each, { parameter: COMPOUND }) : each,
  );
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

interface ReadFilter {
  readonly raw: string;
  readonly query: Query | null;
  readonly faults: readonly Fault[];
}

/** Reads the caller's own filter, of the columns that the listing lets callers speak of. */
function readFilter(
  listing: ListingDeclaration,
  sent: SentParameters,
  { columns, named }: PlanContext,
): ReadFilter {
  const values = sent.get(COMPOUND) ?? [];
  const raw = values.length === 1 ? (values[0] ?? "") : "";
  if (listing.filter === undefined || raw.trim() === "") return { raw, query: null, faults: [] };
  const declared = spokenOf(listing, listing.filter.columns);
  const known = new Map(
    [...columns].filter(([name]) => declared === "all" || declared.includes(name)),
  );
  const source = sourceOf(raw);
  const read = source.ok
    ? readCql2Query(source.value, {
        columns: known,
        knowsCaller: true,
        from: "filter",
        ...(named && { named }),
      })
    : source;
  if (read.ok) return { raw, query: read.value, faults: [] };
  const faults = read.faults.map((each) => placed(each, { parameter: COMPOUND }));
  return { raw, query: null, faults };
}

/** The filter that a listing sets for every caller: as declared, and at a moment. */
export interface FixedFilter {
  readonly query: Query;
  readonly resolved: ResolvedQuery;
}

/**
 * The filter that a listing sets for every caller; it matches every record where there is none.
 * Fails as {@link readCql2Query} and {@link resolveQuery}, with the path of its place.
 */
export function fixedFilter(
  listing: ListingDeclaration,
  context: Omit<PlanContext, "forms" | "permitted">,
): Result<FixedFilter> {
  const held = fixedFilters.get(listing);
  const isHeld = held?.columns === context.columns && held.named === context.named;
  const known = isHeld ? held : readFixed(listing, context);
  if (known.resolved !== null) return success({ query: known.query, resolved: known.resolved });
  if (known.faults.length > 0) return failure(...known.faults);
  const resolved = resolveQuery(known.query, resolveContext(listing, context));
  if (!resolved.ok) return failure(...resolved.faults.map((each) => placed(each, FIXED)));
  // What means the same at any moment is resolved once.
  const isKept = isConstant(known.query);
  fixedFilters.set(listing, { ...known, resolved: isKept ? resolved.value : null });
  return success({ query: known.query, resolved: resolved.value });
}

/** The parts of a fixed filter in words; of one that is not described only that there is one. */
function fixedWords(
  { zone, describeFixedFilter: described, fixed }: ListingDeclaration,
  { query, resolved }: FixedFilter,
  viewer: PlanContext["viewer"],
): readonly string[] {
  if (fixed === undefined) return [];
  const isAuthor = viewer?.isAuthor !== false;
  if (!isAuthor && typeof described === "string") return [described];
  const seesAll = isAuthor || columnsOfQuery(query).every((name) => viewer.columns.includes(name));
  if (!isAuthor && (described === false || (described !== true && !seesAll))) return [UNDESCRIBED];
  return conjunctsOf(query).map((part) => partInWords(part, resolved, zone));
}

const UNDESCRIBED = "within this listing's own conditions";

/** The names of windows that a declaration uses, in lower case: as defaults, and in its fixed filter. */
export function windowNamesIn(
  listing: ListingDeclaration,
  columns: Catalogue,
  named: NonNullable<PlanContext["named"]>,
): readonly string[] {
  const defaults = listing.parameters.flatMap(({ type, default: value }) =>
    type === "window" && typeof value === "string" ? [value.trim().toLowerCase()] : [],
  );
  const { query } = readFixed(listing, { columns, named });
  const inFilter = conditionsIn(query).flatMap((each) =>
    each.kind === "date" ? (each.windowName ?? []) : [],
  );
  return [...defaults.filter((name) => named.has(name)), ...inFilter];
}

const FIXED = { path: "fixed" };

interface ReadFixed {
  readonly columns: Catalogue;
  readonly named: PlanContext["named"];
  readonly query: Query;
  readonly faults: readonly Fault[];
  /** Null where it depends on the moment or the caller. */
  readonly resolved: ResolvedQuery | null;
}

/** Read once for each declaration. */
const fixedFilters = new WeakMap<ListingDeclaration, ReadFixed>();

function readFixed(
  { fixed, derived = {} }: ListingDeclaration,
  { columns, named }: Pick<PlanContext, "columns" | "named">,
): ReadFixed {
  const nothing = { columns, named, query: ANY_RECORD, faults: [], resolved: null };
  if (fixed === undefined) return nothing;
  const read = readCql2Query(fixed, {
    ...{ knowsCaller: true, from: "fixedFilter" },
    columns: withDerivedColumns(columns, derived),
    ...(named && { named }),
  });
  if (read.ok) return { ...nothing, query: expandDerived(read.value, derived, columns) };
  return { ...nothing, faults: read.faults.map((each) => placed(each, FIXED)) };
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

function inOrderOfSending(faults: readonly Fault[], sent: SentParameters): readonly Fault[] {
  const names = [...sent.keys()];
  const place = ({ parameter }: Fault) => names.indexOf(parameter ?? "");
  return [...faults].sort((a, b) => place(a) - place(b));
}
