import {
  MARIADB,
  beforeInstant,
  countStatement,
  epochMs,
  notice,
  pageStatement,
  positionOf,
  resumeUpTo,
  type Filter,
  type Notice,
  type PageQuery,
  type Position,
  type ResumeByTime,
} from "@orisma/core/internal";
import type { Read } from "../database/index.js";
import type { PreparedRequest } from "./prepared.js";
import type { TableRow } from "./tables.js";

/** Records without a time that are counted at most. */
const MAX_UNDATED = 10_000;

/** The last record that a caller has: its time as it is stored, and its key. */
export interface TimedPlace {
  readonly value: string | number;
  readonly key: string | number;
}

/** What is read, from where on, and when. */
export interface TimedRequest {
  readonly query: PageQuery;
  /** Null to begin. */
  readonly place: TimedPlace | null;
  /** The instant that it is, in milliseconds since 1970-01-01T00:00:00Z. */
  readonly now: number;
}

/** The records that changed after a place, and the place after them. */
export interface TimedChanges {
  /** Null where there is none yet. */
  readonly place: TimedPlace | null;
  readonly answer: {
    readonly rows: readonly TableRow[];
    readonly hasMore: boolean;
    readonly lag: string;
    readonly upTo: string;
    readonly notices: readonly Notice[];
  };
}

/**
 * The records of an attached table by the times of their changes, up to a declared lag: what is entered later than its
 * time says is not missed as long as that takes less than the lag.
 */
export async function timedChanges(
  { gateway, tables, envelope }: PreparedRequest,
  { column, lag }: ResumeByTime,
  { query, place, now }: TimedRequest,
): Promise<TimedChanges> {
  return gateway.snapshot(async (read) => {
    // A clock that runs ahead of the other would pass over changes: the earlier of the two counts.
    const upTo = resumeUpTo(lag, epochMs(Math.min(now, await clockOf(read))));
    const answer = { lag, upTo: new Date(upTo).toISOString(), notices: [] };
    const [table] = tables;
    // Nothing can satisfy the request.
    if (table === undefined) return { place, answer: { ...answer, rows: [], hasMore: false } };
    const order = { column, descending: false };
    const page = pageStatement(
      {
        ...query,
        filter: both(query.filter, beforeInstant(column, upTo)),
        order,
        after: place === null ? null : { ...place, then: [] },
        limit: envelope.size + 1,
      },
      table.table,
      MARIADB,
    );
    const found = await read(page);
    const rows = found.slice(0, envelope.size);
    const last = rows.at(-1);
    const next =
      last === undefined ? place : placeOf(positionOf(last, page.fields, order, table.table));
    const notices = place === null ? await undated(column, query.filter, table.table, read) : [];
    return {
      place: next,
      answer: {
        ...answer,
        notices,
        rows: rows.map((row) => ({ table, row, fields: page.fields })),
        hasMore: found.length > rows.length,
      },
    };
  });
}

/** The instant that it is on the database's clock. */
async function clockOf(read: Read): Promise<number> {
  const [[seconds = 0] = []] = await read({ text: "SELECT UNIX_TIMESTAMP(NOW(3))", values: [] });
  return Math.floor(Number(seconds) * 1_000);
}

/** Says to whoever begins how many records never come, for want of a time. */
async function undated(
  column: string,
  filter: Filter,
  table: TableRow["table"]["table"],
  read: Read,
): Promise<readonly Notice[]> {
  const none: Filter = { kind: "not", of: { kind: "state", column, state: "dated" } };
  const counted = { filter: both(filter, none), cap: MAX_UNDATED };
  const [[count = 0] = []] = await read(countStatement(counted, table, MARIADB));
  if (Number(count) === 0) return [];
  const atLeast = Number(count) > MAX_UNDATED;
  const records = Math.min(Number(count), MAX_UNDATED);
  return [notice("resume.undated", { column, records, atLeast })];
}

function both(first: Filter, second: Filter): Filter {
  return { kind: "all", of: [first, second] };
}

/** The place of a record, as a token holds it: large whole numbers as strings. */
function placeOf({ value, key }: Position): TimedPlace {
  const held = (each: unknown) => (typeof each === "number" ? each : String(each));
  return { value: held(value), key: held(key) };
}
