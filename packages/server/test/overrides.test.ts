import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const DAY = 86_400_000;
let now = Date.UTC(2025, 2, 14, 12);
let running: TestService;

const FILE = "work,raised,status\nW-1,2025-02-10,open\nW-2,2025-03-02,open\nW-3,2025-03-05,done\n";
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  parameters: [
    { name: "on", column: "raised", type: "window", comparison: "on", default: "month" },
    { name: "status", column: "status", type: "several", comparison: "among" },
  ],
  cacheFor: { current: "P30D" },
};

beforeAll(async () => {
  running = await startTestService({ now: () => now });
  const { client } = running;
  const reading = { kind: "date", encoding: "text" } as const;
  const columns = { raised: { type: "date", reading } } as const;
  await client.createSource({ name: "works", key: "work", columns });
  await client.importFile("works", FILE);
  await client.declareListing("works", LISTING);
});
afterAll(() => running.end());

async function ids(listing = "works", query: Record<string, string> = {}): Promise<string> {
  const { records } = await running.client.records(listing, query);
  return records
    .map(({ id }) => String(id))
    .sort()
    .join(" ");
}

function set(parameter: string, body: { value: string | string[]; until?: string }) {
  return running.client.call("PUT /v1/listings/{name}/overrides/{parameter}", {
    path: { name: "works", parameter },
    body: { reason: "stoppage", ...body },
  });
}

function remove(parameter: string) {
  const path = { name: "works", parameter };
  return running.client.call("DELETE /v1/listings/{name}/overrides/{parameter}", { path });
}

async function overrides(name = "works") {
  const path = { name };
  return (await running.client.call("GET /v1/listings/{name}/overrides", { path })).overrides;
}

test("an override applies where nothing is sent, says who set it, and goes back by its removal", async () => {
  expect(await ids()).toBe("W-2 W-3");
  await set("on", { value: "month-1" });
  expect(await ids()).toBe("W-1");
  expect(await ids("works", { on: "month" })).toBe("W-2 W-3");
  const { meta } = await running.client.records("works");
  expect(meta.notices).toContainEqual({
    code: "default.overridden",
    message: "on is “month-1” by default, set by command line of this machine: stoppage",
  });
  expect((await running.client.records("works", { on: "month" })).meta.notices).toEqual([]);
  const listing = await running.client.listing("works");
  expect(listing.overrides).toMatchObject([
    { parameter: "on", value: "month-1", reason: "stoppage", until: null },
  ]);
  // What was declared stays what was declared.
  expect(listing.parameters[0]).toMatchObject({ default: "month" });
  await set("status", { value: ["done", "held"] });
  expect(await ids("works", { on: "2025" })).toBe("W-3");
  await remove("on");
  expect(await ids()).toBe("W-3");
  await remove("status");
  expect(await ids()).toBe("W-2 W-3");
  expect(await refusal(remove("status"))).toMatchObject({ status: 404 });
});

test("an override ends when it says, and no answer is held beyond that", async () => {
  await set("on", { value: "month-1", until: new Date(now + DAY).toISOString() });
  const { url, key } = running.service;
  const answer = await fetch(`${url}/v1/listings/works/records`, {
    headers: { Authorization: `Bearer ${key}` },
  });
  expect(answer.headers.get("Cache-Control")).toBe("private, max-age=86400");
  expect(await ids()).toBe("W-1");
  now += DAY;
  expect(await ids()).toBe("W-2 W-3");
  expect(await overrides()).toMatchObject([{ parameter: "on", state: "expired" }]);
  const past = await refusal(set("on", { value: "month", until: new Date(now).toISOString() }));
  expect(past).toMatchObject({ status: 422 });
  await remove("on");
});

test("a value that does not fit is refused, and one that fits no more is not applied", async () => {
  const wrong = await refusal(set("on", { value: "monthly" }));
  expect(wrong).toMatchObject({ status: 422 });
  expect(wrong?.faults[0]).toMatchObject({ path: "value", value: "monthly" });
  const unknown = await refusal(set("one", { value: "month" }));
  expect(unknown?.faults[0]).toMatchObject({ nearest: ["on"] });
  await set("on", { value: "month-1" });
  const [window, status] = LISTING.parameters ?? [];
  if (window === undefined || status === undefined) throw new Error("the listing has parameters");
  const { default: _default, ...plain } = window;
  const date = { ...plain, type: "date", comparison: "from" } as const;
  await running.client.declareListing("works", { ...LISTING, parameters: [date as never, status] });
  expect(await overrides()).toMatchObject([{ parameter: "on", state: "applied" }]);
  await running.client.declareListing("works", { ...LISTING, parameters: [status] });
  expect(await ids()).toBe("W-1 W-2 W-3");
  expect(await overrides()).toMatchObject([{ parameter: "on", state: "unfit" }]);
  await running.client.declareListing("works", LISTING);
  expect(await ids()).toBe("W-1");
});

test("a copy has the declared default, a new name keeps the override, a deletion ends it", async () => {
  const { client } = running;
  await client.copyListing("works", { name: "copied", title: "Copied" });
  expect(await ids("copied")).toBe("W-2 W-3");
  await client.renameListing("works", { to: "renamed" });
  expect(await ids("renamed")).toBe("W-1");
  await client.deleteListing("renamed");
  await client.declareListing("renamed", LISTING);
  expect(await ids("renamed")).toBe("W-2 W-3");
  expect(await overrides("renamed")).toEqual([]);
});

test("a reader sees who set it, and cannot set or list", async () => {
  const { client, service } = running;
  const { key } = await client.createKey({ name: "reads", role: "reader" });
  const reader = new OrismaClient({ url: service.url, key });
  const path = { name: "copied", parameter: "on" };
  const body = { value: "month", reason: "mine" };
  const call = "PUT /v1/listings/{name}/overrides/{parameter}";
  expect(await refusal(reader.call(call, { path, body }))).toMatchObject({ status: 403 });
  await client.call(call, { path, body: { ...body, value: "month-1" } });
  expect((await reader.records("copied")).meta.notices).toMatchObject([
    { code: "default.overridden" },
  ]);
});
