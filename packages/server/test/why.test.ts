import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, type QueryParameters } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

/** Why a list is empty, and why a record is in it or not: reported to everyone who may read it. */
let running: TestService;
let reader: OrismaClient;

const CSV = `order,reported,lock,priority,cost,secret
W-1,2025-01-31,Tansy,high,10,alpha
W-2,2025-02-10,Tansy,low,20,beta
W-3,2025-04-01,Hollin,high,30,gamma
W-4,,Hollin,low,40,delta
W-5,soon,Marsh,High,50,epsilon
W-6,2025-02-11,Upper,high,60,zeta
`;

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 2, 4, 12) });
  const { client } = running;
  const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
  const columns = { reported: day, cost: { type: "integer" } } as const;
  await client.createSource({ name: "works", key: "order", columns });
  await client.importFile("works", CSV);
  await client.declareListing("works", {
    source: "works",
    mainDate: "reported",
    columns: ["order", "reported", "lock", "priority", "cost"],
    fixedFilter: "NOT lock = 'Upper'",
    parameters: [
      { name: "from", type: "date", column: "reported", comparison: "from", pair: "reported" },
      { name: "to", type: "date", column: "reported", comparison: "to", pair: "reported" },
      {
        name: "priority",
        type: "text",
        column: "priority",
        comparison: "is",
        caseSensitive: true,
      },
      { name: "lock", type: "text", column: "lock", comparison: "is" },
      { name: "secret", type: "text", column: "secret", comparison: "is" },
      { name: "cost", type: "integer", column: "cost", comparison: "atLeast" },
    ],
    choices: { lock: { hidden: ["Marsh"] } },
  });
  const { key } = await client.createKey({ name: "board", role: "reader", listings: ["works"] });
  reader = new OrismaClient({ url: running.service.url, key });
});
afterAll(() => running.end());

const why = (parameters: QueryParameters) => reader.why("works", parameters);

describe("a list without records", () => {
  test("says the nearest records on either side of the window that was searched", async () => {
    const { meta } = await reader.records("works", { from: "2025-03", to: "2025-03", with: "why" });
    expect(meta.total).toBe(0);
    expect(meta.why?.sentence).toBe(meta.sentence);
    expect(meta.why?.neighbours).toMatchObject([
      { edge: "start", before: "2025-02-10", after: "2025-04-01" },
      { edge: "end", before: "2025-02-10", after: "2025-04-01" },
    ]);
    expect(meta.why?.reasons.join()).toContain("the nearest are 10 February 2025 and 1 April 2025");
    // The same is requested by itself.
    expect(await why({ from: "2025-03", to: "2025-03" })).toEqual(meta.why);
  });

  test("says nothing where there are records, or where nobody asks", async () => {
    expect((await reader.records("works", { with: "why" })).meta.why).toBeUndefined();
    expect((await reader.records("works", { from: "2031" })).meta.why).toBeUndefined();
  });

  test.each<[QueryParameters, string]>([
    [{ priority: "HIGH" }, "in other letter case"],
    [{ lock: "Tanzy" }, "there is “Tansy”"],
    [{ lock: "Tansy", cost: "25" }, "each condition has records, but none has all"],
    [{ from: "2026" }, "the last date of reported is 1 April 2025"],
    [{ to: "2024" }, "the first date of reported is 31 January 2025"],
  ])("%j: %s", async (parameters, reason) => {
    expect((await why(parameters)).reasons.join("; ")).toContain(reason);
  });

  test("says which condition lets none through, and how many each does", async () => {
    const { narrowing } = await why({ lock: "Tansy", cost: "25" });
    expect(narrowing).toMatchObject({
      records: 5,
      steps: [
        { alone: 2, inTurn: 2 },
        { alone: 3, inTurn: 0 },
      ],
    });
  });

  test("reports only what its readers may see", async () => {
    // A value that is spelled nearly so is none of a hidden column's, or one that is not offered.
    for (const parameters of [{ secret: "alpa" }, { lock: "Marhs" }]) {
      const answer = JSON.stringify(await why(parameters));
      expect(answer).not.toContain("alpha");
      expect(answer).not.toContain("“Marsh”");
    }
    // Nor is anything that the listing omits for all of them.
    const near = await why({ from: "2025-02-11", to: "2025-02-12" });
    expect(near.reasons.join()).toContain("10 February 2025 and 1 April 2025");
    expect(near.narrowing.records).toBe(5);
  });
});

describe("one record", () => {
  test("is in or out, condition by condition, with what it has there", async () => {
    const found = await reader.why("works", { from: "2025-02", to: "2025-02", cost: "15" }, "W-1");
    expect(found.record).toEqual({
      id: "W-1",
      isIn: false,
      conditions: [
        { condition: expect.any(String), isMet: false, values: { reported: "2025-01-31" } },
        { condition: "cost at least 15", isMet: false, values: { cost: 10 } },
      ],
    });
    const second = await reader.why("works", { from: "2025-02", to: "2025-02", cost: "15" }, "W-2");
    expect(second.record).toMatchObject({
      isIn: true,
      conditions: [{ isMet: true }, { isMet: true }],
    });
    expect(second.reasons).toEqual([]);
  });

  test("shows what cannot be read as it came, and blanks as nothing", async () => {
    const of = async (id: string) => (await reader.why("works", { from: "2025" }, id)).record;
    expect((await of("W-5"))?.conditions).toMatchObject([
      { isMet: false, values: { reported: "soon" } },
    ]);
    expect((await of("W-4"))?.conditions).toMatchObject([
      { isMet: false, values: { reported: null } },
    ]);
  });

  test("reports only what its readers may see", async () => {
    for (const id of ["W-6", "W-9", "w-1"]) {
      const found = await refusal(reader.why("works", { cost: "1" }, id));
      expect(found).toMatchObject({ status: 404, detail: `The listing has no record ${id}` });
    }
    const hidden = await reader.why("works", { secret: "beta" }, "W-2");
    expect(hidden.record).toMatchObject({ isIn: true, conditions: [{ isMet: true, values: {} }] });
    const other = new OrismaClient({ url: running.service.url, key: "none" });
    expect(await refusal(other.why("works"))).toMatchObject({ status: 401 });
  });
});
