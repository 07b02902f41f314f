import {
  compileReading,
  failure,
  fault,
  fixedFormOf,
  success,
  type CompiledReading,
  type Result,
} from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import { databaseTypeOf, type AttachedColumn } from "./catalogue.js";

/** Tables of one layout, of which each has a day in its name: `gauges_{yyyyMMdd}`. */
export interface DateNamed {
  readonly prefix: string;
  readonly suffix: string;
  /** Reads the day in a name. */
  readonly reading: CompiledReading;
}

/** One of such tables. */
export interface DatedTable {
  readonly name: string;
  /** Milliseconds since 1970-01-01 of the day in its name; null where there is none. */
  readonly ms: number | null;
  readonly columns: readonly AttachedColumn[];
}

/** Whether the name of a table is a pattern for several. */
export function isPattern(table: string): boolean {
  return table.includes("{");
}

/**
 * Reads a pattern: the date letters of UTS #35 in braces, numbers of fixed width that name a day.
 * Fails with `attach.pattern`, above all where the year is not among them.
 */
export function readTablePattern(table: string): Result<DateNamed> {
  const refused = (reason: string) =>
    failure(fault("attach.pattern", { table, reason }, { path: "attached.table", value: table }));
  const found = /^([^{}]*)\{([^{}]+)\}([^{}]*)$/.exec(table);
  const [, prefix = "", pattern = "", suffix = ""] = found ?? [];
  if (found === null) return refused("it has one pair of braces, with the date in it");
  if (!pattern.includes("yyyy")) {
    return refused(
      "its year is not in the braces, and a table of one year would be taken for another",
    );
  }
  const form = fixedFormOf(pattern);
  const compiled = compileReading({
    kind: "date",
    encoding: "text",
    patterns: [pattern],
    exact: true,
  });
  if (form === null || form.offset !== undefined || !compiled.ok) {
    return refused("its date names a day in numbers of fixed width, such as yyyyMMdd");
  }
  return success({ prefix, suffix, reading: compiled.value });
}

/** The tables whose names fit a pattern but for what stands in its braces, by name. */
export async function datedTables(
  database: string,
  { prefix, suffix, reading }: DateNamed,
  gateway: Gateway,
): Promise<readonly DatedTable[]> {
  const rows = await gateway.read({
    text:
      "SELECT TABLE_NAME, COLUMN_NAME, DATA_TYPE, COLUMN_TYPE, DATETIME_PRECISION " +
      "FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = ? AND TABLE_NAME LIKE ? ESCAPE '!' " +
      "ORDER BY TABLE_NAME, ORDINAL_POSITION",
    values: [database, `${plain(prefix)}%${plain(suffix)}`],
  });
  const tables = new Map<string, AttachedColumn[]>();
  for (const [table, name, type, whole, digits] of rows) {
    const key = String(table);
    const columns = tables.get(key) ?? [];
    tables.set(key, columns);
    const holding = databaseTypeOf(String(type), Number(digits ?? 0));
    columns.push({ name: String(name), type: String(whole), holding });
  }
  return [...tables].map(([name, columns]) => {
    const ms = reading.dateOf(name.slice(prefix.length, name.length - suffix.length));
    return { name, ms: Number.isNaN(ms) ? null : ms, columns };
  });
}

function plain(text: string): string {
  return text.replace(/[!%_]/g, "!$&");
}
