import type { ColumnDeclaration } from "@orisma/contract";
import { isBlankText, type EditedCells } from "@orisma/core/internal";
import { DatabaseUnavailable, type Gateway, type Run } from "../database/index.js";
import { Problem, type Caller } from "../http/index.js";
import {
  countChange,
  importedTableOf,
  noteChanged,
  type KnownSource,
  type Sources,
  type StoredRecord,
} from "../sources/index.js";
import { attachedEdits } from "./attached-table.js";
import { batches } from "./batches.js";
import { importedEdits, type EditedTable } from "./table.js";

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

/** What an edit is found and written by. */
type FindCells = (run: Run, table: EditedTable) => Promise<readonly CellsOf[]>;

/** Writes edits: the cells, what they held before, and who made it; all of it or nothing. */
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
    source: Pick<KnownSource, "id" | "name" | "attached">,
    note: EditNote,
    find: FindCells,
    isTrial = false,
  ): Promise<WrittenEdit> {
    const edit = { note, find, isTrial };
    const writing = () =>
      source.attached === null
        ? this.#writeOwn(source.name, edit)
        : this.#writeAttached(source.name, edit);
    return this.#inTurn(source, writing);
  }

  /** Finds out what became of edits of an attached source that were interrupted. */
  async settle({ id, name, attached }: KnownSource): Promise<void> {
    if (attached === null || !(await this.#hasPending(id))) return;
    await this.#inTurn({ id, name }, () => this.#settle(name));
  }

  async #inTurn<T>(
    { id, name }: Pick<KnownSource, "id" | "name">,
    work: () => Promise<T>,
  ): Promise<T> {
    const written = (this.#last.get(id) ?? Promise.resolve()).then(work);
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

  /** In one transaction with what is written down of it. */
  async #writeOwn(name: string, { note, find, isTrial }: EditToWrite): Promise<WrittenEdit> {
    const columns = await this.sources.declared(name);
    const tableNow = () => importedEdits(importedTableOf(this.sources.need(name)), columns);
    return this.sources.whileWriting(name, () =>
      this.gateway.transaction(async (run) => {
        const found = await find(run, tableNow());
        if (isTrial) return countChanges(run, tableNow(), found);
        await this.#learn(name, columns, found);
        // The dictionaries may have grown.
        const changes = await makeChanges(run, tableNow(), found);
        const source = this.sources.need(name);
        const written = await this.#writeDown(run, source, { note, found, changes });
        if (changes.length === 0) return written;
        // Whoever holds the records by a number of their revision sees that they are others.
        await run(countChange(source.id));
        const ids = [...new Set(changes.map(({ id }) => id))];
        for (const batch of batches(ids)) await run(noteChanged(source.id, batch));
        return written;
      }),
    );
  }

  /**
   * In a transaction of the other database. What is written down is so before that ends, as pending: whatever stops
   * the service then, {@link settle} finds out whether the records were changed.
   */
  async #writeAttached(name: string, { note, find, isTrial }: EditToWrite): Promise<WrittenEdit> {
    await this.#settle(name);
    const source = this.sources.need(name);
    const { table } = source;
    if (table === null) throw new Problem("not-found", `The source ${name} has no table`);
    const edited = attachedEdits(name, table);
    const other = await this.sources.editing(source);
    const pending: number[] = [];
    let written: WrittenEdit;
    try {
      written = await other.transaction(async (run) => {
        const found = await find(run, edited);
        if (isTrial) return countChanges(run, edited, found);
        const changes = await makeChanges(run, edited, found);
        const down = await this.gateway.transaction((own) =>
          this.#writeDown(own, source, { note, found, changes, isPending: true }),
        );
        if (down.number !== null) pending.push(down.number);
        return down;
      });
    } catch (error) {
      // Of a connection that was lost at the end it is not known what became of it.
      const isOver = !(error instanceof DatabaseUnavailable);
      if (isOver) for (const edit of pending) await this.#forget(edit);
      throw error;
    }
    for (const edit of pending) await this.#confirm(edit);
    return written;
  }

  async #hasPending(source: number): Promise<boolean> {
    const text = "SELECT id FROM edits WHERE sourceId = ? AND isPending = 1 LIMIT 1";
    return (await this.gateway.read({ text, values: [source] })).length > 0;
  }

  async #settle(name: string): Promise<void> {
    const source = this.sources.need(name);
    const { table } = source;
    if (table === null || !(await this.#hasPending(source.id))) return;
    const pending = await this.gateway.read({
      text: "SELECT id FROM edits WHERE sourceId = ? AND isPending = 1 ORDER BY id",
      values: [source.id],
    });
    const other = await this.sources.editing(source);
    for (const [id] of pending) {
      const edit = Number(id);
      // Whoever made it may still be at it: the lock waits for them.
      const isMade = await other.transaction((run) =>
        this.#tookEffect(run, attachedEdits(name, table), edit),
      );
      await (isMade ? this.#confirm(edit) : this.#forget(edit));
    }
  }

  /** Whether an edit was made: all of its cells were changed together, so any that is as before says that it was not. */
  async #tookEffect(run: Run, table: EditedTable, edit: number): Promise<boolean> {
    const cells = await this.gateway.read({
      text: "SELECT recordId, columnName, `before` FROM edited_cells WHERE editId = ?",
      values: [edit],
    });
    const columns = [...new Set(cells.map(([, column]) => String(column)))].filter((column) =>
      table.has(column),
    );
    const ids = [...new Set(cells.map(([id]) => String(id)))];
    const held = new Map<string, StoredRecord["cells"]>();
    if (columns.length === 0) return true;
    for (const batch of batches(ids)) {
      for (const record of await table.locked(run, columns, batch)) {
        held.set(record.id, record.cells);
      }
    }
    return !cells.some(([id, column, before = null]) => {
      const now = held.get(String(id))?.get(String(column));
      return now !== undefined && now === (before === null ? null : String(before));
    });
  }

  /** An edit that took effect; what it takes back is so from now on. */
  async #confirm(edit: number): Promise<void> {
    await this.gateway.transaction(async (run) => {
      await run({ text: "UPDATE edits SET isPending = 0 WHERE id = ?", values: [edit] });
      await run({
        text: "UPDATE edits AS undone JOIN edits AS made ON made.undoes = undone.id SET undone.undoneBy = made.id WHERE made.id = ?",
        values: [edit],
      });
    });
  }

  async #forget(edit: number): Promise<void> {
    await this.gateway.transaction((run) =>
      run({ text: "DELETE FROM edits WHERE id = ?", values: [edit] }),
    );
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

  /** Writes down what was changed, by whom. */
  async #writeDown(
    run: Run,
    source: KnownSource,
    { note, found, changes, isPending = false }: EditMade,
  ): Promise<WrittenEdit> {
    const records = recordsOf(found);
    if (changes.length === 0) return { number: null, records, changed: 0 };
    const changed = new Set(changes.map(({ id }) => id)).size;
    const noted = { ...note, records: changed, isPending };
    const number = await insertEdit(run, source, noted, this.now());
    await insertCells(run, number, changes);
    if (note.undoes !== null && !isPending) {
      await run({
        text: "UPDATE edits SET undoneBy = ? WHERE id = ?",
        values: [number, note.undoes],
      });
    }
    return { number, records, changed };
  }
}

/** An edit that is about to be made. */
interface EditToWrite {
  readonly note: EditNote;
  readonly find: FindCells;
  readonly isTrial: boolean;
}

/** An edit whose cells are changed. */
interface EditMade {
  readonly note: EditNote;
  readonly found: readonly CellsOf[];
  readonly changes: readonly CellChange[];
  readonly isPending?: boolean;
}

/** A cell with its text before and after. */
interface CellChange {
  readonly id: string;
  readonly column: string;
  readonly before: string | null;
  readonly after: string | null;
}

/** Changes the cells that are not yet as they should be. */
async function makeChanges(
  run: Run,
  table: EditedTable,
  found: readonly CellsOf[],
): Promise<readonly CellChange[]> {
  const changes: CellChange[] = [];
  for (const { ids, cells } of found) {
    for (const batch of batches(ids)) {
      const locked = await table.locked(run, [...cells.keys()], batch);
      const differing = locked.filter((record) => differs(record, cells));
      if (differing.length === 0) continue;
      const keys = differing.map(({ id }) => id);
      const after = await table.update(run, cells, keys);
      for (const { id, cells: before } of differing) {
        for (const column of cells.keys()) {
          const change = {
            ...{ id, column, before: before.get(column) ?? null },
            after: after.get(id)?.get(column) ?? null,
          };
          if (isOther(change.before, change.after)) changes.push(change);
        }
      }
    }
  }
  return changes;
}

async function countChanges(
  run: Run,
  table: EditedTable,
  found: readonly CellsOf[],
): Promise<WrittenEdit> {
  let changed = 0;
  for (const { ids, cells } of found) {
    for (const batch of batches(ids)) {
      const before = await table.locked(run, [...cells.keys()], batch);
      changed += before.filter((record) => differs(record, cells)).length;
    }
  }
  return { number: null, records: recordsOf(found), changed };
}

function recordsOf(found: readonly CellsOf[]): number {
  return found.reduce((sum, { ids }) => sum + ids.length, 0);
}

async function insertEdit(
  run: Run,
  { id, ids }: KnownSource,
  {
    listing,
    action,
    caller,
    undoes,
    records,
    isPending,
  }: EditNote & { readonly records: number; readonly isPending: boolean },
  at: number,
): Promise<number> {
  const values = [id, ids, listing, action, at, caller.id, caller.name, records, undoes];
  await run({
    text: "INSERT INTO edits (sourceId, ids, listing, action, at, caller, `by`, records, undoes, isPending) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
    values: [...values, isPending ? 1 : 0],
  });
  const [[number] = []] = await run({ text: "SELECT LAST_INSERT_ID()", values: [] });
  return Number(number);
}

async function insertCells(run: Run, edit: number, changes: readonly CellChange[]): Promise<void> {
  for (const batch of batches(changes)) {
    const places = batch.map(() => "(?, ?, ?, ?, ?)").join(", ");
    await run({
      text: `INSERT INTO edited_cells (editId, columnName, recordId, \`before\`, \`after\`) VALUES ${places}`,
      values: batch.flatMap(({ id, column, before, after }) => [edit, column, id, before, after]),
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
