import {
  derivedMovement,
  epochMs,
  fault,
  flattened,
  freshFor,
  inStoredUnits,
  isEverything,
  isNested,
  momentOf,
  neededFor,
  planRequest,
  simplify,
  type Catalogue,
  type Filter,
  type PageQuery,
  type RecordOrder,
  type SentParameters,
  type StoredTable,
} from "@orisma/core";
import { mayAs } from "../access/index.js";
import { Problem, problemOf, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import type { Sources } from "../sources/index.js";
import { CURSOR_ENDS, queryHash, type Cursor, type CursorBinding, type Cursors } from "./cursor.js";
import { readEnvelope, type Envelope } from "./envelope.js";
import { storedColumns } from "./made.js";
import { askedMembers } from "./members.js";
import { inZone, permittedTo } from "./moment.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo } from "./read.js";
import { countsOf } from "./totals.js";

/** What requests are understood with. */
export interface Making {
  readonly sources: Sources;
  readonly cursors: Cursors;
  /** The instant that it is, in milliseconds since 1970-01-01T00:00:00Z. */
  readonly now: () => number;
}

/** Understands a request; throws a problem with all of its faults, before anything is run. */
export async function prepareRequest(
  declared: ServedListing,
  sent: SentParameters,
  caller: Caller,
  { sources, cursors, now }: Making,
): Promise<PreparedRequest> {
  const permitted = permittedTo(caller, declared.declaration);
  const { calendar, forms, columns, source } = declared;
  const { envelope, faults } = readEnvelope(sent, declared.declaration, declared.shown);
  const found = envelope.cursor === null ? null : cursors.read(envelope.cursor);
  const asked = momentOf(sent, permitted, {
    asOf: epochMs(found?.asOf ?? now()),
    zone: declared.zone,
    calendar,
  });
  // Where the instant cannot be read, its fault stands beside those of the request as it is now.
  const moment = asked.ok ? asked.value : { asOf: epochMs(now()), zone: declared.zone };
  const listing = inZone(declared, moment.zone);
  const { declaration } = listing;
  const viewer = { isAuthor: mayAs("maker", caller), columns: listing.shown };
  const context = { ...moment, calendar, columns, forms, permitted, caller: caller.name, viewer };
  const planned = planRequest(declaration, sent, context);
  const all = [...(asked.ok ? [] : asked.faults), ...(planned.ok ? [] : planned.faults), ...faults];
  if (all.length > 0 || !planned.ok) throw problemOf(all);
  if (source.table === null) {
    throw new Problem("not-found", `The source ${source.name} has no records yet: import a file`);
  }
  const { order, timeDependence, requested, fixedFilter } = planned.value;
  refusePlaces(order, envelope, source, source.table);
  const { units = {} } = declaration;
  const [fixed, own] = [fixedFilter, requested].map(({ filter: each }) =>
    inStoredUnits(each, units),
  ) as [Filter, Filter];
  // What the caller asked for, inside what the listing says for all of them.
  const wanted = insideOf(fixed, own);
  const everyMember = source.whence === null ? null : await sources.membersOf(source, moment);
  const members = everyMember === null ? null : askedMembers(everyMember, wanted, listing);
  const first = members?.[0]?.table ?? source.table;
  const table = envelope.rows === "values" ? flattened(first) : first;
  const gateway = members?.[0]?.gateway ?? (await sources.gatewayOf(source));
  const laid = async (each: Filter) => (members === null ? narrowedTo(each, table, gateway) : each);
  const [filter, within] = [await laid(own), await laid(fixed)];
  const whole = insideOf(within, filter);
  const binding: CursorBinding = {
    listing: declaration.name,
    caller: caller.id,
    version: listing.version,
    source: source.id,
    ids: source.ids,
    order: [order, ...(order.then ?? [])].map((each) => holdingOf(each.column, columns)).join(" "),
  };
  // Not as it was narrowed, which the records that come and go may change.
  const hash = queryHash(wanted, order, envelope.rows);
  // Parameters come as simple as they can be said; a compound condition may not.
  const isCompound = planned.value.filter !== null;
  const simple = isCompound ? simplify(whole, columns).filter : whole;
  const cursor = checkedCursor(envelope.cursor, found, binding, hash);
  const backward = cursor?.backward ?? false;
  // A record can have many of what is inside, and of what is made of it: shown is the text that
  // has them all.
  const shown = (envelope.columns ?? listing.shown).filter(
    (name) =>
      envelope.rows !== "records" ||
      [name, ...neededFor([name], listing.made)].every((each) => !isNested(each, first)),
  );
  const query: PageQuery = {
    filter: simple,
    columns: storedColumns(shown, listing),
    ...(envelope.offset === null ? {} : { offset: envelope.offset }),
    order: backward ? turnedRound(order) : order,
    after: cursor?.position ?? null,
    // One more than shown tells whether there is a page beyond.
    limit: envelope.size + 1,
    counts: countsOf(envelope, simple, within),
  };
  return {
    listing,
    caller: caller.id,
    gateway,
    table,
    members,
    everyMember,
    planned: planned.value,
    filter,
    fixed: within,
    envelope,
    shown,
    madeAt: moment.asOf,
    cursor,
    query,
    binding,
    freshMs: freshFor(declaration, planned.value, columns, { ...moment, calendar }, epochMs(now())),
    queryHash: hash,
    asOf:
      timeDependence === "never" && derivedMovement(declaration.derived ?? {}, columns) === "never"
        ? null
        : moment.asOf,
  };
}

/** Throws a problem where the records asked for cannot be put into such an order and pages. */
function refusePlaces(
  { column, then }: RecordOrder,
  { rows, offset }: Envelope,
  source: ServedListing["source"],
  table: StoredTable,
): void {
  const place = { parameter: "order" };
  if (source.whence !== null && offset !== null) {
    const facts = { accepted: "cursors: pages of several tables have no numbers" };
    throw problemOf([fault("parameter.value", facts, { parameter: "page", value: "" })]);
  }
  if (source.whence !== null && then !== undefined) {
    throw problemOf([fault("order.severalTables", { column: column ?? "" }, place)]);
  }
  if (rows !== "records") return;
  for (const { column: by } of [{ column }, ...(then ?? [])]) {
    if (by !== null && isNested(by, table)) {
      throw problemOf([fault("order.perValue", { column: by }, place)]);
    }
  }
}

/** A filter inside another. */
function insideOf(fixed: Filter, filter: Filter): Filter {
  return isEverything(fixed) ? filter : { kind: "all", of: [fixed, filter] };
}

/** An order from its other end. */
function turnedRound({ then, ...first }: RecordOrder): RecordOrder {
  return then === undefined ? turned(first) : { ...turned(first), then: then.map(turned) };
}

function turned<K extends Omit<RecordOrder, "then">>({ descending, blanks, ...key }: K) {
  const other = { ...key, descending: !descending };
  if (blanks === undefined) return other;
  return { ...other, blanks: blanks === "first" ? ("last" as const) : ("first" as const) };
}

/** What a column holds, for whoever compares with its values. */
function holdingOf(name: string | null, columns: Catalogue): string {
  const column = name === null ? undefined : columns.get(name);
  if (column === undefined) return "";
  return column.type === "date" ? column.kind : column.type;
}

/** The cursor of a request; throws a problem for one that means nothing here, or no more. */
function checkedCursor(
  text: string | null,
  cursor: Cursor | null,
  binding: CursorBinding,
  query: string,
): Cursor | null {
  if (text === null) return null;
  const place = { parameter: "cursor", value: text };
  const { listing, caller } = binding;
  if (cursor?.binding.listing !== listing || cursor.binding.caller !== caller) {
    throw problemOf([fault("cursor.unreadable", {}, place)]);
  }
  const ended = CURSOR_ENDS.find((each) => cursor.binding[each] !== binding[each]);
  if (ended !== undefined) throw problemOf([fault("cursor.ended", { by: ended }, place)]);
  if (cursor.query !== query) throw problemOf([fault("cursor.otherQuery", {}, place)]);
  return cursor;
}
