import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { loadDemo } from "@orisma/demo";
import { refusal } from "../../test/refusal.js";
import { startTestService, type TestService } from "../../test/service.js";

/** 25 November 2026, 09:30 UTC. */
let now = Date.UTC(2026, 10, 25, 9, 30);
let running: TestService;
const outbox = mkdtempSync(join(tmpdir(), "orisma-demo-outbox-"));

beforeAll(async () => {
  running = await startTestService({ now: () => now, settings: { outbox } });
  await loadDemo(running.service, { today: Math.floor(now / 86_400_000) });
});
afterAll(async () => {
  await running.end();
  rmSync(outbox, { recursive: true, force: true });
});

test("current and future closures have a page and a calendar that need no key", async () => {
  const { url } = running.service;
  const page = await (await fetch(`${url}/public/closures-ahead`)).text();
  expect(page).toContain("Current and future closures");
  const { records } = await running.client.records("closures-ahead", { size: "1" });
  const calendar = await (await fetch(`${url}/v1/listings/closures-ahead/records.ics`)).text();
  expect(calendar).toContain("BEGIN:VEVENT");
  expect(page).toContain(String(records[0]?.closure));
  // Where orders are read by key alone there is no page.
  expect((await fetch(`${url}/public/works-open`)).status).toBe(404);
});

test("the keeper of a lock sees its open work orders alone, and marks one finished", async () => {
  const { client, service } = running;
  const listings = ["works-here"];
  const { key } = await client.createKey({ name: "Tansy Lock", role: "reader", listings });
  const keeper = new OrismaClient({ url: service.url, key });
  const before = await keeper.records("works-here", { size: "500" });
  expect(before.records.length).toBeGreaterThan(0);
  expect(new Set(before.records.map(({ place }) => place))).toEqual(new Set(["Tansy Lock"]));
  const id = String(before.records[0]?.id);
  const report = await keeper.act("works-here", "finish", { ids: [id] });
  expect(report).toMatchObject({ records: 1, changed: 1, left: 1 });
  const after = await keeper.records("works-here", { size: "500" });
  expect(after.records.map((each) => each.id)).not.toContain(id);
  expect(after.records).toHaveLength(before.records.length - 1);
  const { record } = await client.recordToEdit("works-raised", id);
  expect(record).toMatchObject({ status: "finished", finished_on: "2026-11-25" });
  const { records } = await client.records("works-open", { size: "500" });
  const foreign = String(records.find(({ place }) => place !== "Tansy Lock")?.id);
  const other = await refusal(keeper.act("works-here", "finish", { ids: [foreign] }));
  expect(other).toMatchObject({ status: 404 });
  const { record: untouched } = await client.recordToEdit("works-raised", foreign);
  expect(untouched.status).not.toBe("finished");
});

test("the orders of the month before are delivered once a month", async () => {
  const { id } = await running.client.createDelivery("works-raised", {
    name: "the office",
    format: "csv",
    parameters: { from: ["month-1"], to: ["month-1"] },
    when: "month",
    at: "06:00",
    to: { file: "orders-{date}.csv" },
  });
  const path = join(outbox, "orders-2026-12-01.csv");
  await sleep(1_500);
  expect(existsSync(path)).toBe(false);
  now = Date.UTC(2026, 11, 1, 6);
  for (let looks = 0; looks < 100 && !existsSync(path); looks++) await sleep(100);
  const days = readFileSync(path, "utf8")
    .trim()
    .split("\n")
    .slice(1)
    .map((line) => line.split(",")[1]);
  expect(days.length).toBeGreaterThan(10);
  expect(days.every((day) => day?.startsWith("2026-11-") === true)).toBe(true);
  await running.client.deleteDelivery("works-raised", id);
});

test("a program keeps a copy of the open orders, and gets those that changed since it was here", async () => {
  const { client } = running;
  const copy = new Set<string>();
  let resume = "start";
  for (let hasMore = true; hasMore;) {
    const { records, meta } = await client.records("works-open", { resume, size: "500" });
    for (const { id } of records) copy.add(String(id));
    resume = meta.resume?.token ?? "";
    hasMore = meta.resume?.hasMore === true;
  }
  const { meta } = await client.records("works-open", { size: "1", total: "exact" });
  expect(copy.size).toBe(meta.total);
  const [id = "", other = ""] = copy;
  const { etag } = await client.recordToEdit("works-open", id);
  await client.editRecord("works-open", id, { task: "Look at the paddles" }, { etag });
  const since = await client.records("works-open", { resume });
  expect(since.records.map((each) => each.id)).toEqual([id]);
  expect(since.records.map((each) => each.id)).not.toContain(other);
});
