import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing } from "@orisma/client";
import { Ajv2020 } from "ajv/dist/2020.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, SMALL, SMALL_CSV } from "../../../test/works.js";

const NOW = Date.UTC(2025, 1, 15, 12);
let running: TestService;
beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  await running.client.createSource(SMALL);
  await running.client.takeFile("works", SMALL_CSV);
});
afterAll(() => running.end());

describe("versions of a listing", () => {
  const base: NewListing = { source: "works", mainDate: "raised", title: "Works" };

  test("are kept with who declared them and what each changed, and can be served again", async () => {
    const { client } = running;
    await client.declareListing("kept", base);
    await client.declareListing("kept", base);
    const { key } = await client.createKey({ name: "second maker", role: "maker" });
    const maker = new OrismaClient({ url: running.service.url, key });
    await maker.declareListing("kept", { ...base, title: "Works of the vale" });
    const versions = await client.listingVersions("kept");
    expect(versions).toMatchObject([
      {
        version: 2,
        at: "2025-02-15T12:00:00.000Z",
        by: "second maker",
        changes: ["title: “Works” becomes “Works of the vale”"],
        isServing: true,
      },
      { version: 1, changes: [], isServing: false },
    ]);
    expect((await client.listingVersion("kept", 1)).title).toBe("Works");
    expect(await client.serveListingVersion("kept", 1)).toMatchObject({
      version: 3,
      title: "Works",
    });
    expect((await client.listing("kept")).title).toBe("Works");
  });

  test("go on where they ended when a listing comes again, and outlive it", async () => {
    const { client } = running;
    await client.removeListing("kept");
    expect(await client.listingVersions("kept")).toMatchObject([
      { version: 3, isServing: false },
      { version: 2 },
      { version: 1 },
    ]);
    expect(await client.serveListingVersion("kept", 2)).toMatchObject({ version: 4 });
    expect(await client.declareListing("kept", base)).toMatchObject({ version: 5 });
  });

  test("a broken one leaves the last good one serving, and is not kept", async () => {
    const { client } = running;
    const broken = { ...base, mainDate: "rised" };
    expect(await refusal(client.declareListing("kept", broken))).toMatchObject({ status: 422 });
    expect(await client.listingVersions("kept")).toHaveLength(5);
    expect((await client.records("kept")).records).toHaveLength(10);
  });

  test("that are not there, and those of no listing, are refused by name", async () => {
    const { client } = running;
    expect(await refusal(client.listingVersion("kept", 9))).toMatchObject({
      status: 404,
      faults: [{ code: "name.unknown", message: expect.stringContaining("9") }],
    });
    expect(await refusal(client.listingVersions("kpet"))).toMatchObject({
      status: 404,
      faults: [{ nearest: "kept" }],
    });
    const { key } = await client.createKey({ name: "reads", role: "reader" });
    const reader = new OrismaClient({ url: running.service.url, key });
    expect(await refusal(reader.listingVersions("kept"))).toMatchObject({ status: 403 });
  });
});

describe("a listing of three lines", () => {
  test("has a parameter for every column that can have one, and its dates as a pair", async () => {
    const { client } = running;
    await client.declareListing("brief", { source: "works", mainDate: "raised" });
    const { parameters } = await client.listing("brief");
    expect(parameters.map(({ name, type, comparison }) => [name, type, comparison])).toEqual([
      ["from", "date", "from"],
      ["to", "date", "to"],
      ["raised", "window", "on"],
      ["passed", "window", "on"],
      ["cost", "range", "within"],
      ["note", "text", "contains"],
    ]);
    const asked = { from: "2025-02", cost: "0/600", note: "mid" };
    const { records, meta } = await client.records("brief", asked);
    expect(records.map(({ id }) => id)).toEqual(["W-06", "W-04", "W-03"]);
    expect(meta.total).toBe(3);
  });

  test("names its main date where its source has several, and need not where it has one", async () => {
    const { client } = running;
    expect(await refusal(client.declareListing("dateless", { source: "works" }))).toMatchObject({
      status: 422,
      faults: [{ path: "mainDate" }],
    });
    await client.createSource({
      name: "days",
      columns: { day: { type: "date", reading: { kind: "date", encoding: "text" } } },
    });
    await client.takeFile("days", "day,text\n2025-02-01,a\n2025-03-01,b\n");
    await client.declareListing("days", { source: "days" });
    const { records } = await client.records("days", { to: "2025-02" });
    expect(records.map(({ text }) => text)).toEqual(["a"]);
  });

  test("has no parameters where it says so", async () => {
    const { client } = running;
    await client.declareListing("bare", { source: "works", mainDate: "raised", parameters: [] });
    expect((await client.listing("bare")).parameters).toEqual([]);
  });
});

describe("the schema of a declaration", () => {
  test("is fetched without a key, and takes what the service takes", async () => {
    const response = await fetch(`${running.service.url}/schemas/listing.json`);
    expect(response.headers.get("content-type")).toContain("application/schema+json");
    const schema = (await response.json()) as object;
    const takes = new Ajv2020({ strict: false }).compile(schema);
    for (const [name, listing] of Object.entries(LISTINGS)) {
      expect([takes({ name, ...listing }), takes.errors]).toEqual([true, null]);
      expect(takes({ name, ...listing, colums: [] })).toBe(false);
    }
    await running.client.declareListing("brief", { source: "works", mainDate: "raised" });
    const {
      version: _version,
      shown: _shown,
      key: _key,
      ...shown
    } = await running.client.listing("brief");
    expect([takes(shown), takes.errors]).toEqual([true, null]);
    expect(takes({ source: "works" })).toBe(false);
    expect(takes({ name: "works", source: "works", parameters: [{ name: "x" }] })).toBe(false);
  });
});
