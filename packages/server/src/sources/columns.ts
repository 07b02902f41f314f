import type { ColumnDeclaration, SourceDescription } from "@orisma/contract";
import type { StoredColumnDeclaration } from "./entities.js";
import {
  attachedColumn,
  attachedReading,
  type AttachedColumn,
  type Column,
  type ImportedTable,
  type StoredTable,
} from "@orisma/core/internal";
import { Problem } from "../http/index.js";
import {
  ColumnReading,
  SourceColumn,
  type AttachedSource,
  type UnnestedSource,
  type Source,
  type CombinedSource,
} from "./entities.js";
import type { DictionaryValues } from "./dictionaries.js";
import { namedIndexes } from "./indexes.js";
import { storedTable } from "./tables.js";

/** A source as listings and queries need to know it. */
export interface KnownSource {
  readonly id: number;
  readonly name: string;
  readonly key: string | null;
  /** What the ids of its records are, in words of our own: another text is other ids. */
  readonly ids: string;
  readonly columns: readonly Column[];
  /** Where its records are; null until a file was imported. */
  readonly table: StoredTable | null;
  /** The same where it is an imported table. */
  readonly imported: ImportedTable | null;
  /** The table of an attached database that it is. */
  readonly attached: Omit<AttachedSource, "indexes"> | null;
  /** The sources that it is, one after the other. */
  readonly combine: CombinedSource | null;
  /** The values inside a column of another that it is. */
  readonly unnest: UnnestedSource | null;
  /** The column that says from which of its tables a record comes; null for a single table. */
  readonly partitionColumn: string | null;
  /** When its records became what they are, in milliseconds since 1970; null for an attached or a made one. */
  readonly importedAt: number | null;
  /** Counts how often they have become others, whatever made them so; null for an attached or a made one. */
  readonly revision: number | null;
  /** The columns of each index of its table, by the name of the index. */
  readonly indexes: ReadonlyMap<string, readonly string[]>;
}

/** A column as it is kept. */
export function columnEntity(
  name: string,
  position: number,
  column: StoredColumnDeclaration,
): SourceColumn {
  const { type, isStated = false } = column;
  const written = writtenOf(column);
  const entity = Object.assign(new SourceColumn(), { name, position, type, isStated, written });
  if (column.type !== "date") return entity;
  const { kind, encoding, ...details } = column.reading;
  entity.reading = Object.assign(new ColumnReading(), { kind, encoding, details });
  return entity;
}

/** A kept column as it was declared. */
export function newColumn({
  type,
  reading,
  written,
  isStated,
}: SourceColumn): StoredColumnDeclaration {
  const stated = isStated ? ({ isStated } as const) : {};
  if (type !== "date" || reading == null) {
    return withWritten(type === "date" ? "text" : type, written, stated);
  }
  const { kind, encoding, details } = reading;
  return { type, reading: { kind, encoding, ...details } };
}

/** How the numbers of a column are written, or its yes and no; null for plainly. */
export function writtenOf(column: ColumnDeclaration): SourceColumn["written"] {
  return "written" in column ? (column.written ?? null) : null;
}

/** A column that holds no dates, with how it is written. */
function withWritten(
  type: Exclude<ColumnDeclaration["type"], "date">,
  written: SourceColumn["written"],
  more: { readonly isStated?: true },
): StoredColumnDeclaration {
  if (written == null || type === "text") return { type, ...more };
  if (type === "boolean") return "true" in written ? { type, written, ...more } : { type, ...more };
  return "true" in written ? { type, ...more } : { type, written, ...more };
}

/** Whether a column stores the last day of dates without a day beside the first. */
export function hasLastDays(column: ColumnDeclaration): boolean {
  return column.type === "date" && (column.reading.partial ?? "start") !== "start";
}

/** A declared column as filters know it. */
export function coreColumn(name: string, column: ColumnDeclaration): Column {
  if (column.type !== "date") return { name, type: column.type };
  const { kind, partial } = column.reading;
  const isFirstDay = partial === undefined || partial === "start";
  return { name, type: "date", kind, ...(isFirstDay ? {} : { partial }) };
}

/** The column that says from which table of a pattern a record comes. */
export function tableDateColumn(name: string): Column {
  return { name, type: "date", kind: "date" };
}

/** What is known of the table of a source beside its columns. */
export interface TableFacts {
  readonly dictionaries: DictionaryValues;
  /** The physical columns of its indexes, by name. */
  readonly indexes: ReadonlyMap<string, readonly string[]>;
}

/** A kept source as listings and queries need to know it. */
export function knownSource(
  source: Source,
  { dictionaries, indexes: made }: TableFacts = { dictionaries: new Map(), indexes: new Map() },
): KnownSource {
  const { id, name, keyColumn: key, recordsTable, attached } = source;
  const columns = source.columns.map((column) => coreColumn(column.name, newColumn(column)));
  if (attached !== null) {
    const { indexes: returned, ...where } = attached;
    const { table, dates } = where;
    const stored = { table, key: key ?? "", columns: new Map(attachedColumns(source)) };
    const indexes = new Map(Object.entries(returned));
    // A column that cannot be queried any more is omitted, and not what else there is.
    const requested = columns.filter((column) => stored.columns.has(column.name));
    const partitionColumn = dates?.column ?? null;
    return {
      id,
      name,
      key,
      ids: `key ${key ?? ""}`,
      columns:
        partitionColumn === null ? requested : [tableDateColumn(partitionColumn), ...requested],
      table: stored,
      imported: null,
      attached: where,
      combine: null,
      unnest: null,
      partitionColumn,
      importedAt: null,
      revision: null,
      indexes,
    };
  }
  const imported = recordsTable === null ? null : storedTable(recordsTable, columns, dictionaries);
  const indexes = namedIndexes(imported, made);
  const single = { attached: null, combine: null, unnest: null, partitionColumn: null };
  const ids = key === null ? `numbers since ${source.idsSince}` : `key ${key}`;
  const { importedAt, imports } = source;
  const changed = { importedAt, revision: imports };
  return {
    id,
    name,
    key,
    ids,
    columns,
    table: imported,
    imported,
    ...single,
    ...changed,
    indexes,
  };
}

function attachedColumns({
  columns,
  attached,
}: Source): readonly (readonly [string, AttachedColumn])[] {
  return columns.flatMap((column) => {
    const stored = storedAttached(column, newColumn(column), attached?.parts);
    return stored?.ok === true ? [[column.name, stored.value] as const] : [];
  });
}

/** A column of an attached table, understood in some way; null for an imported one. */
export function storedAttached(
  { name, holding }: Pick<SourceColumn, "name" | "holding">,
  column: ColumnDeclaration,
  made: AttachedSource["parts"] = {},
) {
  if (holding === null) return null;
  const type =
    column.type === "date"
      ? ({ type: "date", reading: column.reading } as const)
      : ({ type: column.type } as const);
  // A column may be called as what every object has.
  const parts = Object.hasOwn(made, name) ? made[name] : undefined;
  return parts === undefined
    ? attachedColumn(name, { value: name, holding, type })
    : attachedColumn(name, { value: parts[0] ?? name, parts, holding, type });
}

/** The tables of a source: that of its records, and that of those before. */
export function tablesOf(source: Source): readonly ImportedTable[] {
  const { imported: own } = knownSource(source);
  const { before } = source;
  const columns = before?.columns.map(([name, column]) => coreColumn(name, column)) ?? [];
  return [
    ...(own === null ? [] : [own]),
    ...(before === null ? [] : [storedTable(before.recordsTable, columns)]),
  ];
}

/** A kept source as it is returned. */
export function describe(source: Source): SourceDescription {
  return {
    name: source.name,
    key: source.keyColumn,
    attached: attachedDescription(source.attached),
    combine: null,
    unnest: unnestDescription(source.unnest),
    records: source.attached === null ? source.records : null,
    importedAt: source.importedAt === null ? null : new Date(source.importedAt).toISOString(),
    importNumber: source.importNumber,
    before:
      source.before === null
        ? null
        : { importNumber: source.before.importNumber, records: source.before.records },
    edits: source.onImport,
    watch: source.watch,
    columns: source.columns.map((column) => ({
      name: column.name,
      ...columnView(newColumn(column)),
    })),
  };
}

/** A declared column as it is returned. */
export function columnView(column: ColumnDeclaration): ColumnDeclaration {
  return column.type === "date"
    ? { type: "date", reading: column.reading }
    : withWritten(column.type, writtenOf(column), {});
}

function unnestDescription(unnest: UnnestedSource | null): SourceDescription["unnest"] {
  if (unnest === null) return null;
  const values = Object.entries(unnest.values).map(
    ([name, { path, column }]) => [name, { path, column: columnView(column) }] as const,
  );
  return { ...unnest, values: Object.fromEntries(values) };
}

function attachedDescription(attached: AttachedSource | null): SourceDescription["attached"] {
  if (attached === null) return null;
  const { database, table, dates, parts } = attached;
  const made =
    parts === undefined
      ? {}
      : { parts: Object.fromEntries(Object.entries(parts).map(([name, of]) => [name, [...of]])) };
  if (dates === undefined) return { database, table, ...made };
  return { database, table, dateColumn: dates.column, runningDay: dates.runningDay, ...made };
}

/** The columns of a source as they were declared, by name. */
export function declaredColumns({ columns }: Source): Map<string, StoredColumnDeclaration> {
  return new Map(columns.map((column) => [column.name, newColumn(column)]));
}

/** Where the records of a source are; throws a problem where no file was imported yet. */
export function tableOf({ name, table }: KnownSource): StoredTable {
  if (table !== null) return table;
  throw noRecords(name);
}

/** The table of an imported source; throws a problem where no file was imported yet. */
export function importedTableOf({ name, imported: own }: KnownSource): ImportedTable {
  if (own !== null) return own;
  throw noRecords(name);
}

/** A column as its source is read: an attached one by spelling, which is all that a query can check. */
export function asRead(
  column: ColumnDeclaration,
  { attached }: Pick<KnownSource, "attached">,
): ColumnDeclaration {
  if (attached === null || column.type !== "date") return column;
  return { ...column, reading: attachedReading(column.reading) };
}

/** What is said of an attached source that somebody wants to write to. */
export function readOnly(name: string): Problem {
  const detail = `The source ${name} has no records of its own: they are read from elsewhere`;
  return new Problem("already-there", detail);
}

function noRecords(name: string): Problem {
  return new Problem("not-found", `The source ${name} has no records yet: import a file`);
}
