import {
  MARIADB,
  compareDecimals,
  decimalOf,
  type AttachedColumn,
  type SqlValue,
  type StoredTable,
} from "@orisma/core/internal";
import { Problem } from "../http/index.js";
import { attachedRecords, refusable } from "../sources/index.js";
import type { EditedTable } from "./table.js";

/**
 * An attached table, whose columns hold values of the database's own types. What it would store otherwise than it was
 * sent, as a number that it rounds, is refused.
 */
export function attachedEdits(source: string, table: StoredTable): EditedTable {
  const columnOf = (name: string): AttachedColumn => {
    const found = table.columns.get(name);
    if (found?.storage === "attached") return found;
    throw new Problem("already-there", `${source} has no column ${name} any more`);
  };
  const locked: EditedTable["locked"] = (run, columns, ids) =>
    attachedRecords(({ text, values }) => run({ text: `${text} FOR UPDATE`, values }), table, {
      columns,
      ids,
    });
  return {
    has: (column) => table.columns.has(column),
    locked,
    update: async (run, cells, ids) => {
      const names = [...cells.keys()];
      const sets = names.map((name) => `${MARIADB.quoteName(columnOf(name).value)} = ?`);
      const places = ids.map(() => "?").join(", ");
      const text = `UPDATE ${MARIADB.quoteName(table.table)} SET ${sets.join(", ")} WHERE ${MARIADB.quoteName(table.key)} IN (${places})`;
      const values = [...cells].map(([name, raw]) => boundValue(columnOf(name), raw));
      await refusable(source, () => run({ text, values: [...values, ...ids] }));
      const after = await locked(run, names, ids);
      for (const { cells: stored } of after) {
        for (const [name, raw] of cells) mustHold(columnOf(name), raw, stored.get(name) ?? null);
      }
      return new Map(after.map(({ id, cells: stored }) => [id, stored]));
    },
  };
}

/** A text as it is bound: of yes and no the number that stands for it. */
function boundValue({ column }: AttachedColumn, raw: string | null): SqlValue {
  if (raw === null || column.type !== "boolean") return raw;
  // What is taken back is the stored number itself.
  if (raw === "true" || raw === "false") return raw === "true" ? 1 : 0;
  return raw;
}

/** Throws a problem where a table holds something else than was sent. */
function mustHold(stored: AttachedColumn, raw: string | null, held: string | null): void {
  if (isSame(stored, raw, held)) return;
  const detail =
    `${stored.column.name} would hold “${held ?? ""}” in place of “${raw ?? ""}”: ` +
    "send a value that the column can hold exactly. Nothing was changed.";
  throw new Problem("invalid-value", detail);
}

function isSame(
  { column, cells, holding }: AttachedColumn,
  raw: string | null,
  held: string | null,
) {
  if (raw === null || held === null) return raw === held;
  switch (cells.type) {
    case "date": {
      const [sent, found] = [raw, held].map((text) => cells.reading.read(text));
      return sent?.state === "dated" && found?.state === "dated"
        ? sent.ms === found.ms
        : raw === held;
    }
    case "number": {
      const [sent, found] = [decimalOf(raw), decimalOf(held)];
      if (sent === null || found === null) return raw === held;
      // A column of half the digits holds the nearest number of its own.
      return (
        compareDecimals(sent, found) === 0 ||
        (holding.type === "float" && Math.fround(Number(raw)) === Math.fround(Number(held)))
      );
    }
    case "boolean":
      return boundValue({ column } as AttachedColumn, raw) === Number(held) || raw === held;
    case "text":
      return raw === held;
  }
}
