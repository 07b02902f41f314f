import type { Edge, Interval } from "../calendar/index.js";
import {
  pushNegation,
  type DateCondition,
  type Filter,
  type PlainFilter,
} from "../filters/index.js";
import type { CellState } from "../reading/index.js";
import { joined, nameOf, sql, valueOf, type Fragment } from "./fragment.js";
import { STATE_CODES, datesOf, encodeEdge, type StoredDates, type StoredTable } from "./storage.js";

const NOTHING = sql`1 = 0`;
const ANYTHING = sql`1 = 1`;

/**
 * A filter as a WHERE condition on a stored table, or null where it keeps everything.
 *
 * Dates are compared bare with encoded, half-open bounds, so that an index on the column
 * serves. Throws on a column that the table lacks; check the tree first.
 */
export function whereOf(filter: Filter, table: StoredTable): Fragment | null {
  const plain = pushNegation(filter);
  return plain.kind === "all" && plain.of.length === 0 ? null : conditionOf(plain, table);
}

function conditionOf(filter: PlainFilter, table: StoredTable): Fragment {
  switch (filter.kind) {
    case "all":
      return group(filter.of, table, sql` AND `, ANYTHING);
    case "any":
      return group(filter.of, table, sql` OR `, NOTHING);
    case "state": {
      const { state } = datesOf(filter.column, table);
      const code = valueOf(STATE_CODES[filter.state]);
      return filter.is ? sql`${nameOf(state)} = ${code}` : sql`${nameOf(state)} <> ${code}`;
    }
    case "date":
      return dateCondition(filter, datesOf(filter.column, table));
  }
}

function group(
  parts: readonly PlainFilter[],
  table: StoredTable,
  separator: Fragment,
  ofNothing: Fragment,
): Fragment {
  return together(
    parts.map((part) => conditionOf(part, table)),
    separator,
    ofNothing,
  );
}

/** Conditions in brackets with a word between them; one alone needs neither. */
function together(
  conditions: readonly Fragment[],
  separator: Fragment,
  ofNothing: Fragment,
): Fragment {
  const [only] = conditions;
  if (only === undefined) return ofNothing;
  return conditions.length === 1 ? only : sql`(${joined(conditions, separator)})`;
}

function dateCondition(condition: DateCondition, dates: StoredDates): Fragment {
  const blank = cellIs("blank", dates);
  if (condition.blanks === "only") return blank;
  if (condition.recurring.length > 0) {
    throw new Error(`parts recur without end on ${condition.column}: lay the filter out first`);
  }
  const dated =
    condition.side === "inside"
      ? together(
          condition.intervals.map((interval) => inside(interval, dates)),
          sql` OR `,
          NOTHING,
        )
      : together(
          condition.intervals.map((interval) => outside(interval, dates)),
          sql` AND `,
          isDated(dates),
        );
  return condition.blanks === "keep" ? sql`(${dated} OR ${blank})` : dated;
}

function isDated(dates: StoredDates): Fragment {
  return sql`${nameOf(dates.value)} IS NOT NULL`;
}

/** The stored date is NULL too, which lets the index on it serve the blanks. */
function cellIs(state: Exclude<CellState, "dated">, dates: StoredDates): Fragment {
  const code = valueOf(STATE_CODES[state]);
  return sql`(${nameOf(dates.value)} IS NULL AND ${nameOf(dates.state)} = ${code})`;
}

function inside({ start, end }: Interval, dates: StoredDates): Fragment {
  const column = nameOf(dates.value);
  const lower = boundOf(start, dates);
  const upper = boundOf(end, dates);
  if (lower === "above" || upper === "below") return NOTHING;
  const from = lower === "below" || lower === null ? null : sql`${column} >= ${lower}`;
  const to = upper === "above" || upper === null ? null : sql`${column} < ${upper}`;
  if (from !== null && to !== null) return sql`(${from} AND ${to})`;
  return from ?? to ?? isDated(dates);
}

function outside({ start, end }: Interval, dates: StoredDates): Fragment {
  const column = nameOf(dates.value);
  const lower = boundOf(start, dates);
  const upper = boundOf(end, dates);
  if (lower === "above" || upper === "below") return isDated(dates);
  const before = lower === "below" || lower === null ? null : sql`${column} < ${lower}`;
  const after = upper === "above" || upper === null ? null : sql`${column} >= ${upper}`;
  if (before !== null && after !== null) return sql`(${before} OR ${after})`;
  return before ?? after ?? NOTHING;
}

function boundOf(edge: Edge | null, dates: StoredDates): Fragment | "below" | "above" | null {
  if (edge === null) return null;
  const bound = encodeEdge(edge, dates.kind);
  return bound.kind === "value" ? valueOf(bound.text) : bound.kind;
}
