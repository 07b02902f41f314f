import {
  columnsOf,
  type Filter,
  type PlanStep,
  type Statement,
  type StoredTable,
} from "@orisma/core";
import type { Read, ResultRow } from "../database/index.js";

/** Records of a table from which on a walk through all of it is told. */
const LARGE = 1_000;

/** How the database goes about a statement, in words: steps that are alike in one. */
export async function planOf(
  { text, values }: Statement,
  filter: Filter,
  table: StoredTable,
  read: Read,
): Promise<readonly PlanStep[]> {
  const rows = await read({ text: `EXPLAIN ${text}`, values });
  const steps = new Map<string, { times: number; step: PlanStep }>();
  for (const row of rows) {
    const step = stepOf(row, filter, table);
    if (step === null) continue;
    const found = steps.get(step.words);
    if (found === undefined) steps.set(step.words, { times: 1, step });
    else {
      found.times++;
      found.step = { ...found.step, records: found.step.records + step.records };
    }
  }
  return [...steps.values()].map(({ times, step }) =>
    times === 1 ? step : { ...step, words: `${step.words}, ${times} times over` },
  );
}

function stepOf(row: ResultRow, filter: Filter, table: StoredTable): PlanStep | null {
  // id, select_type, table, type, possible_keys, key, key_len, ref, rows, Extra
  const [name, type, key, count, extra] = [2, 3, 5, 8, 9].map((place) => row[place] ?? null);
  const told = String(extra ?? "");
  if (name === null) {
    const isEnds = told.includes("optimized away");
    return isEnds ? { words: "reads the two ends of an index", records: 2 } : null;
  }
  // A table of the database's own, made of the steps before.
  if (String(name).startsWith("<")) return null;
  const records = Number(count ?? 0);
  const sorted = told.includes("filesort") ? ", and sorts what it finds" : "";
  const words = `${wordsOf(String(type), indexOf(key ?? null, table))}${sorted}`;
  if (type !== "ALL" || records < LARGE) return { words, records };
  const bare = unindexed(filter, table);
  return bare.length === 0
    ? { words, records }
    : { words, records, advice: `an index on ${bare.join(" or ")} would serve` };
}

function wordsOf(type: string, index: string): string {
  switch (type) {
    case "ALL":
      return "reads the whole table";
    case "index":
      return `walks along ${index}`;
    case "range":
      return `reads ranges of ${index}`;
    case "index_merge":
      return "reads several indexes and puts what they have together";
    default:
      return `looks up records in ${index}`;
  }
}

function indexOf(key: string | number | null, table: StoredTable): string {
  if (key === "PRIMARY") return "the keys";
  const found = [...table.columns].find(([, { value }]) => value === key);
  return found === undefined ? "an index" : `the index on ${found[0]}`;
}

/** The columns of a filter that have no index: all but those of dates. */
function unindexed(filter: Filter, table: StoredTable): readonly string[] {
  const columns = new Set(columnsOf(filter));
  return [...columns].filter((name) => table.columns.get(name)?.column.type !== "date");
}
