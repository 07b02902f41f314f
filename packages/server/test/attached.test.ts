import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Engine } from "@orisma/server";
import { attachedColumn, orderKeyDdl, type Statement } from "@orisma/core/internal";
import mysql from "mysql2/promise";
import { startAttachable, type AttachableServer } from "../../../test/attachable.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { until } from "../../../test/until.js";
import { connect } from "../src/attached/connection.js";
import { writingRightsIn } from "../src/attached/account.js";
import { poolLimits } from "../src/admission/index.js";
import { TooSlow } from "../src/database/index.js";
import { profileSource } from "../src/sources/profile.js";

const PASSWORD = "lock and quay, 4 paces";
const DATABASE = "orisma_levels";

let engine: Engine;
let running: TestService;
let owner: mysql.Connection;
let attachable: AttachableServer;

/** A reading of a gauge: its number, and the moment in universal time, or what stands there. */
const READINGS: readonly (readonly [number, string | null])[] = [
  [1, "2025-01-31T23:59:59.000Z"],
  [2, "2025-02-01T00:00:00.000Z"],
  [3, "2025-02-14T12:30:00.000Z"],
  [4, "2025-02-28T23:59:59.000Z"],
  [5, "2025-03-01T00:00:00.000Z"],
  [6, null],
];
const FEBRUARY = [2, 3, 4];

const CREATE = `CREATE TABLE readings (
  id INT NOT NULL, read_on VARCHAR(12), compact CHAR(8), logged DATETIME(3), seen TIMESTAMP NULL,
  day DATE, seconds BIGINT, serial DOUBLE, gauge VARCHAR(20), level_mm INT, sketch BLOB,
  PRIMARY KEY (id), KEY on_text (read_on), KEY compact (compact), KEY logged (logged),
  KEY seen (seen), KEY day (day), KEY seconds (seconds), KEY serial (serial)
)`;

beforeAll(async () => {
  attachable = await startAttachable(DATABASE, [
    { user: "reader", password: PASSWORD, rights: "SELECT" },
    { user: "writer", password: PASSWORD, rights: "ALL" },
    { user: "keeper", password: PASSWORD, rights: "SELECT", role: "lock_keepers" },
  ]);
  ({ engine, owner } = attachable);
  await owner.query("SET sql_mode = ''");
  await owner.query(CREATE);
  for (const [id, at] of READINGS) await owner.execute(INSERT, rowOf(id, at));
  await owner.query("UPDATE readings SET day = '0000-00-00', read_on = 'n/a' WHERE id = 6");
  await owner.execute(INSERT, [7, "1/2/2025", "20250231", null, null, null, null, 0.5, "Weir", 7]);
  await owner.query("CREATE VIEW gauges AS SELECT id, gauge, logged FROM readings");
  await owner.query("CREATE VIEW twice AS SELECT 1 AS id, logged FROM readings");
  await owner.query(
    "CREATE VIEW slow AS SELECT id, logged, IF(SLEEP(60) = 0, gauge, 'none') AS gauge FROM readings",
  );
  await owner.query("CREATE TABLE loose (a INT, b DATE)");
  await owner.query("CREATE TABLE told (id INT PRIMARY KEY, logged DATETIME, details JSON)");
  await owner.query(
    `INSERT INTO told VALUES (1, '2025-02-01 10:00:00', '{"by": "Tansy", "n": [1, 2]}')`,
  );
  await owner.query(
    "CREATE TABLE half (a VARCHAR(20) NOT NULL, b INT NOT NULL, UNIQUE KEY begun (a(3), b))",
  );
  // As on a machine of many cores: more heavy calls at once than the attached database has connections.
  running = await startTestService({ attachable: [placeOf(engine)], limits: poolLimits(9) });
  await attach();
});
afterAll(async () => {
  await running.end();
  await attachable.end();
});

const INSERT =
  "INSERT INTO readings (id, read_on, compact, logged, seen, day, seconds, serial, gauge, level_mm)" +
  " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)";

function rowOf(id: number, at: string | null): (string | number | null)[] {
  if (at === null) return [id, null, null, null, null, null, null, null, "Weir", id];
  const [day = ""] = at.split("T");
  const stamp = at.replace("T", " ").replace("Z", "");
  const ms = Date.parse(at);
  const written = day.split("-").reverse().join("/");
  const serial = ms / 86_400_000 + 25_569;
  const days = day.replaceAll("-", "");
  return [id, written, days, stamp, stamp, day, ms / 1_000, serial, id < 4 ? "Weir" : "lock", id];
}

function placeOf({ login }: Engine) {
  return { host: login.host, port: login.port };
}

function account(user: string, more = {}) {
  return { ...placeOf(engine), database: DATABASE, user, password: PASSWORD, ...more };
}

async function attach() {
  const { client } = running;
  await client.attachDatabase("levels", account("reader"));
  await client.createSource({
    name: "readings",
    attached: { database: "levels", table: "readings" },
    columns: {
      read_on: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: ["n/a"] },
      },
      compact: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] },
      },
      seconds: { type: "date", reading: { kind: "instant", encoding: "epoch-s" } },
      serial: { type: "date", reading: { kind: "local", encoding: "serial-1900" } },
    },
  });
  for (const column of COLUMNS) {
    await client.declareListing(`by-${column}`, {
      source: "readings",
      zone: "UTC",
      mainDate: column,
      parameters: [
        { name: "on", column, type: "window", comparison: "on" },
        { name: "from", column, type: "date", comparison: "from" },
      ],
      order: { allowed: [column, "level_mm"], default: column },
      filter: { columns: ["gauge", "level_mm"] },
    });
  }
}

const COLUMNS = ["read_on", "compact", "logged", "seen", "day", "seconds", "serial"];

describe("attaching a database", () => {
  test("only places that the operator lists, and the answer says which", async () => {
    const elsewhere = account("reader", { host: "127.0.0.2" });
    const problem = await refusal(running.client.attachDatabase("other", elsewhere));
    const { host, port } = placeOf(engine);
    expect(problem).toMatchObject({
      status: 422,
      faults: [{ path: "host", code: "attach.host", accepted: `${host}:${port}` }],
    });
  });

  test("never the service's own database, whatever it is called", async () => {
    const { host, port, user, password, database } = running.login;
    const own = await startTestService({ attachable: [{ host, port }] });
    const sent = { host, port, user, password, database, allowWriter: true };
    const problem = await refusal(own.client.attachDatabase("mine", sent));
    await own.end();
    expect(problem).toMatchObject({ status: 422, faults: [{ code: "attach.own" }] });
  });

  test("an account that can write is refused by its rights, unless the owner insists", async () => {
    const problem = await refusal(running.client.attachDatabase("w", account("writer")));
    expect(problem).toMatchObject({ status: 422, faults: [{ code: "attach.writer" }] });
    expect(problem?.detail).toContain("ALL PRIVILEGES on `orisma%`.*");
    const insisted = await running.client.attachDatabase(
      "w",
      account("writer", { allowWriter: true }),
    );
    expect(insisted).toMatchObject({ name: "w", user: "writer", allowWriter: true });
    await running.client.detachDatabase("w");
  });

  test("an account whose role can write is refused too, though it has not taken it on", async () => {
    await owner.query("GRANT lock_keepers TO keeper@'127.0.0.1'");
    const problem = await refusal(running.client.attachDatabase("k", account("keeper")));
    expect(problem).toMatchObject({ status: 422, faults: [{ code: "attach.writer" }] });
    expect(problem?.detail).toContain("the role `lock_keepers`");
  });

  test("another account is given by attaching again, and sources go on with it", async () => {
    const { client } = running;
    await client.attachDatabase("levels", account("writer", { allowWriter: true }));
    const found = await client.records("by-day", { on: "2025-02" });
    expect(found.records.map(({ id }) => id)).toEqual(FEBRUARY);
    expect(await client.attachDatabase("levels", account("reader"))).toMatchObject({
      user: "reader",
      allowWriter: false,
    });
    expect((await client.records("by-day", { on: "2025-02" })).meta.total).toBe(3);
  });

  test("whatever the account may do, nothing can be written", async () => {
    const connection = await connect({ ...account("writer") });
    const write = connection.gateway.write((run) =>
      run({ text: "DELETE FROM readings", values: [] }),
    );
    await expect(write).rejects.toThrow(/READ ONLY/);
    await connection.close();
  });

  test("a wrong password is reported as the database reports it, and never shown", async () => {
    const wrong = account("reader", { password: "rope" });
    const problem = await refusal(running.client.attachDatabase("levels", wrong));
    expect(problem).toMatchObject({ status: 503 });
    expect(problem?.detail).toContain("denied");
    const answer = JSON.stringify(await running.client.databases());
    expect(answer).toContain("levels");
    expect(answer).not.toContain(PASSWORD);
    const connection = await mysql.createConnection({ ...running.login });
    const [rows] = await connection.query("SELECT * FROM attached_databases");
    await connection.end();
    expect(JSON.stringify(rows)).not.toContain("quay");
  });

  test("its tables and columns are reported, with what cannot be filtered", async () => {
    const tables = await running.client.tables("levels");
    expect(tables.map(({ name, kind }) => [name, kind])).toEqual([
      ["gauges", "view"],
      ["half", "table"],
      ["loose", "table"],
      ["readings", "table"],
      ["slow", "view"],
      ["told", "table"],
      ["twice", "view"],
    ]);
    const readings = await running.client.table("levels", "readings");
    expect(readings.keys).toEqual(["id"]);
    expect(readings.indexes.on_text).toEqual(["read_on"]);
    const holdings = new Map(readings.columns.map(({ name, holding }) => [name, holding]));
    expect(holdings.get("sketch")).toBeNull();
    expect(holdings.get("seen")).toEqual({ type: "timestamp", digits: 0, zoned: true });
    const none = await refusal(running.client.table("levels", "reading"));
    expect(none).toMatchObject({ status: 404, faults: [{ nearest: ["readings"] }] });
  });

  test.each([
    ["GRANT SELECT (`a`, `b`), INSERT (`c`) ON `x`.* TO `r`@`h`", ["INSERT on `x`.*"]],
    [
      "GRANT ALL PRIVILEGES ON *.* TO `r`@`h` WITH GRANT OPTION",
      ["ALL PRIVILEGES on *.*", "GRANT OPTION on *.*"],
    ],
    ["GRANT `keepers` TO `r`@`h`", []],
    ["SET DEFAULT ROLE `keepers` FOR `r`@`h`", []],
    ["GRANT SELECT (`a)`), INSERT (`b``)`) ON `x`.* TO `r`@`h`", ["INSERT on `x`.*"]],
    ["GRANT something new `x`.* TO `r`@`h`", ["GRANT something new `x`.* TO `r`@`h`"]],
    ["GRANT USAGE ON *.* TO `r`@`h` IDENTIFIED BY PASSWORD '*A'", []],
    // In another database it may write.
    ["GRANT ALL PRIVILEGES ON `y`.* TO `r`@`h`", []],
    ["GRANT ALL PRIVILEGES ON `xx`.* TO `r`@`h`", []],
    ["GRANT INSERT ON `y`.`x` TO `r`@`h`", []],
    ["GRANT INSERT ON `x`.`y` TO `r`@`h`", ["INSERT on `x`.`y`"]],
    ["GRANT DELETE ON `_`.* TO `r`@`h`", ["DELETE on `_`.*"]],
    ["GRANT DELETE ON `\\_`.* TO `r`@`h`", []],
    ["GRANT DELETE ON `%`.* TO `r`@`h`", ["DELETE on `%`.*"]],
    ["GRANT DELETE ON `x.`.* TO `r`@`h`", []],
    ["GRANT EXECUTE ON PROCEDURE `x`.`tidy` TO `r`@`h`", ["EXECUTE on PROCEDURE `x`.`tidy`"]],
    ["GRANT EXECUTE ON PROCEDURE `y`.`tidy` TO `r`@`h`", []],
  ])("%s", (line, rights) => {
    expect(writingRightsIn(line, "x")).toEqual(rights);
  });
});

describe("a source that is a table of an attached database", () => {
  test.each(COLUMNS)(
    "%s: the last day is in, the days around and blanks are out",
    async (column) => {
      const found = await running.client.records(`by-${column}`, { on: "2025-02" });
      expect(found.records.map(({ id }) => id)).toEqual(FEBRUARY);
      expect(found.meta).toMatchObject({ total: 3, totalExact: true });
      const first = await running.client.records(`by-${column}`, { on: "2025-02-28" });
      expect(first.records.map(({ id }) => id)).toEqual([4]);
      const open = await running.client.records(`by-${column}`, { from: "2025-02-28" });
      expect(open.records.map(({ id }) => id)).toEqual([4, 5]);
    },
  );

  test("dates are delivered in standard form; what cannot be read is reported as it stands", async () => {
    const all = await running.client.records("by-read_on", { "on.blank": "include", on: "../.." });
    expect(all.records[0]).toMatchObject({ id: 6, read_on: null, day: null });
    const whole = await running.client.records("by-read_on", { order: "level_mm" });
    const seventh = whole.records.find(({ id }) => id === 7);
    expect(seventh).toMatchObject({ read_on: null, compact: null, serial: null });
    expect(whole.meta.unreadable).toEqual({
      7: { read_on: "1/2/2025", compact: "20250231", serial: "0.5" },
    });
    const second = whole.records.find(({ id }) => id === 3);
    expect(second).toMatchObject({
      read_on: "2025-02-14",
      compact: "2025-02-14",
      logged: "2025-02-14T12:30:00",
      seen: "2025-02-14T12:30:00Z",
      seconds: "2025-02-14T12:30:00Z",
      serial: "2025-02-14T12:30:00",
    });
  });

  test.each(COLUMNS)("%s: pages joined are all of it, in the order of dates", async (column) => {
    for (const order of [column, `-${column}`]) {
      const ids: unknown[] = [];
      let page = await running.client.records(`by-${column}`, { order, size: "2" });
      for (;;) {
        ids.push(...page.records.map(({ id }) => id));
        if (page.links.next === undefined) break;
        page = await running.client.follow(page.links.next);
      }
      const dated = ids.filter((id) => Number(id) <= 5);
      expect(dated).toEqual(order === column ? [1, 2, 3, 4, 5] : [5, 4, 3, 2, 1]);
      expect([...ids].sort()).toEqual([1, 2, 3, 4, 5, 6, 7]);
      const back = page.links.previous;
      if (back === undefined) throw new Error("the last page has none before it");
      const before = await running.client.follow(back);
      expect(before.records.map(({ id }) => id)).toEqual(ids.slice(4, 6));
    }
  });

  test("compound conditions respect letter case, and count what they keep", async () => {
    const filter = "gauge = 'Lock' OR (CASEI(gauge) = CASEI('LOCK') AND level_mm > 4)";
    const found = await running.client.records("by-day", { filter });
    expect(found.records.map(({ id }) => id)).toEqual([5]);
  });

  test("explain names the index, and the key that strings in another order want", async () => {
    const near = await running.client.explain("by-logged", { on: "2025-02" });
    expect(near.statements.page.text).toContain("`logged` >= ?");
    expect(near.plan.page[0]?.words).toContain("index on logged");
    const [text] = (await running.client.explain("by-read_on", { on: "2025-02" })).neighbours;
    expect(text).toMatchObject({ before: "2025-01-31", after: "2025-02-01" });
  });

  test("the key that explain offers can be made, fails on no value, and is found by date", async () => {
    const created = attachedColumn("read_on", {
      value: "read_on",
      holding: { type: "text" },
      type: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
      },
    });
    if (!created.ok) throw new Error("the column cannot be queried");
    const table = { table: "readings", key: "id", columns: new Map([["read_on", created.value]]) };
    const ddl = orderKeyDdl("read_on", table) ?? "";
    expect(ddl).toContain("ADD COLUMN `read_on_key` CHAR(8)");
    await owner.query(ddl);
    await owner.execute("INSERT INTO readings (id, read_on) VALUES (8, ?)", ["no date at all"]);
    const [plan] = await owner.query<mysql.RowDataPacket[]>(
      "EXPLAIN SELECT id FROM readings WHERE read_on_key >= '20250201' AND read_on_key < '20250301'",
    );
    expect(plan[0]?.key).toBe("read_on_key");
    await owner.query("DELETE FROM readings WHERE id = 8");
    await owner.query("ALTER TABLE readings DROP COLUMN read_on_key");
  });

  test("the profile is made in the database, and setting readings says what comes of it", async () => {
    const profile = await running.client.profile("readings");
    const found = profile.columns.find(({ name }) => name === "read_on");
    expect(found).toMatchObject({ distinct: 7, unreadable: [{ id: 7, value: "1/2/2025" }] });
    const changed = await running.client.setReadings("readings", {
      compact: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["yyyyMMdd"], blanks: ["20250231"] },
      },
    });
    expect(changed.columns.compact).toMatchObject({ read: 5, blank: 2, unreadable: 0 });
    const blank = await running.client.records("by-compact", { "on.blank": "only" });
    expect(blank.records.map(({ id }) => id)).toEqual([6, 7]);
  });

  test("readings that no query can express are refused with what can be", async () => {
    const problem = await refusal(
      running.client.setReadings("readings", {
        gauge: {
          type: "date",
          reading: { kind: "instant", encoding: "text", patterns: ["EEEE, d MMMM yyyy H:m:s XXX"] },
        },
        serial: { type: "date", reading: { kind: "date", encoding: "native" } },
      }),
    );
    expect(problem).toMatchObject({
      status: 422,
      faults: [
        { path: "columns.serial", code: "storage.reading" },
        { path: "columns.gauge", code: "storage.reading" },
      ],
    });
    // Partly, the others are set all the same, and what is not is said.
    const set = await running.client.setReadings(
      "readings",
      {
        compact: {
          type: "date",
          reading: { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] },
        },
        serial: { type: "date", reading: { kind: "date", encoding: "native" } },
      },
      { partly: true },
    );
    expect(Object.keys(set.columns)).toEqual(["compact"]);
    expect(set.omitted?.serial).toMatchObject([{ code: "storage.reading" }]);
    const { columns } = await running.client.source("readings");
    const serial = columns.find(({ name }) => name === "serial");
    expect(serial).toMatchObject({ reading: { encoding: "serial-1900" } });
  });

  test("a record is shown cell by cell as it stands", async () => {
    const { cells } = await running.client.inspectRecord("readings", "7");
    const cell = cells.find(({ column }) => column === "read_on");
    expect(cell).toMatchObject({ raw: "1/2/2025", state: "unreadable" });
    expect(cell?.fault?.code).toBe("date.pattern");
  });

  test("nothing is brought, mended or watched there", async () => {
    const { client } = running;
    const cell = { id: 1, column: "gauge", value: "x" };
    for (const attempt of [
      client.importFile("readings", "id\n1\n"),
      client.repairCell("readings", cell),
      client.restoreRecords("readings"),
    ]) {
      expect(await refusal(attempt)).toMatchObject({ status: 409 });
    }
    const [rows] = await owner.query("SELECT COUNT(*) AS n FROM readings");
    expect(rows).toEqual([{ n: 7 }]);
  });

  test("needs a key: the primary one, or a column of which every value is another", async () => {
    const { client } = running;
    const source = (table: string, more = {}) =>
      client.createSource({ name: "fresh", attached: { database: "levels", table }, ...more });
    expect(await refusal(source("loose"))).toMatchObject({ faults: [{ code: "attach.key" }] });
    // Unique is only the beginning of one beside the other.
    expect(await refusal(source("half", { key: "b" }))).toMatchObject({
      faults: [{ code: "attach.key" }],
    });
    expect((await client.table("levels", "half")).indexes).toEqual({});
    expect(await refusal(source("readings", { key: "gauge" }))).toMatchObject({
      faults: [{ code: "attach.key", accepted: "id" }],
    });
    expect(await refusal(source("twice", { key: "id" }))).toMatchObject({
      faults: [{ code: "attach.key" }],
    });
    const created = await source("gauges", { key: "id" });
    expect(created).toMatchObject({ key: "id", records: null, attached: { table: "gauges" } });
    await client.deleteSource("fresh");
  });

  test("a source is a table, several sources, or a file's, and not two of them", async () => {
    const table = { database: "levels", table: "readings" };
    for (const sent of [
      { attached: table, combine: { of: ["readings", "gauges"] } },
      { combine: { of: ["readings", "gauges"] }, key: "id" },
      { attached: { ...table, runningDay: true } },
    ]) {
      const created = running.client.createSource({ name: "fresh", ...sent });
      expect(await refusal(created)).toMatchObject({ status: 422 });
    }
  });

  test("a column that takes too long is looked at in some of its records, and says so", async () => {
    const connection = await connect({ ...account("reader") });
    const requested: string[] = [];
    const slow = {
      read: (statement: Statement, seconds?: number) => {
        requested.push(statement.text);
        const isWhole = statement.text.includes("GROUP BY") && !statement.text.includes("`some`");
        if (isWhole) return Promise.reject(new TooSlow("it took too long"));
        return connection.gateway.read(statement, seconds);
      },
    };
    const created = attachedColumn("gauge", {
      value: "gauge",
      holding: { type: "text" },
      type: { type: "text" },
    });
    if (!created.ok) throw new Error("the column cannot be queried");
    const source = {
      id: 1,
      name: "readings",
      key: "id",
      ids: "key id",
      columns: [created.value.column],
      table: { table: "readings", key: "id", columns: new Map([["gauge", created.value]]) },
      imported: null,
      attached: { database: "levels", table: "readings" },
      combine: null,
      unnest: null,
      partitionColumn: null,
      importedAt: null,
      revision: null,
      indexes: new Map(),
    };
    const profile = await profileSource(source, new Map(), {}, slow, 0);
    await connection.close();
    expect(profile.columns[0]).toMatchObject({
      distinct: 2,
      sample: { drawn: "first", of: profile.records, records: profile.records },
    });
    expect(requested).toHaveLength(3);
  });

  test("a column of JSON is the text that it holds, in every format", async () => {
    await running.client.createSource({
      name: "told",
      attached: { database: "levels", table: "told" },
    });
    await running.client.declareListing("told", { source: "told", mainDate: "logged" });
    const text = '{"by": "Tansy", "n": [1, 2]}';
    const { records } = await running.client.records("told");
    expect(records).toMatchObject([{ id: 1, details: text }]);
    const csv = await fetch(`${running.service.url}/v1/listings/told/records.csv`, {
      headers: { Authorization: `Bearer ${running.service.key}` },
    });
    expect(await csv.text()).toContain(`"${text.replaceAll('"', '""')}"`);
    await running.client.deleteListing("told");
    await running.client.deleteSource("told");
  });

  test("records of another of its tables stand beside them, found by a whole number", async () => {
    const { client } = running;
    await client.createSource({ name: "beside", attached: { database: "levels", table: "told" } });
    await client.createSource({ name: "keepers", key: "gauge" });
    await client.importFile("keepers", "gauge,keeper\nWeir,Tansy\n");
    await client.declareListing("related", {
      source: "readings",
      mainDate: "logged",
      order: { allowed: ["id", "note.logged"], default: "id" },
      filter: { columns: "all" },
      relations: {
        note: { source: "beside", by: "level_mm", columns: ["logged", "details"] },
        keeper: { source: "keepers", by: "gauge", columns: ["keeper"] },
      },
    });
    const ids = async (filter: string) =>
      (await client.records("related", { filter })).records.map(({ id }) => id);
    expect(await ids("note.details LIKE '%Tansy%'")).toEqual([1]);
    expect(await ids("inWindow(note.logged, '2025-02-01')")).toEqual([1]);
    expect(await ids("note.logged IS NULL")).toEqual([2, 3, 4, 5, 6, 7]);
    const { records } = await client.records("related", { order: "-note.logged" });
    expect(records.map(({ id }) => id)).toEqual([1, 7, 6, 5, 4, 3, 2]);
    expect(records[0]).toMatchObject({
      "note.logged": "2025-02-01T10:00:00",
      "keeper.keeper": "Tansy",
    });
    // In another database it is looked up to be shown, and no statement can filter by it.
    const refused = await refusal(ids("keeper.keeper = 'Tansy'"));
    expect(refused?.faults[0]).toMatchObject({ code: "column.unknown" });
    await client.deleteListing("related");
    for (const name of ["beside", "keepers"]) await client.deleteSource(name);
  });

  test("a count that is not made in time is omitted, and says so", async () => {
    const { client } = running;
    // Each look at a gauge takes half a second: seven of them are too long for a count.
    await owner.query(
      "CREATE VIEW tardy AS SELECT id, logged, IF(SLEEP(0.5) = 0, gauge, 'none') AS gauge FROM readings",
    );
    await client.createSource({
      name: "tardy",
      key: "id",
      attached: { database: "levels", table: "tardy" },
    });
    await client.declareListing("tardy", {
      source: "tardy",
      mainDate: "logged",
      columns: ["logged"],
      filter: { columns: ["gauge"] },
    });
    const { records, meta } = await client.records("tardy", { filter: "gauge = 'lock'" });
    expect(records.map(({ id }) => id)).toEqual([5, 4]);
    expect(meta).toMatchObject({ total: null, totalExact: false });
    expect(meta.notices).toMatchObject([{ code: "total.notInTime" }]);
    await client.deleteListing("tardy");
    await client.deleteSource("tardy");
    await owner.query("DROP VIEW tardy");
  });

  test("a database of which there are sources stays attached", async () => {
    const problem = await refusal(running.client.detachDatabase("levels"));
    expect(problem).toMatchObject({ status: 409 });
    expect(problem?.detail).toContain("readings");
  });

  test("a service with another secret asks for the account again", async () => {
    const again = await startTestService({
      login: running.login,
      attachable: [placeOf(engine)],
    });
    const problem = await refusal(again.client.records("by-day", {}));
    expect(problem).toMatchObject({ status: 503 });
    expect(problem?.detail).toContain("attach it again");
    await again.client.attachDatabase("levels", account("reader"));
    const found = await again.client.records("by-day", { on: "2025-02" });
    expect(found.records.map(({ id }) => id)).toEqual(FEBRUARY);
    await again.end();
  });

  test("a column that has gone is a 503 in words, and comes back with it", async () => {
    await owner.query("ALTER TABLE readings RENAME COLUMN seconds TO sekonds");
    const problem = await refusal(running.client.records("by-day", { on: "2025-02" }));
    expect(problem).toMatchObject({ status: 503 });
    expect(problem?.detail).toContain("not as it was");
    await owner.query("ALTER TABLE readings RENAME COLUMN sekonds TO seconds");
    const found = await running.client.records("by-day", { on: "2025-02" });
    expect(found.records.map(({ id }) => id)).toEqual(FEBRUARY);
  });
});

describe("a caller who goes before the answer", () => {
  // An account sees what is done for itself.
  let reader: mysql.Connection;
  beforeAll(async () => {
    reader = await mysql.createConnection(account("reader"));
  });
  afterAll(() => reader.end());

  const atWork = async () => {
    const [rows] = await reader.query<mysql.RowDataPacket[]>(
      "SELECT COUNT(*) AS n FROM information_schema.processlist " +
        "WHERE info LIKE '%slow%' AND id <> CONNECTION_ID()",
    );
    return Number(rows[0]?.n);
  };
  const untilWorking = (count: number) => until(async () => (await atWork()) === count);
  /** Whether it has ended what it does before the limit of statements ends it anyway. */
  const isIdleSoon = async () => {
    for (let tries = 0; tries < 100; tries++) {
      if ((await atWork()) === 0) return true;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    return false;
  };

  test("ends what the database is doing for them, and nobody else's", async () => {
    const { client, service } = running;
    await client.createSource({
      name: "slow",
      key: "id",
      attached: { database: "levels", table: "slow" },
      columns: {
        logged: { type: "date", reading: { kind: "instant", encoding: "native" } },
      },
    });
    await client.declareListing("slow", { source: "slow", mainDate: "logged", parameters: [] });
    const headers = { authorization: `Bearer ${service.key}` };
    for (const path of ["choices/gauge", "summary?by=gauge", "records?total=none"]) {
      const leaving = new AbortController();
      const url = `${service.url}/v1/listings/slow/${path}`;
      const requested = fetch(url, { headers, signal: leaving.signal }).catch(() => null);
      await untilWorking(1);
      leaving.abort();
      await requested;
      expect(await isIdleSoon()).toBe(true);
      const others = await fetch(`${service.url}/v1/sources`, { headers });
      expect(others.status).toBe(200);
      // What is not read keeps its connection, for which the service waits when it ends.
      await others.text();
    }
  });

  test("of listings that do not answer in time the description has no example, and all the rest", async () => {
    const { client } = running;
    await client.declareListing("a-quick-one", { source: "readings", mainDate: "logged" });
    const found = (await client.description()) as {
      paths: Record<string, { get: { responses: Record<string, { content: object }> } }>;
    };
    const contentOf = (name: string) =>
      JSON.stringify(found.paths[`/v1/listings/${name}/records`]?.get.responses["200"]?.content);
    expect(contentOf("a-quick-one")).toContain('"example"');
    expect(contentOf("slow")).toContain("application/json");
    expect(contentOf("slow")).not.toContain('"example"');
    expect(await isIdleSoon()).toBe(true);
    await client.deleteListing("a-quick-one");
  });

  test("and many of them at once leave the way free for others", async () => {
    const { client, service } = running;
    const headers = { authorization: `Bearer ${service.key}` };
    // More than there are connections.
    const leaving = Array.from({ length: 8 }, () => new AbortController());
    const requested = leaving.map(({ signal }) =>
      fetch(`${service.url}/v1/listings/slow/choices/gauge`, { headers, signal }).catch(() => null),
    );
    await untilWorking(4);
    for (const each of leaving) each.abort();
    await Promise.all(requested);
    expect((await client.tables("levels")).length).toBeGreaterThan(0);
    expect(await isIdleSoon()).toBe(true);
  });
});
