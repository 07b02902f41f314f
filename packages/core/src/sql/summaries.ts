import type { Edge } from "../calendar/index.js";
import { columnsOf, edgeValue, type Filter } from "../filters/index.js";
import { whereOf } from "./condition.js";
import type { Dialect } from "./dialect.js";
import {
  functionCall,
  joined,
  nameOf,
  sql,
  valueOf,
  type Fragment,
  type Statement,
} from "./fragment.js";
import type { StoredDictionary } from "./cells.js";
import { flattened, fromOf, isNested } from "./nested.js";
import { render } from "./render.js";
import {
  booleansOf,
  columnIn,
  datesOf,
  dictionaryOf,
  numbersOf,
  stringsOf,
  type StoredTable,
} from "./storage.js";

/**
 * By what records are grouped: a column's values, the days of a column of days, or the units of
 * time that begin at some edges. Days are found about a third faster than units.
 */
export type GroupKey =
  | { readonly kind: "values"; readonly column: string }
  | { readonly kind: "days"; readonly column: string }
  | { readonly kind: "buckets"; readonly column: string; readonly edges: readonly Edge[] };

/** What is worked out of a column of numbers. */
export const MEASURES = ["sum", "average", "min", "max"] as const;
export type Measure = (typeof MEASURES)[number];

/** A measure of a column. */
export interface MeasuredColumn {
  readonly measure: Measure;
  readonly column: string;
}

/** What a database returns of the numbers of a group, of which every measure of larger groups is made. */
export const PARTIALS = ["sum", "values", "min", "max"] as const;
export type PartialMeasure = (typeof PARTIALS)[number];

/** One of them of a column; `values` is how many cells have a number. */
export interface PartialColumn {
  readonly partial: PartialMeasure;
  readonly column: string;
}

/** The groups of records to be read. */
export interface GroupQuery {
  readonly filter: Filter;
  readonly keys: readonly GroupKey[];
  readonly measures: readonly PartialColumn[];
  /** Groups at most, the largest first; null for all. */
  readonly limit: number | null;
  /**
   * Whether strings are grouped by their first {@link SHORT_TEXT} characters, which is far faster than by
   * strings of any length; the result says whether that was all of them.
   */
  readonly shortTexts?: boolean;
}

/** Characters of a text that are grouped in memory. */
export const SHORT_TEXT = 255;

/**
 * The query of groups of records, for MariaDB: for each key `g0`, `g1`, …, then `n`, the number of
 * records, then `m0`, `m1`, …. A key of values is NULL where the cell holds none; one of buckets is
 * the number of its bucket counted from 1, 0 for what lies before the first, and NULL for no date;
 * one of days is the number of its day counted from 1970-01-01, and NULL for no date.
 * A key of strings with a dictionary is the number of its value.
 * With short strings there are `l0`, … besides: the characters of the longest text of each group.
 */
export function groupStatement(query: GroupQuery, table: StoredTable, dialect: Dialect): Statement {
  const read = readFor(query, table);
  const isShort = query.shortTexts === true;
  const keys = query.keys.map((key) => keyOf(key, read, isShort));
  const strings = isShort
    ? textKeys(query, table).map((key) => stringsOf(key.column, read).exact)
    : [];
  const measures = query.measures.map((measure) => measureOf(measure, read));
  const fields = [
    ...keys.map((key, index) => sql`${key} AS ${nameOf(`g${index}`)}`),
    sql`COUNT(*) AS ${nameOf("n")}`,
    ...measures.map((measure, index) => sql`${measure} AS ${nameOf(`m${index}`)}`),
    ...strings.map((text, index) => sql`MAX(CHAR_LENGTH(${text})) AS ${nameOf(`l${index}`)}`),
  ];
  const where = whereOf(query.filter, read, "count");
  const clause = where === null ? sql`` : sql` WHERE ${where}`;
  const aliases = keys.map((_, index) => nameOf(`g${index}`));
  const groups = aliases.length === 0 ? sql`` : sql` GROUP BY ${joined(aliases, sql`, `)}`;
  const [first] = aliases;
  const columns = [...query.keys, ...query.measures].map(({ column }) => column);
  const names = [...columns, ...columnsOf(query.filter)];
  const limit =
    query.limit === null || first === undefined
      ? sql``
      : sql` ORDER BY ${nameOf("n")} DESC, ${joined(aliases, sql`, `)} LIMIT ${valueOf(query.limit)}`;
  return render(
    sql`SELECT ${joined(fields, sql`, `)} FROM ${fromOf(read, names)}${clause}${groups}${limit}`,
    dialect,
  );
}

/** The dictionaries of the keys of a query: null for one that has its own values. */
export function keyDictionaries(
  { keys }: GroupQuery,
  table: StoredTable,
): readonly (StoredDictionary | null)[] {
  return keys.map(({ kind, column }) => (kind === "values" ? dictionaryOf(column, table) : null));
}

/** The keys of a query that are strings, and have no dictionary. */
export function textKeys({ keys }: GroupQuery, table: StoredTable): readonly GroupKey[] {
  return keys.filter(
    ({ kind, column }) =>
      kind === "values" &&
      columnIn(column, flattenedFor(column, table)).type === "text" &&
      dictionaryOf(column, table) === null,
  );
}

function flattenedFor(column: string, table: StoredTable): StoredTable {
  return isNested(column, table) ? flattened(table) : table;
}

/** Values inside are grouped line by line. */
function readFor({ keys, measures }: GroupQuery, table: StoredTable): StoredTable {
  const columns = [...keys, ...measures].map(({ column }) => column);
  return columns.some((column) => isNested(column, table)) ? flattened(table) : table;
}

function keyOf(key: GroupKey, table: StoredTable, isShort: boolean): Fragment {
  const { column } = key;
  if (key.kind === "buckets") {
    const { isFilled, millis, kind } = datesOf(column, table);
    const edges = key.edges.map((edge) => valueOf(edgeValue(edge, kind)));
    return sql`CASE WHEN ${isFilled} THEN INTERVAL(${millis}, ${joined(edges, sql`, `)}) END`;
  }
  if (key.kind === "days") {
    const { isFilled, isDayTyped, order, millis } = datesOf(column, table);
    // By the column itself an index would be walked in its order, each record looked up for the
    // other conditions: five times as long.
    // TO_DAYS counts from the year 0; 719528 is 1970-01-01.
    const day = isDayTyped ? sql`TO_DAYS(${order}) - 719528` : sql`${millis} DIV 86400000`;
    return sql`CASE WHEN ${isFilled} THEN ${day} END`;
  }
  switch (columnIn(column, table).type) {
    case "text": {
      const { exact, isFilled, dictionary } = stringsOf(column, table);
      if (dictionary !== null) return nameOf(dictionary.code);
      const text = isShort ? sql`LEFT(${exact}, ${valueOf(SHORT_TEXT)})` : exact;
      return sql`CASE WHEN ${isFilled} THEN ${text} END`;
    }
    case "boolean":
      return booleansOf(column, table).value;
    case "date": {
      const { isFilled, order } = datesOf(column, table);
      return sql`CASE WHEN ${isFilled} THEN ${order} END`;
    }
    default: {
      const { value, isFilled } = numbersOf(column, table);
      return sql`CASE WHEN ${isFilled} THEN ${value} END`;
    }
  }
}

const FUNCTIONS: Readonly<Record<PartialMeasure, (value: Fragment) => Fragment>> = {
  sum: (value) => sql`SUM(${value})`,
  values: (value) => sql`COUNT(${value})`,
  min: (value) => sql`MIN(${value})`,
  max: (value) => sql`MAX(${value})`,
};

function measureOf({ partial, column }: PartialColumn, table: StoredTable): Fragment {
  const { value } = numbersOf(column, table);
  // Whole numbers are added as decimals, which do not run over.
  return FUNCTIONS[partial](functionCall("decimal", value));
}
