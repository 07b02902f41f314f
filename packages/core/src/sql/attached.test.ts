import { describe, expect, test } from "@jest/globals";
import { UTC, epochMs, wallMs } from "../calendar/index.js";
import type { Catalogue } from "../filters/index.js";
import { readCql2 } from "../query/index.js";
import { fixedFormOf, type Reading } from "../reading/index.js";
import { attachedColumn } from "./attached.js";
import { leastNumber } from "./attached-numbers.js";
import type { DatabaseType } from "./database-type.js";
import { MARIADB } from "./mariadb.js";
import { POSTGRESQL } from "./postgresql.js";
import { dateExpression } from "./spelling.js";
import { compileWhere, countStatement } from "./counting.js";
import { pageStatement } from "./page.js";

function where(reading: Reading, holding: DatabaseType, filter: string) {
  const attached = attachedColumn("due", {
    value: "due",
    holding,
    type: { type: "date", reading },
  });
  if (!attached.ok) return attached.faults.map(({ code }) => code);
  const columns: Catalogue = new Map([["due", attached.value.column]]);
  const window = { asOf: epochMs(0), zone: UTC };
  const read = readCql2(filter, { window, columns });
  if (!read.ok) throw new Error(`${filter} was refused`);
  const table = { table: "t", key: "id", columns: new Map([["due", attached.value]]) };
  const { text, values } = compileWhere(read.value, table, { dialect: MARIADB });
  return [text.replaceAll("`due`", "due"), ...values];
}

const MARCH = "inWindow(due, '2025-03')";

describe("bounds in the form in which a column stores its dates", () => {
  test.each<[string, Reading, DatabaseType, unknown[]]>([
    [
      "days of the database's own",
      { kind: "date", encoding: "native" },
      { type: "date" },
      [
        "((due >= ? AND due < ?) AND (LAST_DAY(due) >= DATE(due) AND due >= '0001-01-01'))",
        "2025-03-01",
        "2025-04-01",
      ],
    ],
    [
      "times with tenths of a second, rounded up to them",
      { kind: "local", encoding: "native" },
      { type: "timestamp", digits: 1, zoned: false },
      [
        "((due >= ? AND due < ?) AND (LAST_DAY(due) >= DATE(due) AND due >= '0001-01-01'))",
        "2025-03-01 00:00:00.0",
        "2025-04-01 00:00:00.0",
      ],
    ],
    [
      "days of a zone without changes, as seconds",
      { kind: "date", encoding: "epoch-s", zone: "Etc/GMT-9" },
      { type: "integer" },
      [
        "((due >= ? AND due < ?) AND ((due >= ? AND due < ?) AND due < ?))",
        1_740_787_200 - 32_400,
        1_743_465_600 - 32_400,
        -62_135_596_800,
        253_402_300_800,
        253_402_300_800 - 32_400,
      ],
    ],
    [
      "seconds, beside what no date can be",
      { kind: "instant", encoding: "epoch-s" },
      { type: "integer" },
      [
        "((due >= ? AND due < ?) AND (due >= ? AND due < ?))",
        1_740_787_200,
        1_743_465_600,
        -62_135_596_800,
        253_402_300_800,
      ],
    ],
    [
      "microseconds, exact beyond what a number is",
      { kind: "instant", encoding: "epoch-us" },
      { type: "integer" },
      [
        "((due >= ? AND due < ?) AND (due >= ? AND due < ?))",
        1_740_787_200_000_000n,
        1_743_465_600_000_000n,
        -62_135_596_800_000_000n,
        253_402_300_800_000_000n,
      ],
    ],
    [
      "whole day numbers",
      { kind: "date", encoding: "serial-1900" },
      { type: "integer" },
      [
        "((due >= ? AND due < ?) AND (due < ? AND (due >= 1 OR due = 0)))",
        45_717,
        45_748,
        2_958_466,
      ],
    ],
  ])("%s", (_, reading, holding, expected) => {
    expect(where(reading, holding, MARCH)).toEqual(expected);
  });

  test("day numbers with a fraction begin half a millisecond before", () => {
    const reading: Reading = { kind: "local", encoding: "serial-1900" };
    const [, from] = where(reading, { type: "float" }, "due >= TIMESTAMP('2024-01-01T18:00:00Z')");
    expect(Number(from)).toBeLessThan(45_292.75);
    expect((45_292.75 - Number(from)) * 86_400_000).toBeCloseTo(0.5, 2);
  });

  test("dates as digits are compared as numbers, and strings with offsets by what lies near and by their moments", () => {
    const digits: Reading = { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] };
    const [text, ...values] = where(digits, { type: "integer" }, "inWindow(due, '2024')");
    expect(text).toMatch(/^\(\(due >= \? AND due < \?\) AND /);
    expect(values.slice(0, 2)).toEqual([20240101, 20250101]);
    const offsets: Reading = {
      kind: "instant",
      encoding: "text",
      patterns: ["yyyy-MM-dd'T'HH:mm:ssXXX"],
    };
    const moments = where(offsets, { type: "text" }, "inWindow(due, '2024')");
    expect(moments[0]).toMatch(/^\(\(\(due >= \? AND CASE WHEN CASE WHEN due REGEXP/);
    expect(moments.slice(1)).toContain("2023-12-31T00:00:00");
    expect(moments.slice(1)).toContain("2025-01-02T00:00:00");
  });

  test("strings are listed as days; long windows of strings in the order of their dates are compared", () => {
    const slashed: Reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] };
    const days = where(slashed, { type: "text" }, "inWindow(due, '2025-02-28/2025-03-01')");
    expect(days).toEqual([
      "(due IN (?, ?) AND OCTET_LENGTH(CONVERT(due USING utf8mb4)) = 10)",
      "28/02/2025",
      "01/03/2025",
    ]);
    const compact: Reading = { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] };
    const [text, ...values] = where(compact, { type: "text" }, "inWindow(due, '2024')");
    expect(text).toBe("((due >= ? AND due < ?) AND due REGEXP ?)");
    expect(values.slice(0, 2)).toEqual(["20240101", "20250101"]);
    const open = where(compact, { type: "text" }, "inWindow(due, '2024/..')");
    expect([open[0], open[2]]).toEqual(["((due >= ? AND due <= ?) AND due REGEXP ?)", "99991231"]);
  });

  test("what is worked out of strings stands once, and an index finds days, or what lies near", () => {
    const named: Reading = { kind: "date", encoding: "text", patterns: ["d MMM yyyy"] };
    const days = where(named, { type: "text" }, "inWindow(due, '2025-02-28/2025-03-01')");
    expect(days[0]).toMatch(/^\(due IN \(\?, \?\) AND COALESCE\(CASE WHEN/);
    expect(days.slice(1, 3)).toEqual(["28 Feb 2025", "1 Mar 2025"]);
    const iso: Reading = { kind: "local", encoding: "text" };
    const near = where(iso, { type: "text" }, MARCH);
    expect(near[0]).toMatch(/^\(\(due >= \? AND COALESCE\(/);
    expect([near[1], near.find((each) => each === "2025-04-03")]).toEqual([
      "2025-02-28",
      "2025-04-03",
    ]);
    const months: Reading = {
      kind: "date",
      encoding: "text",
      patterns: ["yyyyMM"],
      partial: "start",
    };
    const numbers = where(months, { type: "integer" }, "inWindow(due, '2020/2024')");
    expect(numbers[0]).toMatch(/^\(\(due >= \? AND /);
    expect([numbers[1], numbers.includes(202501)]).toEqual([202001, true]);
  });

  test("a short window of strings in their order is counted by its days, and paged as a range", () => {
    const attached = attachedColumn("due", {
      value: "due",
      holding: { type: "text" },
      type: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] },
      },
    });
    if (!attached.ok) throw new Error("the column cannot be queried");
    const table = { table: "t", key: "id", columns: new Map([["due", attached.value]]) };
    const columns: Catalogue = new Map([["due", attached.value.column]]);
    const read = readCql2(MARCH, { window: { asOf: epochMs(0), zone: UTC }, columns });
    if (!read.ok) throw new Error("the filter was refused");
    const count = countStatement({ filter: read.value, cap: null }, table, MARIADB);
    expect(count.values).toHaveLength(31);
    const order = { column: "due", descending: false };
    const query = { filter: read.value, columns: [], order, after: null, limit: 5, counts: [] };
    const page = pageStatement(query, table, MARIADB);
    expect(page.text).toContain("(`due` >= ? AND `due` < ?)");
  });

  test("a day of which an interval has no beginning is not listed with it", () => {
    const edge = (hours: number) => ({
      wall: wallMs(hours * 3_600_000),
      instant: epochMs(hours * 3_600_000),
    });
    const condition = {
      kind: "date",
      column: "due",
      side: "inside",
      // From noon of the first day on: as a day it has begun before.
      intervals: [{ start: edge(12), end: edge(72) }],
      recurring: [],
      blanks: "exclude",
    } as const;
    const slashed: Reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] };
    const attached = attachedColumn("due", {
      value: "due",
      holding: { type: "text" },
      type: { type: "date", reading: slashed },
    });
    if (!attached.ok) throw new Error("the column cannot be queried");
    const table = { table: "t", key: "id", columns: new Map([["due", attached.value]]) };
    expect(countStatement({ filter: condition, cap: null }, table, MARIADB).values).toEqual([
      "02/01/1970",
      "03/01/1970",
    ]);
  });

  test("sentinels and blanks that look like dates are none", () => {
    const reading: Reading = {
      kind: "date",
      encoding: "text",
      patterns: ["dd/MM/yyyy"],
      sentinels: ["2025-03-01"],
      blanks: ["28/02/2025", "n/a"],
    };
    const days = where(reading, { type: "text" }, "inWindow(due, '2025-02-27/2025-03-02')");
    expect(days.slice(1)).toEqual(["27/02/2025", "02/03/2025"]);
  });

  test.each<[string, Reading, DatabaseType]>([
    [
      "more forms than a statement has room for",
      { kind: "local", encoding: "text", patterns: ["EEEE, d MMMM yyyy H:m:s"] },
      { type: "text" },
    ],
    ["numbers in a column of text", { kind: "date", encoding: "serial-1900" }, { type: "text" }],
    ["text in a column of numbers", { kind: "date", encoding: "text" }, { type: "integer" }],
    [
      "digits with other characters between them in a column of numbers",
      { kind: "date", encoding: "text", patterns: ["dd.MM.yyyy"] },
      { type: "integer" },
    ],
    [
      "digits in numbers with fractions",
      { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] },
      { type: "float" },
    ],
    [
      "offsets where no zone says which day is meant",
      { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd'T'HH:mm:ssXXX"] },
      { type: "text" },
    ],
    ["native dates in a column of text", { kind: "date", encoding: "native" }, { type: "text" }],
    [
      "a zone of what is a point in time as it is stored",
      { kind: "instant", encoding: "native", zone: "Europe/London" },
      { type: "timestamp", digits: 0, zoned: true },
    ],
  ])("%s cannot be queried, and are refused", (_, reading, holding) => {
    expect(where(reading, holding, MARCH)).toEqual(["storage.reading"]);
  });
});

describe("a date text as an expression", () => {
  const form = fixedFormOf("dd/MM/yyyy");
  if (form === null) throw new Error("the pattern has no form");
  const expression = new RegExp(`^${dateExpression(form)}$`);

  test("fits just the days that there are", () => {
    let fitting = 0;
    for (const year of [1, 4, 100, 400, 1900, 2000, 2023, 2024, 9999]) {
      for (let month = 0; month <= 13; month++) {
        for (let day = 0; day <= 32; day++) {
          const parts = [day, month].map((part) => String(part).padStart(2, "0"));
          const text = [...parts, String(year).padStart(4, "0")].join("/");
          const date = new Date(0);
          date.setUTCFullYear(year, month - 1, day);
          const isDay = date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
          expect([text, expression.test(text)]).toEqual([text, isDay]);
          if (isDay) fitting++;
        }
      }
    }
    expect(fitting).toBe(5 * 365 + 4 * 366);
    expect(expression.test("01/01/0000")).toBe(false);
  });

  test("comes to an end on long hostile strings", () => {
    for (const character of ["0", "1", "/", "01/"]) {
      expect(expression.test(character.repeat(1_000_000))).toBe(false);
    }
  });
});

describe("the least number from which something holds", () => {
  test("is found to the very last bit", () => {
    for (const bound of [0.1, 1 / 3, 45_292.75, -1e9, 253_402_300_799.999]) {
      const found = leastNumber(bound, (number) => number >= bound);
      expect(found).toBe(bound);
    }
  });
});

describe("a condition within somebody's own statement", () => {
  const due = attachedColumn("due", {
    value: "due",
    holding: { type: "date" },
    type: { type: "date", reading: { kind: "date", encoding: "native" } },
  });
  if (!due.ok) throw new Error("the column was refused");
  const table = { table: "t", key: "id", columns: new Map([["due", due.value]]) };
  const read = readCql2(MARCH, {
    window: { asOf: epochMs(0), zone: UTC },
    columns: new Map([["due", due.value.column]]),
  });
  if (!read.ok) throw new Error("the filter was refused");

  test("has the alias of its table, and placeholders that go on from those before", () => {
    const { text, values } = compileWhere(read.value, table, {
      dialect: POSTGRESQL,
      alias: "w",
      placeholders: (position) => `$${position + 4}`,
    });
    expect(text).toContain('"w"."due" >= $5');
    expect(text).toContain('"w"."due" < $6');
    expect(values).toEqual(["2025-03-01", "2025-04-01"]);
  });

  test("is empty for every record, and refuses an alias where it names more than one table", () => {
    const every = compileWhere({ kind: "all", of: [] }, table, { dialect: MARIADB });
    expect(every).toEqual({ text: "", values: [] });
    const nested = { column: "c", key: "id", each: [], values: [], rows: "records" } as const;
    const dialect = MARIADB;
    expect(() => compileWhere(read.value, { ...table, nested }, { dialect, alias: "w" })).toThrow(
      TypeError,
    );
  });
});
