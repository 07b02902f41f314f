import {
  Source,
  SourceColumn,
  type SourceState,
  type Sources,
  columnEntity,
  coreColumn,
  countChange,
  createTable,
  declaredColumns,
  dropCodes,
  isRecordsTable,
  lastNumber,
  noteReplaced,
  storedTable,
  tableName,
  usefulDictionaries,
  type DictionaryBuilders,
} from "../sources/index.js";
import type { ColumnDeclaration } from "@orisma/contract";
import { fault, type ImportedTable } from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import { isDiskFull, type Gateway, type TableGate } from "../database/index.js";
import { problemOf } from "../http/index.js";

/** The tables that sources are filled in before they come into use. */
export class Staging {
  constructor(
    private readonly dataSource: DataSource,
    private readonly gateway: Gateway,
    private readonly sources: Sources,
    private readonly gate: TableGate,
    private readonly now: () => number,
  ) {}

  /** Counted first, so that a table name is never used twice, even after a crash. */
  async nextNumber(source: Source): Promise<number> {
    source.imports++;
    await this.dataSource
      .getRepository(Source)
      .update({ id: source.id }, { imports: source.imports });
    return source.imports;
  }

  /** The number of the first record that is added to a table. */
  async firstId(source: Source, table: ImportedTable | null): Promise<number> {
    if (table === null || source.keyColumn !== null) return 1;
    const [row] = await this.dataSource.query<{ last: string }[]>(lastNumber(table));
    return Number(row?.last ?? 0) + 1;
  }

  /** Makes a table; throws a problem for more columns than one can have. */
  async create(table: ImportedTable, hasOwnKey: boolean): Promise<void> {
    try {
      await this.gateway.change(createTable(table, hasOwnKey));
    } catch (error) {
      const errno = error instanceof Error && "errno" in error ? error.errno : null;
      if (isDiskFull(error) || !TOO_MUCH.has(Number(errno))) throw error;
      const reason = `${table.columns.size} columns are more than one table of the database can hold`;
      const most = "fewer columns: name those to take with columns";
      throw problemOf([fault("file.limit", { reason, most }, { parameter: "columns" })]);
    }
  }

  /** Makes a filled table ready for use: with the dictionaries that are of use to it, and its indexes. */
  async finish(
    source: Source,
    table: ImportedTable,
    builders: DictionaryBuilders,
    records: number,
  ): Promise<void> {
    const useful = usefulDictionaries(builders, records);
    const drop = dropCodes(table, useful);
    if (drop !== null) await this.gateway.change(drop);
    await this.sources.dictionaries.keep(table.table, useful);
    const columns = [...table.columns.values()].map(({ column }) => column);
    await this.sources.indexes.finish(source, storedTable(table.table, columns, useful), records);
  }

  /** Makes a filled table the source's own; what it was before can be restored. */
  async swap(
    source: Source,
    filled: Omit<SourceState, "importedAt">,
    before: SourceState | null,
  ): Promise<void> {
    await this.adopt(source, { ...filled, importedAt: this.now() }, before);
  }

  /** Gives a source another state, in one transaction, and drops the tables it has no more. */
  async adopt(source: Source, state: SourceState, before: SourceState | null): Promise<void> {
    const adopting = (manager: EntityManager) => this.#adopting(manager, source, state, before);
    await this.gate.change(() => this.dataSource.transaction(adopting));
    await this.sources.refresh(source.id);
    const tables = [state.recordsTable, before?.recordsTable];
    for (const table of [source.recordsTable, source.before?.recordsTable]) {
      if (table != null && !tables.includes(table)) await this.drop(table);
    }
  }

  async #adopting(
    manager: EntityManager,
    source: Source,
    state: SourceState,
    before: SourceState | null,
  ): Promise<void> {
    const stored = [...declaredColumns(source)];
    await manager.delete(SourceColumn, { source: { id: source.id } });
    const columns = state.columns.map(([name, column], index) =>
      Object.assign(columnEntity(name, index + 1, column), { source: { id: source.id } }),
    );
    await manager.save(SourceColumn, columns);
    const { columns: _, idsSince = 0, ...rest } = state;
    const { keyColumn } = source;
    const fields = { ...rest, keyColumn, idsSince, before: before as never };
    await manager.update(Source, { id: source.id }, fields);
    // It may have begun while the table was filled.
    const { changesMark } = await manager.findOneByOrFail(Source, { id: source.id });
    if (changesMark === null) return;
    const from = source.recordsTable === null ? null : tableWith(source.recordsTable, stored);
    const to = tableWith(state.recordsTable, state.columns);
    const hasSameIds = source.keyColumn !== null || idsSince === source.idsSince;
    for (const { text, values } of [
      countChange(source.id),
      noteReplaced(source.id, from, to, hasSameIds),
    ]) {
      await manager.query(text, [...values]);
    }
  }

  /** Ends a table of records. */
  async drop(table: string): Promise<void> {
    if (!isRecordsTable(table)) throw new Error(`${table} is no table of records`);
    await this.gate.drop(async () => {
      // Whoever still reads it is not waited for: others would wait behind.
      await this.gateway.change(`DROP TABLE IF EXISTS ${table} WAIT 1`);
      await this.sources.dictionaries.forget(table);
    });
  }
}

/** The database's own numbers for tables that it cannot make: too wide, too many columns, keys. */
const TOO_MUCH: ReadonlySet<number> = new Set([1005, 1069, 1117, 1118]);

/** The table in which an import of a source is filled. */
export function makeTable(
  source: Source,
  number: number,
  columns: ReadonlyMap<string, ColumnDeclaration>,
  dictionaries: DictionaryBuilders,
): ImportedTable {
  const known = [...columns].map(([name, column]) => coreColumn(name, column));
  const values = new Map([...dictionaries].map(([name, { values: each }]) => [name, each]));
  return storedTable(tableName(source.id, number), known, values);
}

/** A table of records by its name and columns, without what is made of them. */
function tableWith(
  table: string,
  columns: readonly (readonly [string, ColumnDeclaration])[],
): ImportedTable {
  return storedTable(
    table,
    columns.map(([name, column]) => coreColumn(name, column)),
  );
}

/** A source as it is now; null before its first file. */
export function stateOf(source: Source): SourceState | null {
  const { recordsTable, records, importedAt, importNumber, idsSince } = source;
  if (recordsTable === null || importedAt === null) return null;
  const columns = [...declaredColumns(source)];
  return { recordsTable, records, importedAt, importNumber, idsSince, columns };
}
