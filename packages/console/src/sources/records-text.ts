import type { SourceDescription } from "@orisma/client";

/** How many records a source has, or where they are. */
export function recordsText({ records, attached, stacked }: SourceDescription): string {
  if (stacked !== null) return stacked.of.join(" and ");
  if (attached !== null) {
    const tables = attached.dateColumn === undefined ? "table" : "tables";
    return `the ${tables} ${attached.table} of ${attached.database}`;
  }
  return records === 1 ? "1 record" : `${(records ?? 0).toLocaleString("en-GB")} records`;
}
