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

describe("dates on the clocks of a zone", () => {
  const LONDON = "Europe/London";
  const SHIFTS = [
    // As the lock keepers' clocks showed it; in seconds since 1970; with an offset.
    ["2025-03-30 00:59:59", 1_743_292_800, "2025-03-29T23:30:00Z"],
    ["2025-03-30 01:30:00", 1_743_375_599, "2025-03-30T23:30:00+01:00"],
    ["2025-03-30 02:00:00", 1_743_375_600, "2025-03-30T23:30:00Z"],
    ["2025-10-26 01:30:00", 1_761_433_200, "2025-10-25T23:30:00Z"],
    ["2025-10-26 02:00:00", 1_761_523_200, "2025-10-25T22:59:59Z"],
    ["9999-12-31 23:59:59", 1_743_292_799, null],
  ] as const;
  const instants = (more: object) => ({
    type: "date" as const,
    reading: { kind: "instant" as const, zone: LONDON, encoding: "native" as const, ...more },
  });

  beforeAll(async () => {
    await owner.query(
      "CREATE TABLE shifts (id INT PRIMARY KEY, began DATETIME NULL, ended BIGINT, told VARCHAR(40), KEY began (began), KEY ended (ended))",
    );
    for (const [index, shift] of SHIFTS.entries()) {
      await owner.execute("INSERT INTO shifts VALUES (?, ?, ?, ?)", [index + 1, ...shift]);
    }
    // So many others that an index is worth its while, a day apart from 1970 on.
    await owner.query(
      "INSERT INTO shifts SELECT 100 + seq, FROM_UNIXTIME(seq * 86400), seq * 86400, NULL FROM seq_1_to_3000",
    );
    await running.client.createSource({
      name: "shifts",
      attached: { database: "reaches", table: "shifts" },
      columns: {
        began: instants({ sentinels: ["9999-12-31"] }),
        ended: { type: "date", reading: { kind: "date", encoding: "epoch-s", zone: LONDON } },
        told: { type: "date", reading: { kind: "date", encoding: "text", zone: LONDON } },
      },
    });
    for (const column of ["began", "ended", "told"]) {
      await running.client.declareListing(`shifts-by-${column}`, {
        source: "shifts",
        zone: LONDON,
        filter: { columns: "all" },
        mainDate: column,
        order: { default: column },
        parameters: [{ name: "on", column, type: "window", comparison: "on" }],
      });
    }
  });

  test("wall-clock times are points in time: what comes twice is the first, what never comes no date", async () => {
    const { client } = running;
    const on = async (window: string) =>
      idsOf(await client.records("shifts-by-began", { on: window }));
    expect(await on("2025-03-30")).toEqual([1, 3]);
    expect(await on("2025-03-30T00:00Z/2025-03-30T00:59Z")).toEqual([1]);
    expect(await on("2025-03-30T01:00Z/2025-03-30T01:59Z")).toEqual([3]);
    // 01:30 was shown at 00:30 and at 01:30 UTC.
    expect(await on("2025-10-26T00:00Z/2025-10-26T00:59Z")).toEqual([4]);
    expect(await on("2025-10-26T01:00Z/2025-10-26T01:59Z")).toEqual([]);
    expect(await on("2025-10-26T02:00Z/2025-10-26T02:59Z")).toEqual([5]);
    const found = await client.records("shifts-by-began", { filter: 'unreadable("began")' });
    expect(idsOf(found)).toEqual([2]);
    const blank = await client.records("shifts-by-began", { filter: "began IS NULL" });
    expect(idsOf(blank)).toEqual([6]);
    const { records } = await client.records("shifts-by-began", { on: "2025" });
    expect(records.map(({ began }) => began)).toEqual([
      "2025-03-30T00:59:59Z",
      "2025-03-30T01:00:00Z",
      "2025-10-26T00:30:00Z",
      "2025-10-26T02:00:00Z",
    ]);
  });

  test("points in time and offsets are days of the zone", async () => {
    const { client } = running;
    const ended = await client.records("shifts-by-ended", { on: "2025-03-30" });
    expect(idsOf(ended)).toEqual([1, 2]);
    expect(idsOf(await client.records("shifts-by-ended", { on: "2025-03-31" }))).toEqual([3]);
    expect(idsOf(await client.records("shifts-by-ended", { on: "2025-10-26" }))).toEqual([4]);
    expect(idsOf(await client.records("shifts-by-ended", { on: "2025-10-27" }))).toEqual([5]);
    expect(idsOf(await client.records("shifts-by-told", { on: "2025-03-30" }))).toEqual([2]);
    expect(idsOf(await client.records("shifts-by-told", { on: "2025-03-31" }))).toEqual([3]);
    expect(idsOf(await client.records("shifts-by-told", { on: "2025-10-25" }))).toEqual([5]);
    expect(idsOf(await client.records("shifts-by-told", { on: "2025-10-26" }))).toEqual([4]);
  });

  test("the index serves them as it does dates without a zone", async () => {
    for (const column of ["began", "ended"]) {
      const { plan } = await running.client.explain(`shifts-by-${column}`, { on: "2025-03" });
      expect(plan).toMatchObject({ page: [{ words: `reads ranges of the index on ${column}` }] });
    }
  });
});

describe("strings that a collation takes for the same", () => {
  test("are not answered one for the other", async () => {
    const { client } = running;
    await owner.query(
      "CREATE TABLE marks (id INT PRIMARY KEY, marks VARCHAR(60) COLLATE utf8mb4_general_ci, day VARCHAR(20) COLLATE utf8mb4_general_ci)",
    );
    await owner.query(
      `INSERT INTO marks VALUES (1, '[{"mark": "a"}]', '1 Feb 2025'), (2, '[{"mark": "A"}]', '1 feb 2025'),
        (3, '[{"mark": "a"}]', '1 Feb 2025'), (4, '[{"mark": "A"}]', '1 FEB 2025')`,
    );
    await client.createSource({
      name: "marks",
      attached: { database: "reaches", table: "marks" },
      columns: {
        day: {
          type: "date",
          reading: { kind: "date", encoding: "text", patterns: ["d MMM yyyy"] },
        },
      },
    });
    await client.createSource({
      name: "marks-inside",
      unnest: {
        source: "marks",
        column: "marks",
        values: { mark: { path: "$.mark", column: { type: "text" } } },
      },
    });
    for (const name of ["marks", "marks-inside"]) {
      await client.declareListing(name, {
        source: name,
        zone: "UTC",
        filter: { columns: "all" },
        parameters: [],
      });
    }
    const days = [2022, 2023, 2024, 2025]
      .map((year) => `inWindow(day, '${year}-02-01')`)
      .join(" OR ");
    expect(idsOf(await client.records("marks", { filter: days }))).toEqual([1, 3]);
    expect(idsOf(await client.records("marks-inside", { filter: "mark = 'a'" }))).toEqual([1, 3]);
    expect(idsOf(await client.records("marks-inside", { filter: "mark = 'A'" }))).toEqual([2, 4]);
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
