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
  mostDependent,
  queryOfValues,
  readCql2Query,
  resolveQuery,
  timeDependence,
  type Query,
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
import { fixedFilter, fixedWords, resolveContext } from "./fixed-filter.js";
import { withDefaults, type GivenParameters } from "./given.js";
import { planOrder } from "./order.js";
import type { PlannedRequest } from "./planned.js";
import type { SentParameters } from "./sent.js";
import { planValues, type ValueCondition } from "./values.js";

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
