import {
  FileImport,
  type Source,
  type SourceLocks,
  type Sources,
  declaredColumns,
  dictionaryBuilders,
  importedTableOf,
  columnFaults,
  coreColumn,
  storedTable,
  type SourceState,
} from "../sources/index.js";
import type {
  ColumnDeclaration,
  EditPolicy,
  FileOptions,
  ImportDescription,
  ImportMode,
  ImportProgress,
  ImportReport,
} from "@orisma/contract";
import type { Readable } from "node:stream";
import { fault } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import { DISK_FULL, isDiskFull, type DiskSpace, type Gateway } from "../database/index.js";
import { openFile, spool, type FileTable, type SpooledFile } from "./files/index.js";
import { Problem, problemOf } from "../http/index.js";
import { fillTable } from "./fill.js";
import { chosenColumns, mixedRemarks } from "./matching.js";
import { Refusals, refusedCsv, refusedRows, type RefusedDescription } from "./refusals.js";
import {
  Filling,
  refuseNone,
  checkCancelled,
  update,
  type FillWork,
  type Running,
} from "./filling.js";
import { describeImport } from "./history.js";
import type { EditKeeper, KeptEdits } from "./keeping.js";
import { columnReports } from "./report.js";
import { rawRows } from "./reread.js";
import { makeTable, stateOf, type Staging } from "./staging.js";

/** How a file is to be taken. */
export interface ImportOptions {
  readonly file: FileOptions;
  /** The columns of the file that are taken; all where none is named. */
  readonly columns: readonly string[];
  /** Take a file although it is the one that was taken last. */
  readonly again: boolean;
  /** Take a file although listings would no longer be served. */
  readonly force: boolean;
  /** What becomes of edits that it would overwrite; as the source says by default. */
  readonly edits?: EditPolicy | undefined;
  /** Bytes of the file as announced; 0 where they are not. */
  readonly bytes: number;
  /** The file's name, for people. */
  readonly name: string | null;
}

/** Imports that run at once, each with two connections of the database. */
/** A column of this name is the key of a source that has none, since a record's id is its key. */
const IMPLIED_KEY = "id";
const MAX_AT_ONCE = 4;
const RETRY_AFTER_S = 10;
/** Imports of a source that are remembered. */
const MAX_IMPORTS = 50;

/** Takes files as the records of sources, one at a time for each source. */
export class Imports {
  readonly #running = new Map<string, Running>();
  readonly #filling: Filling;
  /** Keeps edits when records are replaced; there are none until it is registered. */
  #keeper: EditKeeper = { keep: () => Promise.resolve(null) };

  constructor(
    private readonly dataSource: DataSource,
    private readonly gateway: Gateway,
    private readonly sources: Sources,
    private readonly staging: Staging,
    private readonly locks: SourceLocks,
    /** The folder in which files lie while they are taken. */
    private readonly folder: string,
    private readonly disk: DiskSpace,
    private readonly now: () => number,
  ) {
    this.#filling = new Filling(gateway, staging);
  }

  /** Registers what keeps edits when records are replaced. */
  keepEdits(keeper: EditKeeper): void {
    this.#keeper = keeper;
  }

  /** Marks what a crash broke off, so that nobody waits for it. */
  async load(): Promise<void> {
    const problem = "the service ended before the file was imported; the records are as they were";
    await this.dataSource
      .getRepository(FileImport)
      .update({ state: "running" }, { state: "failed", problem, endedAt: this.now() });
  }

  /**
   * Imports a file. The records before stay in use until the last one is in, and a failure, a
   * cancellation or a crash at any moment leaves them as they were.
   */
  async take(
    name: string,
    mode: ImportMode,
    body: Readable,
    options: ImportOptions,
    signal: AbortSignal,
  ): Promise<ImportReport> {
    this.sources.needOwn(name);
    await this.disk.mustFit(options.bytes);
    return this.#alone(name, mode, options.name, signal, async (source, running) => {
      const file = await this.#receive(body, running);
      try {
        await this.disk.mustFit(file.bytes);
        const same = await this.#sameFile(source, file, mode, options.again);
        if (same !== null) return { ...same, unchanged: true };
        return await this.#record(source, mode, file, options, running);
      } finally {
        await file.remove();
      }
    });
  }

  /**
   * Understands columns otherwise from now on: every cell is read again from its text as it came,
   * so that nothing has to be imported again. As safe as taking a file.
   */
  async setReadings(
    name: string,
    columns: Readonly<Record<string, ColumnDeclaration>>,
    force: boolean,
  ): Promise<ImportReport> {
    const signal = new AbortController().signal;
    return this.#alone(name, "readings", null, signal, async (source, running) => {
      const declared = declaredColumns(source);
      const known = [...declared.keys()];
      const faults = columnFaults(columns, known);
      if (faults.length > 0) throw problemOf(faults);
      const table = importedTableOf(this.sources.need(name));
      for (const [column, sent] of Object.entries(columns)) declared.set(column, sent);
      if (!force) this.sources.mustNotBreak(name, declared);
      const number = await this.staging.nextNumber(source);
      const dictionaries = dictionaryBuilders(declared, source.keyColumn);
      const fresh = makeTable(source, number, declared, dictionaries);
      await this.staging.create(fresh, source.keyColumn !== null);
      try {
        const filling = {
          headings: known,
          rows: rawRows(known, table, this.gateway),
          firstId: 1,
          columns: declared,
          key: source.keyColumn,
          dictionaries,
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
        await this.staging.finish(source, fresh, dictionaries, records);
        // What came before this import stays what can be restored: a change of readings is undone by another.
        const { importNumber, idsSince } = source;
        const filled = { recordsTable: fresh.table, records, importNumber, idsSince };
        await this.staging.swap(source, { ...filled, columns: [...declared] }, source.before);
        const report = {
          source: name,
          importNumber: null,
          records,
          added: 0,
          changed: 0,
          refused: 0,
        };
        return { ...report, columns: columnReports(tallies) };
      } catch (error) {
        await this.staging.drop(fresh.table);
        throw error;
      }
    });
  }

  /** Makes the records what they were before the last import; a second time undoes it. */
  async restore(name: string, force: boolean, edits?: EditPolicy): Promise<ImportReport> {
    const signal = new AbortController().signal;
    return this.#alone(name, "readings", null, signal, async (source) => {
      const { before } = source;
      if (before === null) {
        throw new Problem(
          "not-found",
          `The source ${name} has no records from before its last import`,
        );
      }
      if (!force) this.sources.mustNotBreak(name, new Map(before.columns));
      const kept = await this.#keepRestoring(source, before, edits ?? source.onImport);
      const now = stateOf(source);
      // Whoever holds the records by a number of their revision sees that they are others.
      await this.staging.nextNumber(source);
      await this.staging.adopt(source, before, now);
      const report = { source: name, importNumber: before.importNumber, records: before.records };
      return { ...report, added: 0, changed: 0, refused: 0, columns: {}, ...keptIn(kept) };
    });
  }

  /** Keeps the edits that were made since what is restored was replaced. */
  async #keepRestoring(
    source: Source,
    before: SourceState,
    policy: EditPolicy,
  ): Promise<KeptEdits | null> {
    const { imported, ids } = this.sources.need(source.name);
    if (imported === null) return null;
    const columns = new Map(before.columns);
    const known = await this.sources.dictionaries.of([before.recordsTable]);
    const values = known.get(before.recordsTable) ?? new Map<string, readonly string[]>();
    const dictionaries = dictionaryBuilders(columns, source.keyColumn, values);
    const all = before.columns.map(([name, column]) => coreColumn(name, column));
    const live = new Map([...dictionaries].map(([name, each]) => [name, each.values]));
    const to = storedTable(before.recordsTable, all, live);
    const hasSameIds = source.keyColumn !== null || before.idsSince === source.idsSince;
    const replaced = { source, ids, from: imported, to, columns, dictionaries, hasSameIds };
    const kept = await this.#keeper.keep(replaced, policy);
    if (kept !== null && kept.preserved > 0) {
      const whole = [...dictionaries].filter(([, { isWhole }]) => isWhole);
      const grown = new Map(whole.map(([name, each]) => [name, each.values]));
      await this.sources.dictionaries.keep(before.recordsTable, grown);
    }
    return kept;
  }

  /** How many imports run now. */
  get running(): number {
    return this.#running.size;
  }

  /** The import that runs on a source, or null. */
  progress(name: string): ImportProgress | null {
    return this.#running.get(name)?.progress ?? null;
  }

  /** Cancels the import that runs on a source; the records stay as they were. */
  cancel(name: string): void {
    const running = this.#running.get(name);
    if (running === undefined)
      throw new Problem("not-found", `No file is being imported into ${name}`);
    running.cancel.abort();
  }

  /** Cancels all imports, for the end of the service. */
  cancelAll(): void {
    for (const { cancel } of this.#running.values()) cancel.abort();
  }

  /** The imports of a source, the latest first. */
  async list(name: string): Promise<readonly ImportDescription[]> {
    const { id } = this.sources.need(name);
    const [source, imports] = await Promise.all([
      this.sources.find(id),
      this.dataSource
        .getRepository(FileImport)
        .find({ where: { source: { id } }, order: { number: "DESC" }, take: MAX_IMPORTS }),
    ]);
    return imports.map((fileImport) => describeImport(fileImport, source?.importNumber ?? null));
  }

  /** The rows of an import that were refused, and as the CSV file that can be repaired. */
  async refused(
    name: string,
    number: number,
  ): Promise<{ readonly rows: readonly RefusedDescription[]; readonly csv: () => string }> {
    const { id, columns } = this.sources.need(name);
    const fileImport = await this.dataSource
      .getRepository(FileImport)
      .findOneBy({ source: { id }, number });
    if (fileImport === null)
      throw new Problem("not-found", `The source ${name} has no import ${number}`);
    const rows = await refusedRows(this.dataSource, fileImport);
    const headings = fileImport.report?.file?.headings ?? columns.map((column) => column.name);
    return { rows, csv: () => refusedCsv(headings, rows) };
  }

  /** Does something to a source that nothing else may do at the same time. */
  async #alone<T>(
    name: string,
    mode: ImportProgress["mode"],
    file: string | null,
    signal: AbortSignal,
    work: (source: Source, running: Running) => Promise<T>,
  ): Promise<T> {
    const { id } = this.sources.needOwn(name);
    if (this.#running.size >= MAX_AT_ONCE) {
      throw new Problem("too-many-requests", `${MAX_AT_ONCE} files are being imported now`, [], {
        "Retry-After": String(RETRY_AFTER_S),
      });
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
      const onBytes = (bytes: number) => {
        checkCancelled(running);
        update(running, { bytes });
      };
      return await spool(body, this.folder, { onBytes });
    } catch (error) {
      if (error instanceof Problem) throw error;
      const isHangUp = error instanceof Error && "code" in error && error.code === "ECONNRESET";
      if (!isHangUp) throw error;
      throw new Problem(
        "unreadable-request",
        "The file did not arrive whole; nothing was imported",
      );
    }
  }

  /** The report of the last import, if it took the very same file. */
  async #sameFile(
    source: Source,
    { sha256 }: SpooledFile,
    mode: ImportMode,
    again: boolean,
  ): Promise<ImportReport | null> {
    if (again || source.importNumber === null) return null;
    const last = await this.dataSource
      .getRepository(FileImport)
      .findOneBy({ source: { id: source.id }, number: source.importNumber });
    if (last?.sha256 !== sha256 || last.state !== "done" || last.report === null) return null;
    // Taking it again would change nothing, unless what it was added to is to go; appending would
    // double its records.
    if (mode === "replace" && last.mode !== "replace") return null;
    if (mode !== "append") return last.report;
    const importedAt = new Date(last.startedAt).toISOString();
    throw problemOf([fault("file.same", { importNumber: last.number, importedAt })]);
  }

  /** Imports a file that has arrived, and writes down what came of it. */
  async #record(
    source: Source,
    mode: ImportMode,
    file: SpooledFile,
    options: ImportOptions,
    running: Running,
  ): Promise<ImportReport> {
    const repository = this.dataSource.getRepository(FileImport);
    const number = await this.staging.nextNumber(source);
    const fileImport = await repository.save(
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
    const refusals = new Refusals(this.dataSource, fileImport);
    const end = async (fields: Partial<FileImport>) => {
      await refusals.flush();
      const ended = { endedAt: this.now(), refused: refusals.count };
      await repository.update({ id: fileImport.id }, { ...ended, ...fields });
    };
    try {
      const table = chosenColumns(await openFile(file, options.file), options.columns);
      const report = await this.#fill(source, mode, number, table, refusals, running, options);
      await end({ state: "done", report });
      await this.#forget(source, number);
      return report;
    } catch (error) {
      const isCancelled = running.cancel.signal.aborted;
      const ended = end({ state: isCancelled ? "cancelled" : "failed", problem: reasonOf(error) });
      // What cannot even be written down is still answered with why it failed.
      await ended.catch(() => undefined);
      throw error;
    }
  }

  /** Fills fresh tables with the records of a file, and makes the last one the source's own. */
  async #fill(
    source: Source,
    mode: ImportMode,
    number: number,
    file: FileTable,
    refusals: Refusals,
    running: Running,
    { force, edits }: Pick<ImportOptions, "force" | "edits">,
  ): Promise<ImportReport> {
    const { imported: current, ids } = this.sources.need(source.name);
    const isFresh = mode === "replace" || current === null;
    if (mode === "update" && source.keyColumn === null) {
      throw new Problem(
        "invalid-value",
        `The source ${source.name} has no key to update records by`,
      );
    }
    const tables: string[] = [];
    const hasImpliedKey =
      current === null && source.keyColumn === null && file.headings.includes(IMPLIED_KEY);
    if (hasImpliedKey) source.keyColumn = IMPLIED_KEY;
    const work: FillWork = { source, number, file, refusals, running, tables, hasImpliedKey };
    try {
      const filled = isFresh
        ? await this.#filling.fresh(work)
        : await this.#filling.beside(work, current, mode === "update");
      const { table, columns, added, changed, tallies, dictionaries } = filled;
      if (!force) this.sources.mustNotBreak(source.name, columns);
      const records = (isFresh ? 0 : source.records) + added;
      checkCancelled(running);
      update(running, { stage: "ending", records: added, share: 1, refused: refusals.count });
      const hasSameIds = !isFresh || source.keyColumn !== null;
      const kept =
        current === null
          ? null
          : await this.#keeper.keep(
              { source, ids, from: current, to: table, columns, dictionaries, hasSameIds },
              edits ?? source.onImport,
            );
      await this.staging.finish(source, table, dictionaries, records);
      checkCancelled(running);
      const state = {
        recordsTable: table.table,
        records,
        importNumber: number,
        idsSince: isFresh ? number : source.idsSince,
        columns: [...columns],
      };
      await this.staging.swap(source, state, stateOf(source));
      const dateCells = Object.fromEntries(file.dateCells());
      return {
        source: source.name,
        importNumber: number,
        records,
        added,
        changed,
        refused: refusals.count,
        columns: columnReports(tallies),
        file: {
          ...file.description,
          headings: file.headings,
          remarks: [
            ...file.description.remarks,
            ...(hasImpliedKey ? ["The column “id” is the key: its values are all different."] : []),
            ...mixedRemarks(columns, file),
          ],
        },
        ...(Object.keys(dateCells).length === 0 ? {} : { dateCells }),
        ...keptIn(kept),
      };
    } catch (error) {
      for (const table of tables) await this.staging.drop(table).catch(() => undefined);
      throw error;
    }
  }

  /** Forgets the imports of long ago. */
  async #forget(source: Source, number: number): Promise<void> {
    await this.dataSource
      .getRepository(FileImport)
      .createQueryBuilder()
      .delete()
      .where("sourceId = :id AND number < :oldest", { id: source.id, oldest: number - MAX_IMPORTS })
      .execute();
  }
}

/** What a report says of edits, where there is something to say. */
function keptIn(kept: KeptEdits | null): Pick<ImportReport, "edits"> {
  return kept === null ? {} : { edits: kept };
}

/** Why an import failed, for its history. */
function reasonOf(error: unknown): string {
  if (error instanceof Problem) return error.detail;
  return isDiskFull(error) ? DISK_FULL : "something went wrong in the service";
}
