/** Random trees of conditions and hostile records, for whatever must agree on them. */
import {
  INTERSECTING,
  ORDER_COMPARISONS,
  RELATIONS,
  UTC,
  dayNumber,
  epochMs,
  fault,
  findZone,
  patternText,
  readIsoDate,
  readPattern,
  readWindow,
  resolveSpan,
  wallMs,
  type Catalogue,
  type Cell,
  type Column,
  type DateCondition,
  type DateKind,
  type Edge,
  type FilledCell,
  type Filter,
  type Interval,
  type Recurring,
  type RecurringSpan,
  type Row,
} from "@orisma/core/internal";
import fc from "fast-check";

export const KINDS: readonly DateKind[] = ["date", "local", "instant"];
/** Two date columns of each kind, so that intervals and columns can be compared. */
export const DATES: readonly Column[] = KINDS.flatMap((kind) =>
  ["of", "to"].map((word): Column => ({ name: `${word} ${kind}`, type: "date", kind })),
);
export const COLUMNS: readonly Column[] = [
  ...DATES,
  { name: "task", type: "text" },
  { name: "note", type: "text" },
  { name: "count", type: "integer" },
  { name: "cost", type: "decimal" },
  { name: "done", type: "boolean" },
  { name: "paid", type: "boolean" },
];
export const CATALOGUE: Catalogue = new Map(COLUMNS.map((column) => [column.name, column]));

/** Moments at which something begins: days, months, years, clock changes, the ends of time. */
const EDGES = [
  "0001-01-01",
  "1970-01-01",
  "2023-12-31",
  "2024-01-01",
  "2024-02-28",
  "2024-02-29",
  "2024-03-01",
  "2024-03-31",
  "2024-10-27",
  "2025-02-28",
  "2025-03-01",
  "2025-03-30T01:30",
  "2025-10-26T01:30",
  "9999-12-31",
].map((text) => {
  const read = readIsoDate(text);
  if (!read.ok) throw new Error(text);
  return read.value.start;
});

const LONDON = findZone("Europe/London");
export const ZONES = [UTC, ...(LONDON.ok ? [LONDON.value] : [])];
const NEAR = [-86_400_000, -3_600_000, -1, 0, 1, 3_600_000, 86_399_999, 86_400_000];
const LEAST = dayNumber(1, 1, 1) * 86_400_000;
const MAX = dayNumber(10_000, 1, 1) * 86_400_000 - 1;

/** Moments at which something begins or ends, and a tick before and after. */
export const moment = fc
  .tuple(fc.constantFrom(...EDGES), fc.constantFrom(...NEAR))
  .map(([edge, near]) => Math.min(MAX, Math.max(LEAST, edge + near)));

const UNREADABLE: Cell = { state: "unreadable", fault: fault("date.form", { text: "soon" }) };

const cell = (kind: DateKind): fc.Arbitrary<Cell> =>
  fc.oneof(
    {
      weight: 8,
      arbitrary: moment.map((ms): Cell => ({
        state: "dated",
        ms: kind === "date" ? Math.floor(ms / 86_400_000) * 86_400_000 : ms,
      })),
    },
    { weight: 1, arbitrary: fc.constant<Cell>({ state: "blank" }) },
    {
      weight: 1,
      arbitrary: fc.constant(UNREADABLE),
    },
  );

/** Strings that collations and patterns read in ways of their own. */
export const TEXTS = [
  "straße",
  "STRASSE",
  "strasse",
  "Éclusier",
  "éclusier",
  "eclusier",
  "e\u0301clusier",
  "İnce",
  "ince",
  "ΟΔΟΣ",
  "οδος",
  "a",
  "A",
  "a ",
  " a",
  "100%",
  "100_",
  "1000",
  "back\\slash",
  "bang!",
  "😀",
  "🎉",
  "x'y'; --",
  "",
  "   ",
  "\t",
  "\u00a0",
];
export const NUMBERS = [
  "-9223372036854775808",
  "-1.5",
  "-1",
  "0",
  "0.000000000001",
  "1",
  "1.5",
  "1999",
];

/** A cell with a value, or a blank one. */
export const blankOr = (filled: fc.Arbitrary<string>): fc.Arbitrary<FilledCell | Cell> =>
  fc.oneof(
    { weight: 8, arbitrary: filled.map((value) => ({ state: "filled" as const, value })) },
    { weight: 1, arbitrary: fc.constant<Cell>({ state: "blank" }) },
  );

const integers = NUMBERS.filter((each) => !each.includes("."));

function cellOf(column: Column): fc.Arbitrary<FilledCell | Cell> {
  switch (column.type) {
    case "date":
      return cell(column.kind);
    case "text":
      return blankOr(fc.constantFrom(...TEXTS));
    case "integer":
      return fc.oneof(
        { weight: 9, arbitrary: blankOr(fc.constantFrom(...integers, "9223372036854775807")) },
        { weight: 1, arbitrary: fc.constant(UNREADABLE) },
      );
    case "decimal":
      return blankOr(fc.constantFrom(...NUMBERS));
    case "boolean":
      return fc.oneof(
        { weight: 9, arbitrary: blankOr(fc.constantFrom("true", "false")) },
        { weight: 1, arbitrary: fc.constant(UNREADABLE) },
      );
  }
}

export const row: fc.Arbitrary<Row> = fc
  .tuple(...COLUMNS.map(cellOf))
  .map((cells) =>
    Object.fromEntries(
      COLUMNS.map(({ name }, index) => [name, cells[index] ?? { state: "blank" }]),
    ),
  );

const text = fc
  .tuple(moment, fc.constantFrom(4, 7, 10, 16, 23))
  .map(([ms, length]) => new Date(ms).toISOString().slice(0, length));

/** Edges as requests make them: of written dates in a zone, so that both faces belong together. */
export function edgeOf(written: string, zone: number, end: boolean): Edge {
  const read = readIsoDate(written);
  if (!read.ok) return { instant: epochMs(0), wall: wallMs(0) };
  const { span } = resolveSpan(read.value, ZONES[zone] ?? UTC);
  return end ? span.end : span.start;
}

const edge = fc.option(
  fc
    .tuple(text, fc.nat(ZONES.length - 1), fc.boolean())
    .map(([written, zone, end]) => edgeOf(written, zone, end)),
);

/** What random trees speak of. */
export interface TreeColumns {
  readonly columns: readonly Column[];
  /** Values of strings, and pieces of patterns. */
  readonly strings: readonly string[];
  /** Whether letter case may be disregarded. */
  readonly folds: boolean;
}

const side = fc.constantFrom("inside" as const, "outside" as const);
const blanks = fc.constantFrom("exclude" as const, "include" as const, "only" as const);
/** No interval begins beyond the last year that can be written. */
const start = edge.map((each) => (each !== null && each.wall > MAX ? null : each));
const intervals = fc.array(fc.record({ start, end: edge }), { maxLength: 3 });

/** Rules as they are written, of every name: from either end, in ranges that wrap, counted in a month. */
const RULES = [
  "BYMONTH=1",
  "BYMONTH=10..2",
  "BYMONTH=3,10,12",
  "BYMONTHDAY=28..31",
  "BYMONTHDAY=-1",
  "BYMONTHDAY=-2..-1",
  "BYMONTHDAY=1,15,29",
  "BYYEARDAY=-1,60",
  "BYYEARDAY=-3..-2",
  "BYYEARDAY=1..90",
  "BYWEEKNO=1,-1",
  "BYWEEKNO=9..13",
  "BYWEEKNO=-2..-1",
  "BYWEEKNO=52..1",
  "BYDAY=MO",
  "BYDAY=SA..MO",
  "BYDAY=1MO,-1SU",
  "BYDAY=-2FR,5SU",
  "BYHOUR=0",
  "BYHOUR=23..0",
  "BYHOUR=1,2,3",
].map((written): Recurring => {
  const read = readWindow(`../..;${written}`);
  const rule = read.ok ? read.value.window.alternatives[0].recurring[0] : undefined;
  if (rule === undefined) throw new Error(`${written} was refused`);
  return rule;
});
const RULE_ZONES = [
  "UTC",
  "Europe/London",
  "America/St_Johns",
  "Pacific/Apia",
  "America/Sao_Paulo",
  "Asia/Kolkata",
];
/** Recurring rules in intervals that are open, short, or as long as time. */
const recurringSpan: fc.Arbitrary<RecurringSpan> = fc.record({
  interval: fc.record({ start, end: edge }),
  rules: fc.uniqueArray(fc.constantFrom(...RULES), {
    minLength: 1,
    maxLength: 3,
    selector: ({ name }) => name,
  }),
  weeks: fc.record({
    weekStart: fc.integer({ min: 1, max: 7 }),
    firstWeekDays: fc.integer({ min: 1, max: 7 }),
  }),
  zone: fc.constantFrom(...RULE_ZONES),
});
const recurringSpans = fc.oneof(
  { weight: 2, arbitrary: fc.constant([]) },
  fc.array(recurringSpan, { maxLength: 2 }),
);
const number = fc.constantFrom(...NUMBERS, "9223372036854775807", "99999999999999999999", "0.5");
const bound = fc.option(fc.record({ value: number, isIn: fc.boolean() }));
const relation = fc.oneof(
  fc.subarray([...RELATIONS], { minLength: 1 }),
  fc.constant(INTERSECTING),
  fc.constantFrom(...RELATIONS).map((each) => [each]),
);
const days = fc.option(fc.integer({ min: -400, max: 400 }));

/** Hours on a column of days are refused when a filter is made. */
function withoutHours(condition: DateCondition): DateCondition {
  const recurring = condition.recurring.map((each) => ({
    ...each,
    rules: each.rules.filter(({ name }) => name !== "BYHOUR"),
  }));
  return { ...condition, recurring };
}

/** Conditions on dates of columns of a name, by themselves. */
export function dateConditionsOn(name: fc.Arbitrary<string>): fc.Arbitrary<DateCondition> {
  return fc.record({
    kind: fc.constant("date" as const),
    column: name,
    side,
    intervals,
    recurring: recurringSpans,
    blanks,
  });
}

function leafOver({ columns, strings: strings, folds }: TreeColumns): fc.Arbitrary<Filter> {
  const names = (wanted: (column: Column) => boolean) =>
    fc.constantFrom(...columns.filter(wanted).map(({ name }) => name));
  const dateName = names(({ type }) => type === "date");
  const textName = names(({ type }) => type === "text");
  const isNumber = ({ type }: Column) => type === "integer" || type === "decimal";
  const numberName = names(isNumber);
  const pairsOf = (of: readonly Column[]) =>
    of.flatMap((first) =>
      of.flatMap((second) => (first === second ? [] : [[first.name, second.name] as const])),
    );
  const datePair = fc.constantFrom(
    ...KINDS.flatMap((kind) =>
      pairsOf(columns.filter((column) => column.type === "date" && column.kind === kind)),
    ),
  );
  const isBoolean = ({ type }: Column) => type === "boolean";
  const booleanName = names(isBoolean);
  const booleanPair = fc.constantFrom(...pairsOf(columns.filter(isBoolean)));
  const numberPair = fc.constantFrom(...pairsOf(columns.filter(isNumber)));
  const textPair = fc.constantFrom(...pairsOf(columns.filter(({ type }) => type === "text")));
  const caseSensitive = fc.constantFrom(...(folds ? [true, false] : [true]));
  const fragment = fc.constantFrom(
    ...strings.flatMap((each) => [each, Array.from(each).slice(1, 3).join("")]),
  );
  const pattern = fc.array(
    fc.oneof(
      fragment,
      fc.constantFrom({ any: "character" as const }, { any: "characters" as const }),
    ),
    { maxLength: 4 },
  );
  return fc.oneof(
    {
      weight: 4,
      arbitrary: dateConditionsOn(dateName).map((condition) => {
        const column = columns.find(({ name }) => name === condition.column);
        const isOfDays = column?.type === "date" && column.kind === "date";
        return isOfDays ? withoutHours(condition) : condition;
      }),
    },
    fc.record({
      kind: fc.constant("number" as const),
      column: numberName,
      side,
      least: bound,
      most: bound,
      blanks,
    }),
    fc.record({ kind: fc.constant("boolean" as const), column: booleanName, side, blanks }),
    fc.record({
      kind: fc.constant("text" as const),
      column: textName,
      side,
      // Pieces side by side are one: a pattern is read from a text.
      pattern: pattern.map((pieces) => readPattern(patternText(pieces))),
      caseSensitive,
      blanks,
    }),
    fc.record({
      kind: fc.constant("oneOf" as const),
      column: textName,
      side,
      values: fc.array(fc.constantFrom(...strings), { maxLength: 3 }),
      caseSensitive,
      blanks,
    }),
    fc.record({
      kind: fc.constant("oneOf" as const),
      column: numberName,
      side,
      values: fc.array(number, { maxLength: 3 }),
      caseSensitive: fc.constant(true),
      blanks,
    }),
    {
      weight: 2,
      arbitrary: fc
        .record({
          pair: datePair,
          side,
          relations: relation,
          intervals,
          openStart: fc.boolean(),
          openEnd: fc.boolean(),
        })
        .map(({ pair: [start, end], ...rest }) => ({
          kind: "overlap" as const,
          start,
          end,
          ...rest,
        })),
    },
    fc
      .record({ pair: datePair, side, least: days, most: days })
      .map(({ pair: [from, to], ...rest }) => ({ kind: "days" as const, from, to, ...rest })),
    fc
      .record({
        pair: fc.oneof({ weight: 3, arbitrary: datePair }, numberPair),
        comparison: fc.constantFrom(...ORDER_COMPARISONS),
      })
      .map(({ pair: [left, right], comparison }) => ({
        kind: "columns" as const,
        left,
        comparison,
        right,
      })),
    fc
      .record({
        pair: fc.oneof(textPair, booleanPair),
        comparison: fc.constantFrom("=" as const, "<>" as const),
      })
      .map(({ pair: [left, right], comparison }) => ({
        kind: "columns" as const,
        left,
        comparison,
        right,
      })),
    fc.record({
      kind: fc.constant("state" as const),
      column: names(() => true),
      state: fc.constantFrom("dated" as const, "blank" as const),
    }),
    fc.record({
      kind: fc.constant("state" as const),
      column: fc.oneof(dateName, numberName, booleanName),
      state: fc.constant("unreadable" as const),
    }),
  );
}

/** Random trees over some columns: two at least of each type, and of each kind of dates. */
export function treesOver(of: TreeColumns): fc.Arbitrary<Filter> {
  return treesOf(leafOver(of));
}

/** Trees of some conditions. */
export function treesOf(leaf: fc.Arbitrary<Filter>): fc.Arbitrary<Filter> {
  return fc.letrec<{ tree: Filter }>((tie) => ({
    tree: fc.oneof(
      { maxDepth: 4, depthSize: "small" },
      leaf,
      fc.record({
        kind: fc.constantFrom("all" as const, "any" as const),
        of: fc.array(tie("tree"), { maxLength: 3 }),
      }),
      fc.record({ kind: fc.constant("not" as const), of: tie("tree") }),
    ),
  })).tree;
}

export const tree = treesOver({ columns: COLUMNS, strings: TEXTS, folds: true });

/**
 * On columns of days an edge inside a day is refused by the check of a filter; here it is
 * rounded up as the storage does, so that the plain meaning is the same.
 */
export function onWholeDays(filter: Filter, columns: Catalogue = CATALOGUE): Filter {
  const isDay = (name: string) => {
    const column = columns.get(name);
    return column?.type === "date" && column.kind === "date";
  };
  const up = (each: Edge | null) =>
    each === null
      ? null
      : { ...each, wall: wallMs(Math.ceil(each.wall / 86_400_000) * 86_400_000) };
  const whole = (each: readonly Interval[]) =>
    each.map(({ start, end }) => ({ start: up(start), end: up(end) }));
  switch (filter.kind) {
    case "all":
    case "any":
      return { ...filter, of: filter.of.map((each) => onWholeDays(each, columns)) };
    case "not":
      return { ...filter, of: onWholeDays(filter.of, columns) };
    case "partial":
      return { ...filter, dates: onWholeDays(filter.dates, columns) as DateCondition };
    case "date":
      if (!isDay(filter.column)) return filter;
      return {
        ...filter,
        intervals: whole(filter.intervals),
        recurring: filter.recurring.map((each) => ({
          ...each,
          interval: whole([each.interval])[0] ?? each.interval,
        })),
      };
    case "overlap":
      return isDay(filter.start) ? { ...filter, intervals: whole(filter.intervals) } : filter;
    default:
      return filter;
  }
}

/** With the weeks of ISO 8601 and the clock of UTC: CQL2 writes rules without either. */
export function onStandardClock(filter: Filter): Filter {
  switch (filter.kind) {
    case "all":
    case "any":
      return { ...filter, of: filter.of.map(onStandardClock) };
    case "not":
      return { ...filter, of: onStandardClock(filter.of) };
    case "date": {
      const weeks = { weekStart: 1, firstWeekDays: 4 };
      const recurring = filter.recurring.map((each) => ({ ...each, weeks, zone: "UTC" }));
      return { ...filter, recurring };
    }
    default:
      return filter;
  }
}
