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
    // Found nowhere: the whole index is walked along before that is known.
    const { page } = await explained({ task: "no such task" });
    const walk = page.find(({ words }) => words.startsWith("walks along"));
    expect(walk?.words).toMatch(/until the page is full$/);
    expect(walk?.records).toBeGreaterThan(RECORDS * 0.9);
    // Without a condition a page is all that is read.
    const [bare] = (await explained({})).page;
    expect([bare?.words, bare?.records]).toEqual([
      expect.not.stringContaining("until"),
      expect.any(Number),
    ]);
    expect(bare?.records).toBeLessThan(100);
  });
});
