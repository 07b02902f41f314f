import { randomUUID } from "node:crypto";
import type {
  ColumnDeclaration,
  ColumnPreview,
  ImportReport,
  ReadNewSource,
  EditPolicy,
  RecordInspection,
  SourceDescription,
} from "@orisma/contract";
import {
  MS_PER_DAY,
  UTC,
  compileBooleanForm,
  compileNumberForm,
  compileReading,
  epochMs,
  fault,
  renderFault,
  success,
  withLocation,
  type Fault,
  type Result,
  type SourceProfile,
  type Moment,
} from "@orisma/core/internal";
import { In, IsNull, type DataSource } from "typeorm";
import type { AttachedDatabases } from "../attached/index.js";
import type { Gateway, TableGate } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import {
  columnEntity,
  coreColumn,
  declaredColumns,
  describe,
  knownSource,
  readOnly,
  tablesOf,
  columnView,
  type KnownSource,
  type TableFacts,
} from "./columns.js";
import { attachTable, attachedColumnFaults, reportAttached } from "./attach.js";
import {
  ColumnReading,
  FileImport,
  Source,
  SourceColumn,
  type UnnestedSource,
  type Watch,
} from "./entities.js";
import { addFoldedTexts } from "./folding.js";
import { refuseBreaking, type BrokenListing, type Dependants } from "./dependants.js";
import type { SourceLocks } from "./locks.js";
import { datedPartition, patternTables, type PartitionTable } from "./partitions.js";
import { Dictionaries, dictionarySize, dictionaryValues, withValues } from "./dictionaries.js";
import { Indexes } from "./indexes.js";
import { previewColumns, profileSource } from "./profile.js";
import { inspectRecord } from "./inspect.js";
import { unnestFaults, knownUnnested } from "./unnesting.js";
import { knownCombined, likeColumns, combineFaults } from "./combining.js";
import { isRecordsTable } from "./tables.js";
import { mustBeWritable } from "./writable.js";

/** Characters of dictionaries that are held in memory at most. */
const MAX_HELD_CHARACTERS = 30_000_000;

/** Knows the sources: declares them, looks at them, mends their cells. */
export class Sources {
  readonly dictionaries: Dictionaries;
  readonly indexes: Indexes;
  readonly #known = new Map<string, KnownSource>();
  /** Sources whose dictionaries there is no memory for. */
  readonly #withoutDictionaries = new Set<string>();
  /** The last value that was added to a dictionary, which the next one waits for. */
  #lastValue: Promise<unknown> = Promise.resolve();
  /** Sources that are made of others. */
  readonly #made = new Map<string, Source>();
  /** What stands on the sources; nothing until it is registered. */
  #dependants: Dependants = () => [];

  constructor(
    private readonly dataSource: DataSource,
    private readonly gateway: Gateway,
    private readonly databases: AttachedDatabases,
    private readonly locks: SourceLocks,
    private readonly gate: TableGate,
    private readonly now: () => number,
  ) {
    this.dictionaries = new Dictionaries(dataSource);
    this.indexes = new Indexes(dataSource, gateway);
  }

  /** The way to the records of a source. */
  async gatewayOf({ attached }: KnownSource): Promise<Gateway> {
    return attached === null ? this.gateway : this.databases.gateway(attached.database);
  }

  /** Registers what stands on the sources, which is called before they change. */
  supports(dependants: Dependants): void {
    this.#dependants = dependants;
  }

  /** The listings that would no longer be served if a source had other columns. */
  #brokenBy(changed: KnownSource): readonly BrokenListing[] {
    const all = new Map([[changed.name, changed]]);
    const now = (name: string) => all.get(name) ?? this.#known.get(name) ?? null;
    for (const [name, each] of this.#made) {
      const { combine, unnest } = each;
      if (combine?.of.includes(changed.name) === true) {
        const parts = combine.of.flatMap((of) => now(of) ?? []);
        all.set(name, knownCombined(each, combine, parts));
      } else if (unnest?.source === changed.name) {
        all.set(name, knownUnnested(each, unnest, changed));
      }
    }
    return this.#dependants(all);
  }

  /** The listings that would no longer be served if columns were confirmed so. */
  brokenByReadings(
    name: string,
    columns: Readonly<Record<string, ColumnDeclaration>>,
  ): readonly BrokenListing[] {
    const source = this.need(name);
    const confirmed = source.columns.map((column) => {
      const sent = columns[column.name];
      return sent === undefined ? column : coreColumn(column.name, sent);
    });
    return this.#brokenBy({ ...source, columns: confirmed });
  }

  /** Throws a problem that names the listings which would break if a source had other columns. */
  mustNotBreak(name: string, columns: ReadonlyMap<string, ColumnDeclaration>): void {
    const changed = [...columns].map(([column, sent]) => coreColumn(column, sent));
    refuseBreaking(name, this.#brokenBy({ ...this.need(name), columns: changed }));
  }

  /** The sources that are made of a column of another, or of all of its columns. */
  madeOf(source: string, column: string): readonly string[] {
    return [...this.#known.values()]
      .filter(({ combine, unnest }) =>
        combine === null
          ? unnest?.source === source && unnest.column === column
          : combine.of.includes(source),
      )
      .map(({ name }) => name)
      .sort();
  }

  /** Throws a problem if sources consist of another, which then cannot end. */
  mustNotUse(source: string): void {
    const names = [...this.#known.values()]
      .filter((each) => each.combine?.of.includes(source) ?? each.unnest?.source === source)
      .map(({ name }) => name);
    if (names.length === 0) return;
    throw new Problem(
      "already-there",
      `${source} is a part of ${names.join(", ")}: remove them first`,
    );
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
    this.#made.clear();
    const used = new Set(
      found.flatMap(({ recordsTable, before }) => [recordsTable, before?.recordsTable]),
    );
    await this.dictionaries.forgetOthers([...used].filter((each) => each != null));
    const facts = await this.#factsOf(found);
    for (const source of found) this.#learn(source, facts.get(source.recordsTable ?? ""));
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

  /** What is known of the tables of sources beside their columns. */
  async #factsOf(sources: readonly Source[]): Promise<ReadonlyMap<string, TableFacts>> {
    const tables = sources.flatMap(({ recordsTable }) => recordsTable ?? []);
    const dictionaries = await this.dictionaries.of(tables);
    const indexes = await this.indexes.of(tables);
    return new Map(
      tables.map((table) => [
        table,
        {
          dictionaries: dictionaries.get(table) ?? new Map(),
          indexes: indexes.get(table) ?? new Map(),
        },
      ]),
    );
  }

  /** The sources whose text columns are searched without their dictionaries, for want of memory. */
  withoutDictionaries(): readonly string[] {
    return [...this.#withoutDictionaries].sort();
  }

  /** The same without dictionaries where they would take too much memory. */
  #held(name: string, facts: TableFacts | undefined): TableFacts | undefined {
    this.#withoutDictionaries.delete(name);
    if (facts === undefined) return undefined;
    const others = [...this.#known.values()].filter((each) => each.name !== name);
    const held = others.map(({ imported }) => (imported === null ? 0 : dictionarySize(imported)));
    const own = [...facts.dictionaries.values()].flat().join("").length;
    if (held.reduce((sum, each) => sum + each, own) <= MAX_HELD_CHARACTERS) return facts;
    this.#withoutDictionaries.add(name);
    return { ...facts, dictionaries: new Map() };
  }

  /** Takes in what a source is, and what those are that consist of others. */
  #learn(source: Source, facts?: TableFacts): void {
    if (source.combine === null && source.unnest === null) {
      this.#known.set(source.name, knownSource(source, this.#held(source.name, facts)));
    } else this.#made.set(source.name, source);
    for (const [name, each] of this.#made) {
      const { combine, unnest } = each;
      if (combine !== null) {
        const sources = combine.of.flatMap((of) => this.#known.get(of) ?? []);
        this.#known.set(name, knownCombined(each, combine, sources));
      } else if (unnest !== null) {
        this.#known.set(name, knownUnnested(each, unnest, this.#known.get(unnest.source) ?? null));
      }
    }
  }

  /** The tables that a source consists of, as they are at a moment; one for most. */
  async membersOf(source: KnownSource, moment: Moment): Promise<readonly PartitionTable[]> {
    const { name, attached, combine, table } = source;
    if (combine !== null) {
      const members = await Promise.all(
        combine.of.map(async (of) => {
          const cells = { [combine.column]: { state: "filled", value: of } as const };
          return (await this.membersOf(this.need(of), moment)).map((partition) => ({
            ...partition,
            label: partition.label === of ? of : `${of}:${partition.label}`,
            cells: { ...partition.cells, ...cells },
          }));
        }),
      );
      return members.flat();
    }
    if (table === null) return [];
    const gateway = await this.gatewayOf(source);
    if (attached?.dates === undefined) return [{ label: name, cells: {}, table, gateway }];
    const { column } = attached.dates;
    const { read } = await patternTables(source, this.databases, moment);
    return read.map((each) => datedPartition(each, column, table, gateway));
  }

  /** A table of a source that stands for all: its only one, or the latest. Throws where there is none. */
  async #sampleOf(source: KnownSource): Promise<{ source: KnownSource; gateway: Gateway }> {
    if (source.combine !== null) {
      const detail = `${source.name} is made of ${source.combine.of.join(", ")}: look at these`;
      throw new Problem("invalid-value", detail);
    }
    if (source.unnest !== null) {
      const detail = `${source.name} is inside ${source.unnest.source}: look at that`;
      throw new Problem("invalid-value", detail);
    }
    if (source.partitionColumn === null) return { source, gateway: await this.gatewayOf(source) };
    const latest = (await this.membersOf(source, this.#moment())).at(-1);
    if (latest === undefined) {
      throw new Problem("not-found", `The source ${source.name} has no table at this moment`);
    }
    const columns = source.columns.filter(({ name }) => name !== source.partitionColumn);
    return { source: { ...source, columns, table: latest.table }, gateway: latest.gateway };
  }

  #moment(): Moment {
    return { asOf: epochMs(this.now()), zone: UTC };
  }

  /** A source by name, or null. */
  get(name: string): KnownSource | null {
    return this.#known.get(name) ?? null;
  }

  /** The names of all sources. */
  names(): readonly string[] {
    return [...this.#known.keys()];
  }

  /** A source by name; throws a problem with the nearest name where there is none. */
  need(name: string): KnownSource {
    const found = this.get(name);
    if (found !== null) return found;
    throw problemOf([
      fault("name.unknown", { what: "source", name, known: [...this.#known.keys()] }),
    ]);
  }

  /** A source by name that has records of its own; throws a problem for one that is read elsewhere. */
  needOwn(name: string): KnownSource {
    const found = this.need(name);
    if (found.attached !== null || found.combine !== null || found.unnest !== null)
      throw readOnly(name);
    return found;
  }

  /** Every source, by name. */
  async list(): Promise<readonly SourceDescription[]> {
    const all = await this.#find();
    return all.map((source) => this.#view(source, all));
  }

  /** One source. */
  async describe(name: string): Promise<SourceDescription> {
    const source = await this.#whole(name);
    if (source.combine !== null) return this.#view(source, await this.#find());
    const known = this.need(name);
    if (known.partitionColumn === null) return this.#view(source, []);
    const { read, omitted } = await patternTables(known, this.databases, this.#moment());
    const [first = null, last = null] = [read[0]?.name, read.at(-1)?.name];
    return { ...describe(source), tables: { count: read.length, first, last, omitted } };
  }

  /** A source as it is returned: one that is several has the columns that they have alike. */
  #view(source: Source, all: readonly Source[]): SourceDescription {
    const { combine, unnest } = source;
    if (unnest !== null)
      return { ...describe(source), records: null, columns: this.#inside(unnest) };
    if (combine === null) return this.#withDistinct(describe(source));
    const parts = combine.of.flatMap((of) => this.#known.get(of) ?? []);
    const { columns, differences } = likeColumns(parts);
    const first = all.find(({ name }) => name === combine.of[0]);
    const returned = first === undefined ? [] : describe(first).columns;
    return {
      ...describe(source),
      combine: { ...combine, differences },
      records: null,
      columns: [
        { name: combine.column, type: "text" },
        ...returned.filter(({ name }) => columns.some((column) => column.name === name)),
      ],
    };
  }

  /** With how many values text columns have that have few. */
  #withDistinct(description: SourceDescription): SourceDescription {
    const stored = this.#known.get(description.name)?.imported?.columns;
    const columns = description.columns.map((column) => {
      const { dictionary = null } = stored?.get(column.name) ?? {};
      if (dictionary === null || column.type === "date") return column;
      return { ...column, distinct: dictionary.values.length };
    });
    return { ...description, columns };
  }

  /** The columns inside, as they are returned. */
  #inside({ values }: UnnestedSource): SourceDescription["columns"] {
    return Object.entries(values).map(([name, { column }]) => ({ name, ...columnView(column) }));
  }

  /** Declares a source that has no records yet. */
  async create(declared: ReadNewSource): Promise<SourceDescription> {
    const faults = Object.entries(declared.columns).flatMap(([name, column]) =>
      columnFormFaults(name, column),
    );
    if (this.#taken(declared.name)) {
      faults.push(
        fault("name.taken", { name: declared.name }, { path: "name", value: declared.name }),
      );
    }
    if (declared.combine !== undefined)
      faults.push(...combineFaults(declared.combine, this.#known));
    if (declared.unnest !== undefined) faults.push(...unnestFaults(declared.unnest, this.#known));
    if (faults.length > 0) throw problemOf(faults);
    const repository = this.dataSource.getRepository(Source);
    const parts =
      declared.attached === undefined
        ? {
            attached: null,
            combine: declared.combine ?? null,
            unnest: declared.unnest ?? null,
            keyColumn: declared.key ?? null,
            columns: Object.entries(declared.columns).map(([name, column], index) =>
              columnEntity(name, index + 1, column),
            ),
          }
        : {
            combine: null,
            unnest: null,
            ...(await attachTable(declared, declared.attached, this.databases)),
          };
    const saved = await repository.save(
      repository.create({
        name: declared.name,
        ...parts,
        recordsTable: null,
        imports: 0,
        records: 0,
        importedAt: null,
        importNumber: null,
        idsSince: 0,
        before: null,
        indexes: null,
        onImport: "report",
        watch: null,
      }),
    );
    this.#learn(saved);
    return this.describe(saved.name);
  }

  /** Looks at a source's stored strings, column by column. */
  async profile(name: string): Promise<SourceProfile> {
    const source = await this.#whole(name);
    const fileImport = await this.dataSource
      .getRepository(FileImport)
      .findOneBy({ source: { id: source.id }, number: source.importNumber ?? 0 });
    const declared = declaredColumns(source);
    const dateCells = fileImport?.report?.dateCells ?? {};
    const sample = await this.#sampleOf(this.need(name));
    return profileSource(sample.source, declared, dateCells, sample.gateway, this.#today());
  }

  /** What columns would come to if they were confirmed so; nothing is stored. */
  async preview(
    name: string,
    columns: Readonly<Record<string, ColumnDeclaration>>,
  ): Promise<Readonly<Record<string, ColumnPreview>>> {
    const source = this.need(name);
    const known = source.columns.map((column) => column.name);
    const faults = columnFaults(columns, known);
    if (faults.length > 0) throw problemOf(faults);
    const sample = await this.#sampleOf(source);
    return previewColumns(sample.source, columns, sample.gateway, this.#today());
  }

  /**
   * Understands columns of an attached table otherwise from now on, and reports what comes of it;
   * null for an imported source. Partly, columns that no query can express are omitted, unless all are.
   */
  async setAttachedReadings(
    name: string,
    sentColumns: Readonly<Record<string, ColumnDeclaration>>,
    { force, partly }: { readonly force: boolean; readonly partly: boolean },
  ): Promise<ImportReport | null> {
    if (this.need(name).attached === null) {
      this.needOwn(name);
      return null;
    }
    const source = await this.#whole(name);
    const names = source.columns.map((column) => column.name);
    const faults = [...columnFaults(sentColumns, names)];
    if (faults.length > 0) throw problemOf(faults);
    const refused = new Map(
      source.columns.flatMap((column): readonly (readonly [string, readonly Fault[]])[] => {
        const sent = Object.hasOwn(sentColumns, column.name) ? sentColumns[column.name] : undefined;
        if (sent === undefined) return [];
        const found = attachedColumnFaults(column, sent, source.attached?.parts);
        return found.length === 0 ? [] : [[column.name, found]];
      }),
    );
    const columns = Object.fromEntries(
      Object.entries(sentColumns).filter(([column]) => !refused.has(column)),
    );
    if (refused.size > 0 && (!partly || Object.keys(columns).length === 0)) {
      throw problemOf([...refused.values()].flat());
    }
    const confirmed = source.columns.map((column) => {
      const sent = Object.hasOwn(columns, column.name) ? columns[column.name] : undefined;
      if (sent === undefined) return column;
      const { reading, type, written } = columnEntity(column.name, column.position, sent);
      return Object.assign(column, { type, written, reading: reading ?? null });
    });
    if (!force) refuseBreaking(name, this.brokenByReadings(name, columns));
    const named = confirmed.filter((column) => Object.hasOwn(columns, column.name));
    await this.dataSource.transaction(async (manager) => {
      await manager
        .getRepository(ColumnReading)
        .delete({ column: { id: In(named.map(({ id }) => id)) } });
      await manager.getRepository(SourceColumn).save(named);
    });
    await this.refresh(source.id);
    const sample = await this.#sampleOf(this.need(name));
    const report = await reportAttached(sample.source, columns, sample.gateway);
    if (refused.size === 0) return report;
    const omitted = [...refused].map(
      ([column, found]) => [column, found.map(renderFault)] as const,
    );
    return { ...report, omitted: Object.fromEntries(omitted) };
  }

  /** Shows every cell of one record as it came, beside what it is read as. */
  async inspect(name: string, id: string): Promise<RecordInspection> {
    const { unnest } = this.need(name);
    // A line of it is a part of a record of the other.
    if (unnest !== null) return this.inspect(unnest.source, id.replace(/:\d+$/, ""));
    const source = await this.#whole(name);
    const known = this.need(name);
    if (known.partitionColumn === null) {
      const gateway = await this.gatewayOf(known);
      return inspectRecord(known, declaredColumns(source), id, gateway);
    }
    const members = await this.membersOf(known, this.#moment());
    const partition = members.find(({ label }) => id.startsWith(`${label}:`));
    if (partition === undefined) throw new Problem("not-found", `${name} has no record ${id}`);
    const { label, table, gateway } = partition;
    const of = known.combine === null ? known : this.need(label.split(":")[0] ?? "");
    const one = { ...known, table, attached: of.attached };
    const declared = declaredColumns(await this.#whole(of.name));
    const found = await inspectRecord(one, declared, id.slice(label.length + 1), gateway);
    return { ...found, id };
  }

  /** The columns of a source as they were declared, by name. */
  async declared(name: string): Promise<ReadonlyMap<string, ColumnDeclaration>> {
    return declaredColumns(await this.#whole(name));
  }

  /**
   * Why the records of a source cannot be changed; null where they can. An attached table can be where the operator
   * and the owner allow it: what its account may do is found out by trying.
   */
  readOnlyReason({ name, imported, attached, combine, unnest, partitionColumn }: KnownSource) {
    if (imported !== null) return null;
    if (attached === null && combine === null && unnest === null) return null;
    if (attached === null || partitionColumn !== null) {
      return `${name} is made of other sources, or of several tables: edit a listing of one of these`;
    }
    return this.databases.readOnlyReason(attached.database);
  }

  /** The way to change records of an attached source; throws a problem where that is not allowed. */
  async editing({ attached }: KnownSource): Promise<Gateway> {
    if (attached === null) throw new Error("the source is not attached");
    return this.databases.editing(attached.database);
  }

  /** Throws a problem where the database of an attached source lets columns of it not be changed. */
  async mustBeWritable(source: KnownSource, columns: readonly string[]): Promise<void> {
    const { name, table, attached } = source;
    if (attached === null || table === null || columns.length === 0) return;
    const gateway = await this.editing(source);
    await gateway.transaction((run) => mustBeWritable(run, name, table, columns));
  }

  /**
   * Does what writes to the records of a source, which are others from then on. Throws a problem while they are
   * replaced, which would lose it.
   */
  whileWriting<T>(name: string, work: () => Promise<T>): Promise<T> {
    const { id } = this.needOwn(name);
    return this.locks.whileWriting(name, async () => {
      const done = await work();
      await this.refresh(id);
      return done;
    });
  }

  /** Gives strings that are written numbers in the dictionary of their column, before they are in records. */
  async learnValues(
    name: string,
    column: string,
    values: readonly (string | null)[],
  ): Promise<void> {
    const learn = async () => {
      const { id, imported } = this.need(name);
      if (imported === null || (imported.columns.get(column)?.dictionary ?? null) === null) return;
      const known = dictionaryValues(imported);
      const grown = withValues(known, column, values);
      if (grown === known) return;
      await this.dictionaries.keep(imported.table, grown);
      await this.refresh(id);
    };
    const learnt = this.#lastValue.then(learn);
    this.#lastValue = learnt.catch(() => undefined);
    await learnt;
  }

  /** Says what becomes of edits that an import would overwrite. */
  async setEditPolicy(name: string, onImport: EditPolicy): Promise<SourceDescription> {
    const { id } = this.needOwn(name);
    await this.dataSource.getRepository(Source).update({ id }, { onImport });
    return this.describe(name);
  }

  /** From now on notes which records of a source change. */
  async noteChanges(name: string): Promise<void> {
    const { id } = this.needOwn(name);
    await this.dataSource
      .getRepository(Source)
      .update({ id, changesMark: IsNull() }, { changesMark: randomUUID() });
  }

  /** Sets or ends the watching of a file. */
  async setWatch(name: string, watch: Watch | null): Promise<SourceDescription> {
    const { id } = this.needOwn(name);
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

  /** Deletes a source and its records; throws a problem while something replaces them. */
  remove(name: string): Promise<void> {
    const { id } = this.need(name);
    return this.locks.whileReplacing(name, async () => {
      const source = await this.find(id);
      await this.dataSource.getRepository(Source).delete({ id });
      this.#known.delete(name);
      this.#made.delete(name);
      for (const table of [source?.recordsTable, source?.before?.recordsTable]) {
        if (table != null) await this.#drop(table);
      }
    });
  }

  /** A source as it is kept; null where it has gone. */
  async find(id: number): Promise<Source | null> {
    return (await this.#find()).find((source) => source.id === id) ?? null;
  }

  /** Learns what has become of a source. */
  async refresh(id: number): Promise<void> {
    const source = await this.find(id);
    if (source === null) return;
    const facts = await this.#factsOf([source]);
    this.#learn(source, facts.get(source.recordsTable ?? ""));
  }

  /** Put in order here: the database would need disk space for it, and there may be none. */
  async #find(): Promise<Source[]> {
    const found = await this.dataSource
      .getRepository(Source)
      .find({ relations: { columns: { reading: true } } });
    for (const { columns } of found) columns.sort((a, b) => a.position - b.position);
    return found.sort((a, b) => (a.name < b.name ? -1 : 1));
  }

  async #drop(table: string): Promise<void> {
    if (!isRecordsTable(table)) throw new Error(`${table} is no table of records`);
    await this.gate.drop(async () => {
      // Whoever still reads it is not waited for: others would wait behind.
      await this.gateway.change(`DROP TABLE IF EXISTS ${table} WAIT 1`);
      await this.dictionaries.forget(table);
    });
  }

  #taken(name: string): boolean {
    return [...this.#known.keys()].some((each) => each.toLowerCase() === name.toLowerCase());
  }
}

/** What is wrong with columns as they are to be understood: unknown names, readings with faults. */
export function columnFaults(
  columns: Readonly<Record<string, ColumnDeclaration>>,
  known: readonly string[],
): readonly Fault[] {
  return Object.entries(columns).flatMap(([column, sent]) => {
    const place = { path: `columns.${column}`, value: column };
    if (!known.includes(column)) return [fault("column.unknown", { name: column, known }, place)];
    return columnFormFaults(column, sent);
  });
}

/** What is wrong with how a column is to be read. */
function columnFormFaults(name: string, column: ColumnDeclaration): readonly Fault[] {
  const [compiled, part] = compiledForm(column);
  if (compiled.ok) return [];
  return compiled.faults.map(({ path, ...found }) => {
    const inside = path === undefined || part === "reading" ? "" : `.${path}`;
    return withLocation(found, { path: `columns.${name}.${part}${inside}` });
  });
}

function compiledForm(column: ColumnDeclaration): readonly [Result<unknown>, string] {
  if (column.type === "date") return [compileReading(column.reading), "reading"];
  if (column.type === "text" || column.written === undefined) return [success(null), "written"];
  return [
    column.type === "boolean"
      ? compileBooleanForm(column.written)
      : compileNumberForm(column.written),
    "written",
  ];
}
