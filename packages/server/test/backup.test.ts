import { createHash, randomBytes } from "node:crypto";
import { existsSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { buffer } from "node:stream/consumers";
import { gunzipSync, gzipSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import mysql from "mysql2/promise";
import { refusal } from "../../../test/refusal.js";
import { freshDatabase, startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";
import { until } from "../../../test/until.js";

const [LISTING = ""] = Object.keys(LISTINGS);
const KEY = { name: "site", role: "reader", listings: [LISTING] } as const;

let running: TestService;
beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

const backupOf = async ({ client }: TestService, secret = false) =>
  buffer((await client.backup({ secret })) as never);
const textOf = (backup: Buffer) => gunzipSync(backup).toString("latin1");

/** Starts an empty service, restores a backup into it, and starts it anew as its process would. */
async function restored(backup: Buffer, login = undefined as TestService["login"] | undefined) {
  const empty = await startTestService(login === undefined ? {} : { login });
  const answer = await empty.client
    .restore(new Uint8Array(backup))
    .catch(async (error: unknown) => {
      await empty.end();
      throw error;
    });
  await empty.service.close();
  const { login: same, state } = empty;
  return { answer, again: await startTestService({ login: same, state }) };
}

describe("a backup", () => {
  test("ends the places from which programs resume: what changed since it was made would be missed", async () => {
    const { client } = running;
    const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
    await client.createSource({ name: "resumed", key: "id", columns: { day } });
    const line = (id: string) => `id,day\n${id},2025-02-01\n`;
    await client.importFile("resumed", line("R-1"));
    await client.declareListing("resumed", { source: "resumed", mainDate: "day", resume: true });
    const backup = await backupOf(running, true);
    await client.importFile("resumed", line("R-2"), { mode: "update" });
    const { meta } = await client.records("resumed", { resume: "start" });
    const token = meta.resume?.token ?? "";
    const { again } = await restored(backup);
    try {
      // As many changes as the token has seen, of which it has seen none.
      for (const id of ["R-3", "R-4", "R-5"]) {
        await again.client.importFile("resumed", line(id), { mode: "update" });
      }
      expect(await refusal(again.client.records("resumed", { resume: token }))).toMatchObject({
        status: 422,
        faults: [{ code: "resume.ended", message: expect.stringContaining("restored") }],
      });
      const all = await again.client.records("resumed", { resume: "start" });
      expect(all.records.map(({ id }) => id)).toEqual(["R-1", "R-3", "R-4", "R-5"]);
    } finally {
      await again.end();
    }
    await client.deleteListing("resumed");
    await client.deleteSource("resumed");
  });

  test("is of one moment, while records are replaced all the time, and is restored whole", async () => {
    const { client, service } = running;
    const { key } = await client.createKey(KEY);
    const rows = (round: number) =>
      `id,day\n${Array.from({ length: 400 }, (_, index) => `R${round}-${index},2025-02-01`).join("\n")}\n`;
    const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
    await client.createSource({ name: "rounds", key: "id", columns: { day } });
    await client.importFile("rounds", rows(0));
    const done = new AbortController();
    let rounds = 0;
    const importing = (async () => {
      while (!done.signal.aborted) await client.importFile("rounds", rows(++rounds));
    })();
    const before = await client.records(LISTING, { size: "100" });
    const backups: Buffer[] = [];
    while (backups.length < 4 || rounds < 8) {
      const backup = await backupOf(running);
      if (backups.length < 4) backups.push(backup);
    }
    done.abort();
    await importing;
    for (const backup of backups) {
      const { answer, again } = await restored(backup);
      try {
        expect(answer).toMatchObject({ hasSecret: false });
        // The records, the columns and the number of them belong to one import.
        await again.client.declareListing("rounds", { source: "rounds", mainDate: "day" });
        const { meta, records } = await again.client.records("rounds", { size: "400" });
        expect(meta.total).toBe(400);
        const seen = new Set(records.map(({ id }) => String(id).split("-")[0]));
        expect(seen.size).toBe(1);
        const after = await again.client.records(LISTING, { size: "100" });
        expect(after.records).toEqual(before.records);
        expect(after.meta.sentence).toBe(before.meta.sentence);
        const site = new OrismaClient({ url: again.service.url, key });
        expect((await site.listings()).map(({ name }) => name)).toEqual([LISTING]);
      } finally {
        await again.end();
      }
    }
    await client.deleteSource("rounds");
    // What was replaced meanwhile is dropped when the backup is whole.
    const connection = await mysql.createConnection({ ...running.login });
    const [tables] = await connection.query("SHOW TABLES LIKE 'records\\_%'");
    await connection.end();
    expect(tables).toHaveLength((await client.sources()).length);
    expect(textOf(backups[0] ?? Buffer.alloc(0))).not.toContain(service.key);
  });

  test("whose reader goes away holds up nothing, and there is one at a time", async () => {
    const { client, service } = running;
    await client.createSource({ name: "wide", key: "id" });
    const note = randomBytes(3_000).toString("hex");
    const lines = Array.from({ length: 3_000 }, (_, index) => `N-${index},${note}${index}`);
    await client.importFile("wide", `id,note\n${lines.join("\n")}\n`);
    const headers = { Authorization: `Bearer ${service.key}` };
    const leaving = new AbortController();
    const first = await fetch(`${service.url}/v1/backup`, { headers, signal: leaving.signal });
    expect(first.status).toBe(200);
    expect((await refusal(client.backup()))?.status).toBe(409);
    leaving.abort();
    await until(async () => {
      const answer = await fetch(`${service.url}/v1/backup`, { headers });
      await answer.arrayBuffer();
      return answer.status === 200;
    });
    await client.deleteSource("wide");
  });

  test("holds the secret only where that is requested", async () => {
    const secret = readFileSync(join(running.state, "secret"), "utf8").trim();
    expect(textOf(await backupOf(running))).not.toContain(secret);
    const backup = await backupOf(running, true);
    expect(textOf(backup)).toContain(secret);
    const { links } = await running.client.records(LISTING, { size: "2" });
    const { answer, again } = await restored(backup);
    expect(answer.hasSecret).toBe(true);
    expect(readFileSync(join(again.state, "secret"), "utf8").trim()).toBe(secret);
    expect(existsSync(join(again.state, "restoring"))).toBe(false);
    expect(links.next).toBeDefined();
    await again.end();
  });

  test("is refused where it is cut, changed, of a later version, or no backup, and nothing is lost", async () => {
    const backup = await backupOf(running);
    const sql = gunzipSync(backup);
    const changed = Buffer.from(sql);
    changed[Math.floor(sql.length / 2)] = (changed[Math.floor(sql.length / 2)] ?? 0) ^ 1;
    const [first = "", ...rest] = sql.toString("latin1").split("\n");
    const later = signed([
      first.replace('"migrations":[', '"migrations":["Later1999999999999",'),
      ...rest,
    ]);
    const empty = await startTestService();
    for (const [file, words] of [
      [backup.subarray(0, backup.length - 200), "not whole"],
      [gzipSync(sql.subarray(0, sql.length - 300)), "not whole"],
      [gzipSync(changed), "does not match its check sum"],
      [later, "made by a later version of Orisma (Later1999999999999)"],
      [gzipSync("order,raised\n"), "no backup"],
      [Buffer.from("order,raised\n"), "no backup"],
    ] as const) {
      const problem = await refusal(empty.client.restore(new Uint8Array(file)));
      expect([problem?.status, problem?.detail]).toEqual([422, expect.stringContaining(words)]);
    }
    expect(readdirSync(join(empty.state, "arriving"))).toEqual([]);
    expect(await empty.client.sources()).toEqual([]);
    await empty.end();
    const full = await refusal(running.client.restore(new Uint8Array(backup)));
    expect([full?.status, full?.type]).toEqual([409, "/problems#already-there"]);
    expect(full?.detail).toContain("npm start -- --empty");
  });

  test("runs no command of the program that loads it", async () => {
    const mark = join(running.state, "ran");
    const lines = gunzipSync(await backupOf(running))
      .toString("latin1")
      .split("\n");
    const evil = signed([lines[0] ?? "", `\\! touch ${mark}`, ...lines.slice(1)]);
    const empty = await startTestService();
    const problem = await refusal(empty.client.restore(new Uint8Array(evil)));
    expect(problem?.status).toBe(422);
    expect(problem?.detail).toContain("delete its state folder, and restore into another");
    expect(existsSync(mark)).toBe(false);
    await empty.service.close();
    const { login, state } = empty;
    await expect(startTestService({ login, state })).rejects.toThrow("not restored whole");
  });
});

/** Lines as a backup, with the check sum that belongs to them. */
function signed(lines: readonly string[]): Buffer {
  const body = Buffer.from(`${lines.slice(0, -2).join("\n")}\n`, "latin1");
  const sum = { sha256: createHash("sha256").update(body).digest("hex"), bytes: body.length };
  return gzipSync(Buffer.concat([body, Buffer.from(`-- ${JSON.stringify(sum)}\n`)]));
}

describe("an upgrade", () => {
  const FIXTURE = join(import.meta.dirname, "fixtures/state-of-2026-11.gz");

  test("serves what an earlier version kept, as that served it", async () => {
    const { again } = await restored(readFileSync(FIXTURE));
    try {
      const listings = await again.client.listings();
      expect(listings.map(({ name }) => name)).toEqual(Object.keys(LISTINGS).sort());
      const { records, meta } = await again.client.records(LISTING, {
        from: "2025-02-01",
        to: "2025-02-28",
      });
      const now = await running.client.records(LISTING, { from: "2025-02-01", to: "2025-02-28" });
      expect([records, meta.sentence]).toEqual([now.records, now.meta.sentence]);
      expect(records.length).toBeGreaterThan(2);
      expect((await again.client.keys()).map(({ name }) => name)).toContain("site");
      expect((await again.client.namedWindows()).map(({ name }) => name)).toContain(
        "dredging-season",
      );
    } finally {
      await again.end();
    }
  });

  test("is never backward: tables of a later version are refused, and not touched", async () => {
    const login = await freshDatabase();
    const first = await startTestService({ login });
    await first.service.close();
    const connection = await mysql.createConnection({ ...login });
    await connection.query(
      "INSERT INTO migrations (timestamp, name) VALUES (1999999999999, 'Later1999999999999')",
    );
    await expect(startTestService({ login, state: first.state })).rejects.toThrow(
      "the database was used by a later version of Orisma (Later1999999999999): start that version",
    );
    await connection.query("DELETE FROM migrations WHERE name = 'Later1999999999999'");
    await connection.end();
    const again = await startTestService({ login, state: first.state });
    await again.end();
  });

  test("is not begun on a folder into which a backup was not restored whole", async () => {
    const first = await startTestService();
    await first.service.close();
    writeFileSync(join(first.state, "restoring"), "");
    await expect(startTestService({ login: first.login, state: first.state })).rejects.toThrow(
      "a backup was not restored whole",
    );
  });
});

describe("the doctor", () => {
  test("finds nothing wrong with a fresh installation, and says what is wrong with another", async () => {
    const findings = await running.client.doctor();
    const whats = findings.filter(({ level }) => level === "ok").map(({ what }) => what);
    expect(whats.join("\n")).toMatch(/The database orisma_\w+ answers/);
    expect(whats.join("\n")).toContain("of memory for them");
    expect(findings.filter(({ level }) => level === "problem")).toEqual([]);

    let now = Date.now();
    const ill = await startTestService({
      now: () => now,
      settings: { host: "0.0.0.0", connections: 900_000 },
    });
    const soon = new Date(now + 60_000).toISOString();
    await ill.client.createKey({ name: "visitor", role: "reader", expiresAt: soon });
    await ill.client.createKey({ name: "forgotten", role: "reader" });
    now += 100 * 86_400_000;
    const worst = await ill.client.doctor();
    const found = worst
      .map(({ level, what, advice }) => `${level} ${what} ${advice ?? ""}`)
      .join("\n");
    for (const words of [
      "(visitor) has expired",
      "(forgotten) was not used for 90 days",
      "listens on 0.0.0.0 without TLS",
      "ORISMA_CONNECTIONS is 900000",
    ]) {
      expect(found).toContain(words);
    }
    // A hundred days, and what has passed since the clock of the test was read.
    expect(found).toMatch(
      /clocks of the service and its database are 86(?:40\d{3}|39\d{3}) s apart/,
    );
    expect(worst[0]?.level).not.toBe("ok");
    await ill.end();
  });

  test("is for owners only", async () => {
    const { key } = await running.client.createKey({ name: "author", role: "author" });
    const author = new OrismaClient({ url: running.service.url, key });
    const calls = [author.doctor(), author.backup(), author.restore(Buffer.from("x"))];
    const refusals = await Promise.all(calls.map(refusal));
    expect(refusals.map((each) => each?.status)).toEqual([403, 403, 403]);
  });
});
