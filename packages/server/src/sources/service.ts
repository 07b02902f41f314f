import type { Readable } from "node:stream";
import {
  compileReading,
  fault,
  placed,
  renderFault,
  type Fault,
  type RenderedFault,
  type SourceProfile,
} from "@orisma/core";
import type { DataSource } from "typeorm";
import type { Gateway } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import { readingOf, type ReadingSent } from "../dates/index.js";
import {
  columnEntity,
  coreColumn,
  describe,
  knownSource,
  newColumn,
  type KnownSource,
  type SourceDescription,
} from "./columns.js";
import { Source, SourceColumn } from "./entities.js";
import { loadRecords, openFile, type OpenedFile } from "./load.js";
import { profileSource } from "./profile.js";
import { rawRecords } from "./reread.js";
import type { NewColumn, NewSource } from "./schema.js";
import { createTable, isRecordsTable, storedTable, tableName } from "./tables.js";

/** What was made of a file. */
export interface LoadReport {
  readonly source: string;
  readonly records: number;
  readonly columns: Readonly<
    Record<
      string,
      {
        readonly read: number;
        readonly blank: number;
        readonly unreadable: number;
        readonly examples: readonly ({ readonly line: number } & RenderedFault)[];
      }
    >
  >;
}

/** Brings records in: declares sources and takes their files. */
export class Sources {
  readonly #known = new Map<string, KnownSource>();
  /** Sources whose file is being taken. */
  readonly #busy = new Set<string>();

  constructor(
    private readonly dataSource: DataSource,
    private readonly gateway: Gateway,
    private readonly now: () => number,
  ) {}

  /** Reads the sources from the database, and drops what a crash during an import left behind. */
  async load(): Promise<void> {
    const found = await this.#find();
    this.#known.clear();
    for (const source of found) this.#known.set(source.name, knownSource(source));
    const used = new Set(found.map(({ recordsTable }) => recordsTable));
    const rows = await this.dataSource.query<{ name: string }[]>(
      "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()",
    );
    for (const { name } of rows) {
      if (isRecordsTable(name) && !used.has(name)) await this.#drop(name);
    }
  }

  /** A source by name, or null. */
  get(name: string): KnownSource | null {
    return this.#known.get(name) ?? null;
  }

  /** A source by name; throws a problem with the nearest name where there is none. */
  need(name: string): KnownSource {
    const found = this.#known.get(name);
    if (found !== undefined) return found;
    throw problemOf([
      fault("name.unknown", { what: "source", name, known: [...this.#known.keys()] }),
    ]);
  }

  /** Every source, by name. */
  async list(): Promise<readonly SourceDescription[]> {
    return (await this.#find()).map(describe);
  }

  /** One source. */
  async describe(name: string): Promise<SourceDescription> {
    this.need(name);
    const found = (await this.#find()).find((source) => source.name === name);
    if (found === undefined) throw new Problem("not-found", `There is no source ${name}`);
    return describe(found);
  }

  /** Declares a source that has no records yet. */
  async create(declared: NewSource): Promise<SourceDescription> {
    const faults = Object.entries(declared.columns).flatMap(([name, column]) =>
      column.type === "date" ? readingFaults(name, column.reading) : [],
    );
    if (this.#taken(declared.name)) {
      faults.push(
        fault("name.taken", { name: declared.name }, { path: "name", value: declared.name }),
      );
    }
    if (faults.length > 0) throw problemOf(faults);
    const repository = this.dataSource.getRepository(Source);
    const columns = Object.entries(declared.columns).map(([name, column], index) =>
      columnEntity(name, index + 1, column),
    );
    const saved = await repository.save(
      repository.create({
        name: declared.name,
        keyColumn: declared.key ?? null,
        recordsTable: null,
        loads: 0,
        records: 0,
        loadedAt: null,
        columns,
      }),
    );
    this.#known.set(saved.name, knownSource(saved));
    return describe(saved);
  }

  /**
   * Takes a file as all the records of a source. The records before stay in use until the last
   * one is in, and a failure or a crash at any moment leaves them as they were.
   */
  async replaceRecords(name: string, body: Readable): Promise<LoadReport> {
    try {
      return await this.#alone(name, async (source) => {
        const declared = declaredColumns(source);
        const file = await openFile(body);
        const faults = columnFaults(file.headings, declared, source.keyColumn);
        if (faults.length > 0) throw problemOf(faults);
        return this.#fill(source, file, declared);
      });
    } finally {
      // What is left of a refused file is read and dropped, so that the caller gets the answer.
      body.resume();
    }
  }

  /**
   * Understands columns otherwise from now on: every cell is read anew from its text as it came,
   * so that nothing has to be brought in again. As safe as taking a file.
   */
  async settle(name: string, columns: Readonly<Record<string, NewColumn>>): Promise<LoadReport> {
    return this.#alone(name, async (source) => {
      const declared = declaredColumns(source);
      const known = [...declared.keys()];
      const faults = Object.entries(columns).flatMap(([column, sent]) => {
        const place = { path: `columns.${column}`, value: column };
        if (!declared.has(column)) return [fault("column.unknown", { name: column, known }, place)];
        return sent.type === "date" ? readingFaults(column, sent.reading) : [];
      });
      if (faults.length > 0) throw problemOf(faults);
      const { table } = this.need(name);
      if (table === null) {
        throw new Problem("not-found", `The source ${name} has no records yet: import a file`);
      }
      for (const [column, sent] of Object.entries(columns)) declared.set(column, sent);
      return this.#fill(source, rawRecords(table, this.gateway), declared);
    });
  }

  /** Does something to a source that nothing else may do at the same time. */
  async #alone<T>(name: string, work: (source: Source) => Promise<T>): Promise<T> {
    this.need(name);
    if (this.#busy.has(name)) {
      throw new Problem("already-there", `Records are being taken into ${name} at this moment`);
    }
    this.#busy.add(name);
    try {
      const source = (await this.#find()).find((each) => each.name === name);
      if (source === undefined) throw new Problem("not-found", `There is no source ${name}`);
      return await work(source);
    } finally {
      this.#busy.delete(name);
    }
  }

  /** Fills a fresh table with records, and makes it the source's own. */
  async #fill(
    source: Source,
    file: OpenedFile,
    declared: ReadonlyMap<string, NewColumn>,
  ): Promise<LoadReport> {
    const load = source.loads + 1;
    // Counted first, so that a table name is never used twice, even after a crash.
    await this.dataSource.getRepository(Source).update({ id: source.id }, { loads: load });
    const columns = file.headings.map((heading) =>
      coreColumn(heading, declared.get(heading) ?? { type: "text" }),
    );
    const table = storedTable(tableName(source.id, load), columns);
    await this.dataSource.query(createTable(table, source.keyColumn !== null));
    try {
      const loaded = await loadRecords(file, table, declared, source.keyColumn, this.gateway);
      await this.#swap(source, table.table, file.headings, declared, loaded.records);
      return reportOf(source.name, loaded);
    } catch (error) {
      await this.#drop(table.table);
      throw error;
    }
  }

  /** Makes a filled table the source's own, in one transaction, and drops the one before. */
  async #swap(
    source: Source,
    table: string,
    headings: readonly string[],
    declared: ReadonlyMap<string, NewColumn>,
    records: number,
  ): Promise<void> {
    const before = source.recordsTable;
    const loadedAt = this.now();
    await this.dataSource.transaction(async (manager) => {
      await manager.delete(SourceColumn, { source: { id: source.id } });
      const columns = headings.map((heading, index) => {
        const column = columnEntity(heading, index + 1, declared.get(heading) ?? { type: "text" });
        return Object.assign(column, { source: { id: source.id } });
      });
      await manager.save(SourceColumn, columns);
      await manager.update(Source, { id: source.id }, { recordsTable: table, records, loadedAt });
    });
    const fresh = (await this.#find()).find(({ id }) => id === source.id);
    if (fresh !== undefined) this.#known.set(fresh.name, knownSource(fresh));
    if (before !== null) await this.#drop(before);
  }

  /** Looks at a source's stored texts, column by column. */
  profile(name: string): Promise<SourceProfile> {
    return profileSource(this.need(name), this.gateway);
  }

  /** Ends a source and its records. */
  async remove(name: string): Promise<void> {
    const { id, table } = this.need(name);
    await this.dataSource.getRepository(Source).delete({ id });
    this.#known.delete(name);
    if (table !== null) await this.#drop(table.table);
  }

  #find(): Promise<Source[]> {
    return this.dataSource.getRepository(Source).find({
      relations: { columns: { reading: true } },
      order: { name: "ASC", columns: { position: "ASC" } },
    });
  }

  async #drop(table: string): Promise<void> {
    if (!isRecordsTable(table)) throw new Error(`${table} is no table of records`);
    await this.dataSource.query(`DROP TABLE IF EXISTS ${table}`);
  }

  #taken(name: string): boolean {
    return [...this.#known.keys()].some((each) => each.toLowerCase() === name.toLowerCase());
  }
}

function declaredColumns({ columns }: Source): Map<string, NewColumn> {
  return new Map(columns.map((column) => [column.name, newColumn(column)]));
}

function readingFaults(name: string, reading: ReadingSent): Fault[] {
  const compiled = compileReading(readingOf(reading));
  if (compiled.ok) return [];
  return compiled.faults.map((each) => placed(each, { path: `columns.${name}.reading` }));
}

/** Declared columns that the file lacks, and headings that a source cannot have. */
function columnFaults(
  headings: readonly string[],
  declared: ReadonlyMap<string, NewColumn>,
  key: string | null,
): readonly Fault[] {
  // A column of text may come and go with the file; others were declared for a reason.
  const typed = [...declared].flatMap(([name, { type }]) => (type === "text" ? [] : [name]));
  const wanted = key === null ? typed : [...new Set([key, ...typed])];
  const missing = wanted
    .filter((name) => !headings.includes(name))
    .map((name) =>
      fault("column.unknown", { name, known: headings }, { path: "columns", value: name }),
    );
  const clash = headings.find((heading) => heading === "id" && key !== "id");
  if (clash === undefined) return missing;
  const reason = "a column named id must be the key, because a record's id is its key";
  return [...missing, fault("document.shape", { reason }, { path: "columns", value: clash })];
}

function reportOf(
  source: string,
  { records, tallies }: Awaited<ReturnType<typeof loadRecords>>,
): LoadReport {
  const columns = [...tallies].map(([name, tally]) => {
    const examples = tally.examples.map(({ line, value, fault: found }) => ({
      line,
      ...renderFault(placed(found, { value })),
    }));
    const { dated: read, blank, unreadable } = tally;
    return [name, { read, blank, unreadable, examples }] as const;
  });
  return { source, records, columns: Object.fromEntries(columns) };
}
