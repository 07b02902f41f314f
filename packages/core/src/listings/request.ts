import {
  failure,
  fault,
  withLocation,
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
import type { Catalogue } from "../filters/index.js";
import { phrasesIn, withMeantValues } from "../windows/index.js";
import { readBlanks } from "./blanks.js";
import type { PlanContext } from "./context.js";
import { limitFault, readDateQuery } from "./dates.js";
import { expandDerived, withDerivedColumns } from "./derived-conditions.js";
import {
  takesDates,
  type ListingDeclaration,
  type ParameterDeclaration,
  type ValueParameter,
} from "./declaration.js";
import { fixedFilter, fixedWords, resolveContext } from "./fixed-filter.js";
import { withDefaults, type GivenParameters } from "./given.js";
import { planOrder } from "./order.js";
import { COMPOUND, ignoredNotices, nameFaults, shapeOf } from "./parameter-names.js";
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
  received: SentParameters,
  context: PlanContext,
): Result<PlannedRequest> {
  const given = withDefaults(listing, received);
  const { sent, defaults } = given;
  const shape = shapeOf(listing);
  const faults: Fault[] = [...nameFaults(listing, received, context), ...given.faults];
  const notices: Notice[] = [...ignoredNotices(listing, received, context)];
  const values: ValueCondition[] = [];
  const conditions: Query[] = [];
  const { groups } = shape;
  const { derived = {} } = listing;
  const columns = withDerivedColumns(context.columns, derived);
  for (const group of groups) {
    const dates = group.filter(takesDates);
    if (dates.length > 0) {
      const read = readDateQuery(dates, sent, defaults, context, listing.phrases);
      faults.push(...read.faults);
      if (read.query !== null) conditions.push(read.query);
      continue;
    }
    const others = group.filter((each): each is ValueParameter => !takesDates(each));
    const blanks = readBlanks(others, sent);
    const planned = planValues(others, sent, blanks.ok ? blanks.value : "exclude", {
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
  const filter = readFilter(listing, sent, context);
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
    return failure(...inOrderOfSending(faults, received));
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
    each.parameter === undefined ? withLocation(each, { parameter: COMPOUND }) : each,
  );
}

/** The columns that callers may speak of in a filter: none where the listing takes no filter. */
export function filterColumns(
  { columns: shown, filter, derived = {} }: ListingDeclaration,
  columns: Catalogue,
): Catalogue {
  if (filter === undefined) return new Map();
  const all = [...withDerivedColumns(columns, derived)];
  const names = filter.columns === "all" ? shown : filter.columns;
  if (filter.columns === "all" && shown.length === 0) return new Map(all);
  return new Map(all.filter(([name]) => names.includes(name)));
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
  { columns, named, asOf, zone, calendar }: PlanContext,
): ReadFilter {
  const values = sent.get(COMPOUND) ?? [];
  const raw = values.length === 1 ? (values[0] ?? "") : "";
  if (listing.filter === undefined || raw.trim() === "") return { raw, query: null, faults: [] };
  const known = filterColumns(listing, columns);
  const source = sourceOf(raw);
  const phrases = phrasesIn({ asOf, zone, calendar }, listing.phrases);
  const read = source.ok
    ? readCql2Query(source.value, {
        columns: known,
        knowsCaller: true,
        from: "filter",
        ...(named && { named }),
        ...(phrases && { phrases }),
      })
    : source;
  if (read.ok) return { raw, query: read.value, faults: [] };
  const faults = withMeantValues(read.faults, { asOf, zone, calendar });
  return {
    raw,
    query: null,
    faults: faults.map((each) => withLocation(each, { parameter: COMPOUND })),
  };
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

function inOrderOfSending(faults: readonly Fault[], sent: SentParameters): readonly Fault[] {
  const names = [...sent.keys()];
  const place = ({ parameter }: Fault) => names.indexOf(parameter ?? "");
  return [...faults].sort((a, b) => place(a) - place(b));
}
