import type { RecordAnswer } from "@orisma/core/internal";
import type { ShownColumn } from "./narrowing.js";

/** Characters from which a text is long: it is cut at the end of its column. */
const LONG = 24;

/** Which columns have long strings on a page: one of them takes the room that the others leave. */
export interface LongColumns {
  readonly widest: string | null;
  readonly others: ReadonlySet<string>;
}

/** Works out which text columns are long on a page of records; the longest on the whole is the widest. */
export function longColumns(
  columns: readonly ShownColumn[],
  records: readonly RecordAnswer[],
): LongColumns {
  const long = columns.flatMap(({ name, type }) => {
    if (type !== "text") return [];
    const lengths = records.map((record) => String(record[name] ?? "").length);
    const total = lengths.reduce((sum, length) => sum + length, 0);
    return Math.max(0, ...lengths) < LONG ? [] : [{ name, total }];
  });
  const [widest, ...others] = long.toSorted((a, b) => b.total - a.total).map(({ name }) => name);
  return { widest: widest ?? null, others: new Set(others) };
}
