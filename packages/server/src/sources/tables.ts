import type { Column, ColumnType, StoredColumn, StoredTable } from "@orisma/core";

/** Bytes of a text value at most: the room of a MEDIUMTEXT. */
export const LONGEST_TEXT_BYTES = 16_777_215;
/** Signs of a key at most, so that it fits the primary key of the database. */
export const LONGEST_KEY = 255;

const KEY = "id";

/** How a table of ours holds the columns of a source. */
export function storedTable(table: string, columns: readonly Column[]): StoredTable {
  const placed = columns.map((column, index): [string, StoredColumn] => [
    column.name,
    placeColumn(column, index + 1),
  ]);
  return { table, key: KEY, columns: new Map(placed) };
}

function placeColumn(column: Column, position: number): StoredColumn {
  const cell = column.type === "text" ? null : { state: `s${position}`, raw: `t${position}` };
  return { column, value: `c${position}`, cell };
}

/**
 * The statement that makes the table of a source. Every name in it is of our own making:
 * columns are numbered. Times are stored without a zone, instants in universal time.
 */
export function createTable({ table, columns }: StoredTable, hasOwnKey: boolean): string {
  const key = hasOwnKey
    ? `${KEY} VARCHAR(${LONGEST_KEY}) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL`
    : `${KEY} BIGINT UNSIGNED NOT NULL AUTO_INCREMENT`;
  const fields = [...columns.values()].flatMap(({ column, value, cell }) => [
    `${value} ${physicalType(column)} NULL`,
    ...(cell === null
      ? []
      : [`${cell.state} TINYINT UNSIGNED NOT NULL`, `${cell.raw} MEDIUMTEXT NULL`]),
    ...(column.type === "date" ? [`KEY ${value} (${value})`] : []),
  ]);
  return `CREATE TABLE ${table} (${[key, ...fields, `PRIMARY KEY (${KEY})`].join(", ")}) ENGINE=InnoDB`;
}

const PLAIN_TYPES: Record<Exclude<ColumnType, "date">, string> = {
  text: "MEDIUMTEXT",
  integer: "BIGINT",
  decimal: "DECIMAL(38,12)",
};

function physicalType(column: Column): string {
  if (column.type !== "date") return PLAIN_TYPES[column.type];
  return column.kind === "date" ? "DATE" : "DATETIME(3)";
}

/** The physical columns of a table in the order of its statements, the key first if it is given. */
export function insertColumns({ columns }: StoredTable, hasOwnKey: boolean): readonly string[] {
  const values = [...columns.values()].flatMap(({ value, cell }) =>
    cell === null ? [value] : [value, cell.state, cell.raw],
  );
  return hasOwnKey ? [KEY, ...values] : values;
}

/** `records_12_3`: the third file of source 12. */
export function tableName(source: number, load: number): string {
  return `records_${source}_${load}`;
}

/** Whether a table is one that this module names. */
export function isRecordsTable(name: string): boolean {
  return /^records_\d+_\d+$/.test(name);
}
