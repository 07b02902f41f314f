import { fault, type Column, type Fault } from "@orisma/core/internal";
import type { KnownSource } from "./columns.js";
import type { Source, CombinedSource } from "./entities.js";

/** Columns that several sources have alike, and in words how else they differ. */
export interface LikeColumns {
  readonly columns: readonly Column[];
  readonly differences: readonly string[];
}

/** What sources have in common: columns of one name and one meaning. */
export function likeColumns(sources: readonly KnownSource[]): LikeColumns {
  const differences: string[] = [];
  const names = new Set(sources.flatMap(({ columns }) => columns.map(({ name }) => name)));
  const columns = [...names].flatMap((name) => {
    const found = sources.map((source) => ({
      source: source.name,
      column: source.columns.find((column) => column.name === name),
    }));
    const missing = found.filter(({ column }) => column === undefined);
    if (missing.length > 0) {
      differences.push(`${missing.map(({ source }) => source).join(" and ")} has no ${name}`);
      return [];
    }
    const kinds = new Set(found.map(({ column }) => meaningOf(column)));
    const [first] = found;
    if (kinds.size === 1 && first?.column !== undefined) return [first.column];
    const each = found.map(({ source, column }) => `${meaningOf(column)} in ${source}`);
    differences.push(`${name} holds ${each.join(", ")}`);
    return [];
  });
  return { columns, differences };
}

function meaningOf(column: Column | undefined): string {
  if (column === undefined) return "nothing";
  return column.type === "date" ? `${column.kind} dates` : column.type;
}

/** A source that is several, as listings and queries need to know it. */
export function knownCombined(
  { id, name }: Source,
  { of, column }: CombinedSource,
  sources: readonly KnownSource[],
): KnownSource {
  const { columns } = likeColumns(sources);
  const [first] = sources;
  return {
    id,
    name,
    key: null,
    ids: sources.map((each) => `${each.name} ${each.ids}`).join(", "),
    columns: [{ name: column, type: "text" }, ...columns],
    table: first?.table ?? null,
    imported: null,
    attached: null,
    combine: { of, column },
    unnest: null,
    partitionColumn: column,
    importedAt: null,
    revision: null,
    indexes: first?.indexes ?? new Map(),
  };
}

/** What is wrong with a source that is to be several. */
export function combineFaults(
  { of, column }: CombinedSource,
  known: ReadonlyMap<string, KnownSource>,
): readonly Fault[] {
  const faults: Fault[] = [];
  const names = [...known.keys()];
  for (const [index, name] of of.entries()) {
    const place = { path: `combine.of[${index}]`, value: name };
    const source = known.get(name);
    if (source === undefined) {
      faults.push(fault("column.unknown", { name, known: names }, place));
    } else if (source.unnest !== null) {
      faults.push(fault("source.combine", { name, reason: "it is values inside another" }, place));
    } else if (source.combine !== null || of.indexOf(name) !== index) {
      const reason =
        source.combine === null ? "it is named twice" : "it is a combined source itself";
      faults.push(fault("source.combine", { name, reason }, place));
    }
  }
  if (faults.length > 0) return faults;
  const sources = of.flatMap((name) => known.get(name) ?? []);
  const { columns, differences } = likeColumns(sources);
  if (columns.length === 0) {
    const reason = `it has no column like one of the others: ${differences.slice(0, 5).join("; ")}`;
    faults.push(fault("source.combine", { name: of[0] ?? "", reason }, { path: "combine.of" }));
  }
  if (columns.some(({ name }) => name.toLowerCase() === column.toLowerCase())) {
    faults.push(fault("name.taken", { name: column }, { path: "combine.column", value: column }));
  }
  return faults;
}
