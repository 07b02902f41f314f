import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  MARIADB,
  STATE_CODES,
  UTC,
  encodeMs,
  epochMs,
  evaluate,
  foldText,
  isBlankText,
  isoDay,
  narrowToExtents,
  pageStatement,
  readWindow,
  resolveExactly,
  type Column,
  type Filter,
  type Row,
  type SqlValue,
  type Zone,
  pageParts,
  countStatement,
  dayNumber,
  wallMs,
  firstMoment,
  MS_PER_DAY,
  positionOf,
  type PageQuery,
  type Position,
  type RecordOrder,
  type Edge,
} from "@orisma/core/internal";
import fc from "fast-check";
import type { DataSource } from "typeorm";
import { inOrderOf, ordersOver } from "../../../test/ordered.js";
import { freshDatabase } from "../../../test/service.js";
import {
  CATALOGUE,
  COLUMNS,
  DATES,
  KINDS,
  ZONES,
  edgeOf,
  onWholeDays,
  row,
  tree,
} from "../../../test/trees.js";
import { makeDataSource } from "../src/service/index.js";
import { Gateway, type ResultRow } from "../src/database/index.js";
import { dictionaryBuilders } from "../src/sources/dictionaries.js";
import { createTable, insertColumns, storedTable } from "../src/sources/tables.js";

/** Trees tried against the database; each is tried on all of the records. */
const TREES = 400;
const SEED = 20_261_125;

const TABLE = storedTable("oracle", COLUMNS);

let dataSource: DataSource;
let gateway: Gateway;
const rows = fc.sample(row, { numRuns: 300, seed: SEED });

/** The dictionaries of all text columns. */
const BUILDERS = dictionaryBuilders(CATALOGUE, null);
for (const each of rows) {
  for (const [name, builder] of BUILDERS) builder.codeOf(textIn(each, name));
}
/** The same table as one that has them. */
const CODED = storedTable(
  "oracle",
  COLUMNS,
  new Map([...BUILDERS].map(([name, { values }]) => [name, values])),
);

beforeAll(async () => {
  dataSource = await makeDataSource(await freshDatabase()).initialize();
  gateway = new Gateway(dataSource);
  await dataSource.query(createTable(CODED, false));
  const columns = insertColumns(CODED, [...CODED.columns.keys()]).slice(1);
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
    const value = textIn(from, column.name);
    const code = BUILDERS.get(column.name)?.codeOf(value) ?? null;
    return [value, isBlankText(value) ? null : foldText(value ?? ""), code];
  }
  if (found.state === "filled" && column.type === "boolean") {
    return [found.value === "true" ? 1 : 0, STATE_CODES.dated, found.value];
  }
  if (found.state === "filled") return [found.value, STATE_CODES.dated, found.value];
  if (column.type !== "date") return [null, STATE_CODES[found.state], "raw"];
  const value = found.state === "dated" ? encodeMs(found.ms, column.kind) : null;
  return [value?.kind === "value" ? value.text : null, STATE_CODES[found.state], "raw"];
}

function textIn(from: Row, name: string): string | null {
  const found = from[name];
  return found?.state === "filled" ? found.value : null;
}

/** The records that the evaluator keeps, by their place. */
function evaluated(filter: Filter): readonly number[] {
  return rows.flatMap((each, index) => (evaluate(filter, each, CATALOGUE) ? [index + 1] : []));
}

/** The records that the database keeps, and its own count of them where there are any. */
async function paged(
  filter: Filter,
  order: RecordOrder,
  limit: number,
): Promise<readonly number[]> {
  const found = await rowsOf({ filter, columns: [], order, after: null, limit, counts: [] });
  return found.map(([id]) => Number(id));
}

/** The rows of a page, whose parts are read until it is full. */
async function rowsOf(query: PageQuery): Promise<readonly ResultRow[]> {
  const found: ResultRow[] = [];
  for (const part of pageParts(query, TABLE)) {
    if (found.length >= query.limit) break;
    const limit = query.limit - found.length;
    found.push(...(await gateway.read(pageStatement({ ...part, limit }, TABLE, MARIADB))));
  }
  return found;
}

async function queried(filter: Filter, table = TABLE) {
  const order = { column: null, descending: false };
  const counts = [{ filter, cap: null }];
  const query = { filter, columns: [], order, after: null, limit: 1_000, counts };
  const found = await gateway.read(pageStatement(query, table, MARIADB));
  return { ids: found.map(([id]) => Number(id)), count: Number(found[0]?.[1] ?? 0) };
}

function ascending(ids: readonly number[]): readonly number[] {
  return [...ids].sort((a, b) => a - b);
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
  const found = read.ok ? resolveExactly(read.value.window, context) : read;
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
    intervals: found.value.intervals,
    recurring,
    blanks: "exclude",
  }));
}

describe("the evaluator and the database", () => {
  test(`keep the same records under ${TREES} random trees`, async () => {
    const included = { some: 0, none: 0, all: 0 };
    await fc.assert(
      fc.asyncProperty(tree, async (filter) => {
        const expected = evaluated(onWholeDays(filter));
        const all = { ids: expected, count: expected.length };
        expect(await queried(filter)).toEqual(all);
        expect(await queried(filter, CODED)).toEqual(all);
        included[
          expected.length === 0 ? "none" : expected.length === rows.length ? "all" : "some"
        ]++;
      }),
      // A flip of the compiler is to be seen, not made small.
      { numRuns: TREES, seed: SEED, endOnFailure: process.env.ORISMA_MUTATE !== undefined },
    );
    // The trees distinguish records: else the comparison would prove nothing.
    expect(included.some).toBeGreaterThan(TREES / 2);
  });

  test("agree on every comparison at every edge, a tick before, on and after", async () => {
    let compared = 0;
    for (const { name: column } of DATES) {
      for (const written of ["2024", "2024-02", "2024-02-29", "2025-03-30", "2025-10-26"]) {
        for (const side of ["inside", "outside"] as const) {
          const span = { start: edgeOf(written, 1, false), end: edgeOf(written, 1, true) };
          const condition = { column, side, intervals: [span], recurring: [] };
          const filter: Filter = { kind: "date", blanks: "exclude", ...condition };
          const expected = evaluated(filter);
          expect((await queried(filter)).ids).toEqual(expected);
          compared += expected.length;
        }
      }
    }
    expect(compared).toBeGreaterThan(1_000);
  });

  test("agree on days between two columns, at the very bounds that records have", async () => {
    let compared = 0;
    for (const kind of KINDS) {
      const [from, to] = [`of ${kind}`, `to ${kind}`];
      const differences = rows.flatMap((each) => {
        const [first, second] = [each[from], each[to]];
        if (first?.state !== "dated" || second?.state !== "dated") return [];
        if (kind === "instant") return [Math.trunc((second.ms - first.ms) / MS_PER_DAY)];
        return [Math.floor(second.ms / MS_PER_DAY) - Math.floor(first.ms / MS_PER_DAY)];
      });
      for (const size of new Set(differences.slice(0, 12))) {
        for (const [least, most] of [
          [size, null],
          [null, size],
          [size, size],
        ] as const) {
          for (const side of ["inside", "outside"] as const) {
            const filter: Filter = { kind: "days", from, to, side, least, most };
            const expected = evaluated(filter);
            expect([size, least, most, (await queried(filter)).ids]).toEqual([
              size,
              least,
              most,
              expected,
            ]);
            compared += expected.length;
          }
        }
      }
    }
    expect(compared).toBeGreaterThan(1_000);
  });

  test("agree on recurring rules, whatever is known of the dates that there are", async () => {
    let [included, excluded, inParts] = [0, 0, 0];
    const extent = { first: Date.UTC(2020, 0, 1), last: Date.UTC(2030, 11, 31) };
    // Dates far beyond it are in the table: an extent may be out of date.
    const extents = new Map(
      KINDS.flatMap((kind) =>
        ["of", "to"].map((word) => [`${word} ${kind}`, { ...extent, kind }] as const),
      ),
    );
    for (const column of DATES) {
      for (const text of RECURRING) {
        for (const filter of recurringFilters(text, column, ZONES[1] ?? UTC)) {
          const expected = evaluated(filter);
          const all = { ids: expected, count: expected.length };
          expect([text, column.name, await queried(filter)]).toEqual([text, column.name, all]);
          const narrowed = narrowToExtents(filter, extents);
          expect([text, column.name, await queried(narrowed)]).toEqual([text, column.name, all]);
          const order = { column: column.name, descending: included % 2 === 1 };
          const page = {
            filter: narrowed,
            columns: [],
            order,
            after: null,
            limit: 1_000,
            counts: [],
          };
          const paged = (await rowsOf(page)).map(([id]) => Number(id));
          expect([text, column.name, ascending(paged)]).toEqual([text, column.name, expected]);
          inParts = Math.max(inParts, pageParts(page, TABLE).length);
          included += expected.length;
          excluded += rows.length - expected.length;
        }
      }
    }
    expect([included > 1_000, excluded > 1_000, inParts > 1]).toEqual([true, true, true]);
  });

  test("agree on recurring windows of every width, from a day to 9,999 years", async () => {
    let [some, rules, lists] = [0, 0, 0];
    const widths = [1, 40, 400, 4_000, 40_000, 400_000, 3_652_058];
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...DATES),
        fc.constantFrom(...RECURRING.map((text) => text.slice(text.indexOf(";")))),
        fc.constantFrom(...widths),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.nat(ZONES.length - 1),
        async (column, written, width, place, zone) => {
          const [least, most] = [dayNumber(1, 1, 1), dayNumber(9_999, 12, 31)];
          const near = dayNumber(2024, 6, 1) - Math.round(width * place);
          const first = Math.max(least, Math.min(near, most - width));
          const text = `${isoDay(first)}/${isoDay(Math.min(most, first + width))}${written}`;
          for (const filter of recurringFilters(text, column, ZONES[zone] ?? UTC)) {
            const expected = evaluated(filter);
            const all = { ids: expected, count: expected.length };
            expect([text, column.name, await queried(filter)]).toEqual([text, column.name, all]);
            if (expected.length > 0) some++;
            if (filter.kind === "date" && filter.recurring.length > 0) rules++;
            else lists++;
          }
        },
      ),
      { numRuns: 300, seed: SEED },
    );
    expect([some > 100, rules > 100, lists > 100]).toEqual([true, true, true]);
  });

  test("agree on many intervals: counts by interval, lists of days, pages in parts", async () => {
    const random = fc.sample(
      fc.record({
        column: fc.constantFrom(...DATES),
        every: fc.integer({ min: 1, max: 40 }),
        days: fc.integer({ min: 1, max: 3 }),
        descending: fc.boolean(),
        limit: fc.constantFrom(1, 5, 400),
        rest: tree,
      }),
      { numRuns: 120, seed: SEED },
    );
    let parts = 0;
    for (const { column, every, days, descending, limit, rest } of random) {
      const from = dayNumber(2023, 12, 20);
      const intervals = Array.from({ length: 60 }, (_, index) => ({
        start: dayEdge(from + index * (days + every)),
        end: dayEdge(from + index * (days + every) + days),
      }));
      const { name } = column;
      const many: Filter = {
        kind: "date",
        column: name,
        side: "inside",
        intervals,
        recurring: [],
        blanks: "exclude",
      };
      const others: Filter[] = rest.kind === "all" ? [rest] : [];
      const filter: Filter = { kind: "all", of: [many, ...others] };
      const expected = evaluated({
        kind: "all",
        of: [many, ...others.map((each) => onWholeDays(each))],
      });
      const order = { column: name, descending };
      const value = (id: number) => {
        const cell = rows[id - 1]?.[name];
        return cell?.state === "dated" ? cell.ms : NaN;
      };
      const sign = descending ? -1 : 1;
      const sorted = [...expected].sort((a, b) => sign * (value(a) - value(b) || a - b));
      expect(await paged(filter, order, limit)).toEqual(sorted.slice(0, limit));
      for (const cap of [null, 3]) {
        const [[counted] = []] = await gateway.read(
          countStatement({ filter, cap }, TABLE, MARIADB),
        );
        const isCapped = cap !== null && expected.length > cap;
        if (isCapped) expect(Number(counted)).toBeGreaterThan(cap);
        else expect(Number(counted)).toBe(expected.length);
      }
      const query = { filter, columns: [], order, after: null, limit, counts: [] };
      parts = Math.max(parts, pageParts(query, TABLE).length);
    }
    expect(parts).toBe(3);
  });

  test("agree on orders by several columns: pages joined, and pages at an offset", async () => {
    const random = fc.sample(
      fc.record({
        order: ordersOver(COLUMNS.map(({ name }) => name)),
        filter: fc.oneof(fc.constant<Filter>({ kind: "all", of: [] }), tree),
        limit: fc.constantFrom(7, 40),
      }),
      { numRuns: 60, seed: SEED },
    );
    let pages = 0;
    for (const { order, filter, limit } of random) {
      const included = evaluated(onWholeDays(filter));
      const sorted = inOrderOf(included, order, rows, CATALOGUE);
      const query = { filter, columns: [], order, limit, counts: [] };
      const { fields } = pageStatement({ ...query, after: null }, TABLE, MARIADB);
      const ids: number[] = [];
      let after: Position | null = null;
      for (;;) {
        const found = await rowsOf({ ...query, after });
        ids.push(...found.map(([id]) => Number(id)));
        const last = found.at(-1);
        if (last === undefined || found.length < limit) break;
        after = positionOf(last, fields, order, TABLE);
        expect(ids.length).toBeLessThanOrEqual(sorted.length);
        pages++;
      }
      expect([order, ids]).toEqual([order, sorted]);
      const offset = Math.floor(sorted.length / 2);
      const beyond = await rowsOf({ ...query, after: null, offset });
      expect(beyond.map(([id]) => Number(id))).toEqual(sorted.slice(offset, offset + limit));
    }
    expect(pages).toBeGreaterThan(100);
  });
});

/** The edge at the beginning of a day, in London. */
function dayEdge(day: number): Edge {
  return { wall: wallMs(day * MS_PER_DAY), instant: firstMoment(day, ZONES[1] ?? UTC) };
}
