import type { EditDescription } from "@orisma/contract";
import type { Gateway, Run } from "../database/index.js";
import type { Edit } from "./entities.js";
import { batches } from "./batches.js";
import type { EditedTable } from "./table.js";
import type { CellsOf } from "./writer.js";

/** Cells of one edit that are shown at most, and characters of each. */
const MAX_CELLS = 100;
const MAX_CHARACTERS = 1_000;

type ShownCell = EditDescription["cells"][number];

/** An edit as it is shown. */
export function describeEdit(edit: Edit, cells: readonly ShownCell[]): EditDescription {
  const { id, at, by, listing, action, records, undoes, undoneBy } = edit;
  return {
    number: id,
    at: new Date(at).toISOString(),
    by,
    ...{ listing, action, records, undoes, undoneBy },
    cells: [...cells],
  };
}

/** The first cells of some edits: of all records or one, of all columns or those that are shown. */
export async function cellsOf(
  gateway: Gateway,
  edits: readonly Edit[],
  {
    record,
    columns,
  }: { readonly record: string | null; readonly columns: readonly string[] | null },
): Promise<ReadonlyMap<number, readonly ShownCell[]>> {
  const found = new Map<number, ShownCell[]>();
  if (edits.length === 0 || columns?.length === 0) return found;
  const list = (count: number) => new Array<string>(count).fill("?").join(", ");
  const text =
    "SELECT editId, recordId, columnName, `before`, `after` FROM (" +
    `SELECT editId, recordId, columnName, LEFT(\`before\`, ${MAX_CHARACTERS}) AS \`before\`, ` +
    `LEFT(\`after\`, ${MAX_CHARACTERS}) AS \`after\`, ` +
    "ROW_NUMBER() OVER (PARTITION BY editId ORDER BY id) AS place " +
    `FROM edited_cells WHERE editId IN (${list(edits.length)})` +
    (record === null ? "" : " AND recordId = ?") +
    (columns === null ? "" : ` AND columnName IN (${list(columns.length)})`) +
    `) AS cell WHERE place <= ${MAX_CELLS} ORDER BY editId, place`;
  const values = [
    ...edits.map(({ id }) => id),
    ...(record === null ? [] : [record]),
    ...(columns ?? []),
  ];
  for (const [edit, id, column, before = null, after = null] of await gateway.read({
    text,
    values,
  })) {
    const cells = found.get(Number(edit)) ?? [];
    cells.push({
      id: String(id),
      column: String(column),
      before: before === null ? null : String(before),
      after: after === null ? null : String(after),
    });
    found.set(Number(edit), cells);
  }
  return found;
}

/** What takes an edit back, and the records whose cells are not as it made them any more. */
export async function takenBack(
  own: Gateway,
  run: Run,
  table: EditedTable,
  edit: number,
): Promise<{ readonly groups: readonly CellsOf[]; readonly changed: readonly string[] }> {
  const rows = await own.read({
    text: "SELECT recordId, columnName, `before`, `after` FROM edited_cells WHERE editId = ? ORDER BY id",
    values: [edit],
  });
  const records = new Map<string, { before: CellTexts; after: Cells }>();
  for (const [id, column, before = null, after = null] of rows) {
    const found = records.get(String(id)) ?? { before: [] as CellTexts, after: new Map() };
    found.before.push([String(column), before === null ? null : String(before)]);
    found.after.set(String(column), after === null ? null : String(after));
    records.set(String(id), found);
  }
  const known = [...records.values()].flatMap(({ after }) => [...after.keys()]);
  const columns = [...new Set(known)].filter((name) => table.has(name));
  const ids = [...records.keys()];
  const unchanged = new Set<string>();
  for (const batch of batches(ids)) {
    for (const { id, cells } of await table.locked(run, columns, batch)) {
      const made = [...(records.get(id)?.after ?? [])];
      if (made.every(([name, text]) => cells.has(name) && cells.get(name) === text)) {
        unchanged.add(id);
      }
    }
  }
  const groups = new Map<string, { ids: string[]; cells: Cells }>();
  for (const [id, { before }] of records) {
    const kind = JSON.stringify(before);
    const group = groups.get(kind) ?? { ids: [], cells: new Map(before) };
    group.ids.push(id);
    groups.set(kind, group);
  }
  return { groups: [...groups.values()], changed: ids.filter((id) => !unchanged.has(id)) };
}

type CellTexts = [string, string | null][];
type Cells = Map<string, string | null>;
