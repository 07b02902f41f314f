import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  INTERSECTING,
  MARIADB,
  ORDER_COMPARISONS,
  RELATIONS,
  STATE_CODES,
  UTC,
  dayNumber,
  encodeMs,
  epochMs,
  evaluate,
  fault,
  findZone,
  foldText,
  isBlankText,
  laidOut,
  pageStatement,
  patternText,
  readIsoDate,
  readPattern,
  readWindow,
  resolveSpan,
  resolveWindow,
  wallMs,
  type Catalogue,
  type Cell,
  type Column,
  type DateKind,
  type Edge,
  type FilledCell,
  type Filter,
  type Interval,
  type Row,
  type SqlValue,
  type Zone,
} from "@orisma/core";
import fc from "fast-check";
import type { DataSource } from "typeorm";
import { freshDatabase } from "../../../test/service.js";
import { makeDataSource } from "../src/data-source.js";
import { Gateway } from "../src/database/index.js";
import { createTable, insertColumns, storedTable } from "../src/sources/tables.js";

/** Trees tried against the database; each is tried on all of the records. */
const TREES = 400;
const SEED = 20_261_125;

const KINDS: readonly DateKind[] = ["date", "local", "instant"];
/** Two date columns of each kind, so that stretches and columns can be compared. */
const DATES: readonly Column[] = KINDS.flatMap((kind) =>
  ["of", "to"].map((word): Column => ({ name: `${word} ${kind}`, type: "date", kind })),
);
const COLUMNS: readonly Column[] = [
  ...DATES,
  { name: "task", type: "text" },
  { name: "note", type: "text" },
  { name: "count", type: "integer" },
  { name: "cost", type: "decimal" },
];
const CATALOGUE: Catalogue = new Map(COLUMNS.map((column) => [column.name, column]));
const TABLE = storedTable("oracle", COLUMNS);

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
const ZONES = [UTC, ...(LONDON.ok ? [LONDON.value] : [])];
const NEAR = [-86_400_000, -3_600_000, -1, 0, 1, 3_600_000, 86_399_999, 86_400_000];
const LEAST = dayNumber(1, 1, 1) * 86_400_000;
const MOST = dayNumber(10_000, 1, 1) * 86_400_000 - 1;

const moment = fc
  .tuple(fc.constantFrom(...EDGES), fc.constantFrom(...NEAR))
  .map(([edge, near]) => Math.min(MOST, Math.max(LEAST, edge + near)));

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

/** Texts that collations and patterns read in ways of their own. */
const TEXTS = [
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
const NUMBERS = ["-9223372036854775808", "-1.5", "-1", "0", "0.000000000001", "1", "1.5", "1999"];

const blankOr = (filled: fc.Arbitrary<string>): fc.Arbitrary<FilledCell | Cell> =>
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
  }
}

const row: fc.Arbitrary<Row> = fc
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
function edgeOf(written: string, zone: number, end: boolean): Edge {
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

const side = fc.constantFrom("inside" as const, "outside" as const);
const blanks = fc.constantFrom("leave" as const, "keep" as const, "only" as const);
const letterCase = fc.constantFrom("exact" as const, "folded" as const);
const dateName = fc.constantFrom(...DATES.map(({ name }) => name));
const textName = fc.constantFrom("task", "note");
const numberName = fc.constantFrom("count", "cost");
const intervals = fc.array(fc.record({ start: edge, end: edge }), { maxLength: 3 });
const number = fc.constantFrom(...NUMBERS, "9223372036854775807", "99999999999999999999", "0.5");
const bound = fc.option(fc.record({ value: number, isIn: fc.boolean() }));
const fragment = fc.constantFrom(
  ...TEXTS.flatMap((each) => [each, [...each].slice(1, 3).join("")]),
);
const pattern = fc.array(
  fc.oneof(fragment, fc.constantFrom({ any: "sign" as const }, { any: "signs" as const })),
  { maxLength: 4 },
);
const relation = fc.oneof(
  fc.subarray([...RELATIONS], { minLength: 1 }),
  fc.constant(INTERSECTING),
  fc.constantFrom(...RELATIONS).map((each) => [each]),
);
const days = fc.option(fc.integer({ min: -400, max: 400 }));

const leaf: fc.Arbitrary<Filter> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({
      kind: fc.constant("date" as const),
      column: dateName,
      side,
      intervals,
      recurring: fc.constant([]),
      blanks,
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
  fc.record({
    kind: fc.constant("text" as const),
    column: textName,
    side,
    // Pieces side by side are one: a pattern is read from a text.
    pattern: pattern.map((pieces) => readPattern(patternText(pieces))),
    letterCase,
    blanks,
  }),
  fc.record({
    kind: fc.constant("oneOf" as const),
    column: textName,
    side,
    values: fc.array(fc.constantFrom(...TEXTS), { maxLength: 3 }),
    letterCase,
    blanks,
  }),
  fc.record({
    kind: fc.constant("oneOf" as const),
    column: numberName,
    side,
    values: fc.array(number, { maxLength: 3 }),
    letterCase: fc.constant("exact" as const),
    blanks,
  }),
  {
    weight: 2,
    arbitrary: fc
      .record({
        word: fc.constantFrom(...KINDS),
        side,
        relations: relation,
        intervals,
        openStart: fc.boolean(),
        openEnd: fc.boolean(),
      })
      .map(({ word, ...rest }) => ({
        kind: "overlap" as const,
        start: `of ${word}`,
        end: `to ${word}`,
        ...rest,
      })),
  },
  fc
    .record({ word: fc.constantFrom(...KINDS), side, least: days, most: days })
    .map(({ word, ...rest }) => ({
      kind: "days" as const,
      from: `of ${word}`,
      to: `to ${word}`,
      ...rest,
    })),
  fc
    .record({
      pair: fc.constantFrom(...KINDS.map((kind) => [`of ${kind}`, `to ${kind}`] as const), [
        "count",
        "cost",
      ] as const),
      comparison: fc.constantFrom(...ORDER_COMPARISONS),
    })
    .map(({ pair: [left, right], comparison }) => ({
      kind: "columns" as const,
      left,
      comparison,
      right,
    })),
  fc.record({
    kind: fc.constant("columns" as const),
    left: fc.constant("task"),
    comparison: fc.constantFrom("=" as const, "<>" as const),
    right: fc.constant("note"),
  }),
  fc.record({
    kind: fc.constant("state" as const),
    column: fc.constantFrom(...COLUMNS.map(({ name }) => name)),
    state: fc.constantFrom("dated" as const, "blank" as const),
  }),
  fc.record({
    kind: fc.constant("state" as const),
    column: fc.oneof(dateName, numberName),
    state: fc.constant("unreadable" as const),
  }),
);

const { tree } = fc.letrec<{ tree: Filter }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 4, depthSize: "small" },
    leaf,
    fc.record({
      kind: fc.constantFrom("all" as const, "any" as const),
      of: fc.array(tie("tree"), { maxLength: 3 }),
    }),
    fc.record({ kind: fc.constant("not" as const), of: tie("tree") }),
  ),
}));

/**
 * On columns of days an edge inside a day is refused by the check of a filter; here it is
 * rounded up as the storage does, so that the plain meaning is the same.
 */
function onWholeDays(filter: Filter): Filter {
  const up = (each: Edge | null) =>
    each === null
      ? null
      : { ...each, wall: wallMs(Math.ceil(each.wall / 86_400_000) * 86_400_000) };
  const whole = (each: readonly Interval[]) =>
    each.map(({ start, end }) => ({ start: up(start), end: up(end) }));
  switch (filter.kind) {
    case "all":
    case "any":
      return { ...filter, of: filter.of.map(onWholeDays) };
    case "not":
      return { ...filter, of: onWholeDays(filter.of) };
    case "date":
      if (!filter.column.endsWith(" date")) return filter;
      return { ...filter, intervals: whole(filter.intervals) };
    case "overlap":
      if (!filter.start.endsWith(" date")) return filter;
      return { ...filter, intervals: whole(filter.intervals) };
    default:
      return filter;
  }
}

let dataSource: DataSource;
let gateway: Gateway;
const rows = fc.sample(row, { numRuns: 300, seed: SEED });

beforeAll(async () => {
  dataSource = await makeDataSource(await freshDatabase()).initialize();
  gateway = new Gateway(dataSource);
  await dataSource.query(createTable(TABLE, false));
  const columns = insertColumns(TABLE, [...TABLE.columns.keys()]).slice(1);
  const values = rows.flatMap((each) => COLUMNS.flatMap((column) => stored(column, each)));
  const placeholders = rows.map(() => `(${columns.map(() => "?").join(",")})`).join(",");
  await gateway.write((run) =>
    run({ text: `INSERT INTO oracle (${columns.join(",")}) VALUES ${placeholders}`, values }),
  );
});
afterAll(() => dataSource.destroy());

function stored(column: Column, from: Row): readonly SqlValue[] {
  const found = from[column.name];
  if (found === undefined) throw new Error("the record lacks a column");
  if (column.type === "text") {
    const value = found.state === "filled" ? found.value : null;
    return [value, isBlankText(value) ? null : foldText(value ?? "")];
  }
  if (found.state === "filled") return [found.value, STATE_CODES.dated, found.value];
  if (column.type !== "date") return [null, STATE_CODES[found.state], "raw"];
  const value = found.state === "dated" ? encodeMs(found.ms, column.kind) : null;
  return [value?.kind === "value" ? value.text : null, STATE_CODES[found.state], "raw"];
}

/** The records that the evaluator keeps, by their place. */
function evaluated(filter: Filter): readonly number[] {
  return rows.flatMap((each, index) => (evaluate(filter, each, CATALOGUE) ? [index + 1] : []));
}

/** The records that the database keeps, and its own count of them where there are any. */
async function queried(filter: Filter) {
  const order = { column: null, descending: false };
  const counts = [{ filter, cap: null }];
  const query = { filter, columns: [], order, after: null, limit: 1_000, counts };
  const found = await gateway.read(pageStatement(query, TABLE, MARIADB));
  return { ids: found.map(([id]) => Number(id)), count: Number(found[0]?.[1] ?? 0) };
}

/** Windows whose parts recur without end, on any side. */
const RECURRING = [
  "../..;BYMONTH=1",
  "../..;BYMONTH=10..2",
  "../..;BYMONTHDAY=28..31;BYMONTH=2..4",
  "../..;BYMONTHDAY=-1",
  "../..;BYDAY=SA..MO",
  "../..;BYDAY=-1SU,1MO",
  "../..;BYWEEKNO=1,-1",
  "../..;BYYEARDAY=-1,60",
  "../..;BYHOUR=0..1;BYMONTH=3,10",
  "../..;BYHOUR=23..0;BYDAY=SU",
  "2024-02-29/..;BYMONTH=4..6",
  "../2025-03-30T01:30;BYDAY=SU",
];

function recurringFilters(text: string, { name: column, ...of }: Column, zone: Zone): Filter[] {
  const read = readWindow(text);
  const context = { asOf: epochMs(0), zone };
  const found = read.ok ? resolveWindow(read.value.window, context) : read;
  if (!found.ok) throw new Error(`${text} was refused`);
  if (of.type === "date" && of.kind === "date" && /HOUR|T/.test(text)) return [];
  const weeks = { weekStart: 1, firstWeekDays: 4 };
  const recurring = found.value.recurring.map(({ interval, recurring: rules }) => ({
    interval,
    rules,
    weeks,
    zone: zone.id,
  }));
  return (["inside", "outside"] as const).map((side) => ({
    kind: "date",
    column,
    side,
    intervals: [],
    recurring,
    blanks: "leave",
  }));
}

describe("the evaluator and the database", () => {
  test(`keep the same records under ${TREES} random trees`, async () => {
    const kept = { some: 0, none: 0, all: 0 };
    await fc.assert(
      fc.asyncProperty(tree, async (filter) => {
        const expected = evaluated(onWholeDays(filter));
        expect(await queried(filter)).toEqual({ ids: expected, count: expected.length });
        kept[expected.length === 0 ? "none" : expected.length === rows.length ? "all" : "some"]++;
      }),
      { numRuns: TREES, seed: SEED },
    );
    // The trees tell records apart: else the comparison would prove nothing.
    expect(kept.some).toBeGreaterThan(TREES / 2);
  });

  test("agree on every comparison at every edge, a tick before, on and after", async () => {
    let compared = 0;
    for (const { name: column } of DATES) {
      for (const written of ["2024", "2024-02", "2024-02-29", "2025-03-30", "2025-10-26"]) {
        for (const side of ["inside", "outside"] as const) {
          const span = { start: edgeOf(written, 1, false), end: edgeOf(written, 1, true) };
          const condition = { column, side, intervals: [span], recurring: [] };
          const filter: Filter = { kind: "date", blanks: "leave", ...condition };
          const expected = evaluated(filter);
          expect((await queried(filter)).ids).toEqual(expected);
          compared += expected.length;
        }
      }
    }
    expect(compared).toBeGreaterThan(1_000);
  });

  test("agree on parts that recur without end, laid out over the dates that there are", async () => {
    let [kept, left] = [0, 0];
    // Years of which every part can be laid out.
    const near: Filter = {
      kind: "all",
      of: DATES.map(({ name: column }) => ({
        kind: "date",
        column,
        side: "inside",
        intervals: [{ start: edgeOf("2020", 0, false), end: edgeOf("2030", 0, true) }],
        recurring: [],
        blanks: "keep",
      })),
    };
    const extent = { first: Date.UTC(2020, 0, 1), last: Date.UTC(2030, 11, 31) };
    const extents = new Map(DATES.map(({ name }) => [name, extent]));
    for (const column of DATES) {
      for (const text of RECURRING) {
        for (const filter of recurringFilters(text, column, ZONES[1] ?? UTC)) {
          const expected = evaluated({ kind: "all", of: [near, filter] });
          const laid = laidOut(filter, extents);
          if (!laid.ok) throw new Error(`${text} has too many stretches`);
          const found = await queried({ kind: "all", of: [near, laid.value] });
          expect([text, column.name, found.ids]).toEqual([text, column.name, expected]);
          kept += expected.length;
          left += rows.length - expected.length;
        }
      }
    }
    expect([kept > 1_000, left > 1_000]).toEqual([true, true]);
  });
});
