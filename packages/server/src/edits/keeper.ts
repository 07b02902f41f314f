import type { EditPolicy } from "@orisma/contract";
import type { Gateway } from "../database/index.js";
import { Problem } from "../http/index.js";
import type { EditKeeper, KeptEdits, ReplacedTable } from "../imports/index.js";
import { overwrittenEdits, updateCells, writtenCell } from "../sources/index.js";
import { batches } from "./batches.js";

/** Seconds for finding the edits of one column. */
const FIND_LIMIT_S = 60;
/** Cells that a problem names. */
const MAX_NAMED = 5;

/** An edit whose text another table does not have. */
interface Overwritten {
  readonly id: string;
  readonly column: string;
  readonly text: string | null;
  /** Whether that table has its record and its column. */
  readonly isThere: boolean;
}

/** Keeps edits when the table of a source is replaced by another. */
export class KeepEdits implements EditKeeper {
  constructor(private readonly gateway: Gateway) {}

  async keep(replaced: ReplacedTable, policy: EditPolicy): Promise<KeptEdits | null> {
    const found = await this.#overwritten(replaced);
    if (found.length === 0) return null;
    const { source, hasSameIds } = replaced;
    if (policy === "overwrite") return { preserved: 0, overwritten: found.length, lost: 0 };
    if (policy === "report" || !hasSameIds) throw refused(source.name, found, hasSameIds);
    const there = found.filter(({ isThere }) => isThere);
    await this.#makeAgain(replaced, there);
    return { preserved: there.length, overwritten: 0, lost: found.length - there.length };
  }

  async #overwritten(replaced: ReplacedTable): Promise<readonly Overwritten[]> {
    const { source, ids, from, to, hasSameIds } = replaced;
    const columns = await this.gateway.read({
      text: "SELECT DISTINCT cell.columnName FROM edited_cells AS cell JOIN edits AS made ON made.id = cell.editId WHERE made.sourceId = ? AND made.ids = ?",
      values: [source.id, ids],
    });
    const all: Overwritten[] = [];
    for (const [name] of columns) {
      const column = String(name);
      if (!from.columns.has(column)) continue;
      const hasOwnKey = source.keyColumn !== null;
      const text = overwrittenEdits(from, to, column, { hasOwnKey, hasSameIds });
      const rows = await this.gateway.read(
        { text, values: [source.id, ids, column] },
        FIND_LIMIT_S,
      );
      for (const [id, stored = null, isThere] of rows) {
        all.push({
          id: String(id),
          column,
          text: stored === null ? null : String(stored),
          isThere: Number(isThere) === 1 && to.columns.has(column),
        });
      }
    }
    return all;
  }

  async #makeAgain(
    { to, columns, dictionaries }: ReplacedTable,
    edits: readonly Overwritten[],
  ): Promise<void> {
    const groups = new Map<string, { column: string; text: string | null; ids: string[] }>();
    for (const { id, column, text } of edits) {
      const kind = JSON.stringify([column, text]);
      const group = groups.get(kind) ?? { column, text, ids: [] };
      group.ids.push(id);
      groups.set(kind, group);
    }
    await this.gateway.transaction(async (run) => {
      for (const { column, text, ids } of groups.values()) {
        const declared = columns.get(column);
        if (declared === undefined) continue;
        // A text has a number in the dictionary of its column before it is in a record.
        dictionaries.get(column)?.codeOf(text);
        const { values } = writtenCell(declared, column, to, text);
        for (const keys of batches(ids)) {
          await run({
            text: updateCells(to, [column], keys.length),
            values: [...values, ...keys],
          });
        }
      }
    });
  }
}

function refused(source: string, found: readonly Overwritten[], hasSameIds: boolean): Problem {
  const count = found.length === 1 ? "one edit" : `${found.length} edits`;
  const rest = found.length - MAX_NAMED;
  const named = found
    .slice(0, MAX_NAMED)
    .map(
      ({ id, column, text }) =>
        `${column} of ${id} (${text === null ? "blank" : `“${text.slice(0, 40)}”`})`,
    );
  const cells = `${named.join(", ")}${rest > 0 ? ` and ${rest} more` : ""}`;
  const way = hasSameIds
    ? "send edits=preserve to make them again, or edits=overwrite to take the file's values"
    : `the records of ${source} have no key by which they could be made again: send edits=overwrite to lose them`;
  const detail = `Nothing was imported, since it would overwrite ${count}: ${cells}; ${way}`;
  return new Problem("overwrites-edits", detail);
}
