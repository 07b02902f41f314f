import type { SourceDescription } from "@orisma/client";

/** How many records a source has, or where they are. */
export function recordsText({ records, attached }: SourceDescription): string {
  if (attached !== null) return `the table ${attached.table} of ${attached.database}`;
  return records === 1 ? "1 record" : `${(records ?? 0).toLocaleString("en-GB")} records`;
}
