import { MARIADB, rawTextStatement, type StoredTable } from "@orisma/core";
import type { Gateway } from "../database/index.js";
import type { FileRecord, OpenedFile } from "./load.js";

/** Records that are read back at a time. */
const RECORDS_AT_ONCE = 2_000;

/** The records of a table as a file of their texts as they came, each with its id. */
export function rawRecords(table: StoredTable, gateway: Gateway): OpenedFile {
  const headings = [...table.columns.keys()];
  return { headings, records: readBack(headings, table, gateway), hasIds: true };
}

async function* readBack(
  headings: readonly string[],
  table: StoredTable,
  gateway: Gateway,
): AsyncGenerator<FileRecord> {
  let after: string | number | null = null;
  // Told as if the file began with its headings: the first record is on line 2.
  let line = 1;
  for (;;) {
    const statement = rawTextStatement(headings, after, RECORDS_AT_ONCE, table, MARIADB);
    const rows = await gateway.read(statement);
    for (const [id = null, ...texts] of rows) {
      line++;
      yield { id: String(id), cells: texts.map((text) => String(text ?? "")), line };
    }
    const last = rows.at(-1)?.[0];
    if (rows.length < RECORDS_AT_ONCE || last === undefined) return;
    after = last;
  }
}
