import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const DAY = 86_400_000;
let now = Date.UTC(2025, 2, 14, 12);
let running: TestService;

const FILE = `work,raised,status,lock,cost
W-1,2025-01-20,open,Alder,100
W-2,2025-02-10,open,Brindle,200
W-3,2025-02-28,done,Alder,300
W-4,2025-03-05,open,Alder,400
W-5,2025-03-20,done,Brindle,500
W-6,,open,Alder,600
`;

beforeAll(async () => {
  running = await startTestService({ now: () => now });
  const { client } = running;
  const reading = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  await client.createSource({
    name: "works",
    key: "work",
    columns: { raised: { type: "date", reading }, cost: { type: "integer" } },
  });
  await client.importFile("works", FILE);
  await client.declareListing("works", {
    source: "works",
    title: "Works",
    mainDate: "raised",
    parameters: [
      { name: "from", column: "raised", type: "date", comparison: "from", pair: "raised" },
      { name: "to", column: "raised", type: "date", comparison: "to", pair: "raised" },
      { name: "on", column: "raised", type: "window", comparison: "on" },
      { name: "status", column: "status", type: "several", comparison: "among" },
      { name: "lock", column: "lock", type: "text", comparison: "is" },
    ],
    fixedFilter: "cost < 600",
    filter: { columns: "all" },
    order: { allowed: ["raised", "cost"], default: "raised" },
  });
});
afterAll(() => running.end());

async function ids(listing: string, query: Record<string, string> = {}): Promise<string> {
  const { records } = await running.client.records(listing, query);
  return records.map(({ id }) => String(id)).join(" ");
}

describe("a listing made from another", () => {
  test("has bound values inside of which all is, its own order, and no such parameter", async () => {
    const { client } = running;
    const { listing, differences, alike } = await client.copyListing("works", {
      name: "open-works",
      title: "Open works",
      bound: { status: ["open"] },
      order: "-cost",
      columns: ["work", "raised", "cost"],
      labels: { cost: "Cost in pounds" },
    });
    expect(listing).toMatchObject({ name: "open-works", basedOn: "works", version: 1 });
    expect(alike).toEqual([]);
    expect(differences).toEqual([
      "only: status is “open”",
      "status cannot be sent",
      "in the order -cost",
      "shows work, raised, cost",
      "cost is called “Cost in pounds”",
    ]);
    expect(await ids("open-works")).toBe("W-4 W-2 W-1");
    expect(await ids("open-works", { lock: "Alder" })).toBe("W-4 W-1");
    expect((await refusal(client.records("open-works", { status: "done" })))?.status).toBe(422);
    // Nothing of what it leaves out, whatever is sent.
    expect(await ids("open-works", { filter: "cost >= 500 OR raised IS NULL" })).toBe("");
    const { choices } = await client.choices("open-works", "cost", {});
    expect(choices.map(({ value }) => value)).toEqual([100, 200, 400]);
    expect((await client.explain("open-works", {})).narrowing.records).toBe(6);
    // The records and the listing that it was made from are as they were.
    expect(await ids("works")).toBe("W-1 W-2 W-3 W-4 W-5");
  });

  test("has windows that go on moving, and defaults that may be changed", async () => {
    const { client } = running;
    const { differences } = await client.copyListing("works", {
      name: "last-month",
      bound: { on: "month-1" },
      defaults: { status: "open" },
    });
    expect(differences[0]).toContain("only: raised");
    expect(differences.at(-1)).toBe("status is “open” where nothing is sent");
    expect(await ids("last-month")).toBe("W-2");
    expect(await ids("last-month", { status: "done" })).toBe("W-3");
    now += 31 * DAY;
    expect(await ids("last-month", { status: ".." })).toBe("W-4 W-5");
    now -= 31 * DAY;
  });

  test("loses both ends of a pair, and takes blanks and conditions as they were sent", async () => {
    const { client } = running;
    await client.copyListing("works", { name: "since", bound: { from: "2025-02-28" } });
    expect(await ids("since")).toBe("W-3 W-4 W-5");
    expect((await refusal(client.records("since", { to: "2025-03-05" })))?.status).toBe(422);
    await client.copyListing("since", { name: "cheap", bound: { filter: "cost <= 400" } });
    expect(await ids("cheap")).toBe("W-3 W-4");
    expect((await refusal(client.records("cheap", { filter: "cost = 500" })))?.status).toBe(422);
  });

  test("is read with a key only, and has no feed of columns that it does not show", async () => {
    const { client, service } = running;
    const { name: _name, ...declared } = await client.listingVersion("works", 1);
    const feed = { title: "{work} at {lock}" };
    await client.declareListing("told", { ...declared, feed, public: true });
    const { differences } = await client.copyListing("told", { name: "short", columns: ["work"] });
    expect(differences).toEqual([
      "it is read with a key only",
      "shows work",
      'feed: {"title":"{work} at {lock}"} is removed',
    ]);
    expect((await fetch(`${service.url}/v1/listings/told/records`)).status).toBe(200);
    expect((await fetch(`${service.url}/v1/listings/short/records`)).status).toBe(401);
    const { listing } = await client.copyListing("told", {
      name: "long",
      columns: ["work", "lock"],
    });
    expect(listing.feed).toEqual(feed);
    for (const each of ["told", "short", "long"]) await client.deleteListing(each);
  });

  test("is pointed out where it is like another, and is made again as a new version", async () => {
    const { client } = running;
    const same = await client.copyListing("works", { name: "again", bound: { status: "open" } });
    expect(same.alike).toEqual(["open-works"]);
    const twin = await client.copyListing("works", { name: "twin" });
    expect([twin.differences, twin.alike]).toEqual([[], ["works"]]);
    const next = await client.copyListing("works", { name: "twin", bound: { lock: "Alder" } });
    expect(next.listing.version).toBe(2);
    expect(await ids("twin")).toBe("W-1 W-3 W-4");
  });

  test("is refused with every fault, and never takes the place of another", async () => {
    const { client, service } = running;
    const faults = async (copy: Parameters<OrismaClient["copyListing"]>[1]) =>
      (await refusal(client.copyListing("works", copy)))?.faults.map(({ path }) => path);
    expect(
      await faults({ name: "x", bound: { stat: "open" }, defaults: { colour: "red" } }),
    ).toEqual(["bound.stat", "defaults.colour"]);
    expect((await refusal(client.copyListing("works", { name: "no name" })))?.status).toBe(422);
    expect((await refusal(client.copyListing("works", { name: "x", order: "lock" })))?.status).toBe(
      422,
    );
    expect((await refusal(client.copyListing("since", { name: "works" })))?.status).toBe(409);
    const { key } = await client.createKey({ name: "reader", role: "reader" });
    const reader = new OrismaClient({ url: service.url, key });
    expect((await refusal(reader.copyListing("works", { name: "x" })))?.status).toBe(403);
  });
});

test("a changed declaration says in words what it keeps, what can be sent, and who may read it", async () => {
  const { client } = running;
  const { name: _name, ...declared } = await client.listingVersion("works", 1);
  const parameters = declared.parameters
    .filter(({ name }) => name !== "lock")
    .map((each) => (each.name === "status" ? { ...each, default: "open" } : each));
  const checked = await client.checkListing("works", {
    ...declared,
    fixedFilter: "cost < 600 AND status = 'open'",
    parameters,
    public: true,
  });
  expect(checked.changes).toEqual([
    "only: status is “open”",
    "lock cannot be sent",
    "status is “open” where nothing is sent",
    "anybody may read it without a key",
  ]);
  expect(checked.records).toMatchObject({ added: { total: 0 }, removed: { total: 2 } });
});

describe("a listing with another name", () => {
  test("is found under both for a time, by the same keys, with all of its versions", async () => {
    const { client, service } = running;
    await client.copyListing("works", { name: "before", bound: { status: "done" } });
    const { key } = await client.createKey({ name: "site", role: "reader", listings: ["before"] });
    const reader = new OrismaClient({ url: service.url, key });
    await client.renameListing("before", { to: "after", redirectDays: 10 });
    expect((await reader.records("after", {})).records.map(({ id }) => id)).toEqual(["W-3", "W-5"]);
    const old = `${service.url}/v1/listings/before/records?lock=Alder`;
    const headers = { Authorization: `Bearer ${key}` };
    const moved = await fetch(old, { headers, redirect: "manual" });
    expect([moved.status, moved.headers.get("location")]).toEqual([
      308,
      "/v1/listings/after/records?lock=Alder",
    ]);
    expect((await reader.records("before", { lock: "Alder" })).records.length).toBe(1);
    expect((await client.listingVersions("after")).length).toBe(1);
    expect((await client.keys()).find(({ name }) => name === "site")?.listings).toEqual(["after"]);
    // Nobody else is told of it.
    const stranger = await fetch(old, { redirect: "manual" });
    expect(stranger.status).toBe(401);
  });

  test("has a name that leads on, until its time is over or another takes it", async () => {
    const { client, login, state, service } = running;
    await client.renameListing("after", { to: "later" });
    expect(await ids("before")).toBe("W-3 W-5");
    await service.close();
    running = await startTestService({ now: () => now, login, state });
    expect(await ids("before")).toBe("W-3 W-5");
    now += 11 * DAY;
    expect((await refusal(running.client.records("before", {})))?.status).toBe(404);
    expect(await ids("after", { on: "2025" })).toBe("W-3 W-5");
    now -= 11 * DAY;
    await running.client.copyListing("works", { name: "after", bound: { status: "open" } });
    expect(await ids("after")).toBe("W-1 W-2 W-4");
    expect((await refusal(running.client.renameListing("after", { to: "works" })))?.status).toBe(
      409,
    );
  });

  test("is not taken for another by letter case, nor by a declaration of its former name", async () => {
    const { client } = running;
    expect((await refusal(client.copyListing("works", { name: "Works" })))?.faults).toMatchObject([
      { code: "name.taken", path: "name" },
    ]);
    expect((await refusal(client.renameListing("later", { to: "WORKS" })))?.faults).toMatchObject([
      { code: "name.taken", path: "to" },
    ]);
    expect(await ids("works")).toBe("W-1 W-2 W-3 W-4 W-5");
    await client.renameListing("later", { to: "Later" });
    expect(await ids("Later")).toBe("W-3 W-5");
    const declared = await refusal(client.declareListing("before", { source: "works" }));
    expect([declared?.status, declared?.detail]).toEqual([
      409,
      expect.stringContaining("is Later now"),
    ]);
    expect((await refusal(client.deleteListing("before")))?.status).toBe(409);
    expect(await ids("before")).toBe("W-3 W-5");
  });

  test("goes on from the versions that an earlier listing of its new name had", async () => {
    const { client } = running;
    await client.copyListing("works", { name: "ended", bound: { lock: "Alder" } });
    await client.copyListing("works", { name: "ended", bound: { lock: "Brindle" } });
    await client.deleteListing("ended");
    await client.copyListing("works", { name: "fresh", bound: { status: "done" } });
    expect(await client.renameListing("fresh", { to: "ended" })).toMatchObject({ version: 3 });
    const versions = await client.listingVersions("ended");
    expect(versions.map(({ version, isServing }) => [version, isServing])).toEqual([
      [3, true],
      [2, false],
      [1, false],
    ]);
    expect((await client.listingVersion("ended", 1)).fixedFilter).toContain("Alder");
    await client.revertListing("ended", 2);
    expect(await ids("ended")).toBe("W-2 W-5");
  });
});
