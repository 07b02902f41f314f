import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";

/** What is advised is what would serve, and what is counted is what may be read. */
const RECORDS = 4_000;
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
  await client.takeFile("works", `raised,cost,task\n${lines.join("\n")}\n`);
  await client.declareListing("works", { source: "works" });
});
afterAll(() => running.end());

const explained = async (parameters: Record<string, string>) =>
  (await running.client.explain("works", parameters)).plan;

describe("a plan", () => {
  test("advises an index where one would serve, and none for a part of a text", async () => {
    const { count } = await explained({ cost: "5/7" });
    expect(count.map(({ advice }) => advice)).toEqual(["an index on cost would serve"]);
    const part = await explained({ task: "task 3999" });
    expect([...part.page, ...part.count].map(({ advice }) => advice)).toEqual(
      [...part.page, ...part.count].map(() => undefined),
    );
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
});
