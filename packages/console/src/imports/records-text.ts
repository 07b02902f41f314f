import type { SourceDescription } from "@orisma/client";
import { countedRecords } from "./counted.js";

/** How many records a source has, or where they are. */
export function recordsText({ records, attached, combine, unnest }: SourceDescription): string {
  if (unnest !== null) return `the values in ${unnest.column} of ${unnest.source}`;
  if (combine !== null) return combinedText(combine.of);
  if (attached !== null) {
    const tables = attached.dateColumn === undefined ? "table" : "tables";
    return `the ${tables} ${attached.table} of ${attached.database}`;
  }
  return countedRecords(records ?? 0);
}

/** Sources by their names where they are few. */
function combinedText(of: readonly string[]): string {
  return of.length <= 3 ? of.join(" and ") : `${of.length} sources, ${of[0]} to ${of.at(-1)}`;
}
