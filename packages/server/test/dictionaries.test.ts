import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import { startTestService, type TestService } from "../../../test/service.js";

const READING = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  parameters: [
    { name: "from", column: "raised", type: "date", comparison: "from" },
    {
      name: "status",
      column: "status",
      type: "several",
      comparison: "among",
      caseSensitive: false,
    },
    { name: "others", column: "status", type: "several", comparison: "noneOf" },
    { name: "lock", column: "lock", type: "text", comparison: "contains" },
    { name: "exact", column: "lock", type: "text", comparison: "begins", caseSensitive: true },
    { name: "note", column: "note", type: "text", comparison: "contains" },
  ],
};
const STATUSES = ["open", "done", "Waiting", "cancelled"];
const LOCKS = ["Alder Lock", "alder weir", "Brindle Lock", "", "  ", "Tarn Basin", "ÉCLUSE 9"];

interface Work {
  readonly work: string;
  readonly raised: string;
  readonly status: string;
  readonly lock: string;
  readonly note: string;
}

/** Works of which statuses and locks repeat, and each note is another. */
const WORKS = Array.from({ length: 240 }, (_, index): Work => {
  const day = new Date(Date.UTC(2025, 0, 1 + (index % 90))).toISOString().slice(0, 10);
  const [status = "", lock = ""] = [STATUSES[index % 4], LOCKS[index % 7]];
  return { work: `W-${index}`, raised: day, status, lock, note: `weed at gate ${index}` };
});

function csvOf(works: readonly Work[]): string {
  const lines = works.map((each) => Object.values(each).join(","));
  return ["work,raised,status,lock,note", ...lines, ""].join("\n");
}

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  await client.createSource({
    name: "works",
    key: "work",
    columns: { raised: { type: "date", reading: READING } },
  });
  await client.importFile("works", csvOf(WORKS), { file: "works.csv" });
  await client.declareListing("works", LISTING);
});
afterAll(() => running.end());

async function ids(query: Record<string, string | readonly string[]>): Promise<readonly string[]> {
  const { records } = await running.client.records("works", { size: "500", ...query });
  return records.map(({ id }) => String(id)).sort();
}

function worksThat(test: (work: Work) => boolean): readonly string[] {
  return WORKS.filter(test)
    .map(({ work }) => work)
    .sort();
}

async function statementOf(query: Record<string, string>): Promise<string> {
  return (await running.client.explain("works", query)).statements.page.text;
}

describe("text columns with few values", () => {
  test("are chosen from in a listing without parameters, and as before where it had others", async () => {
    const { client } = running;
    const typesOf = async (name: string) => {
      const { parameters } = await client.listing(name);
      return parameters.flatMap(({ name: each, type }) =>
        ["status", "lock", "note"].includes(each) ? [`${each} ${type}`] : [],
      );
    };
    await client.declareListing("short", { source: "works" });
    expect(await typesOf("short")).toEqual(["status several", "lock several", "note text"]);
    const chosen = await client.records("short", { status: ["open", "done"], size: "500" });
    expect(chosen.records.length).toBe(120);
    await client.declareListing("asked", {
      source: "works",
      parameters: [{ name: "status", column: "status", type: "text", comparison: "contains" }],
    });
    await client.declareListing("asked", { source: "works" });
    expect(await typesOf("asked")).toEqual(["status text", "lock several", "note text"]);
    const { columns } = await client.source("works");
    expect(columns.map((each) => ("distinct" in each ? each.distinct : null))).toEqual([
      null,
      null,
      4,
      5,
      null,
    ]);
  });

  test("keep what the strings themselves would, by their numbers", async () => {
    const cases: [Record<string, string>, (work: Work) => boolean][] = [
      [{ status: "open" }, ({ status }) => status === "open"],
      [{ status: "WAITING" }, ({ status }) => status === "Waiting"],
      [{ others: "open" }, ({ status }) => status !== "open"],
      [{ lock: "alder" }, ({ lock }) => /alder/i.test(lock)],
      [{ lock: "écluse" }, ({ lock }) => lock === "ÉCLUSE 9"],
      [{ exact: "alder" }, ({ lock }) => lock.startsWith("alder")],
      [{ lock: "Lock", "lock.blank": "include" }, ({ lock }) => /lock/i.test(lock) || !lock.trim()],
      [{ "lock.blank": "only" }, ({ lock }) => lock.trim() === ""],
      [
        { from: "2025-02-01", status: "done" },
        (w) => w.raised >= "2025-02-01" && w.status === "done",
      ],
    ];
    for (const [query, kept] of cases) {
      const expected = worksThat(kept);
      expect([query, await ids(query)]).toEqual([query, expected]);
      expect(expected.length > 0 && expected.length < WORKS.length).toBe(true);
      expect(await statementOf(query)).toMatch(/`?d\d`? /);
    }
  });

  test("find nothing without looking at a record, and a column of many values has none", async () => {
    expect(await ids({ lock: "sluice" })).toEqual([]);
    expect(await statementOf({ lock: "sluice" })).toContain("1 = 0");
    expect(await ids({ note: "gate 17" })).toEqual(
      worksThat(({ note }) => note.includes("gate 17")),
    );
    expect(await statementOf({ note: "gate 17" })).toContain("LIKE");
  });

  test("are offered by their values, with counts", async () => {
    const offer = await running.client.choices("works", "lock", { status: "open" });
    const counts = new Map<string, number>();
    for (const { lock, status } of WORKS) {
      if (status === "open" && lock.trim() !== "") counts.set(lock, (counts.get(lock) ?? 0) + 1);
    }
    const offered = new Map(offer.choices.map(({ value, records }) => [value, records]));
    expect(offered).toEqual(counts);
    const blank = WORKS.filter(({ lock, status }) => status === "open" && lock.trim() === "");
    expect(offer.blank).toBe(blank.length);
    const summary = await running.client.summary("works", { by: "status" });
    expect(JSON.stringify(summary)).toContain('"Waiting"');
  });

  test("have the values that come with further records", async () => {
    const { client } = running;
    const added = {
      work: "W-900",
      raised: "2025-03-01",
      status: "parked",
      lock: "New Cut",
      note: "x",
    };
    await client.importFile("works", csvOf([added]), { mode: "append" });
    expect(await ids({ status: "parked" })).toEqual(["W-900"]);
    expect(await ids({ lock: "new" })).toEqual(["W-900"]);
    await client.importFile("works", csvOf([{ ...added, status: "resumed" }]), { mode: "update" });
    expect(await ids({ status: "resumed" })).toEqual(["W-900"]);
    expect(await ids({ status: "parked" })).toEqual([]);
    expect(await ids({ status: "open" })).toEqual(worksThat(({ status }) => status === "open"));
    await client.repairCell("works", { id: "W-900", column: "status", value: "Lost" });
    expect(await ids({ status: "lost" })).toEqual(["W-900"]);
    await client.repairCell("works", { id: "W-900", column: "status", value: null });
    expect(await ids({ status: "lost" })).toEqual([]);
    expect(await statementOf({ status: "open" })).toMatch(/d3/);
    await client.restoreRecords("works", { edits: "overwrite" });
    expect(await ids({ status: "resumed" })).toEqual([]);
    expect(await ids({ status: "parked" })).toEqual(["W-900"]);
  });

  test("have their dictionaries after a restart, and when their readings change", async () => {
    const { client, login, state, service } = running;
    await client.setReadings("works", { raised: { type: "date", reading: READING } });
    await service.close();
    running = await startTestService({ login, state });
    expect(await ids({ status: "parked" })).toEqual(["W-900"]);
    expect(await statementOf({ status: "parked" })).toMatch(/d3/);
  });
});
