import type { ColumnDeclaration } from "@orisma/contract";
import type { EditedCells, ImportedTable } from "@orisma/core/internal";
import type { Run } from "../database/index.js";
import { storedRecords, updateCells, writtenCell, type StoredRecord } from "../sources/index.js";

/** A table whose records can be changed. */
export interface EditedTable {
  has(column: string): boolean;
  /** Records that nobody else can change until the transaction has ended; of those that there are, in no order. */
  locked(
    run: Run,
    columns: readonly string[],
    ids: readonly string[],
  ): Promise<readonly StoredRecord[]>;
  /** Gives records the same cells, and returns what these hold now. */
  update(
    run: Run,
    cells: EditedCells,
    ids: readonly string[],
  ): Promise<ReadonlyMap<string, EditedCells>>;
}

/** A table of an imported source: a cell is the text that it was given. */
export function importedEdits(
  table: ImportedTable,
  columns: ReadonlyMap<string, ColumnDeclaration>,
): EditedTable {
  return {
    has: (column) => table.columns.has(column),
    locked: (run, names, ids) =>
      storedRecords(({ text, values }) => run({ text: `${text} FOR UPDATE`, values }), table, {
        columns: names,
        ids,
      }),
    update: async (run, cells, ids) => {
      const values = [...cells].flatMap(([name, raw]) => {
        const column = columns.get(name);
        return column === undefined ? [] : writtenCell(column, name, table, raw).values;
      });
      const text = updateCells(table, [...cells.keys()], ids.length);
      await run({ text, values: [...values, ...ids] });
      return new Map(ids.map((id) => [id, cells]));
    },
  };
}
