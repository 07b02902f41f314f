import type { ImportedColumn, ImportedTable } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import type { Gateway } from "../database/index.js";
import { Problem } from "../http/index.js";
import type { Source } from "./entities.js";
import { isRecordsTable } from "./tables.js";

/** The columns of an index, in its order. */
export type IndexColumns = readonly string[];

/** Records from which on the indexes that listings need are made without being requested. */
const AUTOMATIC_FROM = 20_000;
/** Columns with a dictionary that are indexed with one main date at most. */
const MAX_CODED = 8;
/** Characters of a folded text that an index holds. */
const PREFIX = 100;
/** What an entry of an index takes beside its columns: the record's key, and what the database adds. */
const ENTRY_BYTES = 21;
/** Pages of an index are filled so far on average. */
const FILL = 0.75;

/**
 * Seconds for which a change waits for those who read the table: whoever comes to read it waits behind the change,
 * and an export can take minutes.
 */
const WAIT_S = 1;
const RETRY_AFTER_S = 60;

/** "Lock wait timeout exceeded". */
function isLockWait(error: unknown): boolean {
  return error instanceof Error && "errno" in error && error.errno === 1205;
}

/** Which indexes listings need of a table, of which they name columns; nothing until it is registered. */
export type IndexNeeds = (source: string) => readonly ListingColumns[];

/** The columns by which a listing is filtered. */
export interface ListingColumns {
  readonly mainDate: string;
  readonly filtered: readonly string[];
}

/**
 * The indexes that listings need: the main date with all columns that have a dictionary, so that counts and
 * choices within a window read the index alone, and each of them with the main date, so that a page of one
 * value is found in its order.
 */
export function neededIndexes(
  listings: readonly ListingColumns[],
  { columns }: ImportedTable,
): readonly IndexColumns[] {
  const coded = new Map<string, Set<string>>();
  for (const { mainDate, filtered } of listings) {
    if (columns.get(mainDate)?.column.type !== "date") continue;
    const of = coded.get(mainDate) ?? new Set();
    coded.set(mainDate, of);
    for (const name of filtered) {
      if ((columns.get(name)?.dictionary ?? null) !== null && of.size < MAX_CODED) of.add(name);
    }
  }
  return [...coded].flatMap(([mainDate, of]) =>
    of.size === 0 ? [] : [[mainDate, ...of], ...[...of].map((name) => [name, mainDate])],
  );
}

function distinct(indexes: readonly IndexColumns[]): readonly IndexColumns[] {
  return [...new Map(indexes.map((columns) => [JSON.stringify(columns), columns])).values()];
}

/** The physical columns by which an index finds the values of a column. */
function keyPart({ value, folded, dictionary }: ImportedColumn) {
  if (dictionary !== null) return { name: dictionary.code, prefix: null };
  return folded === null ? { name: value, prefix: null } : { name: folded, prefix: PREFIX };
}

function keyParts(index: IndexColumns, { columns }: ImportedTable) {
  return index.map((name) => {
    const column = columns.get(name);
    if (column === undefined) throw new Error(`${name} is no column of the table`);
    return keyPart(column);
  });
}

/** Indexes of a table at most, columns of one, bytes of its key, and characters of its name: the database's own. */
export const MAX_INDEXES = 64;
const MAX_COLUMNS = 16;
const LONGEST_KEY_BYTES = 3_072;
const LONGEST_NAME = 64;

/** Whether a table has all columns of an index, and the database can make it. */
export function canBeMade(index: IndexColumns, table: ImportedTable): boolean {
  if (index.length > MAX_COLUMNS || !index.every((name) => table.columns.has(name))) return false;
  const bytes = index.map((name) => {
    const column = table.columns.get(name);
    if (column === undefined) return 0;
    // Up to four bytes a character.
    return keyPart(column).prefix === null ? widthOf(column) : PREFIX * 4 + 3;
  });
  const isShort = bytes.reduce((sum, each) => sum + each, 0) <= LONGEST_KEY_BYTES;
  return isShort && indexName(index, table).length <= LONGEST_NAME;
}

/** The name of an index in the database. */
export function indexName(index: IndexColumns, table: ImportedTable): string {
  return ["i", ...keyParts(index, table).map(({ name }) => name)].join("_");
}

/** The statement that makes indexes of a table; null for none. */
function addIndexes(indexes: readonly IndexColumns[], table: ImportedTable): string | null {
  if (!isRecordsTable(table.table)) throw new Error(`${table.table} is no table of records`);
  if (indexes.length === 0) return null;
  const adds = indexes.map((index) => {
    const parts = keyParts(index, table).map(({ name, prefix }) =>
      prefix === null ? name : `${name}(${prefix})`,
    );
    return `ADD INDEX IF NOT EXISTS ${indexName(index, table)} (${parts.join(", ")})`;
  });
  return `ALTER TABLE ${table.table} WAIT ${WAIT_S} ${adds.join(", ")}, ALGORITHM=INPLACE, LOCK=NONE`;
}

/** The names of the columns of each index of a table, by the name of the index. */
export function namedIndexes(
  table: ImportedTable | null,
  physical: ReadonlyMap<string, readonly string[]>,
): ReadonlyMap<string, IndexColumns> {
  const names = new Map(
    [...(table?.columns ?? [])].map(([name, column]) => [keyPart(column).name, name]),
  );
  return new Map(
    [...physical].flatMap(([index, parts]) => {
      const columns = parts.flatMap((part) => names.get(part) ?? []);
      return columns.length < parts.length ? [] : [[index, columns] as const];
    }),
  );
}

/** Bytes that a column takes in an index. */
function widthOf({ column, dictionary, folded }: ImportedColumn): number {
  if (dictionary !== null) return 3;
  if (folded !== null) return 40;
  switch (column.type) {
    case "date":
      return column.kind === "date" ? 4 : 8;
    case "decimal":
      return 19;
    case "boolean":
      return 2;
    default:
      return 9;
  }
}

/** About how many bytes an index of a table takes. */
export function indexBytes(index: IndexColumns, table: ImportedTable, records: number): number {
  const widths = index.map((name) => {
    const column = table.columns.get(name);
    return column === undefined ? 0 : widthOf(column);
  });
  const entry = widths.reduce((sum, width) => sum + width, ENTRY_BYTES);
  return Math.round((records * entry) / FILL);
}

/** Makes and drops the indexes of the tables of sources. */
export class Indexes {
  #needs: IndexNeeds = () => [];

  constructor(
    private readonly dataSource: DataSource,
    private readonly gateway: Gateway,
  ) {}

  /** Registers what listings need. */
  serve(needs: IndexNeeds): void {
    this.#needs = needs;
  }

  /** The indexes that a table is to have: those that were requested, and those that listings need. */
  wanted(
    { name, indexes }: Pick<Source, "name" | "indexes">,
    table: ImportedTable,
    records: number,
  ): readonly IndexColumns[] {
    const needed = records < AUTOMATIC_FROM ? [] : neededIndexes(this.#needs(name), table);
    const dates = [...table.columns.values()].filter(({ column }) => column.type === "date");
    // One that cannot be made any more, since its columns have become others, is no reason to take no file.
    return distinct([...(indexes ?? []), ...needed])
      .filter((index) => canBeMade(index, table))
      .slice(0, Math.max(0, MAX_INDEXES - dates.length));
  }

  /** Makes the indexes of a table that was filled, before it comes into use. */
  async finish(source: Source, table: ImportedTable, records: number): Promise<void> {
    await this.make(this.wanted(source, table, records), table);
  }

  /**
   * Makes indexes of a table, which is read and written meanwhile; those that it has are left. None is there where a
   * signal was aborted before its end.
   */
  async make(
    indexes: readonly IndexColumns[],
    table: ImportedTable,
    signal?: AbortSignal,
  ): Promise<void> {
    const statement = addIndexes(indexes, table);
    if (statement !== null) await this.#change(statement, signal);
  }

  /** Changes a table; throws a problem where it is read for long. */
  async #change(statement: string, signal?: AbortSignal): Promise<void> {
    const gateway = signal === undefined ? this.gateway : this.gateway.withAbort(signal);
    try {
      await gateway.change(statement);
    } catch (error) {
      if (!isLockWait(error)) throw error;
      const detail =
        "The records are being exported, which takes long: try again when it has ended";
      throw new Problem("busy", detail, [], { "Retry-After": String(RETRY_AFTER_S) });
    }
  }

  /** Drops an index. */
  async drop(index: IndexColumns, table: ImportedTable): Promise<void> {
    if (!isRecordsTable(table.table)) throw new Error(`${table.table} is no table of records`);
    const name = indexName(index, table);
    await this.#change(`ALTER TABLE ${table.table} WAIT ${WAIT_S} DROP INDEX IF EXISTS ${name}`);
  }

  /** The physical columns of the indexes of some tables, by table and index. */
  async of(
    tables: readonly string[],
  ): Promise<ReadonlyMap<string, ReadonlyMap<string, readonly string[]>>> {
    const found = new Map<string, Map<string, string[]>>();
    if (tables.length === 0) return found;
    // Put in order here: the database would need disk space for it.
    const rows = await this.dataSource.query<
      { place: string; name: string; part: string; position: number }[]
    >(
      "SELECT table_name AS place, index_name AS name, column_name AS part, seq_in_index AS position " +
        "FROM information_schema.statistics WHERE table_schema = DATABASE() " +
        `AND index_name <> 'PRIMARY' AND table_name IN (${tables.map(() => "?").join(",")})`,
      [...tables],
    );
    for (const { place, name, part } of rows.sort((a, b) => a.position - b.position)) {
      const indexes = found.get(place) ?? new Map<string, string[]>();
      found.set(place, indexes.set(name, [...(indexes.get(name) ?? []), part]));
    }
    return found;
  }
}
