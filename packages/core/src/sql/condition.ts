import { MS_PER_DAY, type Edge, type Interval } from "../calendar/index.js";
import {
  foldText,
  pushNegation,
  type ColumnsCondition,
  type DateCondition,
  type DaysCondition,
  type Filter,
  type NegatableState,
  type NumberBound,
  type NumberCondition,
  type OneOfCondition,
  type PlainFilter,
  type TextCondition,
} from "../filters/index.js";
import { joined, nameOf, sql, together, valueOf, type Fragment } from "./fragment.js";
import { overlapCondition } from "./overlap.js";
import { isCell, isFilled } from "./cells.js";
import { listedDays } from "./ranges.js";
import {
  STATE_CODES,
  cellsOf,
  datesOf,
  encodeEdge,
  storedColumn,
  textsOf,
  type StoredCells,
  type StoredDates,
  type StoredTable,
  type StoredTexts,
} from "./storage.js";

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
    case "state":
      return stateCondition(filter, table);
    case "date":
      return dateCondition(filter, datesOf(filter.column, table));
    case "number":
      return numberCondition(filter, cellsOf(filter.column, table));
    case "text":
      return textCondition(filter, textsOf(filter.column, table));
    case "oneOf":
      return storedColumn(filter.column, table).column.type === "text"
        ? oneOfTexts(filter, textsOf(filter.column, table))
        : oneOfNumbers(filter, cellsOf(filter.column, table));
    case "overlap":
      return overlapCondition(filter, datesOf(filter.start, table), datesOf(filter.end, table));
    case "days":
      return daysCondition(filter, datesOf(filter.from, table), datesOf(filter.to, table));
    case "columns":
      return columnsCondition(filter, table);
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

function stateCondition({ column, state, is }: NegatableState, table: StoredTable): Fragment {
  if (storedColumn(column, table).column.type === "text") {
    const folded = nameOf(textsOf(column, table).folded);
    const isBlank = (state === "blank") === is;
    return isBlank ? sql`${folded} IS NULL` : sql`${folded} IS NOT NULL`;
  }
  const cells = cellsOf(column, table);
  if (state === "dated") return is ? isFilled(cells) : sql`${nameOf(cells.value)} IS NULL`;
  if (is) return isCell(state, cells);
  const [value, code] = [nameOf(cells.value), valueOf(STATE_CODES[state])];
  return sql`(${value} IS NOT NULL OR ${nameOf(cells.state)} <> ${code})`;
}

/** What a blank policy makes of a condition on values. */
function withBlanks(
  { blanks }: { readonly blanks: DateCondition["blanks"] },
  condition: Fragment,
  blank: Fragment,
): Fragment {
  switch (blanks) {
    case "leave":
      return condition;
    case "keep":
      return sql`(${condition} OR ${blank})`;
    case "only":
      return blank;
  }
}

function dateCondition(condition: DateCondition, dates: StoredDates): Fragment {
  if (condition.recurring.length > 0) {
    throw new Error(`parts recur without end on ${condition.column}: lay the filter out first`);
  }
  const days = listedDays(condition, dates.kind);
  if (days !== null && days.length > 0) {
    const list = joined(days.map(valueOf), sql`, `);
    return withBlanks(condition, sql`${nameOf(dates.value)} IN (${list})`, isCell("blank", dates));
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
          isFilled(dates),
        );
  return withBlanks(condition, dated, isCell("blank", dates));
}

function inside({ start, end }: Interval, dates: StoredDates): Fragment {
  const column = nameOf(dates.value);
  const lower = boundOf(start, dates);
  const upper = boundOf(end, dates);
  if (lower === "above" || upper === "below") return NOTHING;
  const from = lower === "below" || lower === null ? null : sql`${column} >= ${lower}`;
  const to = upper === "above" || upper === null ? null : sql`${column} < ${upper}`;
  if (from !== null && to !== null) return sql`(${from} AND ${to})`;
  return from ?? to ?? isFilled(dates);
}

function outside({ start, end }: Interval, dates: StoredDates): Fragment {
  const column = nameOf(dates.value);
  const lower = boundOf(start, dates);
  const upper = boundOf(end, dates);
  if (lower === "above" || upper === "below") return isFilled(dates);
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

/** Bound as a decimal: a database compares a text with a number in binary fractions. */
function decimalValue(value: string): Fragment {
  return sql`CAST(${valueOf(value)} AS DECIMAL(65,30))`;
}

function numberCondition(condition: NumberCondition, cells: StoredCells): Fragment {
  const { least, most, side } = condition;
  const column = nameOf(cells.value);
  const bound = (operator: Fragment, { value }: NumberBound) =>
    sql`${column} ${operator} ${decimalValue(value)}`;
  const isInside = side === "inside";
  const [from, to] = isInside
    ? [
        least && bound(least.isIn ? sql`>=` : sql`>`, least),
        most && bound(most.isIn ? sql`<=` : sql`<`, most),
      ]
    : [
        least && bound(least.isIn ? sql`<` : sql`<=`, least),
        most && bound(most.isIn ? sql`>` : sql`>=`, most),
      ];
  const bounds = [from, to].filter((each) => each !== null);
  const known = isInside
    ? together(bounds, sql` AND `, isFilled(cells))
    : together(bounds, sql` OR `, NOTHING);
  return withBlanks(condition, known, isCell("blank", cells));
}

/** A text compared by a pattern; the sign that makes others plain is not one that servers set. */
const ESCAPE = "!";

function likeText(pattern: TextCondition["pattern"]): string {
  return pattern
    .map((piece) => {
      if (typeof piece === "string") return piece.replace(/[!%_]/g, `${ESCAPE}$&`);
      return piece.any === "signs" ? "%" : "_";
    })
    .join("");
}

function textCondition(condition: TextCondition, texts: StoredTexts): Fragment {
  const { pattern, letterCase, side } = condition;
  const isFolded = letterCase === "folded";
  const wanted = isFolded
    ? pattern.map((piece) => (typeof piece === "string" ? foldText(piece) : piece))
    : pattern;
  const subject = subjectOf(texts, letterCase);
  const like = valueOf(likeText(wanted));
  const form =
    side === "inside"
      ? sql`${subject} LIKE ${like} ESCAPE '!'`
      : sql`${subject} NOT LIKE ${like} ESCAPE '!'`;
  return withBlanks(condition, notBlank(form, texts, letterCase), isBlankText(texts));
}

/** The folded text is compared sign by sign as it is; the exact one has a collation that is not. */
function subjectOf({ value, folded }: StoredTexts, letterCase: "exact" | "folded"): Fragment {
  return letterCase === "folded" ? nameOf(folded) : { kind: "exact", text: nameOf(value) };
}

function isBlankText({ folded }: StoredTexts): Fragment {
  return sql`${nameOf(folded)} IS NULL`;
}

/** A text of white space has signs that a pattern can have; that it is blank, the folded one tells. */
function notBlank(condition: Fragment, { folded }: StoredTexts, letterCase: "exact" | "folded") {
  if (letterCase === "folded") return condition;
  return sql`(${condition} AND ${nameOf(folded)} IS NOT NULL)`;
}

function oneOfTexts(condition: OneOfCondition, texts: StoredTexts): Fragment {
  const { values, letterCase, side } = condition;
  const wanted = values.map((each) => valueOf(letterCase === "folded" ? foldText(each) : each));
  const among = amongOf(subjectOf(texts, letterCase), wanted, side);
  const known = among ?? (side === "inside" ? NOTHING : sql`${nameOf(texts.folded)} IS NOT NULL`);
  return withBlanks(condition, notBlank(known, texts, letterCase), isBlankText(texts));
}

function oneOfNumbers(condition: OneOfCondition, cells: StoredCells): Fragment {
  const { values, side } = condition;
  const among = amongOf(nameOf(cells.value), values.map(decimalValue), side);
  const known = among ?? (side === "inside" ? NOTHING : isFilled(cells));
  return withBlanks(condition, known, isCell("blank", cells));
}

/** Null for an empty list, which SQL does not have. */
function amongOf(
  subject: Fragment,
  values: readonly Fragment[],
  side: OneOfCondition["side"],
): Fragment | null {
  if (values.length === 0) return null;
  const list = joined(values, sql`, `);
  return side === "inside" ? sql`${subject} IN (${list})` : sql`${subject} NOT IN (${list})`;
}

function daysCondition(condition: DaysCondition, from: StoredDates, to: StoredDates): Fragment {
  const { least, most, side } = condition;
  const [first, second] = [nameOf(from.value), nameOf(to.value)];
  const days =
    from.kind === "instant"
      ? sql`TIMESTAMPDIFF(MICROSECOND, ${first}, ${second}) DIV ${valueOf(MS_PER_DAY * 1_000)}`
      : sql`DATEDIFF(${second}, ${first})`;
  const isInside = side === "inside";
  const bound = (operator: Fragment, size: number | null) =>
    size === null ? [] : [sql`${days} ${operator} ${valueOf(size)}`];
  const found = isInside
    ? [...bound(sql`>=`, least), ...bound(sql`<=`, most)]
    : [...bound(sql`<`, least), ...bound(sql`>`, most)];
  if (!isInside) return together(found, sql` OR `, NOTHING);
  return together(found, sql` AND `, sql`(${isFilled(from)} AND ${isFilled(to)})`);
}

function columnsCondition({ left, comparison, right }: ColumnsCondition, table: StoredTable) {
  const operator = OPERATORS[comparison];
  const [first, second] = [storedColumn(left, table), storedColumn(right, table)];
  if (first.column.type !== "text") {
    return sql`${nameOf(first.value)} ${operator} ${nameOf(second.value)}`;
  }
  const [a, b] = [textsOf(left, table), textsOf(right, table)];
  const subject = sql`${subjectOf(a, "exact")} ${operator} ${subjectOf(b, "exact")}`;
  return notBlank(notBlank(subject, a, "exact"), b, "exact");
}

const OPERATORS: Readonly<Record<ColumnsCondition["comparison"], Fragment>> = {
  "=": sql`=`,
  "<>": sql`<>`,
  "<": sql`<`,
  "<=": sql`<=`,
  ">": sql`>`,
  ">=": sql`>=`,
};
