import {
  MS_PER_DAY,
  dayOf,
  isoDay,
  wallAt,
  type Moment,
  type Row,
  type StoredColumn,
  type StoredTable,
} from "@orisma/core/internal";
import { readTablePattern, type AttachedDatabases } from "../attached/index.js";
import type { Gateway } from "../database/index.js";
import { problemOf } from "../http/index.js";
import type { KnownSource } from "./columns.js";

/** One of the tables that a source consists of. */
export interface PartitionTable {
  /** Distinguishes it from the others, and is a part of its records' ids. */
  readonly label: string;
  /** The cells that all of its records share: from where they come. */
  readonly cells: Row;
  readonly table: StoredTable;
  readonly gateway: Gateway;
}

/** A table whose name fits a pattern, and that is not read. */
export interface OmittedTable {
  readonly table: string;
  readonly reason: string;
}

/** The tables of a pattern: those that are read, by their days, and those that are not. */
export interface PatternTables {
  readonly read: readonly { readonly name: string; readonly day: number }[];
  readonly omitted: readonly OmittedTable[];
}

/** The tables of a source that is a pattern, as they are at a moment. */
export async function patternTables(
  source: KnownSource,
  databases: AttachedDatabases,
  { asOf, zone }: Moment,
): Promise<PatternTables> {
  const { attached, table } = source;
  if (attached?.dates === undefined || table === null) return { read: [], omitted: [] };
  const pattern = readTablePattern(attached.table);
  if (!pattern.ok) throw problemOf(pattern.faults);
  const today = dayOf(wallAt(zone, asOf));
  const read: { name: string; day: number }[] = [];
  const omitted: OmittedTable[] = [];
  for (const { name, ms, columns } of await databases.dated(attached.database, pattern.value)) {
    const missing = [...table.columns.values()]
      .flatMap(physicalNames)
      .find((wanted) => !columns.some((column) => column.name === wanted));
    if (ms === null) omitted.push({ table: name, reason: "its name has no date" });
    else if (missing !== undefined) {
      omitted.push({ table: name, reason: `it has no column ${missing}` });
    } else if (ms / MS_PER_DAY >= today && !attached.dates.runningDay) {
      omitted.push({ table: name, reason: "its day has not ended" });
    } else read.push({ name, day: ms / MS_PER_DAY });
  }
  read.sort((a, b) => a.day - b.day);
  return { read, omitted };
}

/** The columns of a table in which a column's values stand. */
function physicalNames(stored: StoredColumn): readonly string[] {
  return stored.storage === "attached" ? (stored.parts ?? [stored.value]) : [stored.value];
}

/** A table of a pattern as a member of its source. */
export function datedPartition(
  { name, day }: PatternTables["read"][number],
  column: string,
  table: StoredTable,
  gateway: Gateway,
): PartitionTable {
  return {
    label: isoDay(day),
    cells: { [column]: { state: "dated", ms: day * MS_PER_DAY } },
    table: { ...table, table: name },
    gateway,
  };
}
