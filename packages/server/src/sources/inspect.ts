import type { ColumnDeclaration, InspectedCell, RecordInspection } from "@orisma/contract";
import { MARIADB, readValues, recordStatement, type ReadAnswer } from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import { Problem } from "../http/index.js";
import { faultOf, cellReader } from "./cells.js";
import { asRead, tableOf, type KnownSource } from "./columns.js";

/** Shows every cell of a record as it came, beside what it is under its column's reading. */
export async function inspectRecord(
  source: KnownSource,
  columns: ReadonlyMap<string, ColumnDeclaration>,
  id: string,
  gateway: Gateway,
): Promise<RecordInspection> {
  const table = tableOf(source);
  const names = [...table.columns.keys()];
  const [row] = await gateway.read(recordStatement(names, id, table, MARIADB));
  if (row === undefined) throw new Problem("not-found", `${source.name} has no record ${id}`);
  const [key = id, ...strings] = row;
  const cells = names.map((column, index): InspectedCell => {
    const text = strings[index] ?? null;
    const declared = asRead(columns.get(column) ?? { type: "text" }, source);
    return { column, ...inspected(declared, text === null ? null : String(text)) };
  });
  return { id: key ?? id, cells };
}

function inspected(column: ColumnDeclaration, raw: string | null): Omit<InspectedCell, "column"> {
  if (column.type === "text") return { type: "text", raw, state: "text" };
  if (column.type === "date") {
    const reading = column.reading;
    const read = readValues([raw], reading);
    const answer = read.ok ? read.value[0] : undefined;
    return { type: "date", reading, raw, state: "blank", ...shown(answer) };
  }
  const cell = cellReader(column)(raw);
  const fault = cell.state === "unreadable" ? { fault: faultOf(cell.fault, raw) } : {};
  return { type: column.type, raw, state: cell.state, ...fault };
}

function shown(answer: ReadAnswer | undefined) {
  if (answer === undefined) return {};
  const { value: _, notices: __, ...rest } = answer;
  return rest;
}
