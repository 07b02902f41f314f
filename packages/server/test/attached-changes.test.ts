import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import type { Engine } from "@orisma/server";
import mysql from "mysql2/promise";
import { startAttachable, type AttachableServer } from "../../../test/attachable.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const PASSWORD = "lock and quay, 4 paces";
const DATABASE = "orisma_logbook";
/** The service's clock; that of the database is later. */
const NOW = Date.parse("2025-03-01T12:00:00Z");

let engine: Engine;
let running: TestService;
let owner: mysql.Connection;
let attachable: AttachableServer;
let now = NOW;

beforeAll(async () => {
  attachable = await startAttachable(DATABASE, [
    { user: "reader", password: PASSWORD, rights: "SELECT" },
    { user: "clerk", password: PASSWORD, rights: "SELECT" },
    { user: "writer", password: PASSWORD, rights: "ALL" },
  ]);
  ({ engine, owner } = attachable);
  const { host, port } = engine.login;
  const place = { host, port };
  running = await startTestService({
    attachable: [place],
    settings: { editableDatabases: [place] },
    now: () => now,
  });
  await attach("logbook", "reader");
  await attach("ledger", "writer");
});
afterAll(async () => {
  await running.end();
  await attachable.end();
});

function attach(name: string, user: string, service = running) {
  const { host, port } = engine.login;
  const account = { host, port, database: DATABASE, user, password: PASSWORD };
  return service.client.attachDatabase(name, { ...account, allowWriter: user !== "reader" });
}

const BY_TIME = { column: "changed_at", lag: "PT5M" };

/** A listing of a table of a test's own, with the times of its records. */
async function passages(
  table: string,
  times: readonly (string | null)[],
  listing: Partial<NewListing> = {},
): Promise<string> {
  await owner.query(
    `CREATE TABLE ${table} (id INT PRIMARY KEY, lock_name VARCHAR(20), changed_at DATETIME(3), KEY (changed_at))`,
  );
  for (const [index, at] of times.entries()) await enter(table, index + 1, at);
  await running.client.createSource({
    name: table,
    attached: { database: "logbook", table },
    columns: {
      changed_at: { type: "date", reading: { kind: "instant", encoding: "native" } },
    },
  });
  await running.client.declareListing(table, { ...LISTING, source: table, ...listing });
  return table;
}

const LISTING = {
  zone: "Europe/London",
  mainDate: "changed_at",
  parameters: [{ name: "lock", column: "lock_name", type: "text", comparison: "is" }],
  resume: BY_TIME,
} as const;

async function enter(table: string, id: number, at: string | null, lock = "Weir"): Promise<void> {
  await owner.execute(`REPLACE INTO ${table} VALUES (?, ?, ?)`, [id, lock, at]);
}

async function readOn(listing: string, token: string, query: Record<string, string> = {}) {
  let resume = token;
  const ids: unknown[] = [];
  const notices: string[] = [];
  for (;;) {
    const { records, meta } = await running.client.records(listing, {
      size: "2",
      ...query,
      resume,
    });
    ids.push(...records.map(({ id }) => id));
    notices.push(...meta.notices.map(({ message }) => message));
    if (meta.resume === undefined) throw new Error("no place to resume from");
    resume = meta.resume.token;
    if (!meta.resume.hasMore) return { token: resume, ids, notices, place: meta.resume };
  }
}

describe("picking up where one stopped in an attached table", () => {
  test("records come by the times of their changes, up to the declared lag, which the answer states", async () => {
    const name = await passages("in_order", [
      "2025-03-01 11:00:00",
      "2025-02-01 09:00:00",
      "2025-03-01 11:54:59.999",
      "2025-03-01 11:55:00",
      "2025-03-01 11:00:00",
    ]);
    const first = await readOn(name, "start");
    expect(first.ids).toEqual([2, 1, 5, 3]);
    expect(first.place).toMatchObject({ lag: "PT5M", upTo: "2025-03-01T11:55:00.000Z" });
    expect((await readOn(name, first.token)).ids).toEqual([]);
    now = NOW + 60_000;
    expect((await readOn(name, first.token)).ids).toEqual([4]);
    now = NOW;
  });

  test("what is entered late is not missed within the lag, and a change brings a record again", async () => {
    const name = await passages("late", ["2025-03-01 11:54:00", "2025-03-01 11:58:00"]);
    const first = await readOn(name, "start");
    expect(first.ids).toEqual([1]);
    // Entered after 2, with a time before it.
    await enter(name, 3, "2025-03-01 11:57:00");
    await enter(name, 1, "2025-03-01 11:59:00");
    now = NOW + 5 * 60_000;
    expect((await readOn(name, first.token)).ids).toEqual([3, 2, 1]);
    now = NOW;
  });

  test("records of one time are divided among pages, and none is lost", async () => {
    const same = Array.from({ length: 7 }, () => "2025-03-01 11:00:00");
    const name = await passages("same", same);
    expect((await readOn(name, "start")).ids).toEqual([1, 2, 3, 4, 5, 6, 7]);
  });

  test("records go on by a time that is not shown", async () => {
    const times = ["2025-03-01 11:00:00", "2025-02-01 09:00:00", "2025-02-14 09:00:00"];
    const name = await passages("not_shown", times, { columns: ["lock_name"] });
    const { ids, token } = await readOn(name, "start", { size: "1" });
    expect(ids).toEqual([2, 3, 1]);
    await enter(name, 3, "2025-03-01 11:30:00");
    expect((await readOn(name, token, { size: "1" })).ids).toEqual([3]);
  });

  test("a place before the first record is one", async () => {
    const name = await passages("empty", []);
    const { token, ids } = await readOn(name, "start");
    expect(ids).toEqual([]);
    await enter(name, 1, "2025-01-01 00:00:00");
    expect((await readOn(name, token)).ids).toEqual([1]);
  });

  test("whoever begins is told of records without a time, and only of those in the request", async () => {
    const name = await passages("undated", ["2025-03-01 11:00:00", null, null]);
    await enter(name, 3, null, "Quay");
    expect((await readOn(name, "start")).notices).toEqual([
      "2 records without a time in changed_at are never returned by resume",
    ]);
    expect((await readOn(name, "start", { lock: "Quay" })).notices).toEqual([
      "1 record without a time in changed_at is never returned by resume",
    ]);
    await enter(name, 3, "2025-03-01 11:00:00", "Quay");
    expect(await readOn(name, "start", { lock: "Quay" })).toMatchObject({ ids: [3], notices: [] });
  });

  test("a database whose clock is behind is not passed over", async () => {
    const name = await passages("behind", ["2025-03-01 11:00:00"]);
    now = Date.now() + 86_400_000;
    const { place } = await readOn(name, "start");
    now = NOW;
    expect(Date.parse(place.upTo ?? "")).toBeLessThan(Date.now());
  });

  test("a token is of its column, and a listing of its kind of changes", async () => {
    const name = await passages("held", ["2025-03-01 11:00:00"]);
    const { token } = await readOn(name, "start");
    const problem = await refusal(
      running.client.records(name, { resume: token, lock: "Weir", size: "2" }),
    );
    expect(problem?.faults).toMatchObject([{ parameter: "resume", code: "resume.ended" }]);
    const faultsOf = async (resume: unknown, source = name) => {
      const declared = { ...LISTING, source, resume } as NewListing;
      const problem = await refusal(running.client.declareListing("refused", declared));
      return problem?.faults.map(({ path, message }) => `${path ?? ""}: ${message}`);
    };
    expect(await faultsOf(true)).toEqual([
      expect.stringMatching(/^resume: .*nothing notes what changes in held.*"lag": "PT5M"/),
    ]);
    expect(await faultsOf({ column: "changed_on", lag: "PT5M" })).toEqual([
      "resume.column: unknown column “changed_on”",
    ]);
    expect(await faultsOf({ column: "lock_name", lag: "PT0S" })).toEqual([
      expect.stringMatching(/^resume\.column: .*instants, such as changed_at/),
      expect.stringMatching(/^resume\.lag: .*PT1S to P7D/),
    ]);
    expect(await faultsOf({ column: "changed_at", lag: "five minutes" })).toEqual([
      expect.stringMatching(/^resume\.lag: /),
    ]);
    await running.client.createSource({ name: "own", key: "id" });
    await running.client.importFile("own", "id,changed_at\n1,2025-03-01T11:00:00Z\n");
    expect(await faultsOf(BY_TIME, "own")).toEqual(
      expect.arrayContaining([expect.stringMatching(/^resume: .*write true/)]),
    );
  });
});

const WORKS_COLUMNS = `id INT PRIMARY KEY, title VARCHAR(20) NOT NULL, state ENUM('open', 'done'), cost DECIMAL(8, 2),
  depth FLOAT, hours INT, due DATE, seen DATETIME(0) NULL, stamped BIGINT, written CHAR(10), twice INT AS (hours * 2)`;
const WORKS_ROWS = [
  [1, "Gate", "open", 12.5, 0.1, 3, "2025-02-01", "2025-02-01 08:00:00", 1738396800, "01/02/2025"],
  [2, "Paddle", "open", 7, 0.2, 4, "2025-02-02", null, null, null],
  [3, "Weir", "done", null, null, null, null, null, null, null],
] as const;

const EDITABLE = ["title", "state", "cost", "depth", "hours", "due", "seen", "stamped", "written"];

/** A table of work orders and a listing in which they can be edited. */
async function works(
  table: string,
  listing: Partial<NewListing> = {},
  { database = "ledger", engineName = "InnoDB", service = running } = {},
): Promise<string> {
  await owner.query(`CREATE TABLE ${table} (${WORKS_COLUMNS}) ENGINE = ${engineName}`);
  for (const row of WORKS_ROWS) {
    await owner.execute(
      `INSERT INTO ${table} (id, ${EDITABLE.join(", ")}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [...row],
    );
  }
  await service.client.createSource({
    name: table,
    attached: { database, table },
    columns: {
      stamped: { type: "date", reading: { kind: "instant", encoding: "epoch-s" } },
      written: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
      },
    },
  });
  await service.client.declareListing(table, {
    source: table,
    zone: "Europe/London",
    mainDate: "due",
    parameters: [{ name: "state", column: "state", type: "text", comparison: "is" }],
    editable: EDITABLE,
    actions: { finish: { set: { state: "done", seen: "now" } } },
    ...listing,
  });
  return table;
}

async function rowOf(table: string, id: number): Promise<Record<string, unknown>> {
  const [rows] = await owner.query<mysql.RowDataPacket[]>({
    sql: `SELECT * FROM ${table} WHERE id = ${id}`,
    dateStrings: true,
  });
  return rows[0] ?? {};
}

async function edit(name: string, id: string, values: Record<string, string | number | null>) {
  const { etag } = await running.client.recordToEdit(name, id);
  return running.client.editRecord(name, id, values, { etag });
}

describe("records of an attached table", () => {
  test("are edited by the types of its columns, and an edit is taken back as it was stored", async () => {
    const name = await works("typed");
    const before = await rowOf(name, 1);
    const made = await edit(name, "1", {
      title: "Gate and paddle",
      state: null,
      cost: 19.99,
      depth: 0.3,
      hours: 5,
      due: "today",
      seen: "2025-02-28T09:30",
      stamped: "2025-02-28T09:30:00Z",
      written: "2025-12-01",
    });
    expect(made.record).toMatchObject({ title: "Gate and paddle", state: null, due: "2025-03-01" });
    expect(await rowOf(name, 1)).toMatchObject({
      title: "Gate and paddle",
      state: null,
      cost: "19.99",
      hours: 5,
      twice: 10,
      due: "2025-03-01",
      seen: "2025-02-28 09:30:00",
      stamped: 1_740_735_000,
      written: "01/12/2025",
    });
    expect(await rowOf(name, 2)).toMatchObject({ title: "Paddle", hours: 4 });
    const [noted] = await running.client.edits(name);
    expect(noted?.cells.find(({ column }) => column === "cost")).toEqual({
      ...{ id: "1", column: "cost", before: "12.50", after: "19.99" },
    });
    await running.client.undoEdit(name, made.edit ?? 0);
    expect(await rowOf(name, 1)).toEqual(before);
  });

  test("say when they leave the filter, and one that was changed meanwhile is left alone", async () => {
    const name = await works("leaves", { fixedFilter: "hours > 3" });
    const { etag } = await running.client.recordToEdit(name, "2");
    const left = await running.client.editRecord(name, "2", { hours: 1 }, { etag });
    expect(left).toMatchObject({ isIn: false, record: null });
    expect(await refusal(running.client.recordToEdit(name, "1"))).toMatchObject({ status: 404 });
    await owner.query(`UPDATE ${name} SET hours = 9, title = 'Weir' WHERE id = 2`);
    const again = running.client.editRecord(name, "2", { hours: 5 }, { etag });
    expect(await refusal(again)).toMatchObject({ status: 412 });
    expect(await rowOf(name, 2)).toMatchObject({ hours: 9 });
  });

  test("two edits of one state: one is made", async () => {
    const name = await works("contended");
    const { etag } = await running.client.recordToEdit(name, "1");
    const made = await Promise.allSettled(
      ["Sluice", "Culvert"].map((title) =>
        running.client.editRecord(name, "1", { title }, { etag }),
      ),
    );
    expect(made.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
  });

  test("an action changes all that the request keeps, once their number is known, or none", async () => {
    const name = await works("acted");
    const { client } = running;
    const tried = await client.act(name, "finish", { dryRun: true }, { state: "open" });
    expect(tried).toMatchObject({ records: 2, changed: 2, edit: null });
    const wrong = client.act(name, "finish", { expected: 1 }, { state: "open" });
    expect(await refusal(wrong)).toMatchObject({ status: 412 });
    const done = await client.act(name, "finish", { expected: 2 }, { state: "open" });
    expect(done).toMatchObject({ records: 2, changed: 2, left: 2 });
    // The column holds whole seconds, and now is cut to them; 3 was done already and has none.
    expect(await rowOf(name, 2)).toMatchObject({ state: "done", seen: "2025-03-01 12:00:00" });
    expect(await rowOf(name, 3)).toMatchObject({ state: "done", seen: null });
    await client.undoEdit(name, done.edit ?? 0);
    expect(await rowOf(name, 2)).toMatchObject({ state: "open", seen: null });
  });

  test("values that the table refuses or would change are refused, and nothing is changed", async () => {
    const name = await works("refusing");
    const before = await rowOf(name, 1);
    const refused = async (values: Record<string, string | number | null>) =>
      (await refusal(edit(name, "1", values)))?.detail;
    expect(await refused({ title: null })).toMatch(/must have a value.*Nothing was changed/);
    expect(await refused({ title: "A title that is far too long" })).toMatch(/longer than its/);
    expect(await refused({ cost: 1.239 })).toMatch(/cost would hold “1.24” in place of “1.239”/);
    expect(await refused({ cost: 12345678 })).toMatch(/beyond what its column holds/);
    expect(await refused({ state: "lost" })).toMatch(/none of those/);
    expect(await refused({ hours: 2, state: "Done" })).toMatch(/state would hold “done”/);
    expect(await refused({ seen: "2025-02-28T09:30:00.5" })).toMatch(/seen would hold/);
    expect(await rowOf(name, 1)).toEqual(before);
    expect(await running.client.edits(name)).toEqual([]);
  });

  test("are read-only unless the operator and the account allow it, and what stands in the way is said", async () => {
    const faultsOf = async (made: Promise<unknown>) =>
      (await refusal(made))?.faults.map(({ message }) => message).join("; ");
    expect(await faultsOf(works("only_read", {}, { database: "logbook" }))).toMatch(
      /logbook was attached for reading: .*--allow-writer/,
    );
    const { host, port } = engine.login;
    const other = await startTestService({ attachable: [{ host, port }] });
    await attach("ledger", "writer", other);
    const unlisted = works("unlisted", {}, { service: other });
    expect(await faultsOf(unlisted)).toMatch(/operator does not list .*ORISMA_EDITABLE_DATABASES/);
    await other.end();
    const detailOf = async (made: Promise<unknown>) => (await refusal(made))?.detail;
    expect(await detailOf(works("isam", {}, { engineName: "MyISAM" }))).toMatch(/engine MyISAM/);
    expect(await detailOf(works("worked_out", { editable: ["twice"] }))).toMatch(
      /twice cannot be edited/,
    );
    await attach("clerks", "clerk");
    expect(await detailOf(works("clerical", {}, { database: "clerks" }))).toMatch(
      /account may not change/,
    );
    await owner.query("CREATE VIEW seen AS SELECT * FROM only_read");
    await running.client.createSource({
      name: "seen",
      key: "id",
      attached: { database: "ledger", table: "seen" },
    });
    const view = { source: "seen", zone: "UTC", mainDate: "due", parameters: [] };
    const editable = running.client.declareListing("seen", { ...view, editable: ["title"] });
    expect(await detailOf(editable)).toMatch(/seen is a view/);
    expect(await rowOf("only_read", 1)).toMatchObject({ title: "Gate", hours: 3 });
  });

  test("an edit that was interrupted is kept where it took effect, and forgotten where it did not", async () => {
    const name = await works("interrupted");
    const own = await mysql.createConnection({ ...running.login });
    const pending = () => own.query("UPDATE edits SET isPending = 1 ORDER BY id DESC LIMIT 1");
    const first = await edit(name, "1", { title: "Sluice", hours: 8 });
    await pending();
    expect((await running.client.edits(name)).map(({ number }) => number)).toEqual([first.edit]);
    await running.client.undoEdit(name, first.edit ?? 0);
    const second = await edit(name, "1", { title: "Culvert" });
    await pending();
    await owner.query(`UPDATE ${name} SET title = 'Gate' WHERE id = 1`);
    // The next edit looks first.
    const third = await edit(name, "2", { title: "Culvert" });
    const numbers = (await running.client.edits(name)).map(({ number }) => number);
    expect(numbers).toContain(third.edit);
    expect(numbers).not.toContain(second.edit);
    await own.end();
  });
});
