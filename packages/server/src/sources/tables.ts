import {
  STATE_CODES,
  type Column,
  type ColumnType,
  type ImportedColumn,
  type ImportedTable,
} from "@orisma/core/internal";
import type { DictionaryValues } from "./dictionaries.js";

/** Bytes of a text value at most: the room of a MEDIUMTEXT. */
export const LONGEST_TEXT_BYTES = 16_777_215;
/** Characters of a key at most, so that it fits the primary key of the database. */
export const LONGEST_KEY = 255;

const KEY = "id";

/** How a table of ours holds the columns of a source. */
export function storedTable(
  table: string,
  columns: readonly Column[],
  dictionaries: DictionaryValues = new Map(),
): ImportedTable {
  const placed = columns.map((column, index): [string, ImportedColumn] => [
    column.name,
    placeColumn(column, index + 1, dictionaries.get(column.name)),
  ]);
  return { table, key: KEY, columns: new Map(placed) };
}

function placeColumn(
  column: Column,
  position: number,
  values: readonly string[] | undefined,
): ImportedColumn {
  const plain = { storage: "imported", column, value: `c${position}` } as const;
  if (column.type === "text") {
    const dictionary = values === undefined ? null : { code: `d${position}`, values };
    return { ...plain, cell: null, folded: `f${position}`, dictionary };
  }
  const hasLastDays = column.type === "date" && column.partial !== undefined;
  const cell = {
    ...{ state: `s${position}`, raw: `t${position}` },
    ...(hasLastDays ? { last: `e${position}` } : {}),
  };
  return { ...plain, cell, folded: null, dictionary: null };
}

/**
 * The statement that makes the table of a source. Every name in it is of our own making:
 * columns are numbered. Times are stored without a zone, instants in universal time.
 */
export function createTable({ table, columns }: ImportedTable, hasOwnKey: boolean): string {
  const key = hasOwnKey
    ? `${KEY} VARCHAR(${LONGEST_KEY}) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL`
    : `${KEY} BIGINT UNSIGNED NOT NULL AUTO_INCREMENT`;
  const fields = [...columns.values()].flatMap(({ column, value, cell, folded, dictionary }) => [
    `${value} ${physicalType(column)} NULL`,
    ...(folded === null ? [] : [foldedField(folded)]),
    ...(dictionary === null ? [] : [`${dictionary.code} SMALLINT UNSIGNED NULL`]),
    ...(cell === null
      ? []
      : [
          `${cell.state} TINYINT UNSIGNED NOT NULL DEFAULT ${STATE_CODES.blank}`,
          `${cell.raw} MEDIUMTEXT NULL`,
        ]),
    ...(column.type === "date" ? [`KEY ${value} (${value})`] : []),
    ...(cell?.last === undefined
      ? []
      : [`${cell.last} ${physicalType(column)} NULL`, `KEY ${cell.last} (${cell.last})`]),
  ]);
  return `CREATE TABLE ${table} (${[key, ...fields, `PRIMARY KEY (${KEY})`].join(", ")}) ENGINE=InnoDB`;
}

/** The field of a folded text, which is compared character by character. */
export function foldedField(name: string): string {
  return `${name} MEDIUMTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL`;
}

const PLAIN_TYPES: Record<Exclude<ColumnType, "date">, string> = {
  text: "MEDIUMTEXT",
  integer: "BIGINT",
  decimal: "DECIMAL(38,12)",
  boolean: "TINYINT",
};

function physicalType(column: Column): string {
  if (column.type !== "date") return PLAIN_TYPES[column.type];
  return column.kind === "date" ? "DATE" : "DATETIME(3)";
}

/** The key, and the physical columns of some columns in their order. */
export function insertColumns(
  { columns }: ImportedTable,
  names: readonly string[],
): readonly string[] {
  const values = names.flatMap((name) => {
    return physicalColumns(columnOf(columns, name));
  });
  return [KEY, ...values];
}

function columnOf(columns: ImportedTable["columns"], name: string): ImportedColumn {
  const stored = columns.get(name);
  if (stored === undefined) throw new Error(`${name} is no column of the table`);
  return stored;
}

function physicalColumns({ value, cell, folded, dictionary }: ImportedColumn): readonly string[] {
  if (cell !== null) {
    return [value, cell.state, cell.raw, ...(cell.last === undefined ? [] : [cell.last])];
  }
  const code = dictionary === null ? [] : [dictionary.code];
  return folded === null ? [value] : [value, folded, ...code];
}

/** Takes the numbers of values from a table where they are of no use; null for none. */
export function dropCodes(
  { table, columns }: ImportedTable,
  useful: DictionaryValues,
): string | null {
  const drops = [...columns].flatMap(([name, { dictionary }]) =>
    dictionary === null || useful.has(name) ? [] : [`DROP COLUMN ${dictionary.code}`],
  );
  return drops.length === 0 ? null : `ALTER TABLE ${table} ${drops.join(", ")}`;
}

/** Copies all records of a table into a fresh one of the same columns, in whatever order. */
export function copyAll(from: ImportedTable, to: ImportedTable): string {
  const columns = [KEY, ...[...from.columns.values()].flatMap(physicalColumns)].join(", ");
  return `INSERT INTO ${to.table} (${columns}) SELECT ${columns} FROM ${from.table}`;
}

/** Puts the records of a table into another by their keys, where their columns are the same. */
export function mergeByKey(from: ImportedTable, to: ImportedTable): string {
  const pairs = matching(from, to);
  const [targets, sources] = [pairs.map(([target]) => target), pairs.map(([, source]) => source)];
  const updates = targets.map((target) => `${target} = VALUES(${target})`).join(", ");
  return (
    `INSERT INTO ${to.table} (${[KEY, ...targets].join(", ")}) ` +
    `SELECT ${[KEY, ...sources].join(", ")} FROM ${from.table} ON DUPLICATE KEY UPDATE ${updates}`
  );
}

/** Counts the records of a table that another has by the same key, and those that differ. */
export function countMerge(from: ImportedTable, to: ImportedTable): string {
  const same = matching(from, to)
    .filter(([target]) => !/^[dfs]/.test(target))
    .map(([target, source]) => `old.${target} <=> fresh.${source}`)
    .join(" AND ");
  return (
    `SELECT COUNT(*) AS known, COALESCE(SUM(NOT (${same})), 0) AS changed ` +
    `FROM ${from.table} AS fresh JOIN ${to.table} AS old USING (${KEY})`
  );
}

function matching(from: ImportedTable, to: ImportedTable): readonly (readonly [string, string])[] {
  return [...from.columns].flatMap(([name, source]) => {
    const [targets, sources] = [
      physicalColumns(columnOf(to.columns, name)),
      physicalColumns(source),
    ];
    return targets.map((each, index) => [each, sources[index] ?? ""] as const);
  });
}

/** Finds the number of the last record of a table without keys of its own. */
export function lastNumber({ table }: ImportedTable): string {
  return `SELECT COALESCE(MAX(${KEY}), 0) AS last FROM ${table}`;
}

/** Reads the keys of so many records, and the strings of their cells as they came; the values are the keys. */
export function readCells(
  { table, columns }: ImportedTable,
  names: readonly string[],
  records: number,
): string {
  const strings = names.map((name) => `, ${rawOf(columnOf(columns, name))}`);
  return `SELECT ${KEY}${strings.join("")} FROM ${table} WHERE ${KEY} IN (${places(records)})`;
}

/** Sets some cells of so many records; the values are those of the cells, and the keys. */
export function updateCells(
  { table, columns }: ImportedTable,
  names: readonly string[],
  records: number,
): string {
  const sets = names.flatMap((name) =>
    physicalColumns(columnOf(columns, name)).map((column) => `${column} = ?`),
  );
  return `UPDATE ${table} SET ${sets.join(", ")} WHERE ${KEY} IN (${places(records)})`;
}

/**
 * Finds the records of a table whose text in a column is what an edit made it, and is another in a table that is
 * to take its place: the key, the text, and whether that has the record. The values are the source, what its ids
 * are, and the column. Where ids are not those of the same records, it has none of them.
 */
export function overwrittenEdits(
  from: ImportedTable,
  to: ImportedTable,
  name: string,
  { hasOwnKey, hasSameIds }: { readonly hasOwnKey: boolean; readonly hasSameIds: boolean },
): string {
  const before = rawOf(columnOf(from.columns, name));
  const stored = to.columns.get(name);
  // A column that is not there holds nothing of it.
  const after = stored === undefined ? "NULL" : `fresh.${rawOf(stored)}`;
  const same = hasSameIds ? "" : " AND 1 = 0";
  const id = hasOwnKey ? "cell.recordId" : "CAST(cell.recordId AS UNSIGNED)";
  return (
    `SELECT cell.recordId, cell.after, fresh.${KEY} IS NOT NULL FROM edited_cells AS cell JOIN (` +
    "SELECT MAX(single.id) AS last FROM edited_cells AS single JOIN edits AS made ON made.id = single.editId " +
    "WHERE made.sourceId = ? AND made.ids = ? AND single.columnName = ? AND made.undoes IS NULL " +
    "AND made.undoneBy IS NULL GROUP BY single.recordId) AS latest ON latest.last = cell.id " +
    `JOIN ${from.table} AS old ON old.${KEY} = ${id} AND BINARY old.${before} <=> BINARY cell.after ` +
    `LEFT JOIN ${to.table} AS fresh ON fresh.${KEY} = ${id}${same} ` +
    `WHERE fresh.${KEY} IS NULL OR NOT (BINARY ${after} <=> BINARY cell.after)`
  );
}

/**
 * Finds the records of a table that another does not have, or has with other cells, as `recordId`: all of them
 * where there is no other, or its columns are others.
 */
export function changedRecords(from: ImportedTable | null, to: ImportedTable): string {
  if (from === null || !hasSameColumns(from, to))
    return `SELECT ${KEY} AS recordId FROM ${to.table}`;
  const same = matching(to, from)
    // What is made of the others tells nothing.
    .filter(([before]) => !/^[df]/.test(before))
    .map(([before, after]) => `BINARY old.${before} <=> BINARY fresh.${after}`);
  return (
    `SELECT fresh.${KEY} AS recordId FROM ${to.table} AS fresh LEFT JOIN ${from.table} AS old USING (${KEY}) ` +
    `WHERE old.${KEY} IS NULL OR NOT (${same.join(" AND ")})`
  );
}

/** Whether two tables have columns of the same names and types. */
function hasSameColumns(from: ImportedTable, to: ImportedTable): boolean {
  const typeOf = (stored: ImportedColumn | undefined) =>
    stored && `${physicalType(stored.column)} ${stored.cell?.last === undefined ? "" : "to"}`;
  return (
    from.columns.size === to.columns.size &&
    [...to.columns].every(([name, stored]) => typeOf(from.columns.get(name)) === typeOf(stored))
  );
}

function rawOf({ cell, value }: ImportedColumn): string {
  return cell?.raw ?? value;
}

function places(count: number): string {
  return new Array<string>(count).fill("?").join(", ");
}

/** `records_12_3`: the third file of source 12. */
export function tableName(source: number, importNumber: number): string {
  return `records_${source}_${importNumber}`;
}

/** Whether a table is one that this module names. */
export function isRecordsTable(name: string): boolean {
  return /^records_\d+_\d+$/.test(name);
}
