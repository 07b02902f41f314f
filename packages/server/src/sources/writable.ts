import { MARIADB, type StoredColumn, type StoredTable } from "@orisma/core/internal";
import type { Run } from "../database/index.js";
import { Problem } from "../http/index.js";

/** Tries whether columns of a table may be written, and changes nothing; throws a problem where not. */
export async function mustBeWritable(
  run: Run,
  source: string,
  { table, columns }: StoredTable,
  names: readonly string[],
): Promise<void> {
  const [[engine] = []] = await run({
    text: "SELECT ENGINE FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ?",
    values: [table],
  });
  if (engine == null) {
    throw new Problem("invalid-value", `${table} is a view, and cannot be edited: edit its tables`);
  }
  if (engine !== "InnoDB") {
    const detail = `The table ${table} cannot be edited: its engine ${String(engine)} cannot take back a change that fails half way`;
    throw new Problem("invalid-value", detail);
  }
  const workedOut = await run({
    text: "SELECT COLUMN_NAME FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND IS_GENERATED = 'ALWAYS'",
    values: [table],
  });
  const made = names.find((name) => partsOf(columns.get(name)) !== null);
  if (made !== undefined) {
    const parts = partsOf(columns.get(made)) ?? [];
    const detail = `${made} cannot be edited: it is made of ${parts.join(", ")}, which can`;
    throw new Problem("invalid-value", detail);
  }
  const generated = workedOut.map(([column]) => String(column));
  const fixed = names.find((name) => generated.includes(columns.get(name)?.value ?? name));
  if (fixed !== undefined) {
    throw new Problem("invalid-value", `${fixed} cannot be edited: the database works it out`);
  }
  const sets = names.map((name) => {
    const column = MARIADB.quoteName(columns.get(name)?.value ?? name);
    return `${column} = ${column}`;
  });
  const text = `UPDATE ${MARIADB.quoteName(table)} SET ${sets.join(", ")} WHERE 1 = 0`;
  await refusable(source, () => run({ text, values: [] }));
}

/** The columns that make up one; null for one of the table's own. */
function partsOf(stored: StoredColumn | undefined): readonly string[] | null {
  return stored?.storage === "attached" ? (stored.parts ?? null) : null;
}

/** What a database says of a value or a table that it refuses, in words for whoever edits. */
const REFUSALS: Readonly<Record<number, string>> = {
  1048: "a column that must have a value would have none",
  1062: "another record has this value, and each must have its own",
  1142: "its account may not change this table",
  1143: "its account may not change this column",
  1264: "a number is beyond what its column holds",
  1265: "a value is none of those that its column holds",
  1292: "a value is not of its column's kind",
  1366: "a value is not of its column's kind",
  1406: "a text is longer than its column",
  1451: "other records depend on this value",
  1452: "no record has the value that this column refers to",
  1644: "a trigger of the table refuses it",
  4025: "a check of the table refuses it",
};

/** Runs a statement that writes; what the database refuses is a problem in words. */
export async function refusable<T>(source: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const reason = error instanceof Error && "errno" in error ? REFUSALS[Number(error.errno)] : "";
    if (reason === undefined || reason === "") throw error;
    const detail = `The database of ${source} refuses the change: ${reason}. Nothing was changed.`;
    throw new Problem("invalid-value", detail);
  }
}
