import type { Column, Reading, OwnTable } from "@orisma/core";
import { Problem } from "../http/index.js";
import { readingOf } from "../dates/index.js";
import { ColumnReading, SourceColumn, type Source, type Watch } from "./entities.js";
import type { NewColumn } from "./schema.js";
import { storedTable } from "./tables.js";

/** A source as listings and queries need to know it. */
export interface KnownSource {
  readonly id: number;
  readonly name: string;
  readonly key: string | null;
  readonly columns: readonly Column[];
  /** Null until a file was taken. */
  readonly table: OwnTable | null;
}

/** A source as it is told. */
export interface SourceDescription {
  readonly name: string;
  readonly key: string | null;
  readonly records: number;
  readonly loadedAt: string | null;
  /** The load that the records come from, and the one that can be restored. */
  readonly load: number | null;
  readonly before: { readonly load: number | null; readonly records: number } | null;
  readonly watch: Watch | null;
  readonly columns: readonly (
    | { readonly name: string; readonly type: "text" | "integer" | "decimal" }
    | { readonly name: string; readonly type: "date"; readonly reading: Reading }
  )[];
}

/** A column as it is kept. */
export function columnEntity(name: string, position: number, column: NewColumn): SourceColumn {
  const entity = Object.assign(new SourceColumn(), { name, position, type: column.type });
  if (column.type !== "date") return entity;
  const { kind, encoding, ...details } = readingOf(column.reading);
  entity.reading = Object.assign(new ColumnReading(), { kind, encoding, details });
  return entity;
}

/** A kept column as it was declared. */
export function newColumn({ type, reading }: SourceColumn): NewColumn {
  if (type !== "date" || reading == null) return { type: type === "date" ? "text" : type };
  const { kind, encoding, details } = reading;
  return { type, reading: { kind, encoding, ...details } };
}

/** A declared column as filters know it. */
export function coreColumn(name: string, column: NewColumn): Column {
  return column.type === "date"
    ? { name, type: "date", kind: column.reading.kind }
    : { name, type: column.type };
}

/** A kept source as listings and queries need to know it. */
export function knownSource({ id, name, keyColumn, recordsTable, columns }: Source): KnownSource {
  const known = columns.map((column) => coreColumn(column.name, newColumn(column)));
  const table = recordsTable === null ? null : storedTable(recordsTable, known);
  return { id, name, key: keyColumn, columns: known, table };
}

/** The tables of a source: that of its records, and that of those before. */
export function tablesOf(source: Source): readonly OwnTable[] {
  const { table } = knownSource(source);
  const { before } = source;
  const columns = before?.columns.map(([name, column]) => coreColumn(name, column)) ?? [];
  return [
    ...(table === null ? [] : [table]),
    ...(before === null ? [] : [storedTable(before.recordsTable, columns)]),
  ];
}

/** A kept source as it is told. */
export function describe(source: Source): SourceDescription {
  return {
    name: source.name,
    key: source.keyColumn,
    records: source.records,
    loadedAt: source.loadedAt === null ? null : new Date(source.loadedAt).toISOString(),
    load: source.load,
    before:
      source.before === null ? null : { load: source.before.load, records: source.before.records },
    watch: source.watch,
    columns: source.columns.map((column) => {
      const known = newColumn(column);
      return known.type === "date"
        ? { name: column.name, type: "date", reading: readingOf(known.reading) }
        : { name: column.name, type: known.type };
    }),
  };
}

/** The columns of a source as they were declared, by name. */
export function declaredColumns({ columns }: Source): Map<string, NewColumn> {
  return new Map(columns.map((column) => [column.name, newColumn(column)]));
}

/** The table of a source; throws a problem where no file was taken yet. */
export function tableOf({ name, table }: Pick<KnownSource, "name" | "table">): OwnTable {
  if (table !== null) return table;
  throw new Problem("not-found", `The source ${name} has no records yet: import a file`);
}
