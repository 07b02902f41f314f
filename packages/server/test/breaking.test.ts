import { afterAll, beforeAll, beforeEach, describe, expect, test } from "@jest/globals";
import { OrismaClient, OrismaError, type ProblemDocument } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

/** What stands on a source is not broken without a word. */
let running: TestService;
let reader: OrismaClient;
let secret: string;

const CSV = "order,raised,cost\nW-1,2025-01-31,5\nW-2,2025-02-28,6\n";
const DAY = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
const TO_TEXT = { raised: { type: "text" } } as const;
const REASON = /raised/;

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 2, 4, 12) });
  const { key } = await running.client.createKey({ name: "board", role: "reader" });
  secret = key;
  reader = new OrismaClient({ url: running.service.url, key });
});
afterAll(() => running.end());

beforeEach(async () => {
  const { client } = running;
  for (const { name } of await client.listings()) await client.deleteListing(name);
  const sources = await client.sources();
  const combined = sources.filter(({ combine }) => combine !== null);
  for (const { name } of [...combined, ...sources.filter((each) => !combined.includes(each))]) {
    await client.deleteSource(name);
  }
  await client.createSource({ name: "works", key: "order", columns: { raised: DAY } });
  await client.importFile("works", CSV);

  await client.declareListing("works-raised", {
    source: "works",
    mainDate: "raised",
    parameters: [{ name: "from", type: "date", column: "raised", comparison: "from" }],
  });
  await client.declareListing("works-costed", {
    source: "works",
    mainDate: "raised",
    parameters: [{ name: "cost", type: "text", column: "cost", comparison: "is" }],
  });
});

const problemOf = async (act: Promise<unknown>): Promise<ProblemDocument> => {
  try {
    await act;
  } catch (error) {
    if (error instanceof OrismaError && error.problem !== null) return error.problem;
    throw error;
  }
  throw new Error("it was done");
};
const ready = async (): Promise<readonly unknown[]> => {
  const response = await fetch(`${running.service.url}/health/ready`);
  const answer: unknown = await response.json();
  return [response.status, answer];
};

describe("an act that would break listings", () => {
  test("setting readings names them and does nothing, unless forced; the preview names them too", async () => {
    const { client } = running;
    const { breaks } = await client.previewReadings("works", TO_TEXT);
    expect(breaks).toEqual([
      { listing: "works-costed", reason: expect.stringMatching(REASON) },
      { listing: "works-raised", reason: expect.stringMatching(REASON) },
    ]);
    const problem = await problemOf(client.setReadings("works", TO_TEXT));
    expect(problem).toMatchObject({ status: 409, type: "/problems#breaks-listings" });
    expect(problem.faults.map(({ code }) => code)).toEqual(["listing.breaks", "listing.breaks"]);
    expect(problem.detail).toContain("works-costed, works-raised");
    expect((await reader.records("works-raised")).meta.total).toBe(2);
    await client.setReadings("works", TO_TEXT, { force: true });
    expect((await problemOf(reader.records("works-raised"))).status).toBe(503);
  });

  test("what no listing needs is changed without a question", async () => {
    const { client } = running;
    await client.deleteListing("works-costed");
    const columns = { cost: { type: "integer" } } as const;
    expect((await client.previewReadings("works", columns)).breaks).toEqual([]);
    await client.setReadings("works", columns);
    expect((await reader.records("works-raised", { from: "2025-02" })).records).toMatchObject([
      { cost: 6 },
    ]);
  });

  test("a file in place of the records, and going back to those before", async () => {
    const { client } = running;
    const file = "order,raised\nW-7,2025-03-01\n";
    const problem = await problemOf(client.importFile("works", file));
    expect([problem.status, problem.faults.map(({ message }) => message).join()]).toEqual([
      409,
      expect.stringContaining("works-costed would be broken"),
    ]);
    expect(problem.detail).not.toContain("works-raised:");
    expect((await reader.records("works-raised")).meta.total).toBe(2);
    expect((await client.source("works")).records).toBe(2);
    await client.importFile("works", file, { force: true });
    expect((await reader.records("works-raised")).meta.total).toBe(1);
    // Undone it is whole again; what needs what only the new records have would break by that.
    await client.restoreRecords("works");
    expect((await reader.records("works-costed")).meta.total).toBe(2);
    expect((await problemOf(client.restoreRecords("works"))).type).toBe(
      "/problems#breaks-listings",
    );
    await client.restoreRecords("works", { force: true });
    expect((await problemOf(reader.records("works-costed"))).status).toBe(503);
  });

  test("a listing over sources that consist of it, or that shows it beside another", async () => {
    const { client } = running;
    await client.createSource({ name: "more", key: "order", columns: { raised: DAY } });
    await client.importFile("more", CSV);
    await client.createSource({ name: "both", combine: { of: ["works", "more"] } });
    await client.declareListing("both-raised", { source: "both", mainDate: "raised" });
    await client.declareListing("more-raised", {
      source: "more",
      mainDate: "raised",
      relations: { of: { source: "works", by: "order", columns: ["cost"] } },
    });
    const { breaks } = await client.previewReadings("works", TO_TEXT);
    expect(breaks.map(({ listing }) => listing).sort()).toEqual([
      "both-raised",
      "works-costed",
      "works-raised",
    ]);
    expect(
      await refusal(client.importFile("works", "order,raised\nW-7,2025-03-01\n")),
    ).toBeTruthy();
    const gone = await problemOf(client.importFile("works", "order,raised\nW-7,2025-03-01\n"));
    expect(gone.detail).toContain("more-raised");
  });
});

describe("a listing that no longer fits its source", () => {
  test("is marked wherever it is listed, and answers 503 by its own name, for good", async () => {
    const { client } = running;
    await client.deleteListing("works-costed");
    await client.declareListing("orders", { source: "works", mainDate: "raised", title: "Orders" });
    expect(await ready()).toEqual([200, { status: "ready", listings: [] }]);
    await client.setReadings("works", TO_TEXT, { force: true });
    for (const each of await reader.listings()) expect(each.broken).toMatch(REASON);
    const response = await fetch(`${running.service.url}/v1/listings/orders/records`, {
      headers: { Authorization: `Bearer ${secret}` },
    });
    expect([response.status, response.headers.get("Retry-After")]).toEqual([503, null]);
    const problem = (await response.json()) as ProblemDocument;
    expect(problem.type).toBe("/problems#listing-broken");
    expect(problem.detail).toMatch(
      /^This listing's declaration no longer fits its source: .*raised/,
    );
    expect(await ready()).toEqual([200, { status: "ready", listings: ["orders", "works-raised"] }]);
    // It is reported as it was declared, so that it can be declared otherwise.
    const answer = await client.listing("orders");
    expect(answer).toMatchObject({ title: "Orders", mainDate: "raised" });
    expect(answer.broken).toMatch(REASON);
    expect(answer.shown.map(({ name }) => name)).toEqual(["order", "raised", "cost"]);
    // Mended, it is served again, and no list marks it.
    await client.setReadings("works", { raised: DAY });
    expect((await reader.records("orders")).meta.total).toBe(2);
    expect((await reader.listings()).every(({ broken }) => broken === undefined)).toBe(true);
    expect(await ready()).toEqual([200, { status: "ready", listings: [] }]);
  });
});
