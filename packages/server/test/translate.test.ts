import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { TranslateFilter } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;
beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2026, 10, 25, 9) });
});
afterAll(() => running.end());

const WORKS: TranslateFilter = {
  database: "mariadb",
  table: "works",
  columns: {
    id: { type: "integer" },
    raised: { type: "date", reading: { kind: "date", encoding: "native" } },
    due: {
      type: "date",
      reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: ["n/a"] },
    },
    priority: { type: "text" },
  },
  filter: "inWindow(raised, 'month-1/now') AND priority = 'high'",
};

describe("translating a filter", () => {
  test("gives text and values for each database, and never runs it", async () => {
    const strings = await Promise.all(
      (["mariadb", "postgresql"] as const).map(async (database) => {
        const { where } = await running.client.translateFilter({ ...WORKS, database });
        return where;
      }),
    );
    expect(strings).toEqual([
      {
        text:
          "(((`raised` >= ? AND `raised` < ?) AND (LAST_DAY(`raised`) >= DATE(`raised`) AND `raised` >= '0001-01-01')) AND " +
          "(`priority` = ? AND CONVERT(`priority` USING utf8mb4) COLLATE utf8mb4_nopad_bin = ?))",
        values: ["2026-10-01", "2026-11-26", "high", "high"],
      },
      {
        text:
          `((("raised" >= $1 AND "raised" < $2) AND ("raised" >= '0001-01-01' AND ` +
          `"raised" < '10000-01-01')) AND ("priority" = $3 AND "priority" COLLATE "C" = $4))`,
        values: ["2026-10-01", "2026-11-26", "high", "high"],
      },
    ]);
  });

  test("bounds that must both hold are one list of days, and what else would help is reported", async () => {
    const filter = "due >= DATE('2025-02-27') AND due <= DATE('2025-03-01')";
    const { where, remarks, count } = await running.client.translateFilter({ ...WORKS, filter });
    expect(where.values.slice(0, 3)).toEqual(["27/02/2025", "28/02/2025", "01/03/2025"]);
    expect(count.text).toContain("`due` IN (?, ?, ?)");
    expect(remarks.join(" ")).toContain("ADD COLUMN `due_key` CHAR(8)");
  });

  test("windows move with the clock that is requested, in the zone that is requested", async () => {
    const requested = { asOf: "2026-01-15T12:00:00Z", zone: "Europe/London" };
    const { where, sentence } = await running.client.translateFilter({
      ...WORKS,
      ...requested,
      filter: "inWindow(raised, 'month-1')",
    });
    expect(where.values.slice(0, 2)).toEqual(["2025-12-01", "2026-01-01"]);
    expect(sentence).toContain("December 2025");
  });

  test("a contradiction is reported", async () => {
    const filter = "raised > DATE('2025-03-01') AND raised < DATE('2025-02-01')";
    const { contradictions } = await running.client.translateFilter({ ...WORKS, filter });
    expect(contradictions).toHaveLength(1);
  });

  test.each<[string, Partial<TranslateFilter>, readonly string[]]>([
    ["an unknown column", { filter: "rased = DATE('2025-01-01')" }, ["column.unknown"]],
    ["a key that is no column", { key: "idd" }, ["column.unknown"]],
    ["an order that is no column", { order: "-rased" }, ["column.unknown"]],
    ["native dates in SQLite", { database: "sqlite" }, ["storage.reading"]],
    ["a broken filter", { filter: "raised >=" }, ["filter.syntax"]],
  ])("%s is a 422 that says so", async (_, more, codes) => {
    const problem = await refusal(running.client.translateFilter({ ...WORKS, ...more }));
    expect(problem?.status).toBe(422);
    expect(problem?.faults.map(({ code }) => code)).toEqual(codes);
  });

  test.each(["../..", "0001/9999", "1960/2030", "2024/2025"])(
    "recurring rules in %s need no dates to be known, and never grow",
    async (range) => {
      const filter = `inWindow(raised, '${range};BYDAY=MO,WE,FR')`;
      const { where, page } = await running.client.translateFilter({ ...WORKS, filter });
      expect(page.length).toBeGreaterThan(0);
      expect(where.values.length).toBeLessThan(1_000);
      if (range !== "2024/2025") expect(where.text).toContain("WEEKDAY(");
    },
  );

  test("names are quoted whatever they hold, and values are never text", async () => {
    const hostile = "x` OR 1=1 -- ";
    const { where, page } = await running.client.translateFilter({
      ...WORKS,
      table: hostile,
      columns: { id: { type: "integer" }, [hostile]: { type: "text" } },
      filter: { op: "=", args: [{ property: hostile }, "'; DROP TABLE works; --"] },
    });
    expect(where.text).toContain("`x`` OR 1=1 -- `");
    expect(page[0]?.text).not.toContain("DROP");
    expect(where.values).toContain("'; DROP TABLE works; --");
  });
});
