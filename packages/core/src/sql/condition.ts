import { END_MS, FIRST_MS, type Edge, type Interval } from "../calendar/index.js";
import {
  edgeValue,
  foldText,
  isBlankText,
  pushNegation,
  type ColumnsCondition,
  type DateCondition,
  type DaysCondition,
  type Filter,
  type NegatableState,
  type NumberBound,
  type NumberCondition,
  type OneOfCondition,
  type PartialCondition,
  type PlainFilter,
  type RecurringSpan,
  type TextCondition,
} from "../filters/index.js";
import { daysBetween } from "./attached-days.js";
import type { StoredDates, StoredNumbers, StoredStrings } from "./cells.js";
import { comparedDates, andValid } from "./compared.js";
import {
  BY_ITSELF,
  functionCall,
  joined,
  nameOf,
  sql,
  joinConditions,
  valueOf,
  type Fragment,
} from "./fragment.js";
import { insideApart, someElement } from "./nested.js";
import { codedCondition } from "./dictionary.js";
import { overlapCondition } from "./overlap.js";
import { partialIntervals } from "./partial.js";
import { listedDays, type Purpose } from "./ranges.js";
import { recurs } from "./recurring.js";
import {
  booleansOf,
  cellsOf,
  datesOf,
  numbersOf,
  storedColumn,
  stringsOf,
  type StoredTable,
} from "./storage.js";

const NOTHING = sql`1 = 0`;
const ANYTHING = sql`1 = 1`;

/**
 * A filter as a WHERE condition on a stored table, or null where it keeps everything.
 *
 * Dates are compared bare with encoded, half-open bounds, so that an index on the column
 * serves. Throws on a column that the table lacks; check the tree first.
 */
export function whereOf(
  filter: Filter,
  table: StoredTable,
  purpose: Purpose = "page",
): Fragment | null {
  const plain = pushNegation(filter);
  if (plain.kind === "all" && plain.of.length === 0) return null;
  const apart = table.nested === undefined ? null : insideApart(partsOf(plain), table);
  if (apart === null) return conditionOf(plain, table, purpose);
  const [outside, inside] = [apart.outside, apart.inside].map((parts) =>
    parts.map((part) => conditionOf(part, table, purpose)),
  );
  const some = someElement(joinConditions(inside ?? [], sql` AND `, ANYTHING), table);
  return joinConditions([...(outside ?? []), some], sql` AND `, ANYTHING);
}

/** The conditions that must all hold. */
function partsOf(filter: PlainFilter): readonly PlainFilter[] {
  return filter.kind === "all" ? filter.of.flatMap(partsOf) : [filter];
}

function conditionOf(filter: PlainFilter, table: StoredTable, purpose: Purpose): Fragment {
  switch (filter.kind) {
    case "all":
      return group(filter.of, table, purpose, sql` AND `, ANYTHING);
    case "any":
      return group(filter.of, table, purpose, sql` OR `, NOTHING);
    case "state":
      return stateCondition(filter, table);
    case "date":
      return dateCondition(filter, datesOf(filter.column, table), purpose);
    case "partial":
      return partialCondition(filter, datesOf(filter.dates.column, table), purpose);
    case "number":
      return numberCondition(filter, numbersOf(filter.column, table));
    case "text":
      return textCondition(filter, stringsOf(filter.column, table));
    case "oneOf":
      return storedColumn(filter.column, table).column.type === "text"
        ? oneOfTexts(filter, stringsOf(filter.column, table))
        : oneOfNumbers(filter, numbersOf(filter.column, table));
    case "boolean": {
      const booleans = booleansOf(filter.column, table);
      const known = filter.side === "inside" ? booleans.isTrue : booleans.isFalse;
      return withBlanks(filter, known, booleans.isBlank);
    }
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
  purpose: Purpose,
  separator: Fragment,
  ofNothing: Fragment,
): Fragment {
  return joinConditions(
    parts.map((part) => conditionOf(part, table, purpose)),
    separator,
    ofNothing,
  );
}

function stateCondition({ column, state, is }: NegatableState, table: StoredTable): Fragment {
  const cells = cellsOf(column, table);
  switch (state) {
    case "dated":
      return is ? cells.isFilled : cells.isNotFilled;
    case "blank":
      return is ? cells.isBlank : cells.isNotBlank;
    case "unreadable":
      return is ? cells.isUnreadable : cells.isNotUnreadable;
  }
}

/** What a blank policy makes of a condition on values. */
function withBlanks(
  { blanks }: { readonly blanks: DateCondition["blanks"] },
  condition: Fragment,
  blank: Fragment,
): Fragment {
  switch (blanks) {
    case "exclude":
      return condition;
    case "include":
      return sql`(${condition} OR ${blank})`;
    case "only":
      return blank;
  }
}

function dateCondition(condition: DateCondition, dates: StoredDates, purpose: Purpose): Fragment {
  return withBlanks(condition, datedCondition(condition, dates, purpose), dates.isBlank);
}

/** Dates of a day as they are, and those without a day by their first and their last. */
function partialCondition(
  { dates: condition, policy }: PartialCondition,
  dates: StoredDates,
  purpose: Purpose,
): Fragment {
  const { last } = dates;
  if (last === undefined) throw new Error(`${condition.column} has no last days`);
  const whole = sql`(${datedCondition(condition, dates, purpose)} AND ${last.isNone})`;
  const others = partialIntervals(condition, policy, dates, last);
  return withBlanks(condition, sql`(${whole} OR ${others})`, dates.isBlank);
}

function datedCondition(condition: DateCondition, dates: StoredDates, purpose: Purpose): Fragment {
  const { side, recurring } = condition;
  const isMany = dates.isWorkedOut === true && condition.intervals.length > FEW_WORKED_OUT;
  const intervals = isMany ? [] : condition.intervals;
  const within = isMany ? [withinOne(condition.intervals, dates)] : [];
  if (condition.intervals.length + recurring.length === 0) {
    return side === "inside" ? NOTHING : dates.isFilled;
  }
  if (side === "outside") {
    const tests = [
      ...within.map((each) => sql`(${dates.order} IS NOT NULL AND NOT ${each})`),
      ...intervals.map((interval) => outside(interval, dates)),
      ...recurring.map((span) => beyondRules(span, dates)),
    ];
    return andValid(joinConditions(tests, sql` AND `, NOTHING), dates);
  }
  const rules = recurring.map((span) => withinRules(span, dates));
  const days = listedDays(condition, dates, purpose);
  if (days !== null && days.length > 0) {
    const listed = dates.onDays(days) ?? NOTHING;
    if (rules.length === 0) return listed;
    return joinConditions(
      [listed, andValid(joinConditions(rules, sql` OR `, NOTHING), dates)],
      sql` OR `,
      NOTHING,
    );
  }
  const near = within.map((each) => sql`(${around(condition.intervals, dates)} AND ${each})`);
  const tests = [...near, ...intervals.map((interval) => inside(interval, dates)), ...rules];
  return andValid(joinConditions(tests, sql` OR `, NOTHING), dates);
}

/** Intervals up to which a date that is worked out at length is compared with each. */
const FEW_WORKED_OUT = 2;

/** That a date lies in one of many intervals, which stand in a table so that the date need stand but once. */
function withinOne(intervals: readonly Interval[], dates: StoredDates): Fragment {
  const bound = (edge: Edge | null, open: number) =>
    functionCall("decimal", valueOf(edge === null ? open : pointOf(edge, dates)));
  const [from, to] = [nameOf("orisma_from"), nameOf("orisma_to")];
  const rows = intervals.map(
    ({ start, end }) =>
      sql`SELECT ${bound(start, FIRST_MS)} AS ${from}, ${bound(end, END_MS)} AS ${to}`,
  );
  return sql`EXISTS (SELECT 1 FROM (${joined(rows, sql` UNION ALL `)}) AS ${nameOf("orisma_intervals")} WHERE ${dates.order} >= ${from} AND ${dates.order} < ${to} AND ${BY_ITSELF})`;
}

/** That a date lies between the ends of all intervals, which an index may find. */
function around(intervals: readonly Interval[], dates: StoredDates): Fragment {
  const furthest = (edges: readonly (Edge | null)[], most: (...of: number[]) => number) => {
    const points = edges.flatMap((edge) => (edge === null ? [] : [pointOf(edge, dates)]));
    return points.length < edges.length ? null : most(...points);
  };
  const from = furthest(
    intervals.map(({ start }) => start),
    Math.min,
  );
  const to = furthest(
    intervals.map(({ end }) => end),
    Math.max,
  );
  const bounds = [
    from === null ? "all" : dates.from(from),
    to === null ? "all" : dates.before(to),
  ].filter((bound) => typeof bound !== "string");
  return joinConditions(bounds, sql` AND `, ANYTHING);
}

/** Dates within an interval that recurring rules let in. */
function withinRules(interval: RecurringSpan, dates: StoredDates): Fragment {
  return sql`(${inside(interval.interval, dates)} AND ${recurs(interval, dates)})`;
}

/** The other dates; what is not dated is omitted by the test of the rules, which is unknown then. */
function beyondRules(interval: RecurringSpan, dates: StoredDates): Fragment {
  const { start, end } = interval.interval;
  const others = sql`NOT (${recurs(interval, dates)})`;
  if (start === null && end === null) return others;
  return sql`(${outside(interval.interval, dates)} OR ${others})`;
}

function inside({ start, end }: Interval, dates: StoredDates): Fragment {
  const lower = start === null ? "all" : dates.from(pointOf(start, dates));
  const upper = end === null ? "all" : dates.before(pointOf(end, dates));
  if (lower === "none" || upper === "none") return NOTHING;
  if (lower === "all" && upper === "all") return dates.isFilled;
  const from = lower === "all" ? dates.closed.from : lower;
  const to = upper === "all" ? dates.closed.before : upper;
  const bounds = [from, to].filter((bound) => bound !== null);
  return joinConditions(bounds, sql` AND `, dates.isFilled);
}

function outside({ start, end }: Interval, dates: StoredDates): Fragment {
  const before = start === null ? "none" : dates.before(pointOf(start, dates));
  const after = end === null ? "none" : dates.from(pointOf(end, dates));
  if (before === "all" || after === "all") return dates.isFilled;
  const bounds = [before, after].filter((bound) => bound !== "none");
  return joinConditions(bounds, sql` OR `, NOTHING);
}

function pointOf(edge: Edge, { kind }: StoredDates): number {
  return edgeValue(edge, kind);
}

function numberCondition(condition: NumberCondition, numbers: StoredNumbers): Fragment {
  const { least, most, side } = condition;
  const column = numbers.value;
  const bound = (operator: Fragment, { value }: NumberBound) =>
    sql`${column} ${operator} ${functionCall("decimal", valueOf(value))}`;
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
    ? joinConditions(bounds, sql` AND `, numbers.isFilled)
    : joinConditions(bounds, sql` OR `, NOTHING);
  return withBlanks(condition, known, numbers.isBlank);
}

function textCondition(condition: TextCondition, strings: StoredStrings): Fragment {
  const coded = strings.dictionary && codedCondition(condition, strings.dictionary);
  if (coded !== null) return withBlanks(condition, coded, strings.isBlank);
  const { pattern, caseSensitive, side } = condition;
  const isFolded = !caseSensitive;
  const wanted = isFolded
    ? pattern.map((piece) => (typeof piece === "string" ? foldText(piece) : piece))
    : pattern;
  const like: Fragment = {
    kind: "pattern",
    of: subjectOf(strings, caseSensitive),
    pattern: wanted,
  };
  const form = side === "inside" ? beside(like, condition, strings) : sql`NOT (${like})`;
  const isPlain = pattern.some((piece) => typeof piece === "string" && !isBlankText(piece));
  // What has a character that is not white is no blank text.
  const known = side === "inside" && isPlain ? form : notBlank(form, strings, caseSensitive);
  return withBlanks(condition, known, strings.isBlank);
}

/** A plain text is found in the index of a plain column, and then looked at character by character. */
function beside(
  like: Fragment,
  { pattern, caseSensitive }: TextCondition,
  { bare, exact }: StoredStrings,
): Fragment {
  const [only] = pattern;
  if (bare === null || !caseSensitive || pattern.length !== 1) return like;
  if (typeof only !== "string") return like;
  return sql`(${bare} = ${valueOf(only)} AND ${exact} = ${valueOf(only)})`;
}

function subjectOf({ exact, folded }: StoredStrings, caseSensitive: boolean): Fragment {
  return caseSensitive ? exact : folded;
}

/** A text of white space has characters that a pattern can have; of imported tables the folded one is NULL. */
function notBlank(condition: Fragment, strings: StoredStrings, caseSensitive: boolean) {
  if (!caseSensitive && strings.blankIsNull) return condition;
  return sql`(${condition} AND ${strings.isFilled})`;
}

function oneOfTexts(condition: OneOfCondition, strings: StoredStrings): Fragment {
  const coded = strings.dictionary && codedCondition(condition, strings.dictionary);
  if (coded !== null) return withBlanks(condition, coded, strings.isBlank);
  const { caseSensitive, side } = condition;
  // A blank text is none of any list.
  const values = condition.values.filter((each) => !isBlankText(each));
  const wanted = values.map((each) => valueOf(caseSensitive ? each : foldText(each)));
  const among = amongOf(subjectOf(strings, caseSensitive), wanted, side);
  const bare = caseSensitive && side === "inside" ? strings.bare : null;
  const near = bare === null ? null : amongOf(bare, wanted, side);
  const found = near === null || among === null ? among : sql`(${near} AND ${among})`;
  if (found === null) {
    return withBlanks(condition, side === "inside" ? NOTHING : strings.isFilled, strings.isBlank);
  }
  const known = side === "inside" ? found : notBlank(found, strings, caseSensitive);
  return withBlanks(condition, known, strings.isBlank);
}

function oneOfNumbers(condition: OneOfCondition, numbers: StoredNumbers): Fragment {
  const { values, side } = condition;
  const wanted = values.map((each) => functionCall("decimal", valueOf(each)));
  const among = amongOf(numbers.value, wanted, side);
  const known = among ?? (side === "inside" ? NOTHING : numbers.isFilled);
  return withBlanks(condition, known, numbers.isBlank);
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
  const days = daysBetween(from.millis, to.millis, from.kind);
  const isInside = side === "inside";
  const bound = (operator: Fragment, size: number | null) =>
    size === null ? [] : [sql`${days} ${operator} ${valueOf(size)}`];
  const found = isInside
    ? [...bound(sql`>=`, least), ...bound(sql`<=`, most)]
    : [...bound(sql`<`, least), ...bound(sql`>`, most)];
  if (!isInside) return joinConditions(found, sql` OR `, NOTHING);
  return joinConditions(found, sql` AND `, sql`(${from.isFilled} AND ${to.isFilled})`);
}

function columnsCondition({ left, comparison, right }: ColumnsCondition, table: StoredTable) {
  const operator = OPERATORS[comparison];
  switch (storedColumn(left, table).column.type) {
    case "date": {
      const [a, b] = [datesOf(left, table), datesOf(right, table)];
      return comparedDates(a, operator, b);
    }
    case "text": {
      const [a, b] = [stringsOf(left, table), stringsOf(right, table)];
      const subject = sql`${a.exact} ${operator} ${b.exact}`;
      return notBlank(notBlank(subject, a, true), b, true);
    }
    case "boolean":
      return sql`${booleansOf(left, table).value} ${operator} ${booleansOf(right, table).value}`;
    default:
      return sql`${numbersOf(left, table).value} ${operator} ${numbersOf(right, table).value}`;
  }
}

const OPERATORS: Readonly<Record<ColumnsCondition["comparison"], Fragment>> = {
  "=": sql`=`,
  "<>": sql`<>`,
  "<": sql`<`,
  "<=": sql`<=`,
  ">": sql`>`,
  ">=": sql`>=`,
};
