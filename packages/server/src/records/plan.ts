import {
  orderKeyDdl,
  type Filter,
  type PlanStep,
  type RecordOrder,
  type Statement,
  type StoredTable,
} from "@orisma/core/internal";
import type { Read, ResultRow } from "../database/index.js";
import type { KnownSource } from "../sources/index.js";
import { servedBy } from "./indexable.js";

/** Records of a table from which on a scan of all of it is pointed out. */
const LARGE = 1_000;

/** What a statement was made of. */
interface PlannedStatement {
  readonly filter: Filter;
  /** Null for a count. */
  readonly order: RecordOrder | null;
  readonly source: KnownSource;
}

/** How the database goes about a statement, in words: steps that are alike in one. */
export async function planOf(
  { text, values }: Statement,
  { filter, order, source }: PlannedStatement,
  read: Read,
): Promise<readonly PlanStep[]> {
  const explained = (bound = values) => read({ text: `EXPLAIN ${text}`, values: bound });
  const found = await explained();
  // A walk along an index until a page is full is counted as long as it can become: it goes on as long as
  // nothing is found, at worst to the end.
  const walks = found.some((row) => row[TYPE] === "index" && isFiltered(row));
  const isNumbered = text.endsWith(" LIMIT ? OFFSET ?");
  const isPage = isNumbered || text.endsWith(" LIMIT ?");
  const limitAt = values.length - (isNumbered ? 2 : 1);
  const unlimited = values.map((value, at) => (at === limitAt ? NO_LIMIT : value));
  const most = walks && isPage ? mostRead(await explained(unlimited)) : null;
  const rows = found.map((row) =>
    most !== null && row[TYPE] === "index" && isFiltered(row) ? { row, most } : { row, most: null },
  );
  const steps = new Map<string, { times: number; step: PlanStep }>();
  for (const { row, most: atWorst } of rows) {
    const returned = stepOf(row, { filter, order, source });
    if (returned === null) continue;
    const step =
      atWorst === null
        ? returned
        : { ...returned, words: `${returned.words} until the page is full`, records: atWorst };
    const same = steps.get(step.words);
    if (same === undefined) steps.set(step.words, { times: 1, step });
    else {
      same.times++;
      same.step = { ...same.step, records: same.step.records + step.records };
    }
  }
  return [...steps.values()].map(({ times, step }) =>
    times === 1 ? step : { ...step, words: `${step.words}, ${times} times over` },
  );
}

/** Where EXPLAIN has them. */
const [TYPE, ROWS, EXTRA] = [3, 8, 9];
/** A page of as many records as there are. */
const NO_LIMIT = 2 ** 31;

function isFiltered(row: ResultRow): boolean {
  return String(row[EXTRA] ?? "").includes("Using where");
}

function mostRead(rows: readonly ResultRow[]): number {
  return Math.max(0, ...rows.map((row) => Number(row[ROWS] ?? 0)));
}

function stepOf(row: ResultRow, { filter, order, source }: PlannedStatement): PlanStep | null {
  // id, select_type, table, type, possible_keys, key, key_len, ref, rows, Extra
  const [name, type, key, count, extra] = [2, 3, 5, 8, 9].map((place) => row[place] ?? null);
  const returned = String(extra ?? "");
  if (name === null) {
    const isEnds = returned.includes("optimized away");
    return isEnds ? { words: "reads the two ends of an index", records: 2 } : null;
  }
  // A table of the database's own, made of the steps before, or of a value of the record at hand.
  if (String(name).startsWith("<") || returned.includes("Table function")) return null;
  const records = Number(count ?? 0);
  const isSorted = returned.includes("filesort");
  const sorted = isSorted ? ", and sorts what it finds" : "";
  const words = `${wordsOf(String(type), indexOf(key ?? null, source))}${sorted}`;
  if (records < LARGE) return { words, records };
  const found = [
    type === "ALL" ? adviceOf(filter, source) : null,
    isSorted && order !== null ? orderAdviceOf(order, source) : null,
  ].filter((each) => each !== null);
  return found.length === 0 ? { words, records } : { words, records, advice: found.join("; ") };
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

function indexOf(key: string | number | null, { indexes }: KnownSource): string {
  if (key === "PRIMARY") return "the keys";
  const columns = indexes.get(String(key));
  return columns === undefined ? "an index" : `the index on ${columns.join(" and ")}`;
}

/** The column by which an index finds what has a value: of another table's column that of its key. */
function keyOf(name: string, { joins = [] }: StoredTable): string {
  return joins.find((join) => join.names.has(name))?.by ?? name;
}

/** That no index of the table can order by a column which is not stored in it. */
function orderAdviceOf({ column, then = [] }: RecordOrder, { table }: KnownSource): string | null {
  const names = [column, ...then.map((each) => each.column)].filter((name) => name !== null);
  const joined = names.find((name) => table?.joins?.some((join) => join.names.has(name)) === true);
  if (joined !== undefined) return `no index orders by ${joined}, which is in another table`;
  const computed = names.find((name) => table?.columns.has(name) === false);
  return computed === undefined
    ? null
    : `no index orders by ${computed}, which is worked out of each record: store it as a column of its own`;
}

function isWorkedOut(name: string, table: StoredTable): boolean {
  const stored = table.columns.get(name);
  if (stored?.storage !== "attached" || stored.cells.type !== "date") return false;
  return stored.cells.dates.isWorkedOut === true;
}

/** What would spare a walk through the table: indexes, or a key in the order of the dates. */
function adviceOf(filter: Filter, { indexes, table, imported, name }: KnownSource): string | null {
  if (table === null) return null;
  // Of another table's records those are looked up that have a key here.
  const columns = [...new Set(servedBy(filter, table).map((name) => keyOf(name, table)))];
  const keys = columns.flatMap((name) => orderKeyDdl(name, table) ?? []);
  if (keys.length > 0) {
    return `strings in this order are not found by date; this makes a key that is: ${keys.join("; ")}`;
  }
  const workedOut = columns.find((column) => isWorkedOut(column, table));
  if (workedOut !== undefined) {
    return `the dates of ${workedOut} are worked out record by record: a column of dates with an index would serve`;
  }
  const leading = new Set([...indexes.values()].map(([first]) => first));
  const bare = columns.filter((name) => !leading.has(name));
  if (bare.length === 0) return null;
  const [first = ""] = bare;
  const make = imported === null ? "" : `: orisma sources index ${name} ${first}`;
  return `an index on ${bare.join(" or ")} would serve${make}`;
}
