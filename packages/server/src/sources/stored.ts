import type { ColumnDeclaration } from "@orisma/contract";
import {
  MARIADB,
  STATE_CODES,
  type Fault,
  type ImportedTable,
  type SqlValue,
  type StoredTable,
} from "@orisma/core/internal";
import type { ResultRow, Run } from "../database/index.js";
import { cellReader, foldedOf } from "./cells.js";
import { hasLastDays } from "./columns.js";
import { codeIn } from "./dictionaries.js";
import { readCells } from "./tables.js";

/** A text as a cell of a table holds it, and what is made of it. */
export interface WrittenCell {
  /** In the order of the physical columns. */
  readonly values: readonly SqlValue[];
  readonly state: "dated" | "blank" | "unreadable" | "text";
  readonly fault: Fault | null;
}

/** What a column of a table holds for a text, which the dictionary of the column knows already. */
export function writtenCell(
  column: ColumnDeclaration,
  name: string,
  { columns }: ImportedTable,
  raw: string | null,
): WrittenCell {
  if (column.type === "text") {
    const { dictionary = null } = columns.get(name) ?? {};
    const code = dictionary === null ? [] : [codeIn(dictionary, raw)];
    return { values: [raw, foldedOf(raw), ...code], state: "text", fault: null };
  }
  const cell = cellReader(column)(raw);
  const isDated = cell.state === "dated";
  const last = hasLastDays(column) ? [isDated ? (cell.last ?? null) : null] : [];
  return {
    values: [isDated ? cell.value : null, STATE_CODES[cell.state], raw, ...last],
    state: cell.state,
    fault: cell.state === "unreadable" ? cell.fault : null,
  };
}

/** A record with the strings of some of its cells, as they came. */
export interface StoredRecord {
  readonly id: string;
  readonly cells: ReadonlyMap<string, string | null>;
}

/** Reads strings of records as they came; of those that there are, in no order. */
export async function storedRecords(
  run: Run,
  table: ImportedTable,
  { columns, ids }: { readonly columns: readonly string[]; readonly ids: readonly string[] },
): Promise<readonly StoredRecord[]> {
  const rows = await run({ text: readCells(table, columns, ids.length), values: ids });
  return recordsOf(rows, columns);
}

/** Reads cells of an attached table as they are stored; of the records that there are, in no order. */
export async function attachedRecords(
  run: Run,
  { table, key, columns: known }: StoredTable,
  { columns, ids }: { readonly columns: readonly string[]; readonly ids: readonly string[] },
): Promise<readonly StoredRecord[]> {
  const names = [key, ...columns.map((name) => known.get(name)?.value ?? name)];
  const [quotedKey = "", ...quoted] = names.map((name) => MARIADB.quoteName(name));
  const text = `SELECT ${[quotedKey, ...quoted].join(", ")} FROM ${MARIADB.quoteName(table)} WHERE ${quotedKey} IN (${ids.map(() => "?").join(", ")})`;
  const wanted = new Set(ids);
  // To a database 12abc may be 12, and a letter its capital.
  return recordsOf(await run({ text, values: ids }), columns).filter(({ id }) => wanted.has(id));
}

function recordsOf(
  rows: readonly ResultRow[],
  columns: readonly string[],
): readonly StoredRecord[] {
  return rows.map(([id, ...strings]) => ({
    id: String(id),
    cells: new Map(
      columns.map((name, index) => {
        const found = strings[index] ?? null;
        return [name, found === null ? null : String(found)];
      }),
    ),
  }));
}
