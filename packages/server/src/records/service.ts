import {
  EVERYTHING,
  MARIADB,
  countStatement,
  fault,
  pageStatement,
  planRequest,
  renderNotice,
  sentenceOf,
  windowTexts,
  type CountQuery,
  type Fault,
  type PageQuery,
  type PlannedRequest,
  type RecordAnswer,
  type RecordsMeta,
  type SentParameters,
  type StoredTable,
  type TotalAnswer,
} from "@orisma/core";
import { STATEMENT_LIMIT_S, TooSlow, type Gateway, type ResultRow } from "../database/index.js";
import { Problem, problemOf, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { PageReader } from "./answer.js";
import { Cursors, queryHash, type Cursor } from "./cursor.js";
import { readEnvelope, type Envelope } from "./envelope.js";

/** A capped total stops here and says "more than". */
export const COUNT_CAP = 10_000;
/** Seconds that a page with its totals may take before the totals are left out. */
const COUNT_LIMIT_S = 3;

/** A page of records, with the cursors of the pages beside it. */
export interface RecordsPage {
  readonly records: readonly RecordAnswer[];
  readonly meta: RecordsMeta;
  readonly next: string | null;
  readonly previous: string | null;
}

/** A request to a listing, understood and ready to run. */
export interface PreparedRequest {
  readonly listing: ServedListing;
  readonly table: StoredTable;
  readonly planned: PlannedRequest;
  readonly envelope: Envelope;
  readonly cursor: Cursor | null;
  readonly query: PageQuery;
  readonly binding: string;
  readonly queryHash: string;
}

/** Answers requests for records of listings. */
export class Records {
  readonly #cursors: Cursors;

  constructor(
    private readonly gateway: Gateway,
    secret: Buffer,
  ) {
    this.#cursors = new Cursors(secret);
  }

  /** Understands a request; throws a problem with all of its faults, before anything is run. */
  prepare(listing: ServedListing, sent: SentParameters, caller: Caller): PreparedRequest {
    const { declaration, zone, columns, source } = listing;
    const planned = planRequest(declaration, sent, { zone, columns });
    const { envelope, faults } = readEnvelope(sent, declaration);
    const all = [...(planned.ok ? [] : planned.faults), ...faults];
    if (all.length > 0 || !planned.ok) throw problemOf(all);
    if (source.table === null) {
      throw new Problem("not-found", `The source ${source.name} has no records yet: import a file`);
    }
    const { filter, order } = planned.value;
    const binding = `${declaration.name} ${listing.version} ${source.table.table} ${caller.id}`;
    const hash = queryHash(filter, order);
    const cursor = this.#readCursor(envelope.cursor, binding, hash);
    const backward = cursor?.backward ?? false;
    const query: PageQuery = {
      filter,
      columns: listing.shown,
      order: { ...order, descending: order.descending !== backward },
      after: cursor?.position ?? null,
      // One more than shown tells whether there is a page beyond.
      limit: envelope.size + 1,
      counts: countsOf(envelope, filter),
    };
    return {
      listing,
      table: source.table,
      planned: planned.value,
      envelope,
      cursor,
      query,
      binding,
      queryHash: hash,
    };
  }

  /** Runs a request. */
  async run(prepared: PreparedRequest): Promise<RecordsPage> {
    const { query, table, envelope, cursor } = prepared;
    const { rows, counts } = await this.#readPage(query, table);
    const found = rows.slice(0, envelope.size);
    const hasBeyond = rows.length > found.length;
    const backward = cursor?.backward ?? false;
    if (backward) found.reverse();
    const unreadable: Record<string, Record<string, string>> = {};
    const reader = new PageReader(query.columns, table, FIRST_COUNT + counts.length);
    const records = found.map((row) => reader.read(row, unreadable));
    const totals = await this.#totals(prepared, found, counts);
    const cursorAt = (row: ResultRow | undefined, before: boolean) =>
      row === undefined ? null : this.#cursorAt(row, before, prepared);
    return {
      records,
      meta: { ...totals, ...metaOf(prepared), unreadable },
      next: backward || hasBeyond ? cursorAt(found.at(-1), false) : null,
      previous: (backward ? hasBeyond : cursor !== null) ? cursorAt(found[0], true) : null,
    };
  }

  /** A page with its counts; without them where they take too long. */
  async #readPage(query: PageQuery, table: StoredTable) {
    const { counts } = query;
    if (counts.length === 0) return { rows: await this.#rows(query, table), counts };
    try {
      return { rows: await this.#rows(query, table, COUNT_LIMIT_S), counts };
    } catch (error) {
      if (!(error instanceof TooSlow)) throw error;
      const uncounted: PageQuery = { ...query, counts: [] };
      return { rows: await this.#rows(uncounted, table), counts: uncounted.counts };
    }
  }

  #rows(query: PageQuery, table: StoredTable, seconds = STATEMENT_LIMIT_S) {
    return this.gateway.read(pageStatement(query, table, MARIADB), seconds);
  }

  async #totals(
    { query, table, envelope }: PreparedRequest,
    found: readonly ResultRow[],
    counts: readonly CountQuery[],
  ): Promise<TotalAnswer & Pick<RecordsMeta, "unfiltered">> {
    const [first] = found;
    // A page without records has no row to carry the counts.
    const numbers =
      counts.length === 0
        ? []
        : first === undefined
          ? await Promise.all(counts.map((count) => this.#count(count, table)))
          : counts.map((_, index) => Number(first[FIRST_COUNT + index]));
    const answers = query.counts.map((count, index) => totalAnswer(numbers[index], count.cap));
    const total = envelope.count === "none" ? NOT_COUNTED : (answers.shift() ?? NOT_COUNTED);
    const [unfiltered] = answers;
    return { ...total, ...(unfiltered === undefined ? {} : { unfiltered }) };
  }

  async #count(count: CountQuery, table: StoredTable): Promise<number> {
    const [row] = await this.gateway.read(countStatement(count, table, MARIADB));
    return Number(row?.[0] ?? 0);
  }

  #readCursor(text: string | null, binding: string, query: string): Cursor | null {
    if (text === null) return null;
    const place = { parameter: "cursor", value: text };
    const refuse = (found: Fault) => problemOf([found]);
    const cursor = this.#cursors.read(text);
    if (cursor?.binding !== binding) throw refuse(fault("cursor.unreadable", {}, place));
    if (cursor.query !== query) throw refuse(fault("cursor.otherQuery", {}, place));
    return cursor;
  }

  #cursorAt(row: ResultRow, backward: boolean, { binding, queryHash: query }: PreparedRequest) {
    const position = { key: row[0] ?? null, value: row[1] ?? null };
    return this.#cursors.write({ position, backward, binding, query });
  }
}

/** The place of the first count in a row of a page: after the key and the order's value. */
const FIRST_COUNT = 2;
const NOT_COUNTED: TotalAnswer = { total: null, totalIs: "notCounted" };

function countsOf(
  { count, extras }: Envelope,
  filter: PlannedRequest["filter"],
): readonly CountQuery[] {
  const cap = count === "exact" ? null : COUNT_CAP;
  return [
    ...(count === "none" ? [] : [{ filter, cap }]),
    ...(extras.includes("unfiltered") ? [{ filter: EVERYTHING, cap }] : []),
  ];
}

function totalAnswer(counted: number | undefined, cap: number | null): TotalAnswer {
  if (counted === undefined) return NOT_COUNTED;
  return cap !== null && counted > cap
    ? { total: cap, totalIs: "atLeast" }
    : { total: counted, totalIs: "exact" };
}

function metaOf({ listing, planned }: PreparedRequest) {
  return {
    sentence: sentenceOf(listing.declaration, planned),
    windows: windowTexts(planned),
    notices: planned.notices.map(renderNotice),
  };
}
