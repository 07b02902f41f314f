import { MARIADB, rawTextStatement, type ImportedTable } from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import type { FileRow } from "./files/index.js";

/** Records that are read back at a time. */
const RECORDS_AT_ONCE = 2_000;

/** The records of a table as their strings came, each with its id; they have no lines. */
export async function* rawRows(
  headings: readonly string[],
  table: ImportedTable,
  gateway: Gateway,
): AsyncGenerator<readonly FileRow[]> {
  let after: string | number | null = null;
  for (;;) {
    const statement = rawTextStatement(headings, after, RECORDS_AT_ONCE, table, MARIADB);
    const rows = await gateway.read(statement);
    yield rows.map(([id = null, ...strings]) => ({
      id: String(id),
      cells: strings.map((text) => (text === null ? null : String(text))),
      line: 0,
    }));
    const last = rows.at(-1)?.[0];
    if (rows.length < RECORDS_AT_ONCE || last === undefined) return;
    after = last;
  }
}
