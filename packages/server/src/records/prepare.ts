import {
  computedColumns,
  epochMs,
  planListing,
  simplify,
  withComputed,
  type PageQuery,
  type Plan,
  type SentParameters,
} from "@orisma/core/internal";
import { Problem, mayAs, problemOf, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { queryHash, type Cursors } from "./cursor.js";
import { allowedTo } from "./moment.js";
import type { PreparedRequest } from "./prepared.js";
import { concernedTables, tablesOf, type RecordSources } from "./source-tables.js";
import { countsOf } from "./totals.js";

/** What requests are understood with. */
export interface Making {
  readonly sources: RecordSources;
  readonly cursors: Cursors;
  /** The instant that it is, in milliseconds since 1970-01-01T00:00:00Z. */
  readonly now: () => number;
}

/** Plans a request, and finds its tables; throws a problem with all of its faults, before anything is run. */
export async function prepareRequest(
  declared: ServedListing,
  sent: SentParameters,
  caller: Caller,
  { sources, cursors, now }: Making,
): Promise<PreparedRequest> {
  const planned = planListing(declared, sent, {
    now: epochMs(now()),
    caller,
    viewer: { isAuthor: mayAs("author", caller), columns: declared.shown },
    allowed: allowedTo(caller, declared.declaration),
    readCursor: (text) => cursors.read(text),
    hash: queryHash,
  });
  if (!planned.ok) throw problemOf(planned.faults);
  const plan = planned.value;
  const { listing, request, envelope, cursor, fixed, whole } = plan;
  const { source } = listing;
  if (source.table === null) {
    throw new Problem("not-found", `The source ${source.name} has no records yet: import a file`);
  }
  // Parameters come as simple as they can be said; a filter may not.
  const filter = request.filter === null ? whole : simplify(whole, listing.columns).filter;
  const moment = { asOf: plan.asOf, zone: listing.zone };
  const computed = computedOrder(plan);
  const everyTable = (await tablesOf(listing, moment, envelope.rows, sources)).map((each) =>
    computed.size === 0 ? each : { ...each, table: withComputed(each.table, computed) },
  );
  const tables = concernedTables(everyTable, filter, listing);
  const [first] = tables;
  // What applied by an override is another where that has ended.
  const overrideEnds = Math.min(...listing.overrides.map(({ until }) => until ?? Infinity));
  const query: PageQuery = {
    filter,
    columns: plan.read,
    ...(envelope.offset === null ? {} : { offset: envelope.offset }),
    order: plan.order,
    after: cursor?.position ?? null,
    // One more than shown says whether there is a page beyond.
    limit: envelope.size + 1,
    counts: countsOf(envelope, listing, filter, fixed),
  };
  return {
    listing,
    caller: caller.id,
    planned: request,
    envelope,
    shown: plan.shown,
    derivedAt: plan.asOf,
    tables,
    everyTable,
    isSeveral: source.partitionColumn !== null,
    table: first?.table ?? source.table,
    gateway: first?.gateway ?? (await sources.gatewayOf(source)),
    cursor,
    filter: plan.filter,
    fixed,
    query,
    binding: plan.binding,
    maxAgeMs: Math.max(0, Math.min(plan.maxAgeMs, overrideEnds - now())),
    untilChangeMs: Math.max(0, Math.min(plan.untilChangeMs, overrideEnds - now())),
    queryHash: plan.queryHash,
    asOf: plan.dependsOn,
  };
}

/** The columns of an order that the database has to work out. */
function computedOrder({ order, listing, asOf }: Plan<ServedListing>) {
  const { columns, zone, declaration } = listing;
  const names = new Set([order.column, ...(order.then ?? []).map((each) => each.column)]);
  const derived = Object.entries(declaration.derived ?? {}).filter(([name]) => names.has(name));
  return computedColumns(Object.fromEntries(derived), { columns, asOf, zone });
}
