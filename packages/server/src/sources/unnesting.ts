import type { ColumnDeclaration } from "@orisma/contract";
import {
  fault,
  namesSeveral,
  withLocation,
  readJsonPath,
  withNested,
  type Column,
  type Fault,
  type NestedType,
  type StoredTable,
} from "@orisma/core/internal";
import { coreColumn, type KnownSource, writtenOf } from "./columns.js";
import type { UnnestedSource, Source } from "./entities.js";

/** A source that is the values inside a column of another, as listings and queries need to know it. */
export function knownUnnested(
  { id, name }: Source,
  unnest: UnnestedSource,
  of: KnownSource | null,
): KnownSource {
  const table = of === null ? null : nestedTable(unnest, of);
  return {
    id,
    name,
    key: null,
    ids: of?.ids ?? "",
    columns: [...(of?.columns ?? []), ...valueColumns(unnest)],
    table: table?.table ?? null,
    imported: null,
    attached: of?.attached ?? null,
    combine: null,
    unnest,
    partitionColumn: null,
    importedAt: of?.importedAt ?? null,
    revision: of?.revision ?? null,
    indexes: of?.indexes ?? new Map(),
  };
}

function valueColumns({ values }: UnnestedSource): readonly Column[] {
  return Object.entries(values).map(([name, { column }]) => coreColumn(name, column));
}

/** The other source's table with the values as columns; null where it has no such column. */
function nestedTable(
  { column, each, values }: UnnestedSource,
  { table }: KnownSource,
): { readonly table: StoredTable | null; readonly faults: readonly Fault[] } {
  const path = readJsonPath(each);
  if (table?.columns.has(column) !== true || !path.ok) return { table: null, faults: [] };
  const read = Object.entries(values).flatMap(([name, value]) => {
    const found = readJsonPath(value.path);
    return found.ok ? [{ name, path: found.value, type: typeOf(value.column) }] : [];
  });
  const nested = withNested(table, column, path.value, read);
  return nested.ok ? { table: nested.value, faults: [] } : { table: null, faults: nested.faults };
}

function typeOf(column: ColumnDeclaration): NestedType {
  if (column.type !== "date") return { type: column.type };
  return { type: "date", reading: column.reading };
}

/** What is wrong with a source that is to be the values inside a column of another. */
export function unnestFaults(
  unnest: UnnestedSource,
  known: ReadonlyMap<string, KnownSource>,
): readonly Fault[] {
  const { source: name, column, each, values } = unnest;
  const written = Object.entries(values).find(([, value]) => writtenOf(value.column) !== null);
  if (written !== undefined) {
    const facts = {
      column: written[0],
      reason: "numbers, and yes and no, in a form of their own",
      instead: "a value of JSON, or text",
    };
    return [
      fault("storage.reading", facts, { path: `unnest.values.${written[0]}.column.written` }),
    ];
  }
  const source = known.get(name);
  if (source === undefined) {
    const place = { path: "unnest.source", value: name };
    return [fault("name.unknown", { what: "source", name, known: [...known.keys()] }, place)];
  }
  const refused = (reason: string) =>
    fault("source.unnest", { name, reason }, { path: "unnest.source", value: name });
  if (source.unnest !== null) return [refused("it is values inside another itself")];
  if (source.partitionColumn !== null) return [refused("it is more than one table")];
  if (source.table === null) return [refused("it has no records yet")];
  const names = source.columns.map((other) => other.name);
  const found = source.columns.find((other) => other.name === column);
  if (found === undefined) {
    const place = { path: "unnest.column", value: column };
    return [fault("column.unknown", { name: column, known: names }, place)];
  }
  if (found.type !== "text") {
    const facts = { name: column, type: found.type };
    return [fault("column.notText", facts, { path: "unnest.column", value: column })];
  }
  const lower = names.map((other) => other.toLowerCase());
  const faults = [
    ...pathFaults(each, "unnest.each", true),
    ...Object.entries(values).flatMap(([value, { path }]) => [
      ...pathFaults(path, `unnest.values.${value}.path`, false),
      ...(lower.includes(value.toLowerCase())
        ? [fault("name.taken", { name: value }, { path: `unnest.values.${value}`, value })]
        : []),
    ]),
  ];
  if (faults.length > 0) return faults;
  const table = nestedTable(unnest, source);
  return table.faults.map((other) => withLocation(other, { path: "unnest.values" }));
}

function pathFaults(text: string, path: string, takesSeveral: boolean): readonly Fault[] {
  const read = readJsonPath(text);
  if (!read.ok) return read.faults.map((each) => withLocation(each, { path }));
  if (takesSeveral || !namesSeveral(read.value)) return [];
  return [fault("path.form", { text }, { path, value: text })];
}
