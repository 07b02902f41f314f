import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { NewListing } from "@orisma/client";
import { startEngine, type Engine } from "@orisma/server";
import mysql from "mysql2/promise";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const PASSWORD = "lock and quay, 4 paces";
const DATABASE = "orisma_logbook";
/** The service's clock; that of the database is later. */
const NOW = Date.parse("2025-03-01T12:00:00Z");

let engine: Engine;
let running: TestService;
let owner: mysql.Connection;
let scratch: string;
let now = NOW;

beforeAll(async () => {
  scratch = mkdtempSync(join(tmpdir(), "orisma-logbook-"));
  chmodSync(scratch, 0o711);
  engine = await startEngine({
    folder: join(scratch, "database"),
    durable: false,
    tell: () => undefined,
    onCrash: (report) => process.stderr.write(report),
    accounts: [{ user: "reader", password: PASSWORD, rights: "SELECT" }],
  });
  owner = await mysql.createConnection({ ...engine.login, timezone: "Z" });
  await owner.query(`CREATE DATABASE ${DATABASE}`);
  await owner.query(`USE ${DATABASE}`);
  const { host, port } = engine.login;
  running = await startTestService({ attachable: [{ host, port }], now: () => now });
  await running.client.attachDatabase("logbook", {
    host,
    port,
    database: DATABASE,
    user: "reader",
    password: PASSWORD,
  });
});
afterAll(async () => {
  await owner.end();
  await running.end();
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
});

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
    await running.client.createSource({ name: "own" });
    await running.client.importFile("own", "id,changed_at\n1,2025-03-01T11:00:00Z\n");
    expect(await faultsOf(BY_TIME, "own")).toEqual(
      expect.arrayContaining([expect.stringMatching(/^resume: .*write true/)]),
    );
  });
});
