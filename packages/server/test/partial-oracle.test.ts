import { afterAll, beforeAll, expect, test } from "@jest/globals";
import {
  MARIADB,
  MS_PER_DAY,
  STATE_CODES,
  encodeMs,
  evaluate,
  fault,
  pageStatement,
  simplify,
  type Catalogue,
  type Cell,
  type Column,
  type Filter,
  type Row,
  type SqlValue,
} from "@orisma/core/internal";
import fc from "fast-check";
import type { DataSource } from "typeorm";
import { freshDatabase } from "../../../test/service.js";
import { dateConditionsOn, moment, onWholeDays, treesOf } from "../../../test/trees.js";
import { makeDataSource } from "../src/service/index.js";
import { Gateway } from "../src/database/index.js";
import { createTable, insertColumns, storedTable } from "../src/sources/tables.js";

const SEED = 20_261_201;
const POLICIES = ["inside", "overlaps"] as const;
const COLUMNS: readonly Column[] = POLICIES.map((partial) => ({
  name: partial,
  type: "date",
  kind: "date",
  partial,
}));
const CATALOGUE: Catalogue = new Map(COLUMNS.map((column) => [column.name, column]));
const TABLE = storedTable("partial_oracle", COLUMNS);

const dayStart = (ms: number) => Math.floor(ms / MS_PER_DAY) * MS_PER_DAY;
/** Days, and spans of up to a century from the first. */
const cell: fc.Arbitrary<Cell> = fc.oneof(
  { weight: 3, arbitrary: moment.map((ms): Cell => ({ state: "dated", ms: dayStart(ms) })) },
  {
    weight: 6,
    arbitrary: fc
      .tuple(moment, fc.constantFrom(6, 27, 28, 29, 30, 89, 364, 365, 3_652, 36_523))
      .map(([ms, days]): Cell => ({
        ...{ state: "dated", ms: dayStart(ms) },
        last: Math.min(dayStart(ms) + days * MS_PER_DAY, Date.UTC(9999, 11, 31)),
      })),
  },
  { weight: 1, arbitrary: fc.constant<Cell>({ state: "blank" }) },
  {
    weight: 1,
    arbitrary: fc.constant<Cell>({
      state: "unreadable",
      fault: fault("date.form", { text: "soon" }),
    }),
  },
);
const rows = fc.sample(fc.record({ inside: cell, overlaps: cell }), { numRuns: 300, seed: SEED });

const leaf = fc.constantFrom(...POLICIES).chain((policy) =>
  // Windows whose rules are not listed as intervals are refused before.
  dateConditionsOn(fc.constant(policy)).map((dates): Filter => ({
    kind: "partial",
    policy,
    dates: { ...dates, recurring: [] },
  })),
);
const trees = treesOf(leaf);

let dataSource: DataSource;
let gateway: Gateway;
beforeAll(async () => {
  dataSource = await makeDataSource(await freshDatabase()).initialize();
  gateway = new Gateway(dataSource);
  await dataSource.query(createTable(TABLE, false));
  const columns = insertColumns(TABLE, POLICIES).slice(1);
  const values = rows.flatMap((row) => POLICIES.flatMap((name) => stored(row[name])));
  const placeholders = rows.map(() => `(${columns.map(() => "?").join(",")})`).join(",");
  await gateway.write((run) =>
    run({
      text: `INSERT INTO partial_oracle (${columns.join(",")}) VALUES ${placeholders}`,
      values,
    }),
  );
});
afterAll(() => dataSource.destroy());

function stored(found: Cell): readonly SqlValue[] {
  const text = (ms: number) => {
    const bound = encodeMs(ms, "date");
    return bound.kind === "value" ? bound.text : null;
  };
  const { state } = found;
  const [first, last] =
    found.state === "dated"
      ? [text(found.ms), found.last === undefined ? null : text(found.last)]
      : [null, null];
  return [first, STATE_CODES[state], "raw", last];
}

/** What a condition on dates without a day means, day by day: no arithmetic of intervals. */
function plainly(filter: Filter, row: Row): boolean {
  switch (filter.kind) {
    case "all":
      return filter.of.every((each) => plainly(each, row));
    case "any":
      return filter.of.some((each) => plainly(each, row));
    case "not":
      throw new Error("only leaves and groups are tried");
    case "partial": {
      const { dates, policy } = filter;
      const found = row[dates.column];
      if (found?.state !== "dated" || found.last === undefined || dates.blanks === "only") {
        return evaluate(filter, row, CATALOGUE);
      }
      const days: number[] = [];
      for (let day = found.ms; day <= found.last; day += MS_PER_DAY) days.push(day);
      const liesIn = (day: number, { start, end }: (typeof dates.intervals)[number]) =>
        (start === null || day >= start.wall) && (end === null || day < end.wall);
      const isInside = dates.intervals.some((interval) =>
        policy === "inside"
          ? days.every((day) => liesIn(day, interval))
          : days.some((day) => liesIn(day, interval)),
      );
      return isInside === (dates.side === "inside");
    }
    default:
      throw new Error(filter.kind);
  }
}

test("the evaluator means by dates without a day what their days say, one by one", () => {
  let kept = 0;
  fc.assert(
    fc.property(leaf, fc.constantFrom(...rows), (condition, row) => {
      const filter = onWholeDays(condition, CATALOGUE);
      const expected = plainly(filter, row);
      kept += expected ? 1 : 0;
      expect(evaluate(filter, row, CATALOGUE)).toBe(expected);
    }),
    { numRuns: 3_000, seed: SEED },
  );
  expect(kept).toBeGreaterThan(300);
});

test("the evaluator and the database keep the same records under 400 random trees, simplified ones too", async () => {
  const counts = { none: 0, some: 0, all: 0 };
  await fc.assert(
    fc.asyncProperty(trees, async (filter) => {
      const expected = rows.flatMap((row, index) =>
        evaluate(onWholeDays(filter, CATALOGUE), row, CATALOGUE) ? [index + 1] : [],
      );
      for (const each of [filter, simplify(filter, CATALOGUE).filter]) {
        const query = {
          ...{ filter: each, columns: [], after: null, limit: 1_000, counts: [] },
          order: { column: null, descending: false },
        };
        const found = await gateway.read(pageStatement(query, TABLE, MARIADB));
        expect(found.map(([id]) => Number(id))).toEqual(expected);
      }
      const size =
        expected.length === 0 ? "none" : expected.length === rows.length ? "all" : "some";
      counts[size]++;
    }),
    { numRuns: 400, seed: SEED, endOnFailure: true },
  );
  expect(counts.some).toBeGreaterThan(100);
});
