import { afterAll, beforeAll, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;

const FILE = 'work,raised,status,lock,notes\nW-1,2025-02-10,open,L-1,"[""a""]"\n';
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  parameters: [
    { name: "from", column: "raised", type: "date", comparison: "from" },
    { name: "status", column: "status", type: "several", comparison: "among" },
  ],
  fixedFilter: "status <> 'gone'",
  labels: { status: "state" },
  editable: ["status"],
  order: { allowed: ["raised", "status"], default: "raised" },
};

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 2, 14, 12) });
  const { client } = running;
  const reading = { kind: "date", encoding: "text" } as const;
  const columns = { raised: { type: "date", reading } } as const;
  await client.createSource({ name: "works", key: "work", columns });
  await client.importFile("works", FILE);
  await client.declareListing("works", LISTING);
  await client.createSource({ name: "locks", key: "lock" });
  await client.importFile("locks", "lock,name,opened\nL-1,Alder,2001-02-03\n");
  await client.setReadings("locks", { opened: { type: "date", reading } });
  await client.declareListing("locks", { source: "locks", mainDate: "opened", parameters: [] });
  await client.declareListing("with-locks", {
    source: "works",
    mainDate: "raised",
    parameters: [],
    order: { allowed: ["raised"], default: "raised" },
    relations: { lock: { source: "locks", by: "lock", columns: ["name"] } },
  });
});
afterAll(() => running.end());

test("what stands on a column is listed with its places, whichever source it is of", async () => {
  const { client } = running;
  await client.editRecord("works", "W-1", { status: "done" }, { etag: "*" });
  const { listings, edits, sources } = await client.columnUses("works", "status");
  expect(listings.map(({ listing }) => listing)).toEqual(["works"]);
  expect([...(listings[0]?.places ?? [])].sort()).toEqual([
    "editable.0",
    "fixedFilter",
    "labels.status",
    "order.allowed.1",
    "parameters.1.column",
  ]);
  expect([edits, sources]).toEqual([1, []]);
  expect((await client.columnUses("locks", "name")).listings).toEqual([
    { listing: "with-locks", places: ["relations.lock.columns.0"] },
  ]);
  const nothing = await client.columnUses("works", "notes");
  expect(nothing).toEqual({ listings: [], sources: [], edits: 0 });
  const unknown = await refusal(client.columnUses("works", "statuss"));
  expect(unknown?.faults[0]).toMatchObject({ nearest: ["status"] });
});

test("a file without the column is refused with the same places, and by force marks the listing", async () => {
  const { client } = running;
  const other = "work,raised,state,lock,notes\nW-1,2025-02-10,open,L-1,\n";
  const problem = await refusal(client.importFile("works", other, { edits: "overwrite" }));
  expect(problem).toMatchObject({ status: 409, type: "/problems#breaks-listings" });
  expect(problem?.detail).toContain("works: unknown column “status”");
  expect(problem?.detail).not.toContain("with-locks:");
  await client.importFile("works", other, { edits: "overwrite", force: true });
  const broken = (await client.listings()).filter((each) => each.broken !== undefined);
  expect(broken.map(({ name }) => name)).toEqual(["works"]);
  expect(await refusal(client.records("works"))).toMatchObject({ status: 503 });
  await client.importFile("works", FILE);
  expect((await client.records("works")).records).toHaveLength(1);
});

test("a declaration that renames a parameter says which private addresses and defaults it breaks", async () => {
  const { client } = running;
  await client.createFeed("works", { name: "the crew", parameters: { status: ["open"] } });
  await client.createFeed("works", { name: "the office", parameters: { from: ["2025"] } });
  await client.setOverride("works", "status", { value: "open", reason: "spring" });
  const [from, status] = LISTING.parameters ?? [];
  if (from === undefined || status === undefined) throw new Error("the listing has parameters");
  const renamed: NewListing = { ...LISTING, parameters: [from, { ...status, name: "state" }] };
  const { breaks } = await client.checkListing("works", renamed);
  expect(breaks).toEqual([
    expect.stringMatching(/the private address for the crew would be refused: .*“status”/),
    expect.stringContaining("the default “open” that"),
  ]);
  expect((await client.checkListing("works", LISTING)).breaks).toEqual([]);
  await client.declareListing("works", renamed);
  const feeds = await client.feeds("works");
  expect(feeds.map(({ name, broken }) => [name, broken?.includes("“status”")])).toEqual([
    ["the crew", true],
    ["the office", undefined],
  ]);
  await client.declareListing("works", LISTING);
  expect((await client.feeds("works")).every(({ broken }) => broken === undefined)).toBe(true);
});
