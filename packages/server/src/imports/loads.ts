import {
  type KeptColumn,
  Load,
  type Source,
  type SourceLocks,
  type Sources,
  copyAll,
  countMerge,
  declaredColumns,
  mergeByKey,
  ownTableOf,
  settlingFaults,
} from "../sources/index.js";
import type {
  ColumnDeclaration,
  FileOptions,
  LoadDescription,
  LoadMode,
  LoadProgress,
  LoadReport,
} from "@orisma/contract";
import type { Readable } from "node:stream";
import { fault, type OwnTable } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import type { Gateway } from "../database/index.js";
import { openFile, spool, type FileRow, type FileTable, type SpooledFile } from "./files/index.js";
import { Problem, problemOf } from "../http/index.js";
import { fillTable, type Filled } from "./fill.js";
import {
  checkDateSystems,
  chosenColumns,
  columnFaults,
  mixedRemarks,
  only,
  statedColumns,
  withoutStated,
} from "./matching.js";
import { Refusals, refusedCsv, refusedRows, type RefusedDescription } from "./refusals.js";
import { describeLoad } from "./history.js";
import { columnReports } from "./report.js";
import { rawRows } from "./reread.js";
import { makeTable, stateOf, type Staging } from "./staging.js";

/** How a file is to be taken. */
export interface TakeOptions {
  readonly file: FileOptions;
  /** The columns of the file that are taken; all where none is named. */
  readonly columns: readonly string[];
  /** Take a file although it is the one that was taken last. */
  readonly again: boolean;
  /** Take a file although listings would no longer be served. */
  readonly force: boolean;
  /** The file's name, for people. */
  readonly name: string | null;
}

/** Loads that run at once, each with two connections of the ten that there are. */
const MOST_AT_ONCE = 4;
const RETRY_AFTER_S = 10;
/** Loads of a source that are remembered. */
const MOST_LOADS = 50;

interface Running {
  progress: LoadProgress;
  readonly cancel: AbortController;
}

/** Takes files as the records of sources, one at a time for each source. */
export class Loads {
  readonly #running = new Map<string, Running>();

  constructor(
    private readonly dataSource: DataSource,
    private readonly gateway: Gateway,
    private readonly sources: Sources,
    private readonly staging: Staging,
    private readonly locks: SourceLocks,
    /** The folder in which files lie while they are taken. */
    private readonly folder: string,
    private readonly now: () => number,
  ) {}

  /** Tells what a crash broke off, so that nobody waits for it. */
  async load(): Promise<void> {
    const problem = "the service ended before the file was taken; the records are as they were";
    await this.dataSource
      .getRepository(Load)
      .update({ state: "running" }, { state: "failed", problem, endedAt: this.now() });
  }

  /**
   * Takes a file. The records before stay in use until the last one is in, and a failure, a
   * cancellation or a crash at any moment leaves them as they were.
   */
  async take(
    name: string,
    mode: LoadMode,
    body: Readable,
    options: TakeOptions,
    signal: AbortSignal,
  ): Promise<LoadReport> {
    return this.#alone(name, mode, options.name, signal, async (source, running) => {
      const file = await this.#receive(body, running);
      try {
        const same = await this.#sameFile(source, file, mode, options.again);
        if (same !== null) return { ...same, unchanged: true };
        return await this.#record(source, mode, file, options, running);
      } finally {
        await file.remove();
      }
    });
  }

  /**
   * Understands columns otherwise from now on: every cell is read anew from its text as it came,
   * so that nothing has to be brought in again. As safe as taking a file.
   */
  async settle(
    name: string,
    columns: Readonly<Record<string, ColumnDeclaration>>,
    force: boolean,
  ): Promise<LoadReport> {
    const signal = new AbortController().signal;
    return this.#alone(name, "settle", null, signal, async (source, running) => {
      const declared = declaredColumns(source);
      const known = [...declared.keys()];
      const faults = settlingFaults(columns, known);
      if (faults.length > 0) throw problemOf(faults);
      const table = ownTableOf(this.sources.need(name));
      for (const [column, sent] of Object.entries(columns)) declared.set(column, sent);
      if (!force) this.sources.mustNotBreak(name, declared);
      const number = await this.staging.nextNumber(source);
      const fresh = makeTable(source, number, declared);
      await this.staging.create(fresh, source.keyColumn !== null);
      try {
        const filling = {
          headings: known,
          rows: rawRows(known, table, this.gateway),
          firstId: 1,
          columns: declared,
          key: source.keyColumn,
          onRecords: (records: number) => {
            update(running, {
              stage: "reading",
              records,
              share: records / Math.max(1, source.records),
            });
          },
          onRefused: refuseNone,
        };
        const { records, tallies } = await fillTable(filling, fresh, this.gateway);
        // What came before this load stays what can be restored: settling can be undone by settling.
        const { load, idsSince } = source;
        const filled = { recordsTable: fresh.table, records, load, idsSince };
        await this.staging.swap(source, { ...filled, columns: [...declared] }, source.before);
        const report = { source: name, load: null, records, added: 0, changed: 0, refused: 0 };
        return { ...report, columns: columnReports(tallies) };
      } catch (error) {
        await this.staging.drop(fresh.table);
        throw error;
      }
    });
  }

  /** Makes the records what they were before the last load; a second time undoes it. */
  async restore(name: string, force: boolean): Promise<LoadReport> {
    const signal = new AbortController().signal;
    return this.#alone(name, "settle", null, signal, async (source) => {
      const { before } = source;
      if (before === null) {
        throw new Problem(
          "not-found",
          `The source ${name} has no records from before its last load`,
        );
      }
      if (!force) this.sources.mustNotBreak(name, new Map(before.columns));
      const now = stateOf(source);
      await this.staging.adopt(source, before, now);
      const report = { source: name, load: before.load, records: before.records };
      return { ...report, added: 0, changed: 0, refused: 0, columns: {} };
    });
  }

  /** The load that runs on a source, or null. */
  progress(name: string): LoadProgress | null {
    return this.#running.get(name)?.progress ?? null;
  }

  /** Ends the load that runs on a source; the records stay as they were. */
  cancel(name: string): void {
    const running = this.#running.get(name);
    if (running === undefined)
      throw new Problem("not-found", `No file is being taken into ${name}`);
    running.cancel.abort();
  }

  /** Ends all loads, for the end of the service. */
  cancelAll(): void {
    for (const { cancel } of this.#running.values()) cancel.abort();
  }

  /** The loads of a source, the latest first. */
  async list(name: string): Promise<readonly LoadDescription[]> {
    const { id } = this.sources.need(name);
    const [source, loads] = await Promise.all([
      this.sources.find(id),
      this.dataSource
        .getRepository(Load)
        .find({ where: { source: { id } }, order: { number: "DESC" }, take: MOST_LOADS }),
    ]);
    return loads.map((load) => describeLoad(load, source?.load ?? null));
  }

  /** The rows of a load that were refused, and as the CSV file that can be repaired. */
  async refused(
    name: string,
    number: number,
  ): Promise<{ readonly rows: readonly RefusedDescription[]; readonly csv: () => string }> {
    const { id, columns } = this.sources.need(name);
    const load = await this.dataSource.getRepository(Load).findOneBy({ source: { id }, number });
    if (load === null) throw new Problem("not-found", `The source ${name} has no load ${number}`);
    const rows = await refusedRows(this.dataSource, load);
    const headings = load.report?.file?.headings ?? columns.map((column) => column.name);
    return { rows, csv: () => refusedCsv(headings, rows) };
  }

  /** Does something to a source that nothing else may do at the same time. */
  async #alone<T>(
    name: string,
    mode: LoadProgress["mode"],
    file: string | null,
    signal: AbortSignal,
    work: (source: Source, running: Running) => Promise<T>,
  ): Promise<T> {
    const { id } = this.sources.needOwn(name);
    if (this.#running.size >= MOST_AT_ONCE) {
      throw new Problem(
        "too-many-requests",
        `${MOST_AT_ONCE} files are being taken at this moment`,
        [],
        { "Retry-After": String(RETRY_AFTER_S) },
      );
    }
    const startedAt = new Date(this.now()).toISOString();
    const counts = { bytes: 0, share: 0, records: 0, refused: 0 };
    const progress = { mode, file, stage: "receiving", ...counts, startedAt } as const;
    const running: Running = { progress, cancel: new AbortController() };
    const hangUp = () => running.cancel.abort();
    return this.locks.whileReplacing(name, async () => {
      signal.addEventListener("abort", hangUp, { once: true });
      this.#running.set(name, running);
      try {
        const source = await this.sources.find(id);
        if (source === null) throw new Problem("not-found", `There is no source ${name}`);
        return await work(source, running);
      } finally {
        signal.removeEventListener("abort", hangUp);
        this.#running.delete(name);
      }
    });
  }

  async #receive(body: Readable, running: Running): Promise<SpooledFile> {
    try {
      return await spool(body, this.folder, (bytes) => {
        checkCancelled(running);
        update(running, { bytes });
      });
    } catch (error) {
      if (error instanceof Problem) throw error;
      const isHangUp = error instanceof Error && "code" in error && error.code === "ECONNRESET";
      if (!isHangUp) throw error;
      throw new Problem("unreadable-request", "The file did not arrive whole; nothing was taken");
    }
  }

  /** The report of the last load, if it took the very same file. */
  async #sameFile(
    source: Source,
    { sha256 }: SpooledFile,
    mode: LoadMode,
    again: boolean,
  ): Promise<LoadReport | null> {
    if (again || source.load === null) return null;
    const last = await this.dataSource
      .getRepository(Load)
      .findOneBy({ source: { id: source.id }, number: source.load });
    if (last?.sha256 !== sha256 || last.state !== "done" || last.report === null) return null;
    // Taking it again would change nothing, unless what it was added to is to go; appending would
    // double its records.
    if (mode === "replace" && last.mode !== "replace") return null;
    if (mode !== "append") return last.report;
    const takenAt = new Date(last.startedAt).toISOString();
    throw problemOf([fault("file.same", { load: last.number, takenAt })]);
  }

  /** Takes a file that has arrived, and writes down what came of it. */
  async #record(
    source: Source,
    mode: LoadMode,
    file: SpooledFile,
    options: TakeOptions,
    running: Running,
  ): Promise<LoadReport> {
    const repository = this.dataSource.getRepository(Load);
    const number = await this.staging.nextNumber(source);
    const load = await repository.save(
      repository.create({
        source: { id: source.id },
        number,
        mode,
        state: "running",
        file: options.name?.slice(0, 255) ?? null,
        bytes: file.bytes,
        sha256: file.sha256,
        startedAt: this.now(),
        endedAt: null,
        refused: 0,
        report: null,
        problem: null,
      }),
    );
    const refusals = new Refusals(this.dataSource, load);
    const end = async (fields: Partial<Load>) => {
      await refusals.flush();
      const ended = { endedAt: this.now(), refused: refusals.count };
      await repository.update({ id: load.id }, { ...ended, ...fields });
    };
    try {
      const table = chosenColumns(await openFile(file, options.file), options.columns);
      const report = await this.#fill(
        source,
        mode,
        number,
        table,
        refusals,
        running,
        options.force,
      );
      await end({ state: "done", report });
      await this.#forget(source, number);
      return report;
    } catch (error) {
      const isCancelled = running.cancel.signal.aborted;
      const problem =
        error instanceof Problem ? error.detail : "something went wrong in the service";
      await end({ state: isCancelled ? "cancelled" : "failed", problem });
      throw error;
    }
  }

  /** Fills fresh tables with the records of a file, and makes the last one the source's own. */
  async #fill(
    source: Source,
    mode: LoadMode,
    number: number,
    file: FileTable,
    refusals: Refusals,
    running: Running,
    force: boolean,
  ): Promise<LoadReport> {
    const current = this.sources.need(source.name).own;
    const isFresh = mode === "replace" || current === null;
    if (mode === "update" && source.keyColumn === null) {
      throw new Problem(
        "invalid-value",
        `The source ${source.name} has no key to update records by`,
      );
    }
    const tables: string[] = [];
    const work: FillWork = { source, number, file, refusals, running, tables };
    try {
      const filled = isFresh
        ? await this.#fillFresh(work)
        : await this.#fillBeside(work, current, mode === "update");
      const { table, columns, added, changed, tallies } = filled;
      if (!force) this.sources.mustNotBreak(source.name, columns);
      const records = (isFresh ? 0 : source.records) + added;
      checkCancelled(running);
      update(running, { stage: "ending", records: added, share: 1, refused: refusals.count });
      const state = {
        recordsTable: table.table,
        records,
        load: number,
        idsSince: isFresh ? number : source.idsSince,
        columns: [...columns],
      };
      await this.staging.swap(source, state, stateOf(source));
      const dateCells = Object.fromEntries(file.dateCells());
      return {
        source: source.name,
        load: number,
        records,
        added,
        changed,
        refused: refusals.count,
        columns: columnReports(tallies),
        file: {
          ...file.description,
          headings: file.headings,
          remarks: [...file.description.remarks, ...mixedRemarks(columns, file)],
        },
        ...(Object.keys(dateCells).length === 0 ? {} : { dateCells }),
      };
    } catch (error) {
      for (const table of tables) await this.staging.drop(table);
      throw error;
    }
  }

  /** Fills a table of its own with the records of a file. */
  async #fillFresh(work: FillWork): Promise<FilledTable> {
    const { source, number, file } = work;
    const { keyColumn: key } = source;
    const declared = withoutStated(declaredColumns(source));
    const faults = columnFaults(file.headings, declared, key, "replace");
    if (faults.length > 0) throw problemOf(faults);
    const first = statedColumns(declared, file, key);
    const table = await this.#newTable(work, number, first);
    const { records, tallies } = await this.#write(work, table, first, null);
    const columns = statedColumns(declared, file, key);
    checkDateSystems(file, columns);
    const filled = { table, columns, added: records, changed: 0, tallies };
    if (!differs(columns, first)) return filled;
    // What the first cells of a sheet stated is not what all of them do.
    const anew = await this.#newTable(work, await this.staging.nextNumber(source), columns);
    const rows = rawRows(file.headings, table, this.gateway);
    const filling = { headings: file.headings, rows, firstId: 1, columns, key };
    const again = await fillTable({ ...filling, ...REREADING }, anew, this.gateway);
    await this.staging.drop(table.table);
    return { ...filled, table: anew, tallies: again.tallies };
  }

  /** Fills a copy of the records that there are with those of a file. */
  async #fillBeside(work: FillWork, current: OwnTable, byKey: boolean): Promise<FilledTable> {
    const { source, number, file } = work;
    const columns = declaredColumns(source);
    const mode = byKey ? "update" : "append";
    const faults = columnFaults(file.headings, columns, source.keyColumn, mode);
    if (faults.length > 0) throw problemOf(faults);
    const table = await this.#newTable(work, number, columns);
    await this.dataSource.query(copyAll(current, table));
    if (!byKey) {
      const { records, tallies } = await this.#write(work, table, columns, table);
      checkDateSystems(file, columns);
      return { table, columns, added: records, changed: 0, tallies };
    }
    const own = only(columns, file.headings);
    const into = await this.#newTable(work, await this.staging.nextNumber(source), own);
    const { records, tallies } = await this.#write(work, into, columns, table);
    checkDateSystems(file, columns);
    const [merge] = await this.dataSource.query<{ known: string; changed: string }[]>(
      countMerge(into, table),
    );
    await this.dataSource.query(mergeByKey(into, table));
    await this.staging.drop(into.table);
    const added = records - Number(merge?.known ?? 0);
    return { table, columns, added, changed: Number(merge?.changed ?? 0), tallies };
  }

  async #newTable(
    { source, tables }: FillWork,
    number: number,
    columns: ReadonlyMap<string, ColumnDeclaration>,
  ): Promise<OwnTable> {
    const table = makeTable(source, number, columns);
    tables.push(table.table);
    await this.staging.create(table, source.keyColumn !== null);
    return table;
  }

  /** Writes the records of a file; numbers go on from those of a table where there is one. */
  async #write(
    { source, file, refusals, running }: FillWork,
    into: OwnTable,
    columns: ReadonlyMap<string, ColumnDeclaration>,
    goesOnFrom: OwnTable | null,
  ): Promise<Filled> {
    const filling = {
      headings: file.headings,
      rows: file.rows,
      firstId: await this.staging.firstId(source, goesOnFrom),
      columns,
      key: source.keyColumn,
      onRecords: (records: number) => {
        checkCancelled(running);
        const share = file.progress();
        update(running, { stage: "reading", records, share, refused: refusals.count });
      },
      onRefused: (row: FileRow) => {
        checkCancelled(running);
        return refusals.add(row);
      },
    };
    const filled = await fillTable(filling, into, this.gateway);
    if (filled.records === 0 && refusals.count > 0) throw nothingTaken(refusals);
    return filled;
  }

  /** Forgets the loads of long ago. */
  async #forget(source: Source, number: number): Promise<void> {
    await this.dataSource
      .getRepository(Load)
      .createQueryBuilder()
      .delete()
      .where("sourceId = :id AND number < :oldest", { id: source.id, oldest: number - MOST_LOADS })
      .execute();
  }
}

/** What a file is filled into tables with. */
interface FillWork {
  readonly source: Source;
  readonly number: number;
  readonly file: FileTable;
  readonly refusals: Refusals;
  readonly running: Running;
  /** The names of the tables that were made so far, to be dropped where it fails. */
  readonly tables: string[];
}

/** A table with the records that a source is to have. */
interface FilledTable {
  readonly table: OwnTable;
  readonly columns: ReadonlyMap<string, KeptColumn>;
  readonly added: number;
  readonly changed: number;
  readonly tallies: Filled["tallies"];
}

/** For records that are read anew: one that was taken once can only have become too wide. */
function refuseNone({ refused }: FileRow): Promise<never> {
  return Promise.reject(problemOf(refused === undefined ? [] : [refused]));
}

const REREADING = { onRecords: () => undefined, onRefused: refuseNone };

/** Whether some columns are of other types than others of their names. */
function differs(
  some: ReadonlyMap<string, ColumnDeclaration>,
  others: ReadonlyMap<string, ColumnDeclaration>,
): boolean {
  return [...some].some(([name, { type }]) => type !== others.get(name)?.type);
}

function update(running: Running, fields: Partial<LoadProgress>): void {
  running.progress = { ...running.progress, ...fields };
}

function checkCancelled({ cancel }: Running): void {
  if (!cancel.signal.aborted) return;
  throw new Problem("cancelled", "The load was cancelled; the records are as they were");
}

/** A file that would leave nothing is the wrong file, or read in the wrong way. */
function nothingTaken({ first }: Refusals): Problem {
  const reason = `no row of the file can be taken; ${first}`;
  return problemOf([fault("file.broken", { line: null, reason })]);
}
