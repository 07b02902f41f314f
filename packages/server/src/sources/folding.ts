import {
  MARIADB,
  rawTextStatement,
  type SqlValue,
  type ImportedTable,
} from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import type { Gateway } from "../database/index.js";
import { foldedOf } from "./cells.js";
import { foldedField } from "./tables.js";

/** Records that are folded at a time. */
const RECORDS_AT_ONCE = 1_000;

/**
 * Gives a table of records the folded strings that it was made without, by a version that did not
 * have them. One that has them is left as it is.
 */
export async function addFoldedTexts(
  table: ImportedTable,
  dataSource: DataSource,
  gateway: Gateway,
): Promise<void> {
  const strings = [...table.columns.values()].flatMap(({ value, folded }) =>
    folded === null ? [] : [{ value, folded }],
  );
  const fields = await dataSource.query<{ name: string }[]>(
    "SELECT column_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ?",
    [table.table],
  );
  const has = new Set(fields.map(({ name }) => name));
  if (has.size === 0 || strings.every(({ folded }) => has.has(folded))) return;
  const names = [...table.columns].flatMap(([name, { folded }]) => (folded === null ? [] : [name]));
  const sets = strings.map(({ folded }) => `${folded} = ?`).join(", ");
  // The names of the table are of our own making. Added last, so that a crash is made good.
  const filling = strings.map(
    ({ folded }) => `ADD COLUMN IF NOT EXISTS ${foldedField(`${folded}_new`)}`,
  );
  await gateway.change(`ALTER TABLE ${table.table} ${filling.join(", ")}`);
  await gateway.write(async (run) => {
    let after: SqlValue = null;
    for (;;) {
      const statement = rawTextStatement(names, after, RECORDS_AT_ONCE, table, MARIADB);
      const rows = await gateway.read(statement);
      for (const [key = null, ...cells] of rows) {
        const values = cells.map((cell) => foldedOf(cell === null ? null : String(cell)));
        const text = `UPDATE ${table.table} SET ${sets.replaceAll(" =", "_new =")} WHERE id = ?`;
        await run({ text, values: [...values, key] });
      }
      const last: SqlValue | undefined = rows.at(-1)?.[0];
      if (rows.length < RECORDS_AT_ONCE || last === undefined) break;
      after = last;
    }
  });
  const renamed = strings.map(({ folded }) => `RENAME COLUMN ${folded}_new TO ${folded}`);
  await gateway.change(`ALTER TABLE ${table.table} ${renamed.join(", ")}`);
}
