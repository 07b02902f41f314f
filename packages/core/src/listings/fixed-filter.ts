import { failure, withLocation, success, type Fault, type Result } from "../faults/index.js";
import type { Catalogue } from "../filters/index.js";
import {
  ANY_RECORD,
  columnsOfQuery,
  conjunctsOf,
  isConstant,
  readCql2Query,
  resolveQuery,
  type Query,
  type ResolveContext,
  type ResolvedQuery,
} from "../query/index.js";
import type { PlanContext } from "./context.js";
import type { ListingDeclaration } from "./declaration.js";
import { expandDerived, withDerivedColumns } from "./derived-conditions.js";
import { partInWords } from "./words.js";

/** What the queries of a listing are resolved for. */
export function resolveContext(
  { reversed }: ListingDeclaration,
  { asOf, zone, calendar, columns, caller, claims }: Omit<PlanContext, "forms" | "allowed">,
): ResolveContext {
  return { window: { asOf, zone, calendar, reversed }, columns, caller, ...(claims && { claims }) };
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
  context: Omit<PlanContext, "forms" | "allowed">,
): Result<FixedFilter> {
  const held = fixedFilters.get(listing);
  const isHeld = held?.columns === context.columns && held.named === context.named;
  const known = isHeld ? held : readFixed(listing, context);
  if (known.resolved !== null) return success({ query: known.query, resolved: known.resolved });
  if (known.faults.length > 0) return failure(...known.faults);
  const resolved = resolveQuery(known.query, resolveContext(listing, context));
  if (!resolved.ok) return failure(...resolved.faults.map((each) => withLocation(each, FIXED)));
  // What means the same at any moment is resolved once.
  const isKept = isConstant(known.query);
  fixedFilters.set(listing, { ...known, resolved: isKept ? resolved.value : null });
  return success({ query: known.query, resolved: resolved.value });
}

/** The parts of a fixed filter in words; of one that is not described only that there is one. */
export function fixedWords(
  listing: ListingDeclaration,
  { query, resolved }: FixedFilter,
  viewer: PlanContext["viewer"],
): readonly string[] {
  const { describeFixedFilter: described, fixedFilter: fixed } = listing;
  if (fixed === undefined) return [];
  const isAuthor = viewer?.isAuthor !== false;
  if (!isAuthor && typeof described === "string") return [described];
  const seesAll = isAuthor || columnsOfQuery(query).every((name) => viewer.columns.includes(name));
  if (!isAuthor && (described === false || (described !== true && !seesAll))) return [UNDESCRIBED];
  return conjunctsOf(query).map((part) => partInWords(part, resolved, listing));
}

const UNDESCRIBED = "within this listing's own conditions";

const FIXED = { path: "fixedFilter" };

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
  { fixedFilter: fixed, derived = {} }: ListingDeclaration,
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
  return { ...nothing, faults: read.faults.map((each) => withLocation(each, FIXED)) };
}
