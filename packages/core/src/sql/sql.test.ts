import { describe, expect, test } from "@jest/globals";
import { UTC, epochMs, wallMs, type Edge } from "../calendar/index.js";
import {
  EVERYTHING,
  compareDates,
  type DateComparison,
  type DateCondition,
  type Filter,
} from "../filters/index.js";
import { readIsoDate } from "../reading/index.js";
import { resolveSpan } from "../windows/index.js";
import { MARIADB } from "./mariadb.js";
import { countStatement } from "./counting.js";
import type { PageQuery } from "./page-query.js";
import { pageStatement } from "./page.js";
import { distinctStatement, rawTextStatement, unreadableStatement } from "./statements.js";
import { encodeEdge } from "./encode.js";
import type { ImportedTable } from "./storage.js";

const TABLE: ImportedTable = {
  table: "records_1_1",
  key: "id",
  columns: new Map([
    [
      "raised",
      {
        storage: "imported",
        column: { name: "raised", type: "date", kind: "date" },
        value: "c1",
        cell: { state: "s1", raw: "t1" },
        folded: null,
        dictionary: null,
      },
    ],
    [
      "passed",
      {
        storage: "imported",
        column: { name: "passed", type: "date", kind: "instant" },
        value: "c2",
        cell: { state: "s2", raw: "t2" },
        folded: null,
        dictionary: null,
      },
    ],
    [
      "task",
      {
        storage: "imported",
        column: { name: "task", type: "text" },
        value: "c3",
        cell: null,
        folded: "f3",
        dictionary: null,
      },
    ],
  ]),
};

function on(
  column: string,
  comparison: DateComparison,
  text: string,
  blanks?: "exclude" | "include" | "only",
) {
  const read = readIsoDate(text);
  if (!read.ok) throw new Error(`${text} is no date`);
  return compareDates(column, comparison, resolveSpan(read.value, UTC).span, blanks);
}

function where(filter: Filter) {
  const { text, values } = countStatement({ filter, cap: null }, TABLE, MARIADB);
  return [text.replace(/^.* WHERE /, ""), ...values];
}

describe("conditions", () => {
  test.each<[DateComparison, readonly string[]]>([
    ["on", ["(`c1` >= ? AND `c1` < ?)", "2025-03-05", "2025-03-06"]],
    ["notOn", ["(`c1` < ? OR `c1` >= ?)", "2025-03-05", "2025-03-06"]],
    ["from", ["`c1` >= ?", "2025-03-05"]],
    ["after", ["`c1` >= ?", "2025-03-06"]],
    ["before", ["`c1` < ?", "2025-03-05"]],
    ["to", ["`c1` < ?", "2025-03-06"]],
  ])("%s compares the plain column with half-open bounds", (comparison, expected) => {
    expect(where(on("raised", comparison, "2025-03-05"))).toEqual(expected);
  });

  test("a month of instants is bound in universal time, without a zone in the text", () => {
    expect(where(on("passed", "on", "2025-03"))).toEqual([
      "(`c2` >= ? AND `c2` < ?)",
      "2025-03-01 00:00:00.000",
      "2025-04-01 00:00:00.000",
    ]);
    expect(where(on("passed", "from", "2025-03-05T14:30:05.25Z"))).toEqual([
      "`c2` >= ?",
      "2025-03-05 14:30:05.250",
    ]);
  });

  test("blanks are kept beside the range, or alone", () => {
    expect(where(on("raised", "from", "2025-03-05", "include"))).toEqual([
      "(`c1` >= ? OR (`c1` IS NULL AND `s1` = ?))",
      "2025-03-05",
      2,
    ]);
    expect(where(on("raised", "from", "2025-03-05", "only"))).toEqual([
      "(`c1` IS NULL AND `s1` = ?)",
      2,
    ]);
  });

  test("negation has no NOT, which would lose the index and keep what is unknown", () => {
    const all: Filter = {
      kind: "all",
      of: [on("raised", "from", "2025"), on("passed", "to", "2025")],
    };
    expect(where({ kind: "not", of: all })[0]).toBe("(`c1` < ? OR `c2` >= ?)");
    const state: Filter = { kind: "state", column: "raised", state: "unreadable" };
    expect(where({ kind: "not", of: state })).toEqual(["(`c1` IS NOT NULL OR `s1` <> ?)", 3]);
  });

  test("an open condition asks for a date, and empty groups keep all or nothing", () => {
    const open: DateCondition = {
      kind: "date",
      column: "raised",
      side: "inside",
      intervals: [{ start: null, end: null }],
      recurring: [],
      blanks: "exclude",
    };
    expect(where(open)).toEqual(["`c1` IS NOT NULL"]);
    expect(where({ ...open, side: "outside" })).toEqual(["1 = 0"]);
    // A window of nothing: a day that the month lacks.
    expect(where({ ...open, intervals: [] })).toEqual(["1 = 0"]);
    expect(where({ ...open, intervals: [], side: "outside" })).toEqual(["`c1` IS NOT NULL"]);
    expect(where({ kind: "any", of: [] })).toEqual(["1 = 0"]);
    expect(where({ kind: "any", of: [EVERYTHING] })).toEqual(["1 = 1"]);
  });

  test("an edge beyond what a column can hold bounds nothing, or leaves nothing", () => {
    expect(where(on("raised", "to", "9999"))).toEqual(["`c1` IS NOT NULL"]);
    expect(where(on("raised", "after", "9999"))).toEqual(["1 = 0"]);
    expect(where(on("raised", "notOn", "9999"))).toEqual(["`c1` < ?", "9999-01-01"]);
  });

  test("a column that the table lacks is a mistake of the caller's code", () => {
    expect(() => where(on("rased", "on", "2025"))).toThrow("rased");
    expect(() => where(on("task", "on", "2025"))).toThrow("task");
  });
});

describe("encodeEdge", () => {
  const edge = (ms: number): Edge => ({ instant: epochMs(ms), wall: wallMs(ms) });

  test("a column of days rounds an edge inside a day up, and keeps one on a day", () => {
    expect(encodeEdge(edge(86_400_000), "date")).toEqual({ kind: "value", text: "1970-01-02" });
    expect(encodeEdge(edge(86_400_001), "date")).toEqual({ kind: "value", text: "1970-01-03" });
  });

  test("years outside 1 to 9999 have no stored form", () => {
    expect(encodeEdge(edge(Date.UTC(10_000, 0, 1)), "local")).toEqual({ kind: "above" });
    expect(encodeEdge(edge(-62_135_596_800_001), "instant")).toEqual({ kind: "below" });
    expect(encodeEdge(edge(-62_135_596_800_000), "instant")).toEqual({
      kind: "value",
      text: "0001-01-01 00:00:00.000",
    });
  });
});

describe("statements", () => {
  const page: PageQuery = {
    filter: EVERYTHING,
    columns: ["task", "raised"],
    order: { column: "raised", descending: true },
    after: null,
    limit: 51,
    counts: [],
  };
  const text = (query: Partial<PageQuery>) => {
    const statement = pageStatement({ ...page, ...query }, TABLE, MARIADB);
    return [statement.text.replace(/^.* FROM `records_1_1`/, ""), ...statement.values.slice(1)];
  };

  test("a page selects key, order, values and unreadable strings", () => {
    expect(pageStatement(page, TABLE, MARIADB)).toMatchObject({
      text:
        "SELECT `id` AS `k`, `c3` AS `v0`, `c1` AS `v1`, CASE WHEN `s1` = ? THEN `t1` END AS `u1`" +
        " FROM `records_1_1` ORDER BY `c1` DESC, `id` DESC LIMIT ?",
      values: [3, 51],
    });
  });

  test("the counts of an answer are part of the page's own statement", () => {
    const counts = [
      { filter: EVERYTHING, cap: 10 },
      { filter: EVERYTHING, cap: null },
    ];
    const statement = pageStatement({ ...page, counts }, TABLE, MARIADB);
    expect(statement.text).toContain(
      "(SELECT COUNT(*) AS `n` FROM (SELECT 1 FROM `records_1_1` LIMIT ?) AS `capped`) AS `n0`, " +
        "(SELECT COUNT(*) AS `n` FROM `records_1_1`) AS `n1`",
    );
    expect(statement.values).toEqual([11, 3, 51]);
  });

  test("what another filter keeps is omitted by its keys, blanks and all", () => {
    const without = on("raised", "from", "2025", "include");
    const count = (more: object) =>
      countStatement({ filter: EVERYTHING, cap: null, ...more }, TABLE, MARIADB).text;
    expect(count({ without })).toBe(
      "SELECT COUNT(*) AS `n` FROM `records_1_1` WHERE `id` NOT IN (SELECT `id` FROM `records_1_1`" +
        " WHERE (`c1` >= ? OR (`c1` IS NULL AND `s1` = ?)))",
    );
    expect(count({ without: EVERYTHING })).toMatch(/ WHERE 1 = 0$/);
  });

  test("a later page begins after a place, with a bound that lets the index begin there", () => {
    const after = { value: "2025-03-05", key: "W-1" };
    expect(text({ after })).toEqual([
      " WHERE (`c1` <= ? AND (`c1` < ? OR `id` < ?) OR `c1` IS NULL) ORDER BY `c1` DESC, `id` DESC LIMIT ?",
      "2025-03-05",
      "2025-03-05",
      "W-1",
      51,
    ]);
    expect(text({ after, order: { column: "raised", descending: false } })[0]).toBe(
      " WHERE (`c1` >= ? AND (`c1` > ? OR `id` > ?)) ORDER BY `c1`, `id` LIMIT ?",
    );
  });

  test("a place among the blanks goes on by key, and ascending on to the dates", () => {
    const after = { value: null, key: "W-1" };
    expect(text({ after })[0]).toBe(
      " WHERE (`c1` IS NULL AND `id` < ?) ORDER BY `c1` DESC, `id` DESC LIMIT ?",
    );
    expect(text({ after, order: { column: "raised", descending: false } })[0]).toBe(
      " WHERE ((`c1` IS NULL AND `id` > ?) OR `c1` IS NOT NULL) ORDER BY `c1`, `id` LIMIT ?",
    );
    expect(text({ after, order: { column: null, descending: false } })[0]).toBe(
      " WHERE `id` > ? ORDER BY `id` LIMIT ?",
    );
  });

  test("strings are read again from after the last one on", () => {
    expect(rawTextStatement(["raised"], 7, 100, TABLE, MARIADB)).toEqual({
      text: "SELECT `id`, `t1` FROM `records_1_1` WHERE `id` > ? ORDER BY `id` LIMIT ?",
      values: [7, 100],
    });
  });

  test("distinct strings are distinguished character by character, whatever the collation", () => {
    expect(distinctStatement("raised", 10, TABLE, MARIADB)).toEqual({
      text:
        "SELECT `t1` COLLATE utf8mb4_nopad_bin AS `v`, COUNT(*) AS `n` FROM `records_1_1`" +
        " GROUP BY `v` ORDER BY `n` DESC, `v` LIMIT ?",
      values: [10],
    });
    expect(unreadableStatement("raised", 5, TABLE, MARIADB)?.values).toEqual([3, 5]);
    expect(unreadableStatement("task", 5, TABLE, MARIADB)).toBeNull();
  });

  test("values are never text, and names are quoted whatever they hold", () => {
    const hostile = "x` OR 1=1 -- ";
    const table: ImportedTable = { ...TABLE, table: hostile };
    expect(countStatement({ filter: EVERYTHING, cap: null }, table, MARIADB).text).toBe(
      "SELECT COUNT(*) AS `n` FROM `x`` OR 1=1 -- `",
    );
    const after = { value: "' OR '1'='1", key: "\\'; --" };
    const statement = pageStatement({ ...page, after }, TABLE, MARIADB);
    expect(statement.text).not.toContain("'");
    expect(statement.text.match(/\?/g)).toHaveLength(statement.values.length);
  });
});
