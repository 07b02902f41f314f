import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import mysql from "mysql2/promise";
import { startAttachable, type AttachableServer } from "../../../test/attachable.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import type { Engine } from "../src/database/index.js";

const PASSWORD = "tow-rope";
const DATABASE = "orisma_reaches";

/** Dredging of the reaches: strings of many forms, and months in columns of their own. */
const CREATE = `CREATE TABLE dredging (
  id INT NOT NULL PRIMARY KEY, begun VARCHAR(40), told_at VARCHAR(40), since VARCHAR(20),
  year INT, month INT, month_digits INT, details JSON, constructor VARCHAR(20),
  KEY begun (begun), KEY year (year, month), KEY told_at (told_at)
)`;

type Dredging = readonly [
  begun: string | null,
  toldAt: string | null,
  since: string | null,
  year: number | null,
  month: number | null,
  digits: number | null,
  details: string | null,
];

const ROWS: readonly Dredging[] = [
  [
    "31 Jan 2025",
    "2025-01-31T23:30:00Z",
    "2025-01",
    2025,
    1,
    202501,
    '{"lock": "Alder", "on": "2025-01-31"}',
  ],
  [
    "1 Feb 2025",
    "2025-01-31T23:30:00-01:00",
    "2025-02",
    2025,
    2,
    202502,
    '{"lock": "Brindle", "on": "2025-02-01"}',
  ],
  [
    "28 Feb 2025",
    "2025-02-28 23:59",
    "2025-02-28",
    2025,
    2,
    202502,
    '{"lock": "Weir", "on": "2025-02-28T23:59:59"}',
  ],
  [
    "1 Mar 2025",
    "2025-03-01T00:00:00+00:00",
    "2025",
    2025,
    3,
    202503,
    '{"lock": "Alder", "on": "2025-03-01"}',
  ],
  ["01 Feb 2025", "soon", "Feb 2025", 2025, 13, 202513, '{"on": "soon"}'],
  [null, null, null, 2025, null, null, null],
];

let attachable: AttachableServer;
let engine: Engine;
let owner: mysql.Connection;
let running: TestService;

beforeAll(async () => {
  attachable = await startAttachable(DATABASE, [
    // What it may do elsewhere is no matter.
    { user: "keeper", password: PASSWORD, rights: "SELECT", writesIn: "tolls" },
    { user: "dredger", password: PASSWORD, rights: "ALL" },
  ]);
  ({ engine, owner } = attachable);
  await owner.query(CREATE);
  for (const [index, row] of ROWS.entries()) {
    await owner.execute("INSERT INTO dredging VALUES (?, ?, ?, ?, ?, ?, ?, ?, NULL)", [
      index + 1,
      ...row,
    ]);
  }
  const place = { host: engine.login.host, port: engine.login.port };
  running = await startTestService({
    attachable: [place],
    settings: { editableDatabases: [place] },
  });
  await attach("keeper");
  await running.client.createSource({
    name: "dredging",
    attached: {
      database: "reaches",
      table: "dredging",
      parts: { period: ["year", "month"] },
    },
    columns: {
      begun: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["d MMM yyyy"] },
      },
      told_at: { type: "date", reading: { kind: "date", encoding: "text", zone: "UTC" } },
      since: { type: "date", reading: { kind: "date", encoding: "text", partial: "inside" } },
      month_digits: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["yyyyMM"], partial: "start" },
      },
      period: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["yyyy-M"], partial: "overlaps" },
      },
    },
  });
  for (const column of ["begun", "told_at", "since", "month_digits", "period"]) {
    await running.client.declareListing(`by-${column}`, {
      source: "dredging",
      zone: "UTC",
      filter: { columns: "all" },
      mainDate: column,
      parameters: [{ name: "on", column, type: "window", comparison: "on" }],
    });
  }
});
afterAll(async () => {
  await running.end();
  await attachable.end();
});

function attach(user: string, more = {}) {
  const { host, port } = engine.login;
  const account = { host, port, database: DATABASE, user, password: PASSWORD, ...more };
  return running.client.attachDatabase("reaches", account);
}

const idsOf = (found: { readonly records: readonly { readonly id: string | number }[] }) =>
  found.records.map(({ id }) => Number(id)).sort();

describe("strings of many forms in a table of yours", () => {
  test.each([
    ["begun", [2, 3], [5], [6]],
    ["told_at", [2, 3], [5], [6]],
    // All of its days lie in February: the year does not.
    ["since", [2, 3], [5], [6]],
    ["month_digits", [2, 3], [5], [6]],
    ["period", [2, 3], [5], [6]],
  ] as const)(
    "%s: February is in, the days around it are out, and what is no date is said",
    async (column, february, unreadable, blank) => {
      const { client } = running;
      const found = await client.records(`by-${column}`, { on: "2025-02" });
      expect(idsOf(found)).toEqual(february);
      expect(found.meta.total).toBe(february.length);
      expect(idsOf(await client.records(`by-${column}`, { "on.blank": "only" }))).toEqual(blank);
      const filter = `unreadable(${column})`;
      expect(idsOf(await client.records(`by-${column}`, { filter }))).toEqual(unreadable);
    },
  );

  test("what is made of a year and a month is shown as both, and found by the index on the year", async () => {
    const { client } = running;
    const { cells } = await client.inspectRecord("dredging", "5");
    const cell = cells.find(({ column }) => column === "period");
    expect(cell).toMatchObject({ raw: "2025-13", state: "unreadable" });
    const { statements } = await client.explain("by-period", { on: "2025-02" });
    expect(statements.page.text).toContain("`year` >= ?");
    expect((await client.source("dredging")).attached).toMatchObject({
      parts: { period: ["year", "month"] },
    });
  });

  test("setting such a reading says what it costs, and explain what would serve", async () => {
    const { client } = running;
    const reading = {
      kind: "date",
      encoding: "text",
      patterns: ["d MMM yyyy", "dd/MM/yyyy"],
    } as const;
    const set = await client.setReadings("dredging", { begun: { type: "date", reading } });
    expect(set.columns.begun).toMatchObject({ read: 4, blank: 1, unreadable: 1 });
    expect(set.columns.begun?.notice).toContain("An index is used for up to 450 days");
    expect(idsOf(await client.records("by-begun", { on: "2025-02" }))).toEqual([2, 3]);
    const { plan } = await client.explain("by-begun", { on: "2025-02" });
    expect(plan.page[0]?.words).toContain("index on begun");
  });

  test("a column of several is not edited, and its names are checked", async () => {
    const { client } = running;
    await attach("dredger", { allowWriter: true });
    const edited = { source: "dredging", zone: "UTC", mainDate: "begun", editable: ["period"] };
    const refused = await refusal(client.declareListing("edited", edited));
    expect(refused?.detail).toContain("period cannot be edited: it is made of year, month");
    // What the column could not read is not written, whatever else ISO 8601 has.
    await client.declareListing("edited", { ...edited, editable: ["year", "since", "told_at"] });
    const change = (values: Readonly<Record<string, string>>) =>
      client.editRecord("edited", "4", values, { etag: "*" });
    for (const since of ["2025-W05", "1984?"]) {
      expect(await refusal(change({ since }))).toMatchObject({
        status: 422,
      });
    }
    await change({ since: "2025-04" });
    expect(idsOf(await client.records("by-since", { on: "2025-04" }))).toEqual([4]);
    await change({ since: "2025-03-01", told_at: "2025-03-01" });
    expect(idsOf(await client.records("by-told_at", { on: "2025-03-01" }))).toEqual([4]);
    await client.deleteListing("edited");
    await attach("keeper");
    const wrong = await refusal(
      client.createSource({
        name: "other",
        attached: {
          database: "reaches",
          table: "dredging",
          parts: { year: ["year", "month"], whole: ["year", "moth"] },
        },
      }),
    );
    expect(wrong).toMatchObject({
      status: 422,
      faults: [
        { code: "name.taken", path: "attached.parts.year" },
        { code: "column.unknown", path: "attached.parts.whole", nearest: ["month"] },
      ],
    });
  });

  test("values of a JSON object are columns too", async () => {
    const { client } = running;
    await client.createSource({
      name: "details",
      unnest: {
        source: "dredging",
        column: "details",
        each: "$",
        values: {
          lock: { path: "$.lock", column: { type: "text" } },
          on: {
            path: "$.on",
            column: { type: "date", reading: { kind: "date", encoding: "text" } },
          },
        },
      },
    });
    await client.declareListing("details", {
      source: "details",
      zone: "UTC",
      filter: { columns: "all" },
      mainDate: "on",
      parameters: [{ name: "on", column: "on", type: "window", comparison: "on" }],
    });
    expect(idsOf(await client.records("details", { on: "2025-02" }))).toEqual([2, 3]);
    expect(idsOf(await client.records("details", { filter: 'unreadable("on")' }))).toEqual([5]);
  });
});

describe("the rights of an account", () => {
  test("are judged in the database that is attached, and what stands in the way is named", async () => {
    const problem = await refusal(attach("dredger"));
    expect(problem).toMatchObject({ status: 422, faults: [{ code: "attach.writer" }] });
    expect(problem?.detail).toContain("ALL PRIVILEGES on `orisma%`.*");
    // That of the sources may write in another database.
    expect(await attach("keeper")).toMatchObject({ user: "keeper", allowWriter: false });
  });
});
