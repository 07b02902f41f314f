import {
  MARIADB,
  NOTHING,
  compareDecimals,
  countStatement,
  dateText,
  datesOf,
  isNothing,
  pageFields,
  withConstants,
  type Catalogue,
  type Column,
  type ColumnUnits,
  type CountQuery,
  type Filter,
  type PageFields,
  type PageQuery,
  type Position,
  type RecordAnswer,
  type RecordOrder,
  type RecordValue,
  type Result,
  type StoredTable,
} from "@orisma/core";
import { TooSlow, type ResultRow } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import type { Member } from "../sources/index.js";
import { PageReader } from "./answer.js";
import type { ServedListing } from "../listings/index.js";

/** Tables that one request may open. */
const MOST_TABLES = 1_000;
/** Tables that are asked at the same time. */
const AT_ONCE = 4;
/** Milliseconds that the counts of all tables may take together. */
const COUNTS_LIMIT_MS = 3_000;

/** A table that a request concerns, and what is asked of it. */
export interface AskedMember extends Member {
  /** What is left of the filter once the cells that its records share are known. */
  readonly filter: Filter;
}

/** A record of one of several tables. */
export interface MemberRow {
  readonly member: AskedMember;
  readonly row: ResultRow;
  readonly fields: PageFields;
}

/** What stands for a table where none can hold what is asked for. */
export const NO_MEMBER: Pick<AskedMember, "cells" | "filter"> = { cells: {}, filter: NOTHING };

/** Reads a page of one table, without counts. */
export type ReadMember = (query: PageQuery, member: AskedMember) => Promise<readonly ResultRow[]>;

/**
 * The tables that can hold what a filter keeps; the others are not even opened. Throws a problem
 * where they are too many, or where the filter compares what says where a record lies.
 */
export function askedMembers(
  members: readonly Member[],
  filter: Filter,
  { columns }: ServedListing,
): readonly AskedMember[] {
  const asked = members.flatMap((member) => {
    const left = needed(withConstants(filter, member.cells, columns));
    return isNothing(left) ? [] : [{ ...member, filter: left }];
  });
  if (asked.length <= MOST_TABLES) return asked;
  const detail =
    `The request concerns ${asked.length} tables, and ${MOST_TABLES} at most are opened; ` +
    "ask for a shorter window";
  throw new Problem("too-large", detail);
}

function needed<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw problemOf(result.faults);
}

/** A query that leaves out what another filter keeps, for one table. */
export function withoutOf<Q extends { readonly without?: Filter }>(
  query: Q,
  { cells }: Member,
  columns: Catalogue,
): Q {
  if (query.without === undefined) return query;
  return { ...query, without: needed(withConstants(query.without, cells, columns)) };
}

/** The place of a record among those of several tables. */
export interface MemberPosition extends Position {
  /** The label of its table; null in an order over one table alone. */
  readonly member: string | null;
  /** Its date in milliseconds, where the order is by one. */
  readonly ms: number | null;
}

/** A page over several tables, in one order: of equal records those of an earlier table come first. */
export async function readOver(
  members: readonly AskedMember[],
  query: PageQuery,
  after: MemberPosition | null,
  read: ReadMember,
): Promise<readonly MemberRow[]> {
  const { descending } = query.order;
  const ordered = descending ? [...members].reverse() : members;
  const place = after === null ? -1 : placeAmong(ordered, after.member ?? "", descending);
  const queryOf = (member: AskedMember, index: number): PageQuery => ({
    ...memberQuery(query, member, member.table),
    after: after === null ? null : positionFor(after, index, place),
  });
  const rowsOf = async (member: AskedMember, index: number): Promise<readonly MemberRow[]> => {
    const asked = queryOf(member, index);
    const fields = pageFields(asked, member.table);
    return (await read(asked, member)).map((row) => ({ member, row, fields }));
  };
  const isByMember = ordered.every(({ cells }) => orderColumn(query, cells) === null);
  if (isByMember) {
    const rows: MemberRow[] = [];
    // Those before the place have nothing left, and those behind are opened only when needed.
    for (let index = Math.max(0, Math.ceil(place)); index < ordered.length; index++) {
      const member = ordered[index];
      if (member === undefined || rows.length >= query.limit) break;
      rows.push(...(await rowsOf(member, index)));
    }
    return rows.slice(0, query.limit);
  }
  const lists = await inTurns(ordered, rowsOf);
  return merged(lists, query.order).slice(0, query.limit);
}

/** Where a table stands; between two where it has gone, since labels are in their own order. */
function placeAmong(ordered: readonly AskedMember[], member: string, descending: boolean): number {
  const found = ordered.findIndex(({ label }) => label === member);
  if (found >= 0) return found;
  const before = ordered.filter(({ label }) => (descending ? label > member : label < member));
  return before.length - 0.5;
}

/** The column of an order that is not the same in all records of a table; null for none. */
function orderColumn({ order: { column } }: PageQuery, cells: Member["cells"]): string | null {
  return column === null || cells[column] !== undefined ? null : column;
}

/** What is asked of one table: what its records share is known. */
export function memberQuery(
  query: PageQuery,
  { cells, filter }: Pick<AskedMember, "cells" | "filter">,
  { columns }: StoredTable,
): PageQuery {
  const { column } = query.order;
  const isShared = column === null || cells[column] !== undefined || !columns.has(column);
  return {
    ...query,
    filter,
    columns: query.columns.filter((name) => cells[name] === undefined && columns.has(name)),
    order: { ...query.order, column: isShared ? null : column },
    counts: [],
  };
}

/** A place as it is for the table at an index of the order. */
function positionFor(after: MemberPosition, index: number, place: number): Position {
  const { value, key, ms } = after;
  if (index === place) return { value, key };
  return { value, key, elsewhere: { ms, ties: index > place ? "all" : "none" } };
}

async function inTurns<T, R>(
  items: readonly T[],
  work: (item: T, index: number) => Promise<R>,
): Promise<readonly R[]> {
  const results: R[] = [];
  let next = 0;
  const worker = async () => {
    for (let index = next++; index < items.length; index = next++) {
      const item = items[index];
      if (item !== undefined) results[index] = await work(item, index);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
  return results;
}

/** Lists that are each in order, as one. */
function merged(lists: readonly (readonly MemberRow[])[], order: RecordOrder): MemberRow[] {
  const rows = lists.flatMap((list, index) =>
    list.map((row, at) => ({ row, index, at, rank: rankOf(row, order) })),
  );
  return rows
    .sort((a, b) => compareRanks(a.rank, b.rank, order) || a.index - b.index || a.at - b.at)
    .map(({ row }) => row);
}

/** By what a record is put in order: milliseconds, a decimal number, or nothing. */
type Rank = number | string | null;

function rankOf({ member, row, fields }: MemberRow, { column }: RecordOrder): Rank {
  const value = fields.order === null ? null : (row[fields.order] ?? null);
  if (value === null || column === null) return null;
  const stored = member.table.columns.get(column);
  if (stored?.column.type !== "date") return String(value);
  const ms = datesOf(column, member.table).msOf(value);
  return Number.isNaN(ms) ? null : ms;
}

function compareRanks(a: Rank, b: Rank, { descending, blanks }: RecordOrder): number {
  if (a === null || b === null) {
    const areFirst = (blanks ?? (descending ? "last" : "first")) === "first";
    if (a === b) return 0;
    return (a === null) === areFirst ? -1 : 1;
  }
  const order =
    typeof a === "number" && typeof b === "number" ? a - b : compareDecimals(String(a), String(b));
  return descending ? -order : order;
}

/** Counts over several tables; null where they take too long together. */
export async function countOver(
  members: readonly AskedMember[],
  count: CountQuery,
  columns: Catalogue,
): Promise<number | null> {
  const { cap } = count;
  const begun = performance.now();
  let total = 0;
  for (const member of members) {
    const { table, gateway, filter } = member;
    if (cap !== null && total > cap) return total;
    const left = COUNTS_LIMIT_MS - (performance.now() - begun);
    if (left < 0) return null;
    const query = { ...withoutOf(count, member, columns), filter };
    try {
      const statement = countStatement(query, table, MARIADB);
      const [row] = await gateway.read(statement, Math.max(1, Math.ceil(left / 1_000)));
      total += Number(row?.[0] ?? 0);
    } catch (error) {
      if (error instanceof TooSlow) return null;
      throw error;
    }
  }
  return total;
}

/** Reads the records of several tables: each has its table in its id, and in the column of it. */
export class MembersReader {
  readonly #readers = new Map<StoredTable, PageReader>();

  constructor(
    private readonly shown: readonly string[],
    private readonly columns: ReadonlyMap<string, Column>,
    private readonly units: ColumnUnits = {},
  ) {}

  read(
    { member, row, fields }: MemberRow,
    unreadable: Record<string, Record<string, string>>,
  ): RecordAnswer {
    const { cells, label, table } = member;
    const names = this.shown.filter((name) => cells[name] === undefined);
    const reader = this.#readers.get(table) ?? new PageReader(names, table, fields, this.units);
    this.#readers.set(table, reader);
    const own: Record<string, Record<string, string>> = {};
    const read = reader.read(row, own);
    const id = `${label}:${row[fields.key] ?? ""}`;
    for (const texts of Object.values(own)) unreadable[id] = texts;
    const record: Record<string, RecordValue> = {};
    for (const name of this.shown) record[name] = read[name] ?? this.#constant(name, member);
    // A column of that name has its value in it.
    return { ...record, id };
  }

  #constant(name: string, { cells }: Member): RecordValue {
    const cell = cells[name];
    if (cell === undefined) return null;
    if (cell.state === "filled") return cell.value;
    const column = this.columns.get(name);
    return cell.state === "dated" && column?.type === "date"
      ? dateText(cell.ms, column.kind)
      : null;
  }
}
