import {
  MARIADB,
  compareDecimals,
  countStatement,
  dateText,
  datesOf,
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
  type Row,
  type StoredTable,
} from "@orisma/core/internal";
import { TooSlow, type ResultRow } from "../database/index.js";
import { PageReader } from "./answer.js";
import type { Unreadables } from "./derived-columns.js";
import type { PreparedRequest } from "./prepared.js";
import { countOf, narrowedTo, readPage } from "./read.js";
import {
  concernedTables,
  needed,
  orderColumn,
  tableQuery,
  type RequestTable,
} from "./source-tables.js";

/** Tables that are queried at the same time. */
const AT_ONCE = 4;
/** Milliseconds that the counts of all tables may take together. */
const COUNTS_LIMIT_MS = 3_000;

/** A record of one of the tables of a request. */
export interface TableRow {
  readonly table: RequestTable;
  readonly row: ResultRow;
  readonly fields: PageFields;
}

/** A query that excludes what another filter keeps, for one table. */
function excluding<Q extends { readonly without?: Filter }>(
  query: Q,
  { cells }: RequestTable,
  columns: Catalogue,
): Q {
  if (query.without === undefined) return query;
  return { ...query, without: needed(withConstants(query.without, cells, columns)) };
}

/** The rows of a page, one more than it shows where there is a page beyond, and its counts. */
export interface ReadRows {
  readonly rows: readonly TableRow[];
  /** In the order of the query; null where counting took too long. */
  readonly counts: readonly (number | null)[];
}

/** Reads a page and its counts: of one table together, of several each and put into one order. */
export async function readRows(prepared: PreparedRequest): Promise<ReadRows> {
  const [only] = prepared.tables;
  return only?.label === null ? readInSnapshot(prepared, only) : readOver(prepared);
}

async function readInSnapshot(
  { query, fixed }: PreparedRequest,
  table: RequestTable,
): Promise<ReadRows> {
  const { gateway } = table;
  const filter = await narrowedTo(query.filter, table.table, gateway);
  const isFixed = (count: CountQuery) => count.filter === fixed && fixed !== query.filter;
  const whole = query.counts.some(isFixed) ? await narrowedTo(fixed, table.table, gateway) : filter;
  const counts = query.counts.map((each) => ({ ...each, filter: isFixed(each) ? whole : filter }));
  const requested: PageQuery = { ...query, filter, counts };
  const read = await readPage(requested, table.table, gateway);
  const { fields } = read;
  const rows = read.rows.map((row) => ({ table, row, fields }));
  // A page without records has no row to carry the counts.
  const isUncounted = read.counts?.length === 0;
  const counted = isUncounted
    ? await Promise.all(counts.map((count) => countOf(count, table.table, gateway)))
    : read.counts;
  return { rows, counts: counted ?? counts.map(() => null) };
}

async function readOver(prepared: PreparedRequest): Promise<ReadRows> {
  const { tables, everyTable, query, fixed, listing } = prepared;
  const rows = await pageOver(prepared);
  const counts: (number | null)[] = [];
  for (const count of query.counts) {
    const concerned =
      count.filter === fixed ? concernedTables(everyTable, count.filter, listing) : tables;
    counts.push(await countOver(concerned, count, listing.columns));
  }
  return { rows, counts };
}

/** The place of a record among those of several tables. */
interface PlaceOver extends Position {
  /** The label of its table; null in an order over one table alone. */
  readonly partition: string | null;
  /** Its date in milliseconds, where the order is by one. */
  readonly ms: number | null;
}

/** A page over several tables, in one order: of equal records those of an earlier table come first. */
async function pageOver({
  tables,
  query,
  cursor,
  listing: { columns },
}: PreparedRequest): Promise<readonly TableRow[]> {
  const { descending } = query.order;
  const after =
    cursor === null
      ? null
      : {
          ...cursor.position,
          partition: cursor.partition?.label ?? null,
          ms: cursor.partition?.ms ?? null,
        };
  const ordered = descending ? [...tables].reverse() : tables;
  const place = after === null ? -1 : placeAmong(ordered, after.partition ?? "", descending);
  const rowsOf = async (table: RequestTable, index: number): Promise<readonly TableRow[]> => {
    const requested: PageQuery = {
      ...excluding(tableQuery(query, table, table.table), table, columns),
      after: after === null ? null : positionFor(after, index, place),
      filter: await narrowedTo(table.filter, table.table, table.gateway),
    };
    const { rows, fields } = await readPage(requested, table.table, table.gateway);
    return rows.map((row) => ({ table, row, fields }));
  };
  const isByTable = ordered.every(({ cells }) => orderColumn(query, cells) === null);
  if (isByTable) {
    const rows: TableRow[] = [];
    // Those before the place have nothing left, and those behind are opened only when needed.
    for (let index = Math.max(0, Math.ceil(place)); index < ordered.length; index++) {
      const table = ordered[index];
      if (table === undefined || rows.length >= query.limit) break;
      rows.push(...(await rowsOf(table, index)));
    }
    return rows.slice(0, query.limit);
  }
  const lists = await inTurns(ordered, rowsOf);
  return merged(lists, query.order).slice(0, query.limit);
}

/** Where a table stands; between two where it has gone, since labels are in their own order. */
function placeAmong(ordered: readonly RequestTable[], label: string, descending: boolean): number {
  const found = ordered.findIndex((each) => each.label === label);
  if (found >= 0) return found;
  const before = ordered.filter(({ label: other }) =>
    other === null ? false : descending ? other > label : other < label,
  );
  return before.length - 0.5;
}

/** A place as it is for the table at an index of the order. */
function positionFor(after: PlaceOver, index: number, place: number): Position {
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
function merged(lists: readonly (readonly TableRow[])[], order: RecordOrder): TableRow[] {
  const rows = lists.flatMap((list, index) =>
    list.map((row, at) => ({ row, index, at, rank: rankOf(row, order) })),
  );
  return rows
    .sort((a, b) => compareRanks(a.rank, b.rank, order) || a.index - b.index || a.at - b.at)
    .map(({ row }) => row);
}

/** By what a record is put in order: milliseconds, a decimal number, or nothing. */
type Rank = number | string | null;

function rankOf({ table, row, fields }: TableRow, { column }: RecordOrder): Rank {
  const value = fields.order === null ? null : (row[fields.order] ?? null);
  if (value === null || column === null) return null;
  const stored = table.table.columns.get(column);
  if (stored?.column.type !== "date") return String(value);
  const ms = datesOf(column, table.table).msOf(value);
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
async function countOver(
  tables: readonly RequestTable[],
  count: CountQuery,
  columns: Catalogue,
): Promise<number | null> {
  const { cap } = count;
  const begun = performance.now();
  let total = 0;
  for (const each of tables) {
    const { table, gateway } = each;
    if (cap !== null && total > cap) return total;
    const remaining = COUNTS_LIMIT_MS - (performance.now() - begun);
    if (remaining < 0) return null;
    const filter = await narrowedTo(each.filter, table, gateway);
    try {
      const statement = countStatement(
        { ...excluding(count, each, columns), filter },
        table,
        MARIADB,
      );
      const [row] = await gateway.read(statement, Math.max(1, Math.ceil(remaining / 1_000)));
      total += Number(row?.[0] ?? 0);
    } catch (error) {
      if (error instanceof TooSlow) return null;
      throw error;
    }
  }
  return total;
}

/** Reads the rows of tables as records: of several each has its table in its id, and in the column of it. */
export class RowReader {
  readonly #readers = new Map<StoredTable, PageReader>();

  constructor(
    private readonly shown: readonly string[],
    private readonly columns: ReadonlyMap<string, Column>,
    private readonly units: ColumnUnits = {},
  ) {}

  read({ table: from, row, fields }: TableRow, unreadable: Unreadables): RecordAnswer {
    const { cells, label, table } = from;
    const reader = this.#readers.get(table) ?? this.#readerOf(from, fields);
    if (label === null) return reader.read(row, unreadable);
    const own: Unreadables = {};
    const read = reader.read(row, own);
    const id = `${label}:${row[fields.key] ?? ""}`;
    for (const strings of Object.values(own)) unreadable[id] = strings;
    const record: Record<string, RecordValue> = {};
    for (const name of this.shown) record[name] = read[name] ?? this.#constant(name, cells);
    // A column of that name has its value in it.
    return { ...record, id };
  }

  #readerOf({ cells, table }: RequestTable, fields: PageFields): PageReader {
    const names = this.shown.filter((name) => cells[name] === undefined);
    const reader = new PageReader(names, table, fields, this.units);
    this.#readers.set(table, reader);
    return reader;
  }

  #constant(name: string, cells: Row): RecordValue {
    const cell = cells[name];
    if (cell === undefined) return null;
    if (cell.state === "filled") return cell.value;
    const column = this.columns.get(name);
    return cell.state === "dated" && column?.type === "date"
      ? dateText(cell.ms, column.kind)
      : null;
  }
}
