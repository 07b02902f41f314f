import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startEngine, type Engine } from "@orisma/server";
import mysql from "mysql2/promise";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const PASSWORD = "level crossing";
const DATABASE = "orisma_gauges";
const DAYS = 10;
/** The tenth day, in the afternoon: its table is only half full. */
const NOW = Date.UTC(2025, 2, 10, 15);
let now = NOW;

let engine: Engine;
let owner: mysql.Connection;
let running: TestService;
let scratch: string;

const nameOf = (day: number) => `gauges_202503${String(day).padStart(2, "0")}`;

async function makeTable(day: number): Promise<void> {
  const name = nameOf(day);
  await owner.query(
    `CREATE TABLE ${name} (id INT PRIMARY KEY, read_on VARCHAR(10), read_at DATETIME, level_mm INT, KEY (read_at))`,
  );
  const date = `2025-03-${String(day).padStart(2, "0")}`;
  const slashed = date.split("-").reverse().join("/");
  for (const hour of [0, 6, 12]) {
    const level = day * 100 + hour;
    const at = hour === 12 && day === 4 ? null : `${date} ${String(hour).padStart(2, "0")}:00:00`;
    await owner.execute(`INSERT INTO ${name} VALUES (?, ?, ?, ?)`, [hour, slashed, at, level]);
  }
}

beforeAll(async () => {
  scratch = mkdtempSync(join(tmpdir(), "orisma-gauges-"));
  chmodSync(scratch, 0o777);
  engine = await startEngine({
    folder: join(scratch, "database"),
    durable: false,
    tell: () => undefined,
    onCrash: (report) => process.stderr.write(report),
    accounts: [{ user: "reader", password: PASSWORD, rights: "SELECT" }],
    statementLog: join(scratch, "statements"),
  });
  owner = await mysql.createConnection({ ...engine.login, timezone: "Z" });
  await owner.query(`CREATE DATABASE ${DATABASE}`);
  await owner.query(`USE ${DATABASE}`);
  for (let day = 1; day <= DAYS; day++) await makeTable(day);
  await owner.query("CREATE TABLE gauges_latest (id INT PRIMARY KEY)");
  await owner.query("CREATE TABLE gauges_20250231 LIKE gauges_20250301");
  await owner.query("CREATE TABLE gauges_20240101 (id INT PRIMARY KEY, read_on VARCHAR(10))");
  const { host, port } = engine.login;
  running = await startTestService({ now: () => now, attachable: [{ host, port }] });
  const { client } = running;
  await client.attachDatabase("levels", {
    host,
    port,
    database: DATABASE,
    user: "reader",
    password: PASSWORD,
  });
  await client.createSource({
    name: "gauges",
    attached: { database: "levels", table: "gauges_{yyyyMMdd}" },
    columns: {
      read_on: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
      },
    },
  });
  await declare("levels", "gauges");
});
afterAll(async () => {
  await owner.end();
  await running.end();
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
});

async function declare(name: string, source: string) {
  await running.client.declareListing(name, {
    source,
    zone: "UTC",
    mainDate: "table_date",
    parameters: [
      { name: "on", column: "table_date", type: "window", comparison: "on" },
      { name: "read", column: "read_at", type: "window", comparison: "on" },
    ],
    order: { allowed: ["table_date", "read_at", "level_mm", "id"], default: "table_date" },
    page: { size: 100 },
    filter: { columns: ["table_date", "read_at", "read_on", "level_mm"] },
  });
}

async function levels(parameters = {}) {
  const { records } = await running.client.records("levels", parameters);
  return records.map(({ level_mm: level }) => Number(level));
}

/** The tables of the pattern whose records were requested since a length of the log. */
function opened(since: number): readonly string[] {
  const log = readFileSync(join(scratch, "statements"), "utf8").slice(since);
  const names = [...log.matchAll(/Execute\s.*? FROM `(gauges_\d{8})`/g)].map(
    ([, name = ""]) => name,
  );
  return [...new Set(names)].sort();
}

function logged(): number {
  return readFileSync(join(scratch, "statements"), "utf8").length;
}

const of = (...days: number[]) => days.flatMap((day) => [0, 6, 12].map((hour) => day * 100 + hour));

describe("tables with a date in their names", () => {
  test("are one source; the running day is omitted, and so are names without a date", async () => {
    expect(await levels()).toEqual(of(1, 2, 3, 4, 5, 6, 7, 8, 9));
    const { tables } = await running.client.source("gauges");
    expect(tables).toEqual({
      count: 9,
      first: "gauges_20250301",
      last: "gauges_20250309",
      omitted: [
        { table: "gauges_20240101", reason: "it has no column read_at" },
        { table: "gauges_20250231", reason: "its name has no date" },
        { table: "gauges_20250310", reason: "its day has not ended" },
        { table: "gauges_latest", reason: "its name has no date" },
      ],
    });
  });

  test.each([false, true])(
    "numbers that tables have alike order records of all of them, page after page (descending: %s)",
    async (descending) => {
      const { client } = running;
      let page = await client.records("levels", { order: descending ? "-id" : "id", size: "4" });
      const found = page.records.map(({ level_mm: level }) => Number(level));
      while (page.links.next !== undefined) {
        page = await client.follow(page.links.next);
        found.push(...page.records.map(({ level_mm: level }) => Number(level)));
      }
      const wanted = [0, 6, 12].flatMap((hour) =>
        Array.from({ length: 9 }, (_, day) => (day + 1) * 100 + hour),
      );
      expect(found).toEqual(descending ? wanted.reverse() : wanted);
    },
  );

  test("parts that recur without end are applied to every table, in every answer", async () => {
    const { client } = running;
    // Of the first nine days of March 2025 two are a Saturday.
    const requested = { read: "../..;BYDAY=SA" };
    const expectedIds = of(1, 8);
    expect(await levels(requested)).toEqual(expectedIds);
    const explained = await client.explain("levels", requested);
    expect(explained.narrowing.steps[0]?.alone).toBe(expectedIds.length);
    const timeline = await client.timeline("levels", { ...requested, unit: "day" });
    expect(timeline.buckets.map(({ records }) => records).filter((each) => each > 0)).toEqual([
      3, 3,
    ]);
    const choices = await client.choices("levels", "level_mm", requested);
    expect(choices.choices.map(({ value }) => value).sort()).toEqual([...expectedIds].sort());
    expect((await client.extent("levels", requested)).extent.read_at).toEqual({
      first: "2025-03-01T00:00:00",
      last: "2025-03-08T12:00:00",
    });
    const headers = { authorization: `Bearer ${running.service.key}` };
    const one = (id: string) =>
      fetch(`${running.service.url}/v1/listings/levels/records/${id}?read=../..;BYDAY=SA`, {
        headers,
      });
    expect(await (await one("2025-03-08:6")).json()).toMatchObject({ level_mm: 806 });
    // A Sunday; and what the database would take for 6.
    expect((await one("2025-03-09:6")).status).toBe(404);
    expect((await one("2025-03-08:6abc")).status).toBe(404);
  });

  test("the last four complete days open just four tables, and their date is a real column", async () => {
    const since = logged();
    const { records, meta } = await running.client.records("levels", { on: "P4D/yesterday" });
    expect(records.map(({ level_mm: level }) => level)).toEqual(of(6, 7, 8, 9));
    expect(meta).toMatchObject({ total: 12, totalExact: true });
    expect(records[0]).toMatchObject({ id: "2025-03-06:0", table_date: "2025-03-06" });
    expect(opened(since)).toEqual([6, 7, 8, 9].map(nameOf));
  });

  test("are not put in order by what each works out, which is refused and never passed over", async () => {
    await running.client.declareListing("levels-by-hour", {
      source: "gauges",
      mainDate: "table_date",
      columns: ["table_date", "level_mm", "hour"],
      derived: { hour: { kind: "part", part: "hour", column: "read_at" } },
      order: { allowed: ["table_date", "hour"], default: "table_date" },
    });
    const refused = await refusal(running.client.records("levels-by-hour", { order: "-hour" }));
    expect(refused).toMatchObject({
      status: 422,
      faults: [{ code: "order.unknown", accepted: "table_date, -table_date" }],
    });
    const { records } = await running.client.records("levels-by-hour", {});
    expect(records).toHaveLength(27);
  });

  test("a page in the order of the tables opens only those that fill it", async () => {
    const since = logged();
    const found = await running.client.records("levels", {
      order: "-table_date",
      size: "4",
      total: "none",
    });
    expect(found.records.map(({ level_mm: level }) => level)).toEqual([912, 906, 900, 812]);
    expect(opened(since)).toEqual([nameOf(8), nameOf(9)]);
  });

  test.each(["table_date", "-table_date", "read_at", "-read_at", "level_mm", "-level_mm"])(
    "pages in the order %s, joined both ways, are all of it once",
    async (order) => {
      const whole = await running.client.records("levels", { order });
      const ids = whole.records.map(({ id }) => id);
      expect(new Set(ids).size).toBe(27);
      let page = await running.client.records("levels", { order, size: "5" });
      const found = page.records.map(({ id }) => id);
      while (page.links.next !== undefined) {
        page = await running.client.follow(page.links.next);
        found.push(...page.records.map(({ id }) => id));
      }
      expect(found).toEqual(ids);
      const back = page.records.map(({ id }) => id);
      while (page.links.previous !== undefined) {
        page = await running.client.follow(page.links.previous);
        back.unshift(...page.records.map(({ id }) => id));
      }
      expect(back).toEqual(ids);
    },
  );

  test("records without a date stand where they do in one table", async () => {
    const ascending = await running.client.records("levels", { order: "read_at" });
    expect(ascending.records[0]).toMatchObject({ id: "2025-03-04:12", read_at: null });
    const descending = await running.client.records("levels", { order: "-read_at" });
    expect(descending.records.at(-1)?.id).toBe("2025-03-04:12");
  });

  test("conditions on the date of the table and on what is in it go together", async () => {
    const filter =
      "(table_date = DATE('2025-03-02') AND level_mm > 203) OR read_on = DATE('2025-03-05')";
    const since = logged();
    expect(await levels({ filter })).toEqual([206, 212, ...of(5)]);
    // What may be in any of them is looked for in all.
    expect(opened(since)).toHaveLength(9);
    expect(await levels({ filter: "NOT (table_date > DATE('2025-03-01'))" })).toEqual(of(1));
    expect(await levels({ read: "2025-03-03T06" })).toEqual([306]);
    expect(await levels({ on: "2025-03-02;BYDAY=SU" })).toEqual(of(2));
    expect(await levels({ on: "../..;BYDAY=MO" })).toEqual(of(3));
  });

  test("what says where a record lies is not compared with other columns", async () => {
    const problem = await refusal(
      running.client.records("levels", { filter: "table_date = read_on" }),
    );
    expect(problem).toMatchObject({ status: 422, faults: [{ code: "column.constant" }] });
  });

  test("explain reports how many tables are opened, and counts over all", async () => {
    const answer = await running.client.explain("levels", { on: "P4D/yesterday" });
    expect(answer.tables).toEqual({ opened: 4, of: 9 });
    expect(answer.narrowing.records).toBe(27);
    expect(answer.narrowing.steps[0]).toMatchObject({ alone: 12, inTurn: 12 });
    const none = await running.client.explain("levels", { on: "2024" });
    expect(none.tables).toEqual({ opened: 0, of: 9 });
    expect(none.empty[0]).toContain("the first date of table_date is 1 March 2025");
  });

  test("many explanations at once do not wait for one another", async () => {
    const requested = Array.from({ length: 12 }, () =>
      running.client.explain("levels", { on: "P4D/yesterday" }),
    );
    const answer = await Promise.all(requested);
    expect(answer.map(({ narrowing }) => narrowing.records)).toEqual(requested.map(() => 27));
  });

  test("a table of a day to come is omitted like the running one's", async () => {
    await owner.query("CREATE TABLE gauges_20250401 LIKE gauges_20250301");
    now = NOW + 6_000;
    const { tables } = await running.client.source("gauges");
    expect(tables?.omitted).toContainEqual({
      table: "gauges_20250401",
      reason: "its day has not ended",
    });
    await owner.query("DROP TABLE gauges_20250401");
    now = NOW + 20_000;
    expect((await levels()).length).toBe(27);
    now = NOW;
  });

  test("a new table is found by itself, and the day's own once it has ended", async () => {
    await makeTable(11);
    now = Date.UTC(2025, 2, 11, 0, 0, 10);
    expect(await levels({ on: "2025-03-10/.." })).toEqual(of(10));
    now = Date.UTC(2025, 2, 12, 1);
    expect(await levels({ on: "2025-03-10/.." })).toEqual(of(10, 11));
    now = NOW;
  });

  test("the running day is in where the source says so", async () => {
    await running.client.createSource({
      name: "running",
      attached: {
        database: "levels",
        table: "gauges_{yyyyMMdd}",
        runningDay: true,
        dateColumn: "table_date",
      },
    });
    await declare("running", "running");
    const found = await running.client.records("running", { on: "today" });
    expect(found.records.map(({ level_mm: level }) => level)).toEqual(of(10));
  });

  test("a record is shown by its table and key", async () => {
    const { id, cells } = await running.client.inspectRecord("gauges", "2025-03-04:12");
    expect(id).toBe("2025-03-04:12");
    expect(cells.find(({ column }) => column === "read_at")).toMatchObject({ state: "blank" });
  });

  test.each([
    ["gauges_2025{MMdd}", "its year is not in the braces"],
    ["gauges_{yyyy}", "names a day"],
    ["gauges_{yyyyMMdd", "one pair of braces"],
    ["levels_{yyyyMMdd}", "no table has such a name"],
  ])("%s is refused: %s", async (table, reason) => {
    const problem = await refusal(
      running.client.createSource({ name: "x", attached: { database: "levels", table } }),
    );
    expect(problem).toMatchObject({ status: 422, faults: [{ code: "attach.pattern" }] });
    expect(problem?.detail).toContain(reason);
  });
});

describe("stacked sources", () => {
  const CSV = "ref,raised,cost,note\n";
  beforeAll(async () => {
    const { client } = running;
    for (const [name, rows] of [
      ["north", "N1,2025-03-01,5,a\nN2,2025-03-03,7,b\n"],
      ["south", "S1,2025-03-02,5,c\nS2,,9,d\nS3,2025-03-03,1,e\n"],
    ] as const) {
      await client.createSource({
        name,
        key: "ref",
        columns: {
          raised: { type: "date", reading: { kind: "date", encoding: "text" } },
          cost: name === "north" ? { type: "integer" } : { type: "decimal" },
        },
      });
      await client.importFile(name, CSV + rows);
    }
    await client.createSource({ name: "both", combine: { of: ["north", "south"] } });
    await client.declareListing("both", {
      source: "both",
      zone: "UTC",
      mainDate: "raised",
      parameters: [{ name: "on", column: "raised", type: "window", comparison: "on" }],
      order: { allowed: ["raised"], default: "raised" },
      filter: { columns: ["source", "note", "raised"] },
    });
  });

  const ids = async (parameters = {}) =>
    (await running.client.records("both", parameters)).records.map(({ id }) => id);

  test("are one, with a column that names the source, and their differences reported", async () => {
    expect(await ids()).toEqual(["south:S2", "north:N1", "south:S1", "north:N2", "south:S3"]);
    const { records, meta } = await running.client.records("both", { on: "2025-03-03" });
    expect(records).toEqual([
      { id: "north:N2", source: "north", ref: "N2", raised: "2025-03-03", note: "b" },
      { id: "south:S3", source: "south", ref: "S3", raised: "2025-03-03", note: "e" },
    ]);
    expect(meta.total).toBe(2);
    const { combine } = await running.client.source("both");
    expect(combine).toEqual({
      of: ["north", "south"],
      column: "source",
      differences: ["cost holds integer in north, decimal in south"],
    });
  });

  test("the column that names the source is a condition like any other", async () => {
    expect(await ids({ filter: "source = 'south' AND raised IS NULL" })).toEqual(["south:S2"]);
    expect(await ids({ filter: "NOT (source = 'south')" })).toEqual(["north:N1", "north:N2"]);
  });

  test("pages joined are all of it; records that come later are in", async () => {
    for (const order of ["raised", "-raised"]) {
      const whole = await ids({ order });
      let page = await running.client.records("both", { order, size: "2" });
      const found = page.records.map(({ id }) => id);
      while (page.links.next !== undefined) {
        page = await running.client.follow(page.links.next);
        found.push(...page.records.map(({ id }) => id));
      }
      expect(found).toEqual(whole);
    }
  });

  test("two requests are compared over all of them", async () => {
    const compared = await running.client.compare("both", {
      before: { on: "2025-03-01/2025-03-02" },
      after: { on: "2025-03-02/2025-03-03" },
    });
    expect(compared.removed.records.map(({ id }) => id)).toEqual(["north:N1"]);
    expect(compared.added.records.map(({ id }) => id)).toEqual(["north:N2", "south:S3"]);
  });

  test("a part of another cannot end, and nothing is written to the whole", async () => {
    const { client } = running;
    expect(await refusal(client.deleteSource("north"))).toMatchObject({ status: 409 });
    for (const attempt of [
      client.importFile("both", CSV),
      client.repairCell("both", { id: "north:N1", column: "note", value: "x" }),
      client.watchFile("both", { file: "x.csv" }),
    ]) {
      expect((await refusal(attempt))?.status).toBe(409);
    }
    const unlike = running.client.createSource({
      name: "unlike",
      combine: { of: ["north", "gaugs"] },
    });
    expect(await refusal(unlike)).toMatchObject({ status: 422 });
    const twice = running.client.createSource({ name: "t", combine: { of: ["both", "both"] } });
    expect(await refusal(twice)).toMatchObject({ faults: [{ code: "source.combine" }, {}] });
  });
});
