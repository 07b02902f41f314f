import { NOTHING, type Catalogue, type Filter, type NumberBound } from "../filters/index.js";
import {
  NO_RECORD,
  mapConditions,
  periodTest,
  resolveQuery,
  type DateTest,
  type DateQuery,
  type FixedCondition,
  type Query,
  type ResolveContext,
  type ValueQuery,
} from "../query/index.js";
import { readIsoDate } from "../reading/index.js";
import { MS_PER_DAY } from "../calendar/index.js";
import { durationText, type Part, type Recurring } from "../windows/index.js";
import { NOW, type DerivedColumn } from "./columns.js";
import { derivedNumbers } from "./computed.js";

type Derived = Readonly<Record<string, DerivedColumn>>;

/** Whole numbers from one to another, both included; null for no bound. */
interface NumberRange {
  readonly from: number | null;
  readonly to: number | null;
}

/** The columns of a source, and its derived columns as whole numbers: conditions can be put on all of them. */
export function withDerivedColumns(columns: Catalogue, derived: Derived): Catalogue {
  const found = derivedNumbers(derived, columns);
  return found.size === 0 ? columns : new Map([...columns, ...found]);
}

/** A condition on a derived column as a filter of the dates that it is worked out of, at a moment. */
export function filterOnDerived(
  condition: FixedCondition,
  derived: Derived,
  context: ResolveContext,
): Filter {
  const requested: ValueQuery = {
    kind: "value",
    id: "derived",
    origin: { kind: "filter" },
    condition,
  };
  const resolved = resolveQuery(expandDerived(requested, derived, context.columns), context);
  return resolved.ok ? resolved.value.filter : NOTHING;
}

/** The numbers that a part of a date can be; null for a derived column that can be any. */
export function numbersOfPart(derived: DerivedColumn): readonly number[] | null {
  if (derived.kind !== "part" || derived.part === "year") return null;
  const [, least, most] =
    derived.part === "quarter" ? (["", 1, QUARTERS] as const) : PARTS[derived.part];
  return Array.from({ length: most - least + 1 }, (_, index) => least + index);
}

/**
 * A query whose conditions on derived columns are put on the dates that these are worked out of: "quarter
 * is 2" on the months of its date, "at least 30 days taken" on the two dates between which they lie.
 */
export function expandDerived(query: Query, derived: Derived, columns: Catalogue): Query {
  if (Object.keys(derived).length === 0) return query;
  return mapConditions(query, (condition) => {
    if (condition.kind !== "value" || !("column" in condition.condition)) return condition;
    const { column } = condition.condition;
    const operand = columns.has(column) ? undefined : derived[column];
    if (operand === undefined) return condition;
    const { id, origin, condition: requested } = condition;
    const of = onOperand(condition, operand, columns);
    return { kind: "derived", id, origin, condition: requested, of };
  });
}

function onOperand(query: ValueQuery, operand: DerivedColumn, columns: Catalogue): Query {
  const { condition } = query;
  switch (condition.kind) {
    case "state":
      return stateOf(query, operand, condition.state);
    case "number": {
      const range = { from: leastOf(condition.least), to: mostOf(condition.most) };
      return withBlanks(
        query,
        operand,
        sided(condition.side, within(query, operand, range, columns)),
      );
    }
    case "oneOf": {
      const numbers = condition.values.map(Number).filter(Number.isInteger);
      const of = numbers.map((value) =>
        within(query, operand, { from: limited(value), to: limited(value) }, columns),
      );
      // Of an empty list, too, the other side has only what has a number.
      const any: Query = { kind: "any", of: of.length === 0 ? [noneOf(query, operand)] : of };
      return withBlanks(query, operand, sided(condition.side, any));
    }
    default:
      return NO_RECORD;
  }
}

function leastOf(bound: NumberBound | null): number | null {
  if (bound === null) return null;
  const value = Number(bound.value);
  return limited(bound.isIn ? Math.ceil(value) : Math.floor(value) + 1);
}

function mostOf(bound: NumberBound | null): number | null {
  if (bound === null) return null;
  const value = Number(bound.value);
  return limited(bound.isIn ? Math.floor(value) : Math.ceil(value) - 1);
}

/** More days than the calendar has: what lies beyond compares alike with all that there can be. */
const FURTHEST = 4_000_000;

function limited(value: number): number {
  return Math.min(FURTHEST, Math.max(-FURTHEST, value));
}

function sided(side: "inside" | "outside", query: Query): Query {
  return side === "inside" ? query : { kind: "not", of: query };
}

function withBlanks(query: ValueQuery, operand: DerivedColumn, dates: Query): Query {
  const { condition } = query;
  const blanks = "blanks" in condition ? condition.blanks : "exclude";
  if (blanks === "exclude") return dates;
  const blank = stateOf(query, operand, "blank");
  return blanks === "only" ? blank : { kind: "any", of: [dates, blank] };
}

/** It is blank or unreadable where one of its dates is, and has a value where all of them have. */
function stateOf(
  query: ValueQuery,
  operand: DerivedColumn,
  state: "dated" | "blank" | "unreadable",
): Query {
  const columns = operand.kind === "part" ? [operand.column] : [operand.from, operand.to];
  const of = columns
    .filter((name) => name !== NOW)
    .map((column): Query => ({ ...query, condition: { kind: "state", column, state } }));
  return { kind: state === "dated" ? "all" : "any", of };
}

/** The records of which a derived column has a number within a range. */
function within(
  query: ValueQuery,
  operand: DerivedColumn,
  range: NumberRange,
  columns: Catalogue,
): Query {
  const { from, to } = range;
  if (from !== null && to !== null && from > to) return noneOf(query, operand);
  if (operand.kind === "part") return partWithin(query, operand, range);
  if (operand.to === NOW || operand.from === NOW) {
    const [column, ahead] =
      operand.to === NOW
        ? [operand.from, { from: negative(to), to: negative(from) }]
        : [operand.to, range];
    const date = columns.get(column);
    const isInstant = date?.type === "date" && date.kind === "instant";
    return (isInstant ? elapsedDaysAround : daysAround)(query, column, ahead);
  }
  const { from: start, to: end } = operand;
  return {
    ...query,
    condition: { kind: "days", from: start, to: end, side: "inside", least: from, most: to },
  };
}

/** None of the records that have a number: on its other side are all of these, and no blanks. */
function noneOf({ id, origin, ...query }: ValueQuery, operand: DerivedColumn): Query {
  if (operand.kind === "part") return onDates({ id, origin }, operand.column, []);
  const { from, to } = operand;
  if (from === NOW || to === NOW) return onDates({ id, origin }, from === NOW ? to : from, []);
  const bounds = { least: 1, most: 0 };
  return { ...query, id, origin, condition: { kind: "days", from, to, side: "inside", ...bounds } };
}

function negative(value: number | null): number | null {
  return value === null ? null : -value;
}

/** The parts of a date as recurring parts, with the numbers that they have. */
const PARTS: Readonly<
  Record<"month" | "day" | "weekday" | "hour", readonly [Recurring["name"], number, number]>
> = {
  month: ["BYMONTH", 1, 12],
  day: ["BYMONTHDAY", 1, 31],
  weekday: ["BYDAY", 1, 7],
  hour: ["BYHOUR", 0, 23],
};

const QUARTERS = 4;
const MONTHS_OF_QUARTER = 3;

function partWithin(
  { id, origin }: ValueQuery,
  { part, column }: Extract<DerivedColumn, { readonly kind: "part" }>,
  range: NumberRange,
): Query {
  if (part === "year") {
    const [from, to] = [range.from ?? YEARS.least, range.to ?? YEARS.most];
    if (from > YEARS.most || to < YEARS.least) return onDates({ id, origin }, column, []);
    const start = from < YEARS.least || range.from === null ? null : yearPart(from);
    const end = to > YEARS.most || range.to === null ? null : yearPart(to);
    return onDates({ id, origin }, column, [periodTest(start, end)]);
  }
  const [name, least, most] =
    part === "quarter" ? (["BYMONTH", 1, QUARTERS] as const) : PARTS[part];
  const [from, to] = [Math.max(least, range.from ?? least), Math.min(most, range.to ?? most)];
  const months = part === "quarter" ? MONTHS_OF_QUARTER : 1;
  const span = { from: (from - 1) * months + 1, to: to * months };
  return {
    kind: "datePart",
    id,
    origin,
    column,
    part: name,
    side: "inside",
    within: from > to ? null : part === "quarter" ? span : { from, to },
  };
}

const YEARS = { least: 1, most: 9_999 } as const;

function yearPart(year: number): Part | null {
  const read = readIsoDate(String(year).padStart(4, "0"));
  if (!read.ok) return null;
  const { canonical: text } = read.value;
  return { base: { kind: "written", written: read.value }, shifts: [], text };
}

/** Dates that lie so many days from today. */
function daysAround({ id, origin }: ValueQuery, column: string, { from, to }: NumberRange): Query {
  const dates = onDates({ id, origin }, column, [periodTest(dayPart(from), dayPart(to))]);
  return { ...dates, endsWithCalendar: true };
}

/** Points in time that lie so many days of 24 hours from now, counted whole towards now. */
function elapsedDaysAround(
  { id, origin }: ValueQuery,
  column: string,
  { from, to }: NumberRange,
): DateQuery {
  const start = from === null ? null : from > 0 ? from * MS_PER_DAY : (from - 1) * MS_PER_DAY + 1;
  const end = to === null ? null : to < 0 ? to * MS_PER_DAY + 1 : (to + 1) * MS_PER_DAY;
  const dates = onDates({ id, origin }, column, [periodTest(momentPart(start), momentPart(end))]);
  return { ...dates, endsWithCalendar: true };
}

/** So many milliseconds after now. */
function momentPart(offsetMs: number | null): Part | null {
  if (offsetMs === null) return null;
  const duration = { years: 0, months: 0, weeks: 0, days: 0, elapsedMs: Math.abs(offsetMs) };
  const sign = offsetMs < 0 ? -1 : 1;
  const text = `now${sign < 0 ? "-" : "+"}${durationText(duration)}`;
  return { base: { kind: "now" }, shifts: [{ sign, duration }], text };
}

function dayPart(offset: number | null): Part | null {
  if (offset === null) return null;
  const text = offset === 0 ? "today" : `day${offset < 0 ? "" : "+"}${offset}`;
  return { base: { kind: "unit", unit: "day", offset, nth: null }, shifts: [], text };
}

function onDates(
  named: Pick<ValueQuery, "id" | "origin">,
  column: string,
  tests: readonly DateTest[],
): DateQuery {
  return { ...named, kind: "date", column, tests, blanks: "exclude", notices: [] };
}
