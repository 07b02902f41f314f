import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import ExcelJS from "exceljs";
import Papa from "papaparse";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

/** Saturday 15 February 2025, 23:30 in London: it is the 16th in Kolkata. */
const NOW = Date.UTC(2025, 1, 15, 23, 30);

const LOCKS = `code,name,rise,opened
L-1,Upper Brindle,2.5,01/05/1832
l-1,Little Brindle,1.25,soon
L-2,Vale Foot,3,
`;

const WORKS = `order,lock,raised,finished,passed,cost,done
W-1,L-1,01/02/2025,11/02/2025,2025-02-01T23:30:00Z,199950,yes
W-2,l-1,10/02/2025,,2025-02-14T23:30:00Z,5,no
W-3,L-9,28/02/2025,27/02/2025,,,yes
W-4,,,01/01/2025,2025-06-30T12:00:00Z,1000000,
W-5,L-2,31/12/2024,31/12/2024,soon,-250,no
`;

const DAY = {
  type: "date",
  reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
} as const;

const LISTING: NewListing = {
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  order: { allowed: ["order"], default: "order" },
  units: { cost: { scale: 2 } },
  relations: { lock: { source: "locks", by: "lock", columns: ["name", "rise", "opened"] } },
  derived: {
    taken: { kind: "days", from: "raised", to: "finished" },
    age: { kind: "days", from: "raised", to: "now" },
    waited: { kind: "days", from: "passed", to: "now" },
    month: { kind: "part", part: "month", column: "raised" },
    quarter: { kind: "part", part: "quarter", column: "passed" },
    weekday: { kind: "part", part: "weekday", column: "passed" },
    hour: { kind: "part", part: "hour", column: "passed" },
  },
  formats: {
    raised: { pattern: "d MMMM yyyy" },
    passed: { pattern: "dd/MM/yy HH:mm", locale: "de" },
    cost: { decimals: 2, prefix: "£" },
    done: { yes: "finished", no: "to do" },
    "lock.rise": { decimals: 1, suffix: " m" },
  },
  labels: { "lock.name": "Lock", taken: "Days taken" },
};

let running: TestService;
beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  const { client } = running;
  await client.createSource({
    name: "locks",
    key: "code",
    columns: { rise: { type: "decimal" }, opened: DAY },
  });
  await client.importFile("locks", LOCKS);
  await client.createSource({
    name: "works",
    key: "order",
    columns: {
      raised: DAY,
      finished: DAY,
      passed: { type: "date", reading: { kind: "instant", encoding: "text" } },
      cost: { type: "integer" },
      done: { type: "boolean" },
    },
  });
  await client.importFile("works", WORKS);
  await client.declareListing("works", LISTING);
  await client.declareListing("joined", {
    ...LISTING,
    order: { allowed: ["order", "lock.name", "lock.rise", "lock.opened"], default: "order" },
    filter: { columns: "all" },
    derived: { open: { kind: "days", from: "lock.opened", to: "raised" } },
    formats: {},
    labels: { "lock.name": "Lock" },
    parameters: [
      { name: "lock", type: "text", comparison: "is", column: "lock.name" },
      { name: "opened", type: "window", comparison: "on", column: "lock.opened" },
    ],
  });
  await client.declareListing("brindle", {
    ...LISTING,
    fixedFilter: "lock.name LIKE '%Brindle'",
  });
  await client.declareListing("brief", {
    ...LISTING,
    columns: ["lock.name", "order", "age"],
    formats: {},
    labels: { "lock.name": "Lock" },
  });
});
afterAll(() => running.end());

async function columnOf(name: string, listing = "works"): Promise<readonly unknown[]> {
  const { records } = await running.client.records(listing);
  return records.map((record) => record[name]);
}

describe("columns of a related source", () => {
  test("are those of the record with that very key, and blank where there is none", async () => {
    expect(await columnOf("lock.name")).toEqual([
      "Upper Brindle",
      "Little Brindle",
      null,
      null,
      "Vale Foot",
    ]);
    expect(await columnOf("lock.rise")).toEqual([2.5, 1.25, null, null, 3]);
    expect(await columnOf("lock.opened")).toEqual(["1832-05-01", null, null, null, null]);
  });

  test("report what could not be read, by the name that they have here", async () => {
    const { meta } = await running.client.records("works");
    expect(meta.unreadable).toEqual({
      "W-2": { "lock.opened": "soon" },
      "W-5": { passed: "soon" },
    });
  });

  test("neither add records nor take any away", async () => {
    const { meta, records } = await running.client.records("works", { total: "exact" });
    expect([meta.total, records.length]).toEqual([5, 5]);
    const pages = await running.client.records("works", { size: "2" });
    const second = await running.client.follow(pages.links.next ?? "");
    expect(second.records.map((record) => record["lock.name"])).toEqual([null, null]);
  });

  test.each([
    ["lock.name = 'Vale Foot'", ["W-5"]],
    ["lock.name <> 'Vale Foot'", ["W-1", "W-2"]],
    ["NOT lock.name = 'Vale Foot'", ["W-1", "W-2"]],
    ["lock.name LIKE '%Brindle'", ["W-1", "W-2"]],
    ["lock.name IN ('Vale Foot', 'Upper Brindle')", ["W-1", "W-5"]],
    ["lock.name IS NULL", ["W-3", "W-4"]],
    ["lock.name IS NOT NULL", ["W-1", "W-2", "W-5"]],
    ["lock.rise > 2", ["W-1", "W-5"]],
    ["lock.rise IS NULL", ["W-3", "W-4"]],
    ["inWindow(lock.opened, '1832')", ["W-1"]],
    ["lock.opened < DATE('1832-05-01')", []],
    ["unreadable(lock.opened)", ["W-2"]],
    ["NOT unreadable(lock.opened)", ["W-1", "W-3", "W-4", "W-5"]],
    ["lock.opened IS NULL", ["W-3", "W-4", "W-5"]],
    ["lock.opened < raised", ["W-1"]],
    ["open > 70000", ["W-1"]],
    ["lock.name = 'Vale Foot' OR raised > DATE('2025-02-27')", ["W-3", "W-5"]],
  ])("are filtered by: %s", async (filter, expected) => {
    const sent = { filter, order: "order", total: "exact" };
    const { records, meta } = await running.client.records("joined", sent);
    expect(records.map(({ id }) => id)).toEqual(expected);
    expect(meta.total).toBe(expected.length);
  });

  test("are parameters, with words and choices", async () => {
    const { records, meta } = await running.client.records("joined", { lock: "Upper Brindle" });
    expect(records.map(({ id }) => id)).toEqual(["W-1"]);
    expect(meta.sentence).toContain("Lock is “Upper Brindle”");
    const opened = await running.client.records("joined", { opened: "1832-05-01" });
    expect(opened.records.map(({ id }) => id)).toEqual(["W-1"]);
    const { choices } = await running.client.choices("joined", "lock.name");
    expect(choices.map(({ value, records: of }) => [value, of])).toEqual([
      ["Little Brindle", 1],
      ["Upper Brindle", 1],
      ["Vale Foot", 1],
    ]);
  });

  test.each([
    ["lock.name", ["W-3", "W-4", "W-2", "W-1", "W-5"]],
    ["-lock.name", ["W-5", "W-1", "W-2", "W-4", "W-3"]],
    ["lock.rise", ["W-3", "W-4", "W-2", "W-1", "W-5"]],
    ["-lock.opened", ["W-1", "W-5", "W-4", "W-3", "W-2"]],
  ])("order records, page after page: %s", async (order, expected) => {
    const found: string[] = [];
    let page = await running.client.records("joined", { order, size: "2" });
    for (;;) {
      found.push(...page.records.map(({ id }) => String(id)));
      if (page.links.next === undefined) break;
      page = await running.client.follow(page.links.next);
    }
    expect(found).toEqual(expected);
    const back = await running.client.records("joined", { order, size: "3" });
    const second = await running.client.follow(back.links.next ?? "");
    const first = await running.client.follow(second.links.previous ?? "");
    expect(first.records).toEqual(back.records);
  });

  test("are grouped by and measured", async () => {
    const { groups } = await running.client.summary("joined", {
      by: "lock.name",
      measure: "sum:lock.rise",
    });
    const found = groups.map(({ of, records, measures }) => [
      of[0],
      records,
      measures["sum:lock.rise"],
    ]);
    expect(found).toEqual([
      ["Little Brindle", 1, 1.25],
      ["Upper Brindle", 1, 2.5],
      ["Vale Foot", 1, 3],
      [null, 2, null],
    ]);
    const years = await running.client.summary("joined", { by: "lock.opened:year" });
    expect(years.groups.map(({ of, records }) => [of[0], records])).toEqual([
      ["1832-01-01", 1],
      [null, 4],
    ]);
  });

  test("are a listing's own conditions, and say why a record is in or out", async () => {
    const { records } = await running.client.records("brindle");
    expect(records.map(({ id }) => id)).toEqual(["W-1", "W-2"]);
    const { record } = await running.client.why("joined", { lock: "Upper Brindle" }, "W-3");
    expect(record).toMatchObject({ isIn: false, conditions: [{ isMet: false }] });
  });

  test("are read only where a request names one", async () => {
    const text = async (sent: Readonly<Record<string, string>>) => {
      const { statements } = await running.client.explain("joined", sent);
      return statements.page.text;
    };
    const named = await text({ columns: "order", lock: "Upper Brindle" });
    const unnamed = await text({ columns: "order" });
    expect([named, unnamed].map((each) => each.includes("JOIN"))).toEqual([true, false]);
  });

  test("keep the other source from ending, and follow when it changes", async () => {
    expect(await refusal(running.client.deleteSource("locks"))).toMatchObject({ status: 409 });
    await running.client.importFile("locks", LOCKS.replace("Vale Foot", "Vale Head"));
    expect((await columnOf("lock.name"))[4]).toBe("Vale Head");
    await running.client.restoreRecords("locks");
    expect((await columnOf("lock.name"))[4]).toBe("Vale Foot");
  });
});

describe("columns that are worked out", () => {
  test("are days between dates, blank where one is, less than 0 in reverse order", async () => {
    expect(await columnOf("taken")).toEqual([10, null, -1, null, 0]);
    const { grand } = await running.client.summary("works", { measure: "sum:taken" });
    expect(grand.measures).toEqual({ "sum:taken": 9 });
  });

  test("have the age of a date, as of the instant of the request in the listing's zone", async () => {
    expect(await columnOf("age")).toEqual([14, 5, -13, null, 46]);
    const later = await running.client.records("works", { asOf: "2025-02-17", order: "order" });
    expect(later.records.map(({ age }) => age)).toEqual([16, 7, -11, null, 48]);
    const kolkata = await running.client.records("works", { zone: "Asia/Kolkata" });
    expect(kolkata.records.map(({ age }) => age)).toEqual([15, 6, -12, null, 47]);
  });

  test("of instants count days of 24 hours", async () => {
    expect(await columnOf("waited")).toEqual([14, 1, null, -134, null]);
  });

  test("are parts of a date, of an instant in the listing's zone", async () => {
    expect(await columnOf("month")).toEqual([2, 2, 2, null, 12]);
    expect(await columnOf("quarter")).toEqual([1, 1, null, 2, null]);
    expect(await columnOf("weekday")).toEqual([6, 5, null, 1, null]);
    // At noon of universal time it is one o'clock in London in June.
    expect(await columnOf("hour")).toEqual([23, 23, null, 13, null]);
  });

  test("need no column to be shown of which they are made, and do not give it away", async () => {
    const { records, meta } = await running.client.records("brief");
    expect(records.map((record) => Object.keys(record))).toEqual(
      Array.from({ length: 5 }, () => ["id", "lock.name", "order", "age"]),
    );
    expect(records[0]).toEqual({ "lock.name": "Upper Brindle", order: "W-1", age: 14, id: "W-1" });
    expect(meta.unreadable).toEqual({});
    const one = await call("brief/records/W-5");
    expect(await one.json()).toEqual({
      "lock.name": "Vale Foot",
      order: "W-5",
      age: 46,
      id: "W-5",
    });
    const chosen = await running.client.records("works", { columns: ["taken", "order"] });
    expect(chosen.records[0]).toEqual({ taken: 10, order: "W-1", id: "W-1" });
    expect(chosen.meta.unreadable).toEqual({});
  });
});

describe("formats", () => {
  test("show values on request, and leave them as they are", async () => {
    const { records, meta } = await running.client.records("works", { with: "display" });
    expect(records[0]).toMatchObject({ raised: "2025-02-01", cost: 1999.5, done: true });
    expect(meta.display).toEqual({
      "W-1": {
        raised: "1 February 2025",
        passed: "01/02/25 23:30",
        cost: "£1,999.50",
        done: "finished",
        "lock.rise": "2.5 m",
      },
      "W-2": {
        raised: "10 February 2025",
        passed: "14/02/25 23:30",
        cost: "£0.05",
        done: "to do",
        "lock.rise": "1.3 m",
      },
      "W-3": { raised: "28 February 2025", done: "finished" },
      "W-4": { passed: "30/06/25 13:00", cost: "£10,000.00" },
      "W-5": { raised: "31 December 2024", cost: "£-2.50", done: "to do", "lock.rise": "3.0 m" },
    });
  });

  test("change neither what is found nor its order", async () => {
    const requested = { order: "order", total: "exact" };
    const before = await running.client.records("brief", requested);
    const after = await running.client.records("works", requested);
    expect(after.records.map(({ id }) => id)).toEqual(before.records.map(({ id }) => id));
  });
});

describe("exports", () => {
  test("in every format hold the same records, with what is made", async () => {
    const { records } = await running.client.records("brief");
    const csv = parse(await (await call("brief/records.csv")).text());
    expect(csv).toEqual([
      ["Lock", "order", "age"],
      ...records.map((record) =>
        ["lock.name", "order", "age"].map((name) => String(record[name] ?? "")),
      ),
    ]);
    const lines = (await (await call("brief/records.ndjson")).text()).trim().split("\n");
    expect(lines.map((line): unknown => JSON.parse(line))).toEqual(records);
  });

  test("to a table of text have values as they are shown where that is requested, and unreadable ones as they came", async () => {
    const text = await (await call("works/records.csv?with=display")).text();
    const rows = Papa.parse<Record<string, string>>(text, { header: true }).data;
    expect(rows[0]).toMatchObject({
      raised: "1 February 2025",
      cost: "£1,999.50",
      Lock: "Upper Brindle",
      "Days taken": "10",
    });
    expect(rows[1]).toMatchObject({ "lock.opened": "soon" });
    expect(rows[4]).toMatchObject({ passed: "soon", done: "to do" });
  });

  test("to a table of text have values as they are, whose format would omit a part", async () => {
    const text = await (await call("works/records.csv")).text();
    const rows = Papa.parse<Record<string, string>>(text, { header: true }).data;
    expect(rows[0]).toMatchObject({ raised: "2025-02-01", cost: "1999.5", done: "true" });
    const { records } = await running.client.records("works");
    expect(rows[0]?.passed).toBe(records[0]?.passed);
    expect(rows[0]?.passed).toMatch(/T\d{2}:\d{2}:\d{2}Z$/);
    expect(rows[4]).toMatchObject({ passed: "soon" });
  });

  test("escape strings that sheets take for formulas, and no numbers", async () => {
    const text = await (await call("works/records.csv?with=display,escaped&columns=cost")).text();
    expect(parse(text).map(([cost]) => cost)).toContain("£-2.50");
    const { formats: _formats, ...bare } = LISTING;
    const formats = { cost: { decimals: 2 } };
    await running.client.declareListing("plain", { ...bare, formats });
    const plain = await (await call("plain/records.csv?with=display,escaped&columns=cost")).text();
    expect(parse(plain).map(([cost]) => cost)).toContain("-2.50");
  });

  test("to a workbook keep dates and numbers as such, in their format", async () => {
    const workbook = new ExcelJS.Workbook();
    await workbook.xlsx.load(await (await call("works/records.xlsx")).arrayBuffer());
    const [sheet] = workbook.worksheets;
    if (sheet === undefined) throw new Error("the workbook has no sheet");
    const headings = (sheet.getRow(1).values as string[]).slice(1);
    const cell = (name: string) => sheet.getRow(2).getCell(headings.indexOf(name) + 1);
    expect([cell("raised").value, cell("raised").numFmt]).toEqual([
      new Date("2025-02-01T00:00:00Z"),
      "d mmmm yyyy",
    ]);
    // Half past eleven in the evening on the clocks of the listing, which the heading names.
    expect(headings).not.toContain("passed");
    expect([cell("passed (Europe/London)").value, cell("passed (Europe/London)").numFmt]).toEqual([
      new Date("2025-02-01T23:30:00Z"),
      "dd/mm/yy hh:mm",
    ]);
    const [, , , summer] = (await running.client.records("works")).records;
    expect(summer?.passed).toBe("2025-06-30T12:00:00Z");
    const passed = headings.indexOf("passed (Europe/London)") + 1;
    expect(sheet.getRow(5).getCell(passed).value).toEqual(new Date("2025-06-30T13:00:00Z"));
    expect([cell("cost").value, cell("cost").numFmt]).toEqual([1999.5, '"£"#,##0.00']);
    expect([cell("lock.rise").value, cell("lock.rise").numFmt]).toEqual([2.5, '#,##0.0" m"']);
  });
});

test.each<[Partial<NewListing>, readonly (readonly [string, string])[]]>([
  [
    {
      relations: {
        lock: { source: "lokcs", by: "lock", columns: ["name"] },
        "9th": { source: "locks", by: "cost", columns: ["nam"] },
        dates: { source: "locks", by: "raised", columns: ["name"] },
      },
    },
    [
      ["relations.lock.source", "name.unknown"],
      ["relations.9th", "name.form"],
      ["relations.9th.columns.0", "column.unknown"],
      ["relations.dates.by", "column.notText"],
    ],
  ],
  [
    {
      derived: {
        a: { kind: "days", from: "now", to: "now" },
        b: { kind: "days", from: "raised", to: "passed" },
        c: { kind: "days", from: "cost", to: "raised" },
        d: { kind: "part", part: "hour", column: "raised" },
        cost: { kind: "part", part: "day", column: "raised" },
      },
    },
    [
      ["derived.a", "parameter.setting"],
      ["derived.b", "parameter.setting"],
      ["derived.c.from", "column.notDate"],
      ["derived.d.column", "column.finerThanDay"],
      ["derived.cost", "name.taken"],
    ],
  ],
  [
    {
      formats: {
        raised: { decimals: 2 },
        cost: { pattern: "d", locale: "xx-not-one-at-all" },
        passed: { pattern: "dd/QQQ" },
        nothing: { prefix: "£" },
      },
      columns: ["order", "lock.depth"],
    },
    [
      ["columns.1", "column.unknown"],
      ["formats.raised.decimals", "parameter.setting"],
      ["formats.raised", "parameter.setting"],
      ["formats.cost.pattern", "parameter.setting"],
      ["formats.cost.locale", "locale.unknown"],
      ["formats.passed.pattern", "reading.pattern"],
      ["formats.nothing", "column.unknown"],
    ],
  ],
])("%j is refused, each fault by its place", async (part, expected) => {
  const found = await refusal(
    running.client.declareListing("wrong", { source: "works", mainDate: "raised", ...part }),
  );
  expect(found?.status).toBe(422);
  expect(found?.faults.map(({ path, code }) => [path, code])).toEqual(expected);
});

function call(path: string): Promise<Response> {
  const headers = { authorization: `Bearer ${running.service.key}` };
  return fetch(`${running.service.url}/v1/listings/${path}`, { headers });
}

function parse(text: string): readonly (readonly string[])[] {
  return Papa.parse<string[]>(text, { skipEmptyLines: true }).data;
}
