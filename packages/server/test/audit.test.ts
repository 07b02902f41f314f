import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";
import { until } from "../../../test/until.js";

const [[LISTING, DECLARED] = ["", { source: "works" }]] = Object.entries(LISTINGS);
const DAY_MS = 86_400_000;

let now = Date.UTC(2026, 10, 29, 12);
let running: TestService;
let reader: OrismaClient;
let key: string;
beforeAll(async () => {
  running = await startTestService({ now: () => now, settings: { auditDays: 30 } });
  await importWorks(running.client);
  await running.client.declareListing(LISTING, {
    ...DECLARED,
    parameters: [
      ...(DECLARED.parameters ?? []),
      { name: "words", type: "text", column: "note", comparison: "contains" },
    ],
  });
  ({ key } = await running.client.createKey({ name: "website", role: "reader" }));
  reader = new OrismaClient({ url: running.service.url, key });
});
afterAll(() => running.end());

const FEBRUARY = { from: "2025-02-01", to: "2025-02-28" };

describe("the audit trail", () => {
  test("says who read and exported what, with the bounds that were applied and how many", async () => {
    const page = await reader.records(LISTING, { ...FEBRUARY, words: "midnight" });
    const csv = await fetch(
      `${running.service.url}/v1/listings/${LISTING}/records.csv?${new URLSearchParams(FEBRUARY).toString()}`,
      { headers: { Authorization: `Bearer ${key}` } },
    ).then((answer) => answer.text());
    await reader.summary(LISTING, { ...FEBRUARY, by: "note" });
    const { entries } = await running.client.audit({ caller: "website" });
    expect(entries.map(({ action, status }) => [action, status])).toEqual([
      ["GET /v1/listings/{name}/summary", 200],
      ["GET /v1/listings/{name}/records.csv", 200],
      ["GET /v1/listings/{name}/records", 200],
    ]);
    for (const each of entries) {
      expect(each).toMatchObject({
        name: "website",
        target: LISTING,
        at: "2026-11-29T12:00:00.000Z",
      });
      expect(JSON.stringify(each.details?.windows)).toContain("2025-02");
    }
    expect(entries[2]?.details).toMatchObject({
      total: page.meta.total,
      records: page.records.length,
      masked: ["words"],
    });
    expect(entries[1]?.details).toMatchObject({
      format: "csv",
      records: csv.trim().split("\n").length - 1,
    });
    // Values that people sent are in none of it.
    expect(JSON.stringify(entries)).not.toContain("midnight");
  });

  test("has the bounds of each request that a call consists of", async () => {
    const requests = ["2025-01", "2025-02", "2025-02"].map((from) => ({ from }));
    await running.client.call("POST /v1/listings/{name}/counts", {
      path: { name: LISTING },
      body: { requests },
    });
    await running.client.imports("works");
    const [entry] = (await running.client.audit({ limit: 1 })).entries;
    expect(entry?.action).toBe("POST /v1/listings/{name}/counts");
    const windows = entry?.details?.windows?.map((each) => String(each.canonical));
    expect(windows).toEqual([
      expect.stringContaining("2025-01"),
      expect.stringContaining("2025-02"),
    ]);
  });

  test("says who changed what, and what was refused", async () => {
    const { client } = running;
    await client.declareWindow("dredging-season", {
      label: "season",
      window: "year;BYMONTH=9..11",
    });
    await client
      .importFile("works", "order,raised\nW-99,31/01/2025\n", { mode: "append" })
      .catch(() => null);
    await refusal(reader.createKey({ name: "mine", role: "owner" }));
    await refusal(new OrismaClient({ url: running.service.url, key: "orisma_wrong" }).keys());
    const { entries } = await client.audit({ limit: 4 });
    expect(
      entries.map(({ action, name, target, status }) => [action, name, target, status]),
    ).toEqual([
      ["GET /v1/keys", null, null, 401],
      ["POST /v1/keys", "website", null, 403],
      [
        "POST /v1/sources/{name}/records",
        "command line of this machine",
        "works",
        expect.any(Number),
      ],
      ["PUT /v1/windows/{name}", "command line of this machine", "dredging-season", 200],
    ]);
    const { entries: found } = await client.audit({ action: "PUT /v1/windows/{name}" });
    expect(found.map(({ target }) => target)).toEqual(["dredging-season"]);
    expect((await client.audit({ target: "nobody-knows" })).entries).toEqual([]);
  });

  test("comes page by page, and as a JSON document a line", async () => {
    for (let count = 0; count < 5; count++) await reader.records(LISTING, FEBRUARY);
    const first = await running.client.audit({ limit: 3 });
    const second = await running.client.audit({ limit: 3, cursor: first.next ?? "" });
    const ids = [...first.entries, ...second.entries].map(({ id }) => Number(id));
    expect(ids).toHaveLength(6);
    expect([...new Set(ids)].sort((a, b) => b - a)).toEqual(ids);
    const lines = await fetch(`${running.service.url}/v1/audit?limit=5`, {
      headers: { Authorization: `Bearer ${running.service.key}`, Accept: "application/x-ndjson" },
    });
    expect(lines.headers.get("content-type")).toContain("application/x-ndjson");
    const documents = (await lines.text())
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line) as object);
    expect(documents).toHaveLength(5);
    expect(documents[0]).toHaveProperty("action");
    expect((await refusal(running.client.audit({ cursor: "x" })))?.status).toBe(422);
  });

  test("is for owners, by time, and forgotten after its days", async () => {
    expect((await refusal(reader.audit()))?.status).toBe(403);
    const before = now;
    now += 20 * DAY_MS;
    await reader.records(LISTING, FEBRUARY);
    const later = await running.client.audit({ from: "2026-12-01" });
    expect(later.entries.length).toBeGreaterThan(0);
    for (const { at } of later.entries) expect(at > "2026-12-01").toBe(true);
    const earlier = await running.client.audit({ before: "2026-12-01" });
    expect(earlier.entries.every(({ at }) => Date.parse(at) === before)).toBe(true);
    now += 11 * DAY_MS;
    // As a start does, and each hour.
    await running.service.close();
    running = await startTestService({
      login: running.login,
      state: running.state,
      now: () => now,
      settings: { auditDays: 30 },
    });
    await until(async () => {
      const { entries } = await running.client.audit({ before: "2026-12-01" });
      return entries.length === 0;
    });
    expect(
      (await running.client.audit({ from: "2026-12-01", caller: "website" })).entries.length,
    ).toBeGreaterThan(0);
  });

  test("keeps what was done just before a service ends", async () => {
    await running.client.records(LISTING, { ...FEBRUARY, size: "1" });
    await running.service.close();
    running = await startTestService({
      login: running.login,
      state: running.state,
      now: () => now,
    });
    const { entries } = await running.client.audit({ limit: 1, target: LISTING });
    expect(entries[0]?.details?.records).toBe(1);
  });
});
