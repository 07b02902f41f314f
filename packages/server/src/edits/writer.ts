import type { ColumnDeclaration } from "@orisma/contract";
import {
  isBlankText,
  type EditedCells,
  type ImportedTable,
  type SqlValue,
} from "@orisma/core/internal";
import type { Gateway, Run } from "../database/index.js";
import { Problem, type Caller } from "../http/index.js";
import {
  countChange,
  importedTableOf,
  noteChanged,
  storedRecords,
  updateCells,
  writtenCell,
  type KnownSource,
  type Sources,
  type StoredRecord,
} from "../sources/index.js";
import { batches } from "./batches.js";

/** Records that are to hold the same cells. */
export interface CellsOf {
  readonly ids: readonly string[];
  readonly cells: EditedCells;
}

/** What is written down of an edit. */
export interface EditNote {
  readonly listing: string | null;
  readonly action: string | null;
  readonly caller: Pick<Caller, "id" | "name">;
  /** The edit that it takes back. */
  readonly undoes: number | null;
}

/** What an edit came to. */
export interface WrittenEdit {
  /** Null where every cell was so already. */
  readonly number: number | null;
  /** Records that it is for, and those that it changed. */
  readonly records: number;
  readonly changed: number;
}

const RETRY_AFTER_S = 2;

/** Writes edits: the cells, what they held before, and who made it, in one transaction. */
export class EditWriter {
  /** The last edit of each source, which the next one waits for. */
  readonly #last = new Map<number, Promise<unknown>>();

  constructor(
    private readonly gateway: Gateway,
    private readonly sources: Sources,
    private readonly now: () => number,
  ) {}

  /**
   * Changes records of a source: those that `find` returns, which may lock and check them first. All take effect or
   * none; where it is only tried, none do.
   */
  async write(
    { id, name }: Pick<KnownSource, "id" | "name">,
    note: EditNote,
    find: (run: Run, table: ImportedTable) => Promise<readonly CellsOf[]>,
    isTrial = false,
  ): Promise<WrittenEdit> {
    const columns = await this.sources.declared(name);
    const writing = () =>
      this.sources.whileWriting(name, () =>
        this.gateway.transaction(async (run) => {
          const found = await find(run, importedTableOf(this.sources.need(name)));
          if (isTrial) return this.#count(run, name, found);
          await this.#learn(name, columns, found);
          return this.#write(run, this.sources.need(name), { columns, note, found });
        }),
      );
    const written = (this.#last.get(id) ?? Promise.resolve()).then(writing);
    const ended = written.catch(() => undefined);
    this.#last.set(id, ended);
    try {
      return await written;
    } catch (error) {
      throw isLocked(error) ? inUse(name) : error;
    } finally {
      if (this.#last.get(id) === ended) this.#last.delete(id);
    }
  }

  /** Gives strings numbers in the dictionaries of their columns. */
  async #learn(
    name: string,
    columns: ReadonlyMap<string, ColumnDeclaration>,
    found: readonly CellsOf[],
  ): Promise<void> {
    const values = new Map<string, Set<string | null>>();
    for (const { cells } of found) {
      for (const [column, raw] of cells) {
        if (columns.get(column)?.type !== "text") continue;
        values.set(column, (values.get(column) ?? new Set()).add(raw));
      }
    }
    for (const [column, all] of values) await this.sources.learnValues(name, column, [...all]);
  }

  async #write(
    run: Run,
    source: KnownSource,
    {
      columns,
      note,
      found,
    }: {
      readonly columns: ReadonlyMap<string, ColumnDeclaration>;
      readonly note: EditNote;
      readonly found: readonly CellsOf[];
    },
  ): Promise<WrittenEdit> {
    const table = importedTableOf(source);
    const number = await insertEdit(run, source, note, this.now());
    let changed = 0;
    const written = new Set<string>();
    for (const { ids, cells } of found) {
      for (const batch of batches(ids)) {
        const before = await lockedRecords(run, table, [...cells.keys()], batch);
        const differing = before.filter((record) => differs(record, cells));
        if (differing.length === 0) continue;
        await insertCells(run, number, differing, cells);
        const values = [...cells].flatMap(([name, raw]) => {
          const column = columns.get(name);
          return column === undefined ? [] : writtenCell(column, name, table, raw).values;
        });
        const keys = differing.map(({ id }) => id);
        const text = updateCells(table, [...cells.keys()], keys.length);
        await run({ text, values: [...values, ...keys] });
        changed += differing.length;
        for (const key of keys) written.add(key);
      }
    }
    const records = found.reduce((sum, { ids }) => sum + ids.length, 0);
    if (changed === 0) {
      await run({ text: "DELETE FROM edits WHERE id = ?", values: [number] });
      return { number: null, records, changed };
    }
    await run({
      text: "UPDATE edits SET records = (SELECT COUNT(DISTINCT recordId) FROM edited_cells WHERE editId = ?) WHERE id = ?",
      values: [number, number],
    });
    if (note.undoes !== null) {
      await run({
        text: "UPDATE edits SET undoneBy = ? WHERE id = ?",
        values: [number, note.undoes],
      });
    }
    // Whoever holds the records by a number of their revision sees that they are others.
    await run(countChange(source.id));
    for (const batch of batches([...written])) await run(noteChanged(source.id, batch));
    return { number, records, changed };
  }

  async #count(run: Run, name: string, found: readonly CellsOf[]): Promise<WrittenEdit> {
    const table = importedTableOf(this.sources.need(name));
    let [records, changed] = [0, 0];
    for (const { ids, cells } of found) {
      records += ids.length;
      for (const batch of batches(ids)) {
        const before = await lockedRecords(run, table, [...cells.keys()], batch);
        changed += before.filter((record) => differs(record, cells)).length;
      }
    }
    return { number: null, records, changed };
  }
}

/** Reads records which nobody else can change until the transaction has ended. */
export function lockedRecords(
  run: Run,
  table: ImportedTable,
  columns: readonly string[],
  ids: readonly string[],
): Promise<readonly StoredRecord[]> {
  return storedRecords(({ text, values }) => run({ text: `${text} FOR UPDATE`, values }), table, {
    columns,
    ids,
  });
}

async function insertEdit(
  run: Run,
  { id, ids }: KnownSource,
  { listing, action, caller, undoes }: EditNote,
  at: number,
): Promise<number> {
  await run({
    text: "INSERT INTO edits (sourceId, ids, listing, action, at, caller, `by`, records, undoes) VALUES (?, ?, ?, ?, ?, ?, ?, 0, ?)",
    values: [id, ids, listing, action, at, caller.id, caller.name, undoes],
  });
  const [[number] = []] = await run({ text: "SELECT LAST_INSERT_ID()", values: [] });
  return Number(number);
}

async function insertCells(
  run: Run,
  edit: number,
  records: readonly StoredRecord[],
  cells: EditedCells,
): Promise<void> {
  const rows = records.flatMap(({ id, cells: before }) =>
    [...cells].flatMap(([column, after]): SqlValue[][] => {
      const text = before.get(column) ?? null;
      return isOther(text, after) ? [[edit, column, id, text, after]] : [];
    }),
  );
  for (const batch of batches(rows)) {
    const places = batch.map(() => "(?, ?, ?, ?, ?)").join(", ");
    await run({
      text: `INSERT INTO edited_cells (editId, columnName, recordId, \`before\`, \`after\`) VALUES ${places}`,
      values: batch.flat(),
    });
  }
}

function differs({ cells: before }: StoredRecord, cells: EditedCells): boolean {
  return [...cells].some(([column, text]) => isOther(before.get(column) ?? null, text));
}

/** Whether a cell is changed by a text: one that is empty is so already, however that is written. */
function isOther(before: string | null, after: string | null): boolean {
  return after === null && before !== null ? !isBlankText(before) : before !== after;
}

/** Another process held the records for too long, or both waited for each other. */
function isLocked(error: unknown): boolean {
  return error instanceof Error && "errno" in error && LOCKED.has(Number(error.errno));
}

const LOCKED: ReadonlySet<number> = new Set([1205, 1213]);

function inUse(name: string): Problem {
  const detail = `Records of ${name} are being changed by somebody else. Nothing was changed: try again.`;
  return new Problem("busy", detail, [], { "Retry-After": String(RETRY_AFTER_S) });
}
