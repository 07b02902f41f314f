import {
  MS_PER_DAY,
  compileReading,
  fault,
  placed,
  type Fault,
  type SourceProfile,
} from "@orisma/core";
import { In, type DataSource } from "typeorm";
import type { AttachedDatabases } from "../attached/index.js";
import type { Gateway } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import { readingOf, type ReadingSent } from "../dates/index.js";
import {
  columnEntity,
  declaredColumns,
  describe,
  knownSource,
  readOnly,
  tablesOf,
  type KnownSource,
  type SourceDescription,
} from "./columns.js";
import { attachTable, bareFaults, reportAttached } from "./attach.js";
import { ColumnReading, Load, Source, SourceColumn, type Watch } from "./entities.js";
import { addFoldedTexts } from "./folding.js";
import { previewColumns, profileSource, type ColumnPreview } from "./profile.js";
import { inspectRecord, type RecordInspection } from "./inspect.js";
import { repairCell, type Repair, type Repaired } from "./repair.js";
import type { LoadReport } from "./report.js";
import type { NewColumn, NewSource } from "./schema.js";
import { isRecordsTable } from "./tables.js";

/** Knows the sources: declares them, looks at them, mends their cells. */
export class Sources {
  readonly #known = new Map<string, KnownSource>();

  constructor(
    private readonly dataSource: DataSource,
    private readonly gateway: Gateway,
    private readonly databases: AttachedDatabases,
    private readonly now: () => number,
  ) {}

  /** The way to the records of a source. */
  async gatewayOf({ attached }: KnownSource): Promise<Gateway> {
    return attached === null ? this.gateway : this.databases.gateway(attached.database);
  }

  /** Throws a problem if sources are tables of an attached database, which then cannot end. */
  mustNotUseDatabase(database: string): void {
    const names = [...this.#known.values()]
      .filter(({ attached }) => attached?.database === database)
      .map(({ name }) => name);
    if (names.length === 0) return;
    const detail = `The database is used by ${names.join(", ")}; remove these sources first`;
    throw new Problem("already-there", detail);
  }

  /** Reads the sources from the database, and drops what a crash during an import left behind. */
  async load(): Promise<void> {
    const found = await this.#find();
    this.#known.clear();
    for (const source of found) this.#known.set(source.name, knownSource(source));
    const used = new Set(
      found.flatMap(({ recordsTable, before }) => [recordsTable, before?.recordsTable]),
    );
    const rows = await this.dataSource.query<{ name: string }[]>(
      "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()",
    );
    for (const { name } of rows) {
      if (isRecordsTable(name) && !used.has(name)) await this.#drop(name);
    }
    for (const table of found.flatMap(tablesOf)) {
      await addFoldedTexts(table, this.dataSource, this.gateway);
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
    return describe(await this.#whole(name));
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
    const parts =
      declared.attached === undefined
        ? {
            attached: null,
            keyColumn: declared.key ?? null,
            columns: Object.entries(declared.columns).map(([name, column], index) =>
              columnEntity(name, index + 1, column),
            ),
          }
        : await attachTable(declared, declared.attached, this.databases);
    const saved = await repository.save(
      repository.create({
        name: declared.name,
        ...parts,
        recordsTable: null,
        loads: 0,
        records: 0,
        loadedAt: null,
        load: null,
        before: null,
        watch: null,
      }),
    );
    this.#known.set(saved.name, knownSource(saved));
    return describe(saved);
  }

  /** Looks at a source's stored texts, column by column. */
  async profile(name: string): Promise<SourceProfile> {
    const source = await this.#whole(name);
    const load = await this.dataSource
      .getRepository(Load)
      .findOneBy({ source: { id: source.id }, number: source.load ?? 0 });
    const declared = declaredColumns(source);
    const dateCells = load?.report?.dateCells ?? {};
    const known = this.need(name);
    const gateway = await this.gatewayOf(known);
    return profileSource(known, declared, dateCells, gateway, this.#today());
  }

  /** What columns would come to if they were settled so; nothing is stored. */
  async preview(
    name: string,
    columns: Readonly<Record<string, NewColumn>>,
  ): Promise<Readonly<Record<string, ColumnPreview>>> {
    const source = this.need(name);
    const known = source.columns.map((column) => column.name);
    const faults = settlingFaults(columns, known);
    if (faults.length > 0) throw problemOf(faults);
    const gateway = await this.gatewayOf(source);
    return previewColumns(source, columns, gateway, this.#today());
  }

  /**
   * Understands columns of an attached table otherwise from now on, and tells what comes of it;
   * null for a source of our own.
   */
  async settleAttached(
    name: string,
    columns: Readonly<Record<string, NewColumn>>,
  ): Promise<LoadReport | null> {
    if (this.need(name).attached === null) return null;
    const source = await this.#whole(name);
    const names = source.columns.map((column) => column.name);
    const faults = [...settlingFaults(columns, names)];
    const isReadable = faults.length === 0;
    const settled = source.columns.map((column) => {
      const sent = columns[column.name];
      if (sent === undefined) return column;
      if (isReadable) faults.push(...bareFaults(column, sent));
      const { reading, type } = columnEntity(column.name, column.position, sent);
      return Object.assign(column, { type, reading: reading ?? null });
    });
    if (faults.length > 0) throw problemOf(faults);
    const named = settled.filter((column) => columns[column.name] !== undefined);
    await this.dataSource.transaction(async (manager) => {
      await manager
        .getRepository(ColumnReading)
        .delete({ column: { id: In(named.map(({ id }) => id)) } });
      await manager.getRepository(SourceColumn).save(named);
    });
    await this.refresh(source.id);
    const known = this.need(name);
    return reportAttached(known, columns, await this.gatewayOf(known));
  }

  /** Shows every cell of one record as it came, beside what it is read as. */
  async inspect(name: string, id: string): Promise<RecordInspection> {
    const source = await this.#whole(name);
    const known = this.need(name);
    const gateway = await this.gatewayOf(known);
    return inspectRecord(known, declaredColumns(source), id, gateway);
  }

  /** Gives one cell another text, which is read as its column is. */
  async repair(name: string, repair: Repair): Promise<Repaired> {
    const source = await this.#whole(name);
    if (source.attached !== null) throw readOnly(name);
    return repairCell(this.need(name), declaredColumns(source), repair, this.gateway);
  }

  /** Sets or ends the watching of a file. */
  async setWatch(name: string, watch: Watch | null): Promise<SourceDescription> {
    const { id, attached } = this.need(name);
    if (attached !== null) throw readOnly(name);
    await this.dataSource.getRepository(Source).update({ id }, { watch: watch });
    return this.describe(name);
  }

  /** The sources whose file is watched. */
  async watched(): Promise<readonly { readonly name: string; readonly watch: Watch }[]> {
    return (await this.#find()).flatMap(({ name, watch }) =>
      watch === null ? [] : [{ name, watch }],
    );
  }

  #today(): number {
    return Math.floor(this.now() / MS_PER_DAY);
  }

  async #whole(name: string): Promise<Source> {
    const found = await this.find(this.need(name).id);
    if (found === null) throw new Problem("not-found", `There is no source ${name}`);
    return found;
  }

  /** Ends a source and its records. */
  async remove(name: string): Promise<void> {
    const { id } = this.need(name);
    const source = await this.find(id);
    await this.dataSource.getRepository(Source).delete({ id });
    this.#known.delete(name);
    for (const table of [source?.recordsTable, source?.before?.recordsTable]) {
      if (table != null) await this.#drop(table);
    }
  }

  /** A source as it is kept; null where it has gone. */
  async find(id: number): Promise<Source | null> {
    return (await this.#find()).find((source) => source.id === id) ?? null;
  }

  /** Learns what has become of a source. */
  async refresh(id: number): Promise<void> {
    const source = await this.find(id);
    if (source !== null) this.#known.set(source.name, knownSource(source));
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

/** What is wrong with columns as they are to be understood: unknown names, readings with faults. */
export function settlingFaults(
  columns: Readonly<Record<string, NewColumn>>,
  known: readonly string[],
): readonly Fault[] {
  return Object.entries(columns).flatMap(([column, sent]) => {
    const place = { path: `columns.${column}`, value: column };
    if (!known.includes(column)) return [fault("column.unknown", { name: column, known }, place)];
    return sent.type === "date" ? readingFaults(column, sent.reading) : [];
  });
}

/** What is wrong with the reading of a column. */
function readingFaults(name: string, reading: ReadingSent): Fault[] {
  const compiled = compileReading(readingOf(reading));
  if (compiled.ok) return [];
  return compiled.faults.map((each) => placed(each, { path: `columns.${name}.reading` }));
}
