import { declarationOf } from "@orisma/client/declaration";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing, type QueryParameters } from "@orisma/client";
import { Ajv2020 } from "ajv/dist/2020.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, SMALL, SMALL_CSV } from "../../../test/works.js";

const NOW = Date.UTC(2025, 1, 15, 12);
let running: TestService;
beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  await running.client.createSource(SMALL);
  await running.client.importFile("works", SMALL_CSV);
});
afterAll(() => running.end());

describe("versions of a listing", () => {
  const base: NewListing = { source: "works", mainDate: "raised", title: "Works" };

  test("are kept with who declared them and what each changed, and can be served again", async () => {
    const { client } = running;
    await client.declareListing("kept", base);
    await client.declareListing("kept", base);
    const { key } = await client.createKey({ name: "second maker", role: "author" });
    const author = new OrismaClient({ url: running.service.url, key });
    await author.declareListing("kept", { ...base, title: "Works of the vale" });
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
    expect(await client.revertListing("kept", 1)).toMatchObject({
      version: 3,
      title: "Works",
    });
    expect((await client.listing("kept")).title).toBe("Works");
  });

  test("go on where they ended when a listing comes again, and outlive it", async () => {
    const { client } = running;
    await client.deleteListing("kept");
    expect(await client.listingVersions("kept")).toMatchObject([
      { version: 3, isServing: false },
      { version: 2 },
      { version: 1 },
    ]);
    expect(await client.revertListing("kept", 2)).toMatchObject({ version: 4 });
    expect(await client.declareListing("kept", base)).toMatchObject({ version: 5 });
  });

  test("declared at the same moment come one after the other", async () => {
    const { client } = running;
    const titles = Array.from({ length: 8 }, (_, index) => `Works ${index}`);
    const all = await Promise.all(
      titles.map((title) => client.declareListing("at-once", { ...base, title })),
    );
    expect(all.map(({ version }) => version).sort()).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    const versions = await client.listingVersions("at-once");
    const last = all.find(({ version }) => version === 8);
    expect(versions[0]).toMatchObject({ version: 8, isServing: true });
    expect((await client.listing("at-once")).title).toBe(last?.title);
    await client.deleteListing("at-once");
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
      faults: [{ nearest: ["kept"] }],
    });
    const { key } = await client.createKey({ name: "reads", role: "reader" });
    const reader = new OrismaClient({ url: running.service.url, key });
    expect(await refusal(reader.listingVersions("kept"))).toMatchObject({ status: 403 });
  });
});

describe("when a listing was last used", () => {
  test("is known to authors, and stays known with another name and after a restart", async () => {
    const first = await startTestService({ now: () => NOW });
    await first.client.createSource(SMALL);
    await first.client.importFile("works", SMALL_CSV);
    for (const name of ["seen", "unseen"]) {
      await first.client.declareListing(name, { source: "works", mainDate: "raised" });
    }
    const uses = async ({ client }: TestService) =>
      (await client.listings()).map(({ name, lastUsedAt }) => [name, lastUsedAt]);
    await first.client.counts("unseen", [{}]);
    await first.client.records("seen");
    const at = new Date(NOW).toISOString();
    expect(await uses(first)).toEqual([
      ["seen", at],
      ["unseen", null],
    ]);
    const { key } = await first.client.createKey({ name: "looks", role: "reader" });
    const reader = new OrismaClient({ url: first.service.url, key });
    const [listed] = await reader.listings();
    expect(listed).not.toHaveProperty("lastUsedAt");
    await first.client.renameListing("seen", { to: "looked-at" });
    await first.client.deleteListing("unseen");
    await first.client.declareListing("unseen", { source: "works", mainDate: "raised" });
    await first.service.close();
    const { login, state } = first;
    const second = await startTestService({ now: () => NOW + 1_000, login, state });
    expect(await uses(second)).toEqual([
      ["looked-at", at],
      ["unseen", null],
    ]);
    await second.end();
  });
});

describe("a listing of three lines", () => {
  test("has a parameter for every column, and its dates as a pair", async () => {
    const { client } = running;
    await client.declareListing("brief", { source: "works", mainDate: "raised" });
    const { parameters } = await client.listing("brief");
    expect(parameters.map(({ name, type, comparison }) => [name, type, comparison])).toEqual([
      ["from", "date", "from"],
      ["to", "date", "to"],
      ["order-in", "text", "contains"],
      ["raised", "window", "on"],
      ["passed", "window", "on"],
      ["cost", "range", "within"],
      ["note", "text", "contains"],
      ["find", "search", "contains"],
    ]);
    const found = await client.records("brief", { find: "W-06" });
    expect(found.records.map(({ id }) => id)).toEqual(["W-06"]);
    const requested = { from: "2025-02", cost: "0/600", note: "mid" };
    const { records, meta } = await client.records("brief", requested);
    expect(records.map(({ id }) => id)).toEqual(["W-06", "W-04", "W-03"]);
    expect(meta.total).toBe(3);
  });

  test("returns what it would before it is declared, and is none then", async () => {
    const { client } = running;
    const tried = {
      source: "works",
      mainDate: "raised",
      order: { allowed: ["cost"], default: "cost" },
    };
    const wanted = { from: "2025-02", size: "2", total: "exact" };
    const { records, meta, links } = await client.checkRecords("tried", tried, wanted);
    const declared = await client.records("brief", { from: "2025-02", total: "exact" });
    expect(meta).toMatchObject({ total: declared.meta.total, totalExact: true });
    expect(meta.sentence).toMatch(/^tried: raised from 1 February 2025.*; by cost, ascending/);
    expect(records).toHaveLength(2);
    expect(links.next).toContain("/check/records?");
    expect(await refusal(client.checkRecords("tried", tried, { frm: "2025" }))).toMatchObject({
      status: 422,
      faults: [{ nearest: ["from"] }],
    });
    const wrong = client.checkRecords("tried", { source: "works", mainDate: "rased" });
    expect(await refusal(wrong)).toMatchObject({ status: 422, faults: [{ path: "mainDate" }] });
    expect(await refusal(client.listing("tried"))).toMatchObject({ status: 404 });
    const { key } = await client.createKey({ name: "reads alone", role: "reader" });
    const reader = new OrismaClient({ url: running.service.url, key });
    expect(await refusal(reader.checkRecords("tried", tried))).toMatchObject({ status: 403 });
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
    await client.importFile("days", "day,text\n2025-02-01,a\n2025-03-01,b\n");
    await client.declareListing("days", { source: "days" });
    const { records } = await client.records("days", { to: "2025-02" });
    expect(records.map(({ text }) => text)).toEqual(["a"]);
  });

  test("has one for columns that cannot name it, under a name that it states, as fine as they are", async () => {
    const { client } = running;
    await client.createSource({
      name: "stays",
      columns: { "tied up": { type: "date", reading: { kind: "local", encoding: "text" } } },
    });
    const csv =
      "tied up,boat name,boat-name,$,page,Größe,from\n" +
      "2025-02-01T09:30,Heron,H,a,1,x,Vale\n2025-02-01T17:45,Otter,O,b,2,y,Tansy\n";
    await client.importFile("stays", csv);
    const { parameters } = await client.declareListing("stays", { source: "stays" });
    expect(parameters.map(({ name, label, column }) => [name, label, column])).toEqual([
      ["from", undefined, "tied up"],
      ["to", undefined, "tied up"],
      ["tied-up", "tied up", "tied up"],
      ["boat-name-in", "boat name", "boat name"],
      ["boat-name", undefined, "boat-name"],
      ["column", "$", "$"],
      ["page-in", "page", "page"],
      ["grosse", "Größe", "Größe"],
      ["from-in", "from", "from"],
      ["find", undefined, undefined],
    ]);
    const boats = async (requested: QueryParameters) =>
      (await client.records("stays", requested)).records.map((record) => record["boat-name"]);
    expect(await boats({ from: "2025-02-01T12:00" })).toEqual(["O"]);
    expect(await boats({ to: "2025-02-01T12" })).toEqual(["H"]);
    expect(await boats({ to: "2025-02-01" })).toEqual(["O", "H"]);
    expect(await boats({ "tied-up": "2025-02-01T09" })).toEqual(["H"]);
    expect(await boats({ "boat-name-in": "Hero" })).toEqual(["H"]);
    expect(await boats({ column: "b" })).toEqual(["O"]);
    expect(await boats({ "page-in": "2" })).toEqual(["O"]);
    expect(await boats({ "from-in": "Vale" })).toEqual(["H"]);
  });

  test("over values inside JSON answers what nobody narrows, a row for each value", async () => {
    const { client } = running;
    await client.createSource({ name: "calls", key: "boat" });
    const stops = (...days: string[]) => days.map((on) => ({ on }));
    const lines = [
      { boat: "Heron", stops: stops("2025-03-04", "2025-03-06") },
      { boat: "Otter", stops: stops("2025-03-05") },
    ];
    await client.importFile("calls", lines.map((each) => JSON.stringify(each)).join("\n"));
    const day = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
    await client.createSource({
      name: "calls-stops",
      unnest: {
        source: "calls",
        column: "stops",
        values: { "stop on": { path: "$.on", column: { type: "date", reading: day } } },
      },
    });
    await client.declareListing("calls-stops", { source: "calls-stops", mainDate: "stop on" });
    const boats = async (requested: QueryParameters) =>
      (await client.records("calls-stops", requested)).records.map(({ boat }) => boat);
    expect(await boats({})).toEqual(["Heron", "Otter", "Heron"]);
    expect(await boats({ to: "2025-03-05" })).toEqual(["Otter", "Heron"]);
    expect(await boats({ "stop-on": "2025-03-06" })).toEqual(["Heron"]);
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
    const details = await running.client.listing("brief");
    const shown = { name: details.name, ...declarationOf(details) };
    expect([takes(shown), takes.errors]).toEqual([true, null]);
    expect(takes({ source: "works" })).toBe(false);
    expect(takes({ name: "works", source: "works", parameters: [{ name: "x" }] })).toBe(false);
  });
});

describe("a declaration with a fault", () => {
  const from = {
    name: "from",
    type: "date",
    column: "raised",
    comparison: "from",
    pair: "raised",
  } as const;
  const to = { ...from, name: "to", comparison: "to" } as const;
  const cost = { name: "cost", type: "range", column: "cost", comparison: "within" } as const;
  const raised = { name: "raised", type: "window", column: "raised", comparison: "on" } as const;
  const sound: NewListing = { source: "works", mainDate: "raised", parameters: [from, to, cost] };
  const derived = (each: object) => ({ derived: { made: each } });
  const one = (more: object) => ({ parameters: [more] });

  /** What is wrong, where, the code, and a piece of what is said. */
  const FAULTS: readonly (readonly [object, string, string, string])[] = [
    [{ colums: ["order"] }, "colums", "document.shape", "columns"],
    [{ title: 7 }, "title", "document.shape", "string"],
    [{ source: "wroks" }, "source", "name.unknown", "works"],
    [{ mainDate: "rased" }, "mainDate", "column.unknown", "rased"],
    [{ mainDate: "cost" }, "mainDate", "column.notDate", "cost"],
    [{ zone: "Europe/Lundon" }, "zone", "zone.unknown", "Lundon"],
    [{ columns: ["order", "rased"] }, "columns.1", "column.unknown", "rased"],
    [{ labels: { nte: "Note" } }, "labels.nte", "column.unknown", "nte"],
    [{ order: { allowed: ["nte"] } }, "order.allowed.0", "column.unknown", "nte"],
    [
      { order: { allowed: ["cost"], default: "raised" } },
      "order.default",
      "order.unknown",
      "raised",
    ],
    [{ order: { tieBreakers: ["cost", "cost"] } }, "order.tieBreakers", "order.repeated", "cost"],
    [{ order: { blanks: "middle" } }, "order.blanks", "document.shape", "first"],
    [{ page: { size: 0 } }, "page.size", "page.size", "1"],
    [{ page: { max: 20_000 } }, "page.max", "page.size", "10000"],
    [{ reversed: "guess" }, "reversed", "document.shape", "swap"],
    [{ rows: "values" }, "rows", "parameter.setting", "values inside"],
    [{ fixedFilter: "cost >" }, "fixedFilter", "filter.syntax", "end"],
    [{ fixedFilter: "cst > 5" }, "fixedFilter", "column.unknown", "cst"],
    [{ fixedFilter: "cost = 'x'" }, "fixedFilter", "column.notText", "cost"],
    [{ units: { note: { scale: 2 } } }, "units.note", "unit.form", "note"],
    [{ units: { cost: { scale: 0 } } }, "units.cost", "unit.form", "cost"],
    [
      { choices: { raised: { recent: false } } },
      "choices.raised.recent",
      "column.notChosen",
      "raised",
    ],
    [
      { choices: { cost: { windows: false } } },
      "choices.cost.windows",
      "parameter.setting",
      "cost",
    ],
    [
      { choices: { cost: { groups: { few: ["x"] } } } },
      "choices.cost.groups.few",
      "number.form",
      "x",
    ],
    [{ filter: {} }, "filter.columns", "document.shape", "a list of columns"],
    [{ filter: { columns: ["nte"] } }, "filter.columns.0", "column.unknown", "nte"],
    [{ calendar: { weekStart: "XX" } }, "calendar.weekStart", "calendar.setting", "MO"],
    [
      { calendar: { holidayLists: ["no-such"] } },
      "calendar.holidayLists.0",
      "name.unknown",
      "no-such",
    ],
    [one({ ...cost, colum: "cost" }), "parameters.0.colum", "document.shape", "column"],
    [{ page: { sise: 5 } }, "page.sise", "document.shape", "size"],
    [{ cacheFor: { current: "soon" } }, "cacheFor.current", "window.form", "soon"],
    [{ allowedOrigins: ["vale.example"] }, "allowedOrigins.0", "parameter.setting", "https://"],
    [
      { allowedOrigins: ["https://Vale.example"] },
      "allowedOrigins.0",
      "parameter.setting",
      "small letters",
    ],
    [{ formats: { cost: { decimals: 21 } } }, "formats.cost.decimals", "parameter.setting", "20"],
    [{ allow: { asOf: "all" } }, "allow.asOf", "document.shape", "reader"],
    [
      derived({ kind: "part", part: "week", column: "raised" }),
      "derived.made.part",
      "document.shape",
      "quarter",
    ],
    [
      derived({ kind: "days", from: "raised", to: "note" }),
      "derived.made.to",
      "column.notDate",
      "note",
    ],
    [
      { formats: { raised: { pattern: "dd/qq" } } },
      "formats.raised.pattern",
      "reading.pattern",
      "q",
    ],
    [
      { relations: { lock: { source: "locks", by: "note", columns: ["x"] } } },
      "relations.lock.source",
      "name.unknown",
      "locks",
    ],
    [one({ ...from, pair: undefined, name: "9th" }), "parameters.0.name", "name.form", "9th"],
    [
      one({ ...from, pair: undefined, name: "Order" }),
      "parameters.0.name",
      "name.reserved",
      "Order",
    ],
    [
      { parameters: [raised, { ...raised, name: "Raised" }] },
      "parameters.1.name",
      "name.taken",
      "Raised",
    ],
    [one(from), "parameters", "pair.incomplete", "raised"],
    [{ parameters: [from, { ...from, name: "since" }] }, "parameters", "pair.incomplete", "raised"],
    [one({ ...cost, type: "rnge" }), "parameters.0.type", "document.shape", "range"],
    [
      one({ ...cost, comparison: "is" }),
      "parameters.0.comparison",
      "parameter.comparison",
      "within",
    ],
    [one({ ...cost, column: "note" }), "parameters.0.column", "parameter.column", "note"],
    [one({ ...cost, values: ["1"] }), "parameters.0.values", "parameter.setting", "chosen"],
    [one({ ...cost, pair: "cost" }), "parameters.0.pair", "parameter.setting", "ends of a range"],
    [one({ ...cost, default: "5/x" }), "parameters.0.default", "number.form", "x"],
    [
      one({ ...raised, type: "datetime", comparison: "from" }),
      "parameters.0.type",
      "parameter.precision",
      "raised",
    ],
    [one({ ...raised, default: "mnth" }), "parameters.0.default", "window.word", "mnth"],
    [
      one({ ...raised, limits: { longest: "7" } }),
      "parameters.0.limits.longest",
      "window.form",
      "7",
    ],
    [
      one({ ...raised, default: "2019", limits: { earliest: "2020" } }),
      "parameters.0.default",
      "window.outOfLimits",
      "2020",
    ],
    [
      one({ ...raised, accepts: { encoding: "epoch-s" } }),
      "parameters.0.accepts",
      "parameter.setting",
      "window",
    ],
    [
      one({ ...from, pair: undefined, accepts: { encoding: "text", patterns: ["dd/qq"] } }),
      "parameters.0.accepts",
      "reading.pattern",
      "q",
    ],
    [
      one({ ...from, pair: undefined, fields: { month: "month" } }),
      "parameters.0.fields",
      "parameter.setting",
      "year",
    ],
    [
      one({ ...from, pair: undefined, fields: { year: "from" } }),
      "parameters.0.fields.year",
      "name.taken",
      "from",
    ],
    [
      one({ name: "find", type: "search", column: "note", comparison: "contains" }),
      "parameters.0.column",
      "parameter.setting",
      "search",
    ],
  ];

  test("is one of forty at least", () => {
    expect(FAULTS.length).toBeGreaterThanOrEqual(40);
  });

  test.each(FAULTS)("%j is reported at “%s” as %s", async (wrong, path, code, words) => {
    const found = await refusal(running.client.checkListing("planted", { ...sound, ...wrong }));
    const faults = (found?.faults ?? []).map((fault) => ({
      path: fault.path ?? "",
      code: fault.code,
      says: `${fault.message} ${fault.accepted ?? ""} ${fault.nearest?.join(" ") ?? ""}`,
    }));
    expect([found?.status, faults]).toEqual([
      422,
      expect.arrayContaining([{ path, code, says: expect.stringContaining(words) }]),
    ]);
  });

  test("has every fault reported at once, and without any is taken", async () => {
    const wrong = { zone: "X/Y", mainDate: "rased", page: { size: 0 }, columns: ["nte"] };
    const found = await refusal(running.client.checkListing("planted", { ...sound, ...wrong }));
    expect(found?.faults.map(({ path }) => path)).toEqual([
      "zone",
      "mainDate",
      "columns.0",
      "page.size",
    ]);
    expect(found?.faults[1]).toMatchObject({ nearest: ["raised"] });
    expect(await running.client.checkListing("planted", sound)).toMatchObject({
      isNew: true,
      remarks: [],
    });
    const ends = [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "ends" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "ends" },
    ] as const;
    const remarks = async (...more: readonly object[]) => {
      const parameters = ends.map((each, index) => ({ ...each, ...more[index] }));
      return (await running.client.checkListing("planted", { ...sound, parameters })).remarks;
    };
    expect(await remarks({ default: "today" }, { default: "today" })).toEqual([
      "from and to have the same default, today: without a value nothing beyond it is matched",
    ]);
    expect(await remarks({ limits: { earliest: "2020", latest: "2020" } })).toEqual([
      "from takes no date but 2020: its earliest and its latest are the same",
    ]);
    expect(await remarks({ default: "month" }, { default: "today" })).toEqual([]);
    expect(await remarks({ default: "extent" }, { default: "extent" })).toEqual([]);
  });
});

describe("the file of a declaration", () => {
  const put = (name: string, body: string, type = "application/yaml") =>
    fetch(`${running.service.url}/v1/listings/${name}`, {
      method: "PUT",
      headers: { Authorization: `Bearer ${running.service.key}`, "Content-Type": type },
      body,
    });
  const FILE =
    "$schema: https://vale.example/listing.json\nname: of-file\nsource: works\nmainDate: raised\n";

  test("is accepted as it stands, in YAML and in JSON, with its name and its schema", async () => {
    expect((await put("of-file", FILE)).status).toBe(201);
    expect((await running.client.listing("of-file")).mainDate).toBe("raised");
    const json = {
      $schema: "x",
      name: "of-file",
      source: "works",
      mainDate: "raised",
      title: "Works",
    };
    const again = await put("of-file", JSON.stringify(json), "application/json");
    expect(again.status).toBe(200);
    expect((await running.client.listing("of-file")).title).toBe("Works");
    await running.client.deleteListing("of-file");
  });

  test("is refused where it names another listing, or is no YAML, with the place", async () => {
    const other = await put("another", FILE);
    expect(other.status).toBe(422);
    expect(await other.json()).toMatchObject({ faults: [{ path: "name", nearest: ["another"] }] });
    const broken = await put("of-file", "name: of-file\nsource: [works\n");
    expect(broken.status).toBe(400);
    expect(await broken.json()).toMatchObject({ detail: expect.stringContaining("line 3") });
    const aliases = `a: &a [x,x,x,x,x,x,x,x,x]\nb: &b [${"*a,".repeat(9)}]\nc: [${"*b,".repeat(99)}]\n`;
    expect((await put("of-file", aliases)).status).toBe(400);
    const names = (await running.client.listings()).map(({ name }) => name);
    expect(names).not.toContain("of-file");
  });
});
