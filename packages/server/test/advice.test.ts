import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { EVERYTHING, type Statement } from "@orisma/core/internal";
import mysql from "mysql2/promise";
import { refusal } from "../../../test/refusal.js";
import { planOf } from "../src/records/plan.js";
import type { KnownSource } from "../src/sources/index.js";
import { startTestService, type TestService } from "../../../test/service.js";

/** What is advised is what would serve, and what is counted is what may be read. */
const RECORDS = 4_000;
const NO_END = 2 ** 31;
let running: TestService;

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 2, 4, 12) });
  const { client } = running;
  const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
  await client.createSource({ name: "works", columns: { raised: day, cost: { type: "integer" } } });
  const lines = Array.from({ length: RECORDS }, (_, index) => {
    const raised = new Date(Date.UTC(2014, 0, 1 + index)).toISOString().slice(0, 10);
    return `${raised},${index},task ${index}`;
  });
  await client.importFile("works", `raised,cost,task\n${lines.join("\n")}\n`);
  await client.declareListing("works", { source: "works" });
});
afterAll(() => running.end());

const explained = async (parameters: Record<string, string>) =>
  (await running.client.explain("works", parameters)).plan;

describe("a plan", () => {
  test("advises an index where one would serve, and none for a part of a text", async () => {
    const { count } = await explained({ cost: "5/7" });
    expect(count.map(({ advice }) => advice)).toEqual([
      "an index on cost would serve: orisma sources index works cost",
    ]);
    const part = await explained({ task: "task 3999" });
    expect([...part.page, ...part.count].map(({ advice }) => advice)).toEqual(
      [...part.page, ...part.count].map(() => undefined),
    );
  });

  test("says that no index orders by what is worked out or is another table's", async () => {
    const { client } = running;
    await client.createSource({ name: "tasks", key: "task" });
    await client.importFile("tasks", "task,crew\ntask 7,Tansy\ntask 9,Sorrel\n");
    await client.declareListing("advised", {
      source: "works",
      mainDate: "raised",
      derived: {
        month: { kind: "part", part: "month", column: "raised" },
        age: { kind: "days", from: "raised", to: "now" },
      },
      relations: { of: { source: "tasks", by: "task", columns: ["crew"] } },
      order: { allowed: ["raised", "month", "age", "of.crew"], default: "raised" },
    });
    const advised = async (order: string) => {
      const { page } = (await client.explain("advised", { order })).plan;
      return page.flatMap(({ advice }) => advice ?? []).join("; ");
    };
    expect(await advised("month")).toContain("no index orders by month, which is worked out");
    expect(await advised("of.crew")).toContain("no index orders by of.crew, which is in another");
    // Days until now are in the order of their dates, which has an index.
    expect(await advised("-age")).toBe("");
    const { page } = (await client.explain("advised", { order: "-age" })).statements;
    expect(page.text).toMatch(/ORDER BY `c\d+`, /);
    const [oldest] = (await client.records("advised", { order: "-age" })).records;
    const [youngest] = (await client.records("advised", { order: "age" })).records;
    expect([oldest?.raised, youngest?.raised]).toEqual(["2014-01-01", "2024-12-13"]);
  });

  test("of a page that may walk through everything counts everything", async () => {
    // Found nowhere: everything is read before that is known, along an index or, as the database
    // sees fit, in a whole.
    const [walk] = (await explained({ task: "no such task" })).page;
    expect(walk?.words).toMatch(/^walks along .* until the page is full$|^reads the whole table/);
    expect(walk?.records).toBeGreaterThan(RECORDS * 0.9);
    // Without a condition nothing goes on until a page is full.
    const bare = (await explained({})).page.map(({ words }) => words);
    expect([bare.length > 0, bare.join()]).toEqual([true, expect.not.stringContaining("until")]);
  });

  // Which way the database goes is its own; what is reported each way is not.
  test.each([
    ["SELECT 1 LIMIT ?", [51], [NO_END]],
    ["SELECT 1 WHERE x = ? LIMIT ? OFFSET ?", [7, 51, 50], [7, NO_END, 50]],
  ])("%s that walks along an index is reported at its worst", async (text, values, unlimited) => {
    const requested: unknown[] = [];
    const rowOf = (type: string, count: number, extra: string) => [
      1,
      "SIMPLE",
      "works",
      type,
      null,
      "PRIMARY",
      null,
      null,
      count,
      extra,
    ];
    const read = (extra: string) => (statement: Statement) => {
      requested.push(statement.values);
      const isWorst = JSON.stringify(statement.values) === JSON.stringify(unlimited);
      return Promise.resolve([isWorst ? rowOf("ALL", RECORDS, extra) : rowOf("index", 51, extra)]);
    };
    const source = { indexes: new Map(), table: null } as unknown as KnownSource;
    const planned = (extra: string) =>
      planOf({ text, values }, { filter: EVERYTHING, order: null, source }, read(extra));
    expect(await planned("Using where")).toEqual([
      { words: "walks along the keys until the page is full", records: RECORDS },
    ]);
    expect(requested).toEqual([values, unlimited]);
    expect(await planned("")).toEqual([{ words: "walks along the keys", records: 51 }]);
  });
});

describe("a request that took too long", () => {
  test("says which of its conditions no index serves", async () => {
    const { client, login } = running;
    await client.declareListing("slow", { source: "works", filter: { columns: "all" } });
    const connection = await mysql.createConnection({ ...login });
    const [[table]] = await connection.query<mysql.RowDataPacket[]>(
      "SHOW TABLES LIKE 'records\\_%'",
    );
    const [name] = Object.values(table ?? {}) as string[];
    // A table that somebody holds for longer than a statement may take.
    await connection.query(`LOCK TABLES ${name} WRITE`);
    try {
      const asked = { filter: "task LIKE '%999%' AND raised >= DATE('2015-01-01')" };
      const problem = await refusal(client.records("slow", asked));
      expect(problem).toMatchObject({ status: 503, type: "/problems#too-slow" });
      expect(problem?.detail).toMatch(/no index serves “task contains .*999.*”, so each record/);
      expect(problem?.detail).not.toContain("raised");
    } finally {
      await connection.query("UNLOCK TABLES");
      await connection.end();
    }
    expect((await client.records("slow", { size: "1" })).records).toHaveLength(1);
  });
});
