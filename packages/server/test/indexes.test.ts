import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing } from "@orisma/client";
import type { Column } from "@orisma/core/internal";
import { whileRead } from "../../../test/held.js";
import { refusal } from "../../../test/refusal.js";
import { Indexes, canBeMade, neededIndexes } from "../src/sources/indexes.js";
import { storedTable } from "../src/sources/tables.js";
import { slowly } from "../../../test/slow.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { until } from "../../../test/until.js";

const RECORDS = 25_000;
const SETTINGS = { maxScanned: 5_000 };
const STATUSES = ["open", "done", "waiting", "cancelled"];
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  parameters: [
    { name: "on", column: "raised", type: "window", comparison: "on" },
    { name: "status", column: "status", type: "several", comparison: "among" },
    { name: "note", column: "note", type: "text", comparison: "contains" },
    { name: "begins", column: "note", type: "text", comparison: "begins" },
    { name: "is", column: "note", type: "text", comparison: "is" },
    { name: "cost", column: "cost", type: "integer", comparison: "is" },
  ],
  total: { upTo: 1_000_000 },
};

/** Works of four years, each with a note of its own. */
const FILE = [
  "work,raised,status,note,cost",
  ...Array.from({ length: RECORDS }, (_, index) => {
    const day = new Date(Date.UTC(2022, 0, 1 + (index % 1_461))).toISOString().slice(0, 10);
    return `W-${index},${day},${STATUSES[index % 4]},note ${index} of gate ${index % 50},${index % 900}`;
  }),
  "",
].join("\n");

let running: TestService;

beforeAll(async () => {
  running = await startTestService({ settings: SETTINGS });
  const reading = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  await running.client.createSource({
    name: "works",
    key: "work",
    columns: { raised: { type: "date", reading }, cost: { type: "integer" } },
  });
  await running.client.importFile("works", FILE);
  await running.client.declareListing("works", LISTING);
});
afterAll(() => running.end());

async function indexed(purpose: string): Promise<readonly string[]> {
  const { indexes } = await running.client.indexes("works");
  return indexes
    .filter((each) => each.purpose === purpose && each.state === "ready")
    .map(({ columns }) => columns.join(" "))
    .sort();
}

/** Waits for indexes that are made in the background. */
async function untilIndexed(purpose: string, count: number): Promise<void> {
  await until(async () => (await indexed(purpose)).length >= count);
}

async function untilBuilding(): Promise<void> {
  await until(async () => {
    const { indexes } = await running.client.indexes("works");
    return indexes.some(({ state }) => state === "building");
  });
}

async function planOf(query: Record<string, string>): Promise<string> {
  const { plan } = await running.client.explain("works", query);
  return [...plan.page, ...plan.count].map(({ words }) => words).join("; ");
}

describe("indexes", () => {
  test("that a listing needs are made when it is declared, and with each later table", async () => {
    await untilIndexed("listings", 2);
    expect(await indexed("listings")).toEqual(["raised status", "status raised"]);
    expect(await indexed("dates")).toEqual(["raised"]);
    expect(await planOf({ on: "2023", status: "done" })).toContain("status");
    const offer = await running.client.choices("works", "status", { on: "2023" });
    expect(offer.choices.length).toBe(4);
    await running.client.importFile("works", FILE, { again: true });
    expect(await indexed("listings")).toEqual(["raised status", "status raised"]);
  });

  test("are made on request while records are read, and stay with later tables", async () => {
    const { client } = running;
    const [made] = await Promise.all([
      client.addIndex("works", ["note"]),
      client.records("works", { on: "2023" }),
    ]);
    expect(made).toMatchObject({ columns: ["note"] });
    expect(made.bytes).toBeGreaterThan(RECORDS);
    expect(await planOf({ begins: "note 12345 " })).toContain("the index on note");
    const { records } = await client.records("works", { begins: "Note 12345 " });
    expect(records.map(({ id }) => id)).toEqual(["W-12345"]);
    expect((await client.records("works", { is: "note 7 of gate 7" })).records.length).toBe(1);
    await client.importFile("works", FILE, { again: true });
    expect(await indexed("requested")).toEqual(["note"]);
    await client.deleteIndex("works", ["note"]);
    expect(await indexed("requested")).toEqual([]);
    expect(await planOf({ begins: "note 12345 " })).not.toContain("the index on note");
  });

  test("hold up no reader while an export reads the table, and are made when it has ended", async () => {
    const { client, login } = running;
    let isMade = false;
    const [made] = await whileRead(login, async () => {
      const making = client.addIndex("works", ["cost", "status"]).then(() => {
        isMade = true;
      });
      await untilBuilding();
      for (let page = 0; page < 20; page++) {
        expect((await client.records("works", { on: "2023" })).records.length).toBe(50);
      }
      expect(isMade).toBe(false);
      return [making];
    });
    await made;
    expect(await indexed("requested")).toEqual(["cost status"]);
    await client.deleteIndex("works", ["cost", "status"]);
  });

  test("are cancelled while they are made: there is none, and the table is as it was", async () => {
    const { client, login } = running;
    await whileRead(login, async () => {
      const making = refusal(client.addIndex("works", ["cost", "raised"]));
      await untilBuilding();
      expect(await refusal(client.addIndex("works", ["cost", "raised"]))).toMatchObject({
        detail: "An index on cost, raised is being made",
      });
      await client.deleteIndex("works", ["cost", "raised"]);
      expect(await making).toMatchObject({
        type: "/problems#cancelled",
        detail: "The index on cost, raised was cancelled; there is none",
      });
    });
    const { indexes } = await client.indexes("works");
    expect(indexes.filter(({ columns }) => columns.join() === "cost,raised")).toEqual([]);
    expect((await client.records("works", { on: "2023" })).records.length).toBe(50);
    // It is made as before when it is requested again.
    await client.addIndex("works", ["cost", "raised"]);
    expect(await indexed("requested")).toEqual(["cost raised"]);
    await client.deleteIndex("works", ["cost", "raised"]);
  });

  test("are refused on unknown columns, twice, and to whoever may not make them", async () => {
    const { client, service } = running;
    const problem = async (work: Promise<unknown>) => (await refusal(work))?.status;
    expect(await problem(client.addIndex("works", ["colour"]))).toBe(422);
    expect(await problem(client.addIndex("works", ["cost", "cost"]))).toBe(422);
    expect(await problem(client.addIndex("works", ["raised"]))).toBe(409);
    expect(await problem(client.deleteIndex("works", ["raised", "status"]))).toBe(404);
    const { key } = await client.createKey({ name: "author", role: "author" });
    const author = new OrismaClient({ url: service.url, key });
    expect((await author.indexes("works")).indexes.length).toBe(3);
    expect(await problem(author.addIndex("works", ["cost"]))).toBe(403);
  });

  test("are proposed for what was slow, with what they cost", async () => {
    // On a slow machine other requests of this file were slow too; a service that starts has seen none of them.
    const { login, state } = running;
    await running.service.close();
    running = await startTestService({ login, state, settings: SETTINGS });
    const { client } = running;
    await slowly(login, () =>
      client.records("works", { cost: "17", on: "2023-01/2023-03", total: "none" }),
    );
    const { proposals } = await client.indexes("works");
    expect(proposals).toMatchObject([{ columns: ["cost", "raised"], column: "cost" }]);
    expect(await client.doctor()).toContainEqual(
      expect.objectContaining({ advice: "Make an index: orisma sources index works cost raised" }),
    );
    // The value that was sent is nobody else's.
    expect(JSON.stringify([proposals, await client.doctor()])).not.toMatch(/cost.{0,5}\b17\b/);
    expect(proposals[0]?.slowestMs).toBeGreaterThan(200);
    expect(proposals[0]?.bytes).toBeGreaterThan(RECORDS);
    await client.addIndex("works", proposals[0]?.columns ?? []);
    expect((await client.indexes("works")).proposals).toEqual([]);
    expect(await planOf({ cost: "17" })).toContain("the index on cost and raised");
  });
});

describe("the database's own limits of indexes", () => {
  const names = Array.from({ length: 20 }, (_, index) => `text${index}`);
  const dates = Array.from({ length: 50 }, (_, index) => `date${index}`);
  const columns: readonly Column[] = [
    ...names.map((name): Column => ({ name, type: "text" })),
    ...dates.map((name): Column => ({ name, type: "date", kind: "date" })),
  ];

  test("are kept however many listings a source has", () => {
    const coded = storedTable("records_1_1", columns, new Map(names.map((name) => [name, ["x"]])));
    const listings = Array.from({ length: 200 }, (_, index) => ({
      mainDate: "date0",
      filtered: names.filter((_name, place) => (index >> (place % 8)) % 2 === 1),
    }));
    const needed = neededIndexes(listings, coded);
    expect(needed.length).toBe(9);
    expect(needed.every((index) => canBeMade(index, coded))).toBe(true);
    const indexes = new Indexes({} as never, {} as never);
    indexes.serve(() => dates.map((mainDate) => ({ mainDate, filtered: names })));
    const wanted = indexes.wanted({ name: "x", indexes: [["text0", "date1"]] }, coded, 30_000);
    expect(wanted.length).toBe(14);
    expect(wanted[0]).toEqual(["text0", "date1"]);
  });

  test("are kept where a column has a dictionary no more, and said where one is requested", async () => {
    const plain = storedTable("records_1_1", columns);
    const indexes = new Indexes({} as never, {} as never);
    const requested = [names.slice(0, 9), ["text0"], ["gone"]];
    expect(indexes.wanted({ name: "x", indexes: requested }, plain, 10)).toEqual([["text0"]]);
    const { client } = running;
    await client.createSource({ name: "wide" });
    await client.importFile("wide", `${names.join(",")}\n${names.join(",")}\n`);
    const problem = await refusal(client.addIndex("wide", names.slice(0, 9)));
    expect([problem?.status, problem?.detail]).toEqual([
      422,
      expect.stringContaining("fewer columns"),
    ]);
    expect(await client.addIndex("wide", names.slice(0, 7))).toMatchObject({
      columns: names.slice(0, 7),
    });
  });
});

describe("a part of a text that no index serves", () => {
  test("is refused where too many records would be tried, with what would serve", async () => {
    const { client } = running;
    const problem = await refusal(client.records("works", { note: "gate 17" }));
    expect(problem?.status).toBe(413);
    expect(problem?.detail).toContain("and 5,000 at most are. Request a shorter window");
    expect(problem?.detail).toContain("orisma sources index works note");
    expect((await client.explain("works", { note: "gate 17" })).narrowing.records).toBe(RECORDS);
    const { records } = await client.records("works", { note: "gate 17", on: "2023-01/2023-03" });
    expect(records.length).toBeGreaterThan(0);
    expect(records.every(({ note }) => String(note).endsWith("gate 17"))).toBe(true);
    // A column with a dictionary, and a number.
    expect((await client.records("works", { status: "done", cost: "1" })).records.length).toBe(28);
    expect((await client.records("works", { status: "open", cost: "1" })).records).toEqual([]);
  });
});
