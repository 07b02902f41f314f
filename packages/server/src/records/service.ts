import {
  appliedDates,
  clausesOf,
  columnsOf,
  datesOf,
  filterInWords,
  namingOf,
  notice,
  positionOf,
  renderNotice,
  sentenceOf,
  valueKey,
  windowViews,
  type Cursor,
  type Envelope,
  type Explanation,
  type Filter,
  type Notice,
  type PageQuery,
  type RecordAnswer,
  type RecordVerdict,
  type RecordsMeta,
  type SentParameters,
  type SqlValue,
  type StoredTable,
  type TotalAnswer,
  type WhyAnswer,
  type WindowView,
} from "@orisma/core/internal";
import type { AuditDetails } from "@orisma/contract";
import type { Read, Run } from "../database/index.js";
import { Problem, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import type { Cursors } from "./cursor.js";
import { displayOf } from "./display.js";
import { explain } from "./explain.js";
import { withDerivedColumns, type Unreadables } from "./derived-columns.js";
import { mainDateOf, shownExtents } from "./main-date.js";
import { prepareRequest } from "./prepare.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo, readBy, readPage } from "./read.js";
import { insideTotals, totalsOf } from "./totals.js";
import { sightOf } from "./sight.js";
import { attachedRecords, storedRecords } from "../sources/index.js";
import { recordTag, taggedColumns } from "./tag.js";
import { abortable, concernedTables, tableQuery, type RecordSources } from "./source-tables.js";
import { RowReader, readRows, type TableRow } from "./tables.js";
import { conditionsOf, targetsOf, whyOf } from "./why.js";

/** A page of records, with the cursors of the pages beside it. */
export interface RecordsPage {
  readonly records: readonly RecordAnswer[];
  readonly meta: RecordsMeta;
  readonly next: string | null;
  readonly previous: string | null;
  /** The numbers of the pages beside it, where it was requested by its own; null for no such page. */
  readonly numbered: { readonly next: number | null; readonly previous: number | null } | null;
  /**
   * What the page is beside its records: two with the same `steady` and `identity` are the same answer,
   * although they were requested at two moments, which the edges of a window at `now` and the cursors
   * show. `steady` is the `meta` itself where nothing of it moves all the time.
   */
  readonly steady: object;
  readonly identity: readonly unknown[];
}

/** Answers requests for records of listings. */
export class Records {
  constructor(
    private readonly sources: RecordSources,
    private readonly cursors: Cursors,
    private readonly now: () => number,
    /** Called with each request once it is understood. */
    private readonly onPrepared: (prepared: PreparedRequest) => Promise<void> = () =>
      Promise.resolve(),
  ) {}

  /** The same, whose queries are ended when a signal is aborted. */
  withAbort(
    signal: AbortSignal,
    onPrepared?: (prepared: PreparedRequest) => Promise<void>,
  ): Records {
    return new Records(abortable(this.sources, signal), this.cursors, this.now, onPrepared);
  }

  /** Understands a request; throws a problem with all of its faults, before anything is run. */
  async prepare(
    declared: ServedListing,
    sent: SentParameters,
    caller: Caller,
  ): Promise<PreparedRequest> {
    const { sources, cursors, now } = this;
    const prepared = await prepareRequest(declared, sent, caller, { sources, cursors, now });
    await this.onPrepared(prepared);
    return prepared;
  }

  /** Runs a request. */
  async run(prepared: PreparedRequest): Promise<RecordsPage> {
    const { envelope, cursor, query, listing } = prepared;
    if (envelope.resume !== null) return this.#resumed(prepared, envelope.resume);
    const { rows, counts } = await readRows(prepared);
    const found = rows.slice(0, envelope.size);
    const hasBeyond = rows.length > found.length;
    if (cursor?.backward === true) found.reverse();
    const unreadable: Unreadables = {};
    const reader = new RowReader(query.columns, listing.columns, listing.declaration.units);
    const read = found.map((row) => reader.read(row, unreadable));
    const records = await withDerivedColumns(prepared, read, unreadable, this.sources);
    const counted = totalsOf(prepared, counts);
    const mainDate = await mainDateOf(prepared);
    const totals = {
      ...counted,
      ...(await insideTotals(prepared, counted)),
      ...mainDate,
      ...(await shownExtents(prepared)),
      notices: [...(counted.notices ?? []), ...(mainDate.notices ?? [])],
    };
    const places = [found.at(-1) ?? null, found[0] ?? null];
    const why = await this.#whyNone(prepared, records.length);
    return this.#page(prepared, { records, totals, unreadable, places, hasBeyond, why });
  }

  /** The records that changed since a caller was here, in the order in which they did. */
  async #resumed(prepared: PreparedRequest, resume: string): Promise<RecordsPage> {
    const {
      rows,
      notices = [],
      ...place
    } = await this.cursors.resuming.next(prepared, resume, this.now());
    const unreadable: Unreadables = {};
    const { columns, declaration } = prepared.listing;
    const reader = new RowReader(prepared.query.columns, columns, declaration.units);
    const read = rows.map((row) => reader.read(row, unreadable));
    const records = await withDerivedColumns(prepared, read, unreadable, this.sources);
    const totals = { total: null, totalExact: false, notices };
    const built = { records, totals, unreadable, places: [], hasBeyond: false, why: null };
    const page = this.#page(prepared, built);
    const meta = { ...page.meta, resume: place };
    return { ...page, meta, steady: meta };
  }

  /** On request why there is no record, where there is none. */
  async #whyNone(prepared: PreparedRequest, found: number): Promise<WhyAnswer | null> {
    const { envelope, cursor } = prepared;
    // An empty page behind others has records before it.
    const isFirst = cursor === null && (envelope.offset ?? 0) === 0;
    if (found > 0 || !isFirst || !envelope.extras.includes("why")) return null;
    return this.why(prepared, null);
  }

  #page(prepared: PreparedRequest, derivedColumns: BuiltPage): RecordsPage {
    const { records, unreadable, places, hasBeyond } = derivedColumns;
    const { notices: found = [], ...totals } = derivedColumns.totals;
    const { cursor } = prepared;
    const backward = cursor?.backward ?? false;
    const [last = null, first = null] = places;
    const cursorAt = (place: TableRow | null, before: boolean) =>
      place === null ? null : this.#cursorAt(place, before, prepared);
    const isDisplayed = prepared.envelope.extras.includes("display");
    const display = isDisplayed ? { display: displayOf(prepared.listing, records) } : {};
    const planned = metaOf(prepared);
    const notices = [...planned.notices, ...found.map(renderNotice)];
    const why = derivedColumns.why === null ? {} : { why: derivedColumns.why };
    const meta = { ...totals, ...planned, notices, ...display, ...why, unreadable };
    const isNumbered = prepared.envelope.offset !== null;
    const next = !isNumbered && (backward || hasBeyond) ? cursorAt(last, false) : null;
    const isBehind = backward ? hasBeyond : cursor !== null;
    const previous = !isNumbered && isBehind ? cursorAt(first, true) : null;
    const steady = prepared.planned.timeDependence === "always" ? { ...totals, unreadable } : meta;
    const identity = [prepared.binding, next !== null, previous !== null];
    const numbered = numbersBeside(prepared.envelope, hasBeyond);
    return { records, meta, next, previous, numbered, steady, identity };
  }

  /** One record of a listing, by its id; null where the listing has none of it. */
  async one(prepared: PreparedRequest, id: string): Promise<RecordAnswer | null> {
    return (await this.#find(prepared, id))?.record ?? null;
  }

  /**
   * Why a request finds no records; with an id also why that record is in or out. Throws a problem
   * where the listing has no record of that id, whatever is requested.
   */
  async why(prepared: PreparedRequest, id: string | null): Promise<WhyAnswer> {
    const { gateway, table, tables, everyTable, planned, listing } = prepared;
    const of = (read: Read) => {
      const targets = targetsOf(prepared, read, readBy);
      const sample = tables[0]?.table ?? everyTable[0]?.table ?? table;
      return whyOf(prepared, targets, read, sample, sightOf(prepared));
    };
    const { conditions, reasons, narrowing, neighbours } = prepared.isSeveral
      ? await of(readBy(gateway))
      : await gateway.snapshot(of);
    const sentence = sentenceOf(listing.declaration, planned);
    const found = { sentence, reasons, narrowing, neighbours };
    return id === null
      ? found
      : { ...found, record: await this.#verdict(prepared, conditions, id) };
  }

  /** A record against each condition, by itself. */
  async #verdict(
    prepared: PreparedRequest,
    conditions: readonly Filter[],
    id: string,
  ): Promise<RecordVerdict> {
    const { fixed, planned, listing } = prepared;
    const under = (filter: Filter) => this.#find(withFilter(prepared, filter), id);
    const found = await under(fixed);
    if (found === null) throw new Problem("not-found", `The listing has no record ${id}`);
    const requested = conditionsOf(planned.requested.filter);
    const met = await Promise.all(
      conditions.map(async (each) => (await under({ kind: "all", of: [fixed, each] })) !== null),
    );
    const { record, unreadable } = found;
    return {
      id: record.id,
      isIn: met.every(Boolean),
      conditions: requested.map((condition, index) => ({
        condition: filterInWords(condition, namingOf(listing.declaration)),
        isMet: met[index] === true,
        values: Object.fromEntries(
          columnsOf(condition).flatMap((name) =>
            listing.shown.includes(name) ? [[name, unreadable[name] ?? record[name] ?? null]] : [],
          ),
        ),
      })),
    };
  }

  /** A record that a request keeps, by its id, with its strings that cannot be read; null for none. */
  async #find(
    prepared: PreparedRequest,
    id: string,
  ): Promise<{
    readonly record: RecordAnswer;
    readonly unreadable: Readonly<Record<string, string>>;
  } | null> {
    const from = prepared.tables.find(({ label }) => label === null || id.startsWith(`${label}:`));
    if (from === undefined) return null;
    const { label, table, gateway } = from;
    const key = label === null ? id : id.slice(label.length + 1);
    const { offset: _passed, ...requested } = tableQuery(prepared.query, from, table);
    const bare: PageQuery = {
      ...requested,
      filter: await narrowedTo(requested.filter, table, gateway),
      counts: [],
      after: null,
      only: [keyOf(key, table)],
      limit: 1,
    };
    const { rows, fields } = await readPage(bare, table, gateway);
    const [row] = rows;
    if (row === undefined) return null;
    const { columns, declaration } = prepared.listing;
    const unreadable: Unreadables = {};
    const reader = new RowReader(prepared.query.columns, columns, declaration.units);
    const record = reader.read({ table: from, row, fields }, unreadable);
    // To a database 12abc may be 12, and a letter its capital.
    if (String(record.id) !== id) return null;
    const [derivedColumns] = await withDerivedColumns(prepared, [record], unreadable, this.sources);
    return derivedColumns === undefined
      ? null
      : { record: derivedColumns, unreadable: unreadable[id] ?? {} };
  }

  /** The tag of a record's cells (see {@link recordTag}); null where it is of no single table. */
  async tagOf(listing: ServedListing, id: string): Promise<string | null> {
    const { imported, attached, table, partitionColumn } = listing.ofSource;
    if (table === null || (imported === null && (attached === null || partitionColumn !== null))) {
      return null;
    }
    const gateway = await this.sources.gatewayOf(listing.ofSource);
    const wanted = { columns: taggedColumns(listing), ids: [id] };
    const run: Run = (each) => gateway.read(each);
    const [found] = await (imported === null
      ? attachedRecords(run, table, wanted)
      : storedRecords(run, imported, wanted));
    return found?.id === id ? recordTag(found) : null;
  }

  /** Whether a request keeps a record, and the conditions that it does not satisfy. */
  async verdict(prepared: PreparedRequest, id: string): Promise<RecordVerdict> {
    return this.#verdict(prepared, conditionsOf(prepared.filter), id);
  }

  /** A record that the listing has, whatever is requested, by its id; null where it has none of it. */
  async oneOfAll(prepared: PreparedRequest, id: string): Promise<RecordAnswer | null> {
    return this.one(withFilter(prepared, prepared.fixed), id);
  }

  /** Records of an export with the columns that are made. */
  made(
    prepared: PreparedRequest,
    read: readonly RecordAnswer[],
    unreadable: Unreadables,
  ): Promise<readonly RecordAnswer[]> {
    return withDerivedColumns(prepared, read, unreadable, this.sources);
  }

  /** A cursor that this service made, as it is. */
  cursor(text: string): Cursor | null {
    return this.cursors.read(text);
  }

  /** Explains a request: what is read for it of one table comes from one snapshot. */
  explain(prepared: PreparedRequest): Promise<Explanation> {
    const { gateway } = prepared;
    // Who holds a connection and waits for another, as several tables want, may wait for ever.
    if (prepared.isSeveral) return explain(prepared, readBy(gateway), readBy);
    return gateway.snapshot((read) => explain(prepared, read, readBy));
  }

  #cursorAt(
    { table: { table, label }, row, fields }: TableRow,
    backward: boolean,
    { binding, queryHash: query, asOf, query: requested }: PreparedRequest,
  ) {
    const { column } = requested.order;
    const stored = column === null ? undefined : table.columns.get(column);
    // What is the same in all of a table's records is taken from the table.
    const isComputed = column !== null && table.computed?.has(column) === true;
    const order =
      stored === undefined && !isComputed ? { ...requested.order, column: null } : requested.order;
    const position = positionOf(row, fields, order, table);
    const isDate = stored?.column.type === "date" && position.value !== null;
    const ms = isDate && column !== null ? dateMs(position.value, column, table) : null;
    const partition = label === null ? null : { label, ms };
    return this.cursors.write({ position, backward, binding, asOf, query, partition });
  }
}

/** What a page is made of. */
interface BuiltPage {
  readonly records: readonly RecordAnswer[];
  readonly totals: TotalAnswer &
    Pick<RecordsMeta, "unfiltered" | "unnested" | "extent" | "days" | "shown"> & {
      /** Of what could not be found out. */
      readonly notices?: readonly Notice[];
    };
  readonly unreadable: RecordsMeta["unreadable"];
  /** Its last and its first record. */
  readonly places: readonly (TableRow | null)[];
  readonly hasBeyond: boolean;
  readonly why: WhyAnswer | null;
}

function dateMs(value: SqlValue, column: string, table: StoredTable): number | null {
  return value === null ? null : datesOf(column, table).msOf(String(value));
}

/** A request that asks for what another filter keeps. */
function withFilter(prepared: PreparedRequest, filter: Filter): PreparedRequest {
  const { everyTable, listing, query } = prepared;
  const tables = concernedTables(everyTable, filter, listing);
  return { ...prepared, tables, query: { ...query, filter } };
}

function numbersBeside({ offset, size }: Envelope, hasBeyond: boolean): RecordsPage["numbered"] {
  if (offset === null) return null;
  const number = offset / size + 1;
  return { next: hasBeyond ? number + 1 : null, previous: number > 1 ? number - 1 : null };
}

/** An id as the key of its table has it: of values inside with the zeros that order them. */
function keyOf(id: string, { nested }: StoredTable): SqlValue {
  return nested?.rows === "values" ? valueKey(id) : id;
}

/** Characters of a window in its notation that are kept at most. */
const LONGEST_WINDOW = 500;

/** A window without the intervals that it consists of: their ends are in it. */
function boundsOfWindow({ intervals: _, recurring: __, canonical, ...ends }: WindowView) {
  return { ...ends, canonical: canonical.slice(0, LONGEST_WINDOW) };
}

/**
 * The bounds of a request for the audit trail: windows as they were applied; of all other parameters the
 * names, since their values are people's own.
 */
export function boundsOf({ planned, listing }: PreparedRequest): AuditDetails {
  const windows = windowViews(planned, listing.zone.id);
  const masked = planned.values.flatMap(({ parameters }) =>
    parameters.map(({ declaration }) => declaration.name),
  );
  if (planned.filter !== null) masked.push("filter");
  return {
    ...(windows.length === 0 ? {} : { windows: windows.map(boundsOfWindow) }),
    ...(masked.length === 0 ? {} : { masked }),
  };
}

function metaOf({ listing, planned, envelope }: PreparedRequest) {
  const { defaults } = planned;
  const values = [
    ...appliedDates(planned).map(({ parameter, value }) => [parameter, [value]] as const),
    ...planned.values.flatMap(({ parameters }) =>
      parameters.map(({ declaration, values: found }) => [declaration.name, found] as const),
    ),
  ];
  return {
    ...(Object.keys(defaults).length === 0 ? {} : { defaults }),
    ...(values.length === 0 ? {} : { values: Object.fromEntries(values) }),
    sentence: sentenceOf(listing.declaration, planned),
    windows: windowViews(planned, listing.zone.id),
    ...(envelope.extras.includes("clauses")
      ? { clauses: clausesOf(listing.declaration, planned) }
      : {}),
    notices: [...overridesIn(listing, defaults), ...planned.notices].map(renderNotice),
  };
}

/** What tells of the defaults that applied and were set from outside the declaration. */
function overridesIn(
  { overrides }: ServedListing,
  defaults: Readonly<Record<string, unknown>>,
): readonly Notice[] {
  return overrides
    .filter(({ parameter }) => parameter in defaults)
    .map(({ parameter, value, by, until, reason }) =>
      notice("default.overridden", {
        ...{ parameter, by, reason },
        value: typeof value === "string" ? value : value.join(", "),
        until: until === null ? null : new Date(until).toISOString(),
      }),
    );
}
