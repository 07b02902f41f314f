import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  DATABASES,
  DERIVED_PARTS,
  EVERYTHING,
  MS_PER_DAY,
  UTC,
  columnsOf,
  computedColumns,
  countStatement,
  cql2Of,
  cql2Text,
  derivedValue,
  epochMs,
  evaluate,
  findZone,
  isoDay,
  isoInstant,
  isoWall,
  pageParts,
  pageStatement,
  translateFilter,
  wallMs,
  withComputed,
  withJoin,
  type DateColumn,
  type DerivedColumn,
  type Filter,
  type PageFields,
  type PageQuery,
  positionOf,
  type Position,
  type RecordOrder,
  type Result,
  type Row,
  type StoredTable,
} from "@orisma/core/internal";
import fc from "fast-check";
import {
  CATALOGUE,
  PLAIN_TEXTS,
  START,
  columnsIn,
  declaredIn,
  rawRows,
  rowOf,
  type Running,
} from "../../../test/encoded.js";
import { inOrderOf, ordersOver } from "../../../test/ordered.js";
import { edgeOf, onStandardClock, onWholeDays, treesOver } from "../../../test/trees.js";

const SEED = 20_261_126;
const TREES = 400;
const RECORDS = 200;
const COLUMNS = [...CATALOGUE.values()];
const BLANK = { state: "blank" } as const;
const DATES = COLUMNS.filter(({ type }) => type === "date").map(({ name }) => name);

/** Moments that no second, and no day, begins with. */
const MOMENTS = ["2024-02-28T23:59:59.999", "2024-02-29T00:00:00.001", "2024-01-01T12:00"];

const tree = treesOver({ columns: COLUMNS, strings: PLAIN_TEXTS, folds: true });

describe.each(DATABASES)("dates in every encoding, in %s", (database) => {
  const table = columnsIn(database);
  const raw = rawRows(database, RECORDS, SEED);
  const rows: readonly Row[] = raw.map((each) => rowOf(each, table));
  let running: Running;
  beforeAll(async () => {
    running = await START[database](raw);
  });
  afterAll(() => running.end());

  const evaluated = (filter: Filter) =>
    rows.flatMap((each, index) => (evaluate(filter, each, CATALOGUE) ? [index + 1] : []));

  async function queried(filter: Filter, of: StoredTable = table): Promise<readonly number[]> {
    const order = { column: null, descending: false };
    const query = { filter, columns: [], order, after: null, limit: 1_000, counts: [] };
    const found = await running.read(pageStatement(query, of, running.dialect));
    return found.map(([id]) => Number(id));
  }

  test(`the same records are kept under ${TREES} random trees`, async () => {
    let some = 0;
    await fc.assert(
      fc.asyncProperty(tree, async (filter) => {
        const expected = evaluated(onWholeDays(filter, CATALOGUE));
        expect(await queried(filter)).toEqual(expected);
        if (expected.length > 0 && expected.length < rows.length) some++;
      }),
      { numRuns: TREES, seed: SEED, endOnFailure: process.env.ORISMA_MUTATE !== undefined },
    );
    expect(some).toBeGreaterThan(TREES / 2);
  });

  test("columns of another table beside it are filtered and ordered like its own", async () => {
    const joined = withJoin(table, "other", "count", {
      table,
      columns: COLUMNS.map(({ name }) => name),
      key: "integer",
    });
    // A record that has no other has blanks in its place.
    const both = rows.map((row): Row => {
      const cell = row.count;
      const other = cell?.state === "filled" ? rows[Number(cell.value) - 1] : undefined;
      const cells = COLUMNS.map(({ name }) => [`other.${name}`, other?.[name] ?? BLANK] as const);
      return { ...row, ...Object.fromEntries(cells) };
    });
    const others = COLUMNS.map((column) => ({ ...column, name: `other.${column.name}` }));
    const columns = new Map([...COLUMNS, ...others].map((each) => [each.name, each]));
    const trees = treesOver({ columns: [...columns.values()], strings: PLAIN_TEXTS, folds: true });
    let [some, ofOthers] = [0, 0];
    for (const filter of fc.sample(trees, { numRuns: 150, seed: SEED })) {
      const expected = both.flatMap((each, index) =>
        evaluate(onWholeDays(filter, columns), each, columns) ? [index + 1] : [],
      );
      expect(await queried(filter, joined)).toEqual(expected);
      if (expected.length > 0 && expected.length < rows.length) some++;
      if (columnsOf(filter).some((name) => name.startsWith("other."))) ofOthers++;
    }
    expect(Math.min(some, ofOthers)).toBeGreaterThan(50);
    for (const name of ["other.native day", "other.seconds", "other.task"]) {
      const found = await walk({ column: name, descending: false }, EVERYTHING, joined);
      expect([...found].sort((a, b) => a - b)).toEqual(rows.map((_, index) => index + 1));
      const filled = found.filter((id) => both[id - 1]?.[name]?.state !== "blank");
      expect(filled.length).toBeGreaterThan(0);
      expect(filled.length).toBeLessThan(found.length);
    }
  });

  test("filters that are translated from CQL2 keep the same records", async () => {
    const context = { asOf: epochMs(Date.UTC(2026, 10, 25)), zone: UTC };
    let [some, seen] = [0, 0];
    for (const filter of fc.sample(tree, { numRuns: 80, seed: SEED })) {
      const whole = onStandardClock(onWholeDays(filter, CATALOGUE));
      const written = cql2Text(cql2Of(whole, CATALOGUE));
      const columns = declaredIn(database);
      const request = {
        database,
        table: "encoded",
        key: "id",
        columns,
        filter: written,
        limit: 500,
      };
      const translated = translateFilter(request, context);
      // What the check of a filter refuses is none of this test's.
      if (!translated.ok) continue;
      const expected = evaluated(whole);
      const ids: number[] = [];
      for (const page of translated.value.page) {
        ids.push(...(await running.read(page)).map(([id]) => Number(id)));
      }
      expect([written, ids]).toEqual([written, expected]);
      const [[count] = []] = await running.read(translated.value.count);
      expect(Number(count)).toBe(expected.length);
      seen++;
      if (expected.length > 0 && expected.length < rows.length) some++;
    }
    expect([seen > 60, some > 30]).toEqual([true, true]);
  });

  test.each(DATES)("%s: windows, their outsides, days, states and counts", async (column) => {
    let compared = 0;
    const windows = ["2024", "2024-02", "2024-02-29", "2025-03-30", "0001", "9999", "2024-01"];
    const declared = CATALOGUE.get(column);
    const takesTimes = declared?.type === "date" && declared.kind !== "date";
    for (const written of takesTimes ? [...windows, ...MOMENTS] : windows) {
      const interval = { start: edgeOf(written, 1, false), end: edgeOf(written, 1, true) };
      const { start, end } = interval;
      const open = [
        interval,
        { start, end: null },
        { start: null, end },
        { start: null, end: null },
      ];
      for (const each of open) {
        for (const side of ["inside", "outside"] as const) {
          for (const blanks of ["exclude", "include"] as const) {
            const condition = { column, side, intervals: [each], recurring: [], blanks };
            const filter: Filter = { kind: "date", ...condition };
            const expected = evaluated(filter);
            expect([written, side, await queried(filter)]).toEqual([written, side, expected]);
            const count = countStatement({ filter, cap: null }, table, running.dialect);
            expect(Number((await running.read(count))[0]?.[0])).toBe(expected.length);
            compared += expected.length;
          }
        }
      }
    }
    for (const state of ["dated", "blank", "unreadable"] as const) {
      const filter: Filter = { kind: "state", column, state };
      expect([state, await queried(filter)]).toEqual([state, evaluated(filter)]);
    }
    expect(compared).toBeGreaterThan(1_000);
  });

  test.each(DATES)(
    "%s: pages in the order of dates, joined, are all of it once",
    async (column) => {
      const window: Filter = {
        kind: "date",
        column,
        side: "inside",
        intervals: [{ start: edgeOf("2023-12", 0, false), end: edgeOf("2025-03", 0, true) }],
        recurring: [],
        blanks: "exclude",
      };
      const msOf = (id: number) => {
        const cell = rows[id - 1]?.[column];
        return cell?.state === "dated" ? cell.ms : NaN;
      };
      for (const filter of [window, { kind: "all", of: [] } as const]) {
        for (const descending of [false, true]) {
          for (const blanks of ["first", "last"] as const) {
            const ids = await walk({ column, descending, blanks }, filter);
            expect([...ids].sort((a, b) => a - b)).toEqual(evaluated(filter));
            const dated = ids.map(msOf).filter((ms) => !Number.isNaN(ms));
            const sign = descending ? -1 : 1;
            expect(dated).toEqual([...dated].sort((a, b) => sign * (a - b)));
            const places = ids.map((id) => (Number.isNaN(msOf(id)) ? 1 : 0));
            expect(places).toEqual([...places].sort((a, b) => (blanks === "last" ? a - b : b - a)));
          }
        }
      }
    },
  );

  test("pages by several columns, joined, are all of it once; so are pages at an offset", async () => {
    const names = COLUMNS.map(({ name }) => name);
    for (const order of fc.sample(ordersOver(names), { numRuns: 40, seed: SEED })) {
      const filter: Filter = { kind: "all", of: [] };
      const sorted = inOrderOf(evaluated(filter), order, rows, CATALOGUE);
      expect([order, await walk(order, filter)]).toEqual([order, sorted]);
      const query = { filter, columns: [], order, after: null, limit: 50, counts: [], offset: 77 };
      const [part = query] = pageParts(query, table);
      const beyond = await running.read(pageStatement(part, table, running.dialect));
      expect(beyond.map(([id]) => Number(id))).toEqual(sorted.slice(77, 127));
    }
  });

  /** The columns that can be worked out of one of dates. */
  function derivedOf(name: string): Readonly<Record<string, DerivedColumn>> {
    const { kind } = CATALOGUE.get(name) as DateColumn;
    const parts = DERIVED_PARTS.filter((part) => part !== "hour" || kind !== "date");
    const alike = DATES.find(
      (each) => each !== name && (CATALOGUE.get(each) as DateColumn).kind === kind,
    );
    return {
      ...Object.fromEntries(parts.map((part) => [part, { kind: "part", part, column: name }])),
      age: { kind: "days", from: name, to: "now" },
      apart: { kind: "days", from: name, to: alike ?? name },
    };
  }

  function derivingIn(zone: string) {
    const asOf = epochMs(Date.UTC(2026, 10, 25, 9));
    return { columns: CATALOGUE, asOf, zone: needed(findZone(zone)) };
  }

  // A statement of megabytes, of which SQLite takes minutes to prepare one: there the day stands for it.
  const worked = DATES.filter((name) => database !== "sqlite" || name !== "offset");
  test.each(worked)("%s: parts of it and days from it are worked out", async (column) => {
    const derived = derivedOf(column);
    const context = derivingIn("Europe/London");
    const computed = withComputed(table, computedColumns(derived, context));
    // Of strings with offsets a statement is of megabytes: a third of them stands for all.
    const step = column === "offset" ? 3 : 1;
    const some = Object.entries(derived).filter((_, at) => at % step === 0);
    for (const [name, each] of some) {
      const expected = rows.map((row) => derivedValue(each, sentOf(row), context));
      expect(new Set(expected).size).toBeGreaterThan(1);
      const order = { column: name, descending: false };
      const shown = { columns: [], order, after: null, limit: 1_000, counts: [] };
      const query: PageQuery = { filter: EVERYTHING, ...shown };
      const statement = pageStatement(query, computed, running.dialect);
      const { order: place } = statement.fields;
      const found = await running.read(statement);
      const values = found.map((row): [number, number | null] => {
        const value = row[place ?? -1] ?? null;
        return [Number(row[0]), value === null ? null : Number(value)];
      });
      const byId = new Map(values);
      expect([name, rows.map((_, index) => byId.get(index + 1))]).toEqual([name, expected]);
    }
  });

  // Where the clocks never change: elsewhere a statement is long, which SQLite is slow to prepare.
  test.each(DATES)("%s: what is worked out of it orders, blanks on either side", async (column) => {
    const derived = derivedOf(column);
    const context = derivingIn("Etc/GMT-4");
    const computed = withComputed(table, computedColumns(derived, context));
    const all = Object.entries(derived);
    // Two of them for each column, others for the next: all are read in the test above.
    const place = DATES.indexOf(column);
    const chosen = all.filter((_, at) => [0, 1].some((by) => (place + by) % all.length === at));
    expect(chosen).toHaveLength(2);
    for (const [name, each] of chosen) {
      const values = rows.map((row) => derivedValue(each, sentOf(row), context));
      for (const blanks of ["first", "last"] as const) {
        const order = { column: name, descending: true, blanks };
        const ids = await walk(order, EVERYTHING, computed);
        const sorted = ids.map((id) => values[id - 1] ?? null);
        const numbers = sorted.filter((value) => value !== null);
        const none = sorted.filter((value) => value === null);
        numbers.sort((a, b) => b - a);
        expect(ids).toHaveLength(rows.length);
        expect(sorted).toEqual(blanks === "last" ? [...numbers, ...none] : [...none, ...numbers]);
      }
    }
  });

  /** All records that a filter keeps, page after page. */
  async function walk(
    order: RecordOrder,
    filter: Filter,
    of: StoredTable = table,
  ): Promise<readonly number[]> {
    const ids: number[] = [];
    let after: Position | null = null;
    for (;;) {
      const query: PageQuery = { filter, columns: ["task"], order, after, limit: 23, counts: [] };
      let fields: PageFields | null = null;
      const page: (readonly (string | number | null)[])[] = [];
      for (const part of pageParts(query, of)) {
        if (page.length >= query.limit) break;
        const limit = query.limit - page.length;
        const statement = pageStatement({ ...part, limit }, of, running.dialect);
        ({ fields } = statement);
        page.push(...(await running.read(statement)));
      }
      ids.push(...page.map(([id]) => Number(id)));
      // A place that does not move on would go round for ever.
      expect(ids.length).toBeLessThanOrEqual(rows.length);
      const last = page.at(-1);
      if (fields === null || last === undefined || page.length < query.limit) return ids;
      after = positionOf(last, fields, order, of);
    }
  }
});

/** A record as it is sent: the dates that it has, each as a text of its kind. */
function sentOf(row: Row): Readonly<Record<string, string>> {
  return Object.fromEntries(
    DATES.flatMap((name) => {
      const cell = row[name];
      if (cell?.state !== "dated") return [];
      const { kind } = CATALOGUE.get(name) as DateColumn;
      const text =
        kind === "instant"
          ? isoInstant(epochMs(cell.ms))
          : kind === "local"
            ? isoWall(wallMs(cell.ms))
            : isoDay(cell.ms / MS_PER_DAY);
      return [[name, text]];
    }),
  );
}

function needed<T>(result: Result<T>): T {
  if (!result.ok) throw new Error(JSON.stringify(result.faults));
  return result.value;
}
