import { csvText, type CsvForm } from "@orisma/core/internal";

/** Records as lines of values, with a line of headings before them. */
export function tableText(records: readonly object[], form?: CsvForm): string {
  const headings = Object.keys(records[0] ?? {});
  const rows = records.map((record) =>
    Object.values(record as Readonly<Record<string, string | number | null>>).map((value) =>
      String(value ?? ""),
    ),
  );
  return csvText([headings, ...rows], form);
}
