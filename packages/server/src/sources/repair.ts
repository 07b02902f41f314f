import type { ColumnDeclaration, REPAIR, RepairedCell, Shown } from "@orisma/contract";
import { STATE_CODES, fault } from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import { cellReader, faultOf, foldedOf } from "./cells.js";
import type { KnownSource } from "./columns.js";
import { codeIn } from "./dictionaries.js";
import { readCell, updateCell } from "./tables.js";

/** Gives one cell of one record another text, and reads it as its column is read. */
export async function repairCell(
  { name, key, imported: table }: KnownSource,
  columns: ReadonlyMap<string, ColumnDeclaration>,
  repair: Shown<typeof REPAIR>,
  gateway: Gateway,
): Promise<RepairedCell> {
  const { id, column, value } = repair;
  const declared = columns.get(column);
  if (declared === undefined || table === null) {
    const known = [...columns.keys()];
    throw problemOf([fault("column.unknown", { name: column, known }, { path: "column" })]);
  }
  if (column === key) {
    throw new Problem("invalid-value", `${column} is the key of ${name}: the record's own name`);
  }
  const [row] = await gateway.read({ text: readCell(table, column), values: [id] });
  if (row === undefined) throw new Problem("not-found", `${name} has no record ${id}`);
  const before = row[0] === null || row[0] === undefined ? null : String(row[0]);
  const text = updateCell(table, column);
  if (declared.type === "text") {
    const { dictionary = null } = table.columns.get(column) ?? {};
    const code = dictionary === null ? [] : [codeIn(dictionary, value)];
    await gateway.write((run) => run({ text, values: [value, foldedOf(value), ...code, id] }));
    return { id, column, value, before, state: "text" };
  }
  const cell = cellReader(declared)(value);
  const stored = cell.state === "dated" ? cell.value : null;
  const values = [stored, STATE_CODES[cell.state], value, id];
  await gateway.write((run) => run({ text, values }));
  const found = cell.state === "unreadable" ? cell.fault : null;
  return {
    id,
    column,
    value,
    before,
    state: cell.state,
    ...(found === null ? {} : { fault: faultOf(found, value) }),
  };
}
