import { setTimeout as sleep } from "node:timers/promises";
import type { MadeIndex, SourceIndexes } from "@orisma/contract";
import { fault, type Fault, type ImportedTable } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import type { DiskSpace } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import { importedTableOf, type KnownSource } from "./columns.js";
import { Source } from "./entities.js";
import { MAX_INDEXES, canBeMade, indexBytes, type IndexColumns } from "./indexes.js";
import type { SourceLocks } from "./locks.js";
import type { Sources } from "./service.js";

/** An index that would have served slow requests. */
export interface IndexProposal {
  readonly columns: IndexColumns;
  readonly requests: number;
  readonly slowestMs: number;
  /** The column by which they were filtered; the values that were sent are people's own. */
  readonly column: string;
}

/** Indexes that were requested for a source at most. */
const MAX_REQUESTED = 20;

/** Milliseconds between two tries. */
const PAUSES_MS = [1_000, 3_000, 10_000, 30_000, 60_000, 120_000];

/** Makes indexes of tables that are in use, one at a time, and keeps those that were requested. */
export class Indexing {
  readonly #building = new Map<string, readonly IndexColumns[]>();
  /** Those that somebody waits for, by source and columns: each can be cancelled. */
  readonly #waited = new Map<
    string,
    { readonly cancel: () => void; readonly ended: Promise<void> }
  >();
  /** The last one, which the next waits for. */
  #last: Promise<unknown> = Promise.resolve();
  #isStopped = false;

  constructor(
    private readonly parts: {
      readonly dataSource: DataSource;
      readonly sources: Sources;
      readonly locks: SourceLocks;
      readonly disk: DiskSpace;
      readonly proposals: (source: string) => readonly IndexProposal[];
      readonly onFailure: (source: string, error: unknown) => void;
    },
  ) {}

  /** The indexes of a source, and those that would serve slow requests. */
  async list(name: string): Promise<SourceIndexes> {
    const { sources, proposals } = this.parts;
    const known = sources.needOwn(name);
    const { records, indexes: requested } = await this.#find(name);
    const { imported: table } = known;
    if (table === null) return { indexes: [], proposals: [] };
    const isRequested = among(requested ?? []);
    const isDate = ([column, ...others]: IndexColumns) =>
      others.length === 0 && table.columns.get(column ?? "")?.column.type === "date";
    const described = (columns: IndexColumns, state: "ready" | "building") => ({
      columns: [...columns],
      purpose: isRequested(columns)
        ? ("requested" as const)
        : isDate(columns)
          ? ("dates" as const)
          : ("listings" as const),
      state,
      bytes: indexBytes(columns, table, records),
    });
    const ready = [...known.indexes.values()];
    const isReady = among(ready);
    const building = (this.#building.get(name) ?? []).filter((columns) => !isReady(columns));
    return {
      indexes: [
        ...ready.map((columns) => described(columns, "ready")),
        ...building.map((columns) => described(columns, "building")),
      ],
      proposals: proposals(name)
        .filter(({ columns }) => !isReady(columns))
        .map(({ columns, ...rest }) => ({
          ...rest,
          columns: [...columns],
          bytes: indexBytes(columns, table, records),
        })),
    };
  }

  /**
   * Makes an index, and keeps that it is wanted: the tables of later imports have it too. Throws a problem
   * for columns that the source does not have, and where there is no disk space for it.
   */
  async add(name: string, columns: IndexColumns): Promise<MadeIndex> {
    const { sources, dataSource, disk } = this.parts;
    const known = sources.needOwn(name);
    const table = importedTableOf(known);
    const faults = columnFaults(columns, table);
    if (faults.length > 0) throw problemOf(faults);
    mustBeMade(columns, table);
    if (among([...known.indexes.values()])(columns)) {
      throw new Problem("already-there", `${name} has an index on ${columns.join(", ")} already`);
    }
    if (among(this.#building.get(name) ?? [])(columns)) {
      throw new Problem("already-there", `An index on ${columns.join(", ")} is being made`);
    }
    if (known.indexes.size >= MAX_INDEXES) {
      const detail = `The table of ${name} has ${MAX_INDEXES} indexes, the most there can be: delete one`;
      throw new Problem("too-large", detail);
    }
    const { id, records, indexes } = await this.#find(name);
    if ((indexes ?? []).length >= MAX_REQUESTED) {
      const detail = `${name} has ${MAX_REQUESTED} requested indexes, the most there can be: delete one`;
      throw new Problem("too-large", detail);
    }
    const bytes = indexBytes(columns, table, records);
    // It is sorted beside the table, and written.
    await disk.mustFit(Math.ceil(bytes / 2));
    const begun = performance.now();
    await this.#waitFor(name, columns, async (signal) => {
      await this.#make(name, [columns], signal);
      await dataSource
        .getRepository(Source)
        .update({ id }, { indexes: [...(indexes ?? []), [...columns]] });
    });
    const seconds = Math.round(performance.now() - begun) / 1_000;
    return { columns: [...columns], bytes, seconds };
  }

  /** Does what somebody waits for, and may cancel. */
  async #waitFor(
    name: string,
    columns: IndexColumns,
    work: (signal: AbortSignal) => Promise<void>,
  ): Promise<void> {
    const key = waitedKey(name, columns.join(","));
    const cancelled = new AbortController();
    const working = work(cancelled.signal);
    const ended = working.catch(() => undefined);
    this.#waited.set(key, { cancel: () => cancelled.abort(), ended });
    try {
      await working;
    } catch (error) {
      if (!cancelled.signal.aborted) throw error;
      const detail = `The index on ${columns.join(", ")} was cancelled; there is none`;
      throw new Problem("cancelled", detail);
    } finally {
      this.#waited.delete(key);
    }
  }

  /** Deletes an index that was requested, by its columns with commas between them; cancels one that is being made. */
  async remove(name: string, written: string): Promise<void> {
    const { sources, dataSource, locks } = this.parts;
    const waited = this.#waited.get(waitedKey(name, written));
    waited?.cancel();
    await waited?.ended;
    const table = importedTableOf(sources.needOwn(name));
    const { id, indexes } = await this.#find(name);
    const found = (indexes ?? []).find((columns) => columns.join(",") === written);
    if (found === undefined && waited !== undefined) return;
    if (found === undefined) {
      const known = (indexes ?? []).map((columns) => columns.join(","));
      throw problemOf([fault("name.unknown", { what: "requested index", name: written, known })]);
    }
    await locks.whileWriting(name, async () => {
      await sources.indexes.drop(found, table);
      const others = (indexes ?? []).filter((columns) => columns !== found);
      await dataSource.getRepository(Source).update({ id }, { indexes: others });
      await sources.refresh(id);
    });
  }

  /** Makes what a source lacks of the indexes that it is to have, in the background. */
  ensure(name: string): void {
    const { sources, onFailure } = this.parts;
    const work = async () => {
      const known = sources.get(name);
      if (known?.imported == null || this.#isStopped) return;
      const missing = this.#missing(known, await this.#find(name));
      if (missing.length > 0) await this.#make(name, missing);
    };
    work().catch((error: unknown) => {
      // What could not be made now is, when the next file is imported or the service started.
      if (!this.#isStopped) onFailure(name, error);
    });
  }

  /** Makes no more; what is being made ends with the database. */
  stop(): void {
    this.#isStopped = true;
  }

  #missing({ imported, indexes }: KnownSource, source: Source): readonly IndexColumns[] {
    if (imported === null) return [];
    const has = among([...indexes.values()]);
    const { sources } = this.parts;
    return sources.indexes
      .wanted(source, imported, source.records)
      .filter((columns) => !has(columns))
      .slice(0, Math.max(0, MAX_INDEXES - indexes.size));
  }

  /** One after the other, and never on a table that is being replaced. */
  async #make(name: string, wanted: readonly IndexColumns[], signal?: AbortSignal): Promise<void> {
    const { sources, locks } = this.parts;
    const others = this.#building.get(name) ?? [];
    this.#building.set(name, [...others, ...wanted]);
    const make = () =>
      locks.whileWriting(name, async () => {
        const { id, imported } = sources.need(name);
        if (imported === null) return;
        await sources.indexes.make(wanted, imported, signal);
        await sources.refresh(id);
      });
    const made = this.#last.then(() => this.#patiently(make, signal));
    this.#last = made.catch(() => undefined);
    try {
      await made;
    } finally {
      const left = (this.#building.get(name) ?? []).filter((columns) => !wanted.includes(columns));
      if (left.length === 0) this.#building.delete(name);
      else this.#building.set(name, left);
    }
  }

  /** Does something again after a pause where the table is busy, until that has lasted for long. */
  async #patiently(work: () => Promise<void>, signal?: AbortSignal): Promise<void> {
    for (const pauseMs of PAUSES_MS) {
      try {
        await work();
        return;
      } catch (error) {
        const isBusy = error instanceof Problem && error.problem === "busy";
        if (!isBusy || this.#isStopped) throw error;
        await sleep(pauseMs, undefined, {
          ref: false,
          ...(signal === undefined ? {} : { signal }),
        });
      }
    }
    await work();
  }

  async #find(name: string): Promise<Source> {
    const { sources } = this.parts;
    const found = await sources.find(sources.need(name).id);
    if (found === null) throw new Problem("not-found", `There is no source ${name}`);
    return found;
  }
}

function waitedKey(name: string, columns: string): string {
  return JSON.stringify([name, columns]);
}

function among(indexes: readonly IndexColumns[]): (columns: IndexColumns) => boolean {
  const known = new Set(indexes.map((columns) => JSON.stringify(columns)));
  return (columns) => known.has(JSON.stringify(columns));
}

function columnFaults(columns: IndexColumns, { columns: stored }: ImportedTable): readonly Fault[] {
  const known = [...stored.keys()];
  return columns.flatMap((name, index) =>
    stored.has(name)
      ? []
      : [fault("column.unknown", { name, known }, { path: `columns[${index}]`, value: name })],
  );
}

function mustBeMade(columns: IndexColumns, table: ImportedTable): void {
  if (new Set(columns).size < columns.length) {
    throw new Problem("invalid-value", "An index has each of its columns once");
  }
  if (canBeMade(columns, table)) return;
  const detail =
    "The key of such an index is longer than the database can have: name fewer columns";
  throw new Problem("invalid-value", detail);
}
