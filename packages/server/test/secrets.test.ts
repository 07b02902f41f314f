import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { request as httpRequest } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { SecretError, StateFolder } from "../src/settings/index.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";
import { until } from "../../../test/until.js";

const scratch = mkdtempSync(join(tmpdir(), "orisma-secrets-"));
// The database may run as another user, who must be able to pass through.
chmodSync(scratch, 0o711);
let running: TestService;
beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(async () => {
  await running.end();
  rmSync(scratch, { recursive: true, force: true });
});

const clientWith = (key: string) => new OrismaClient({ url: running.service.url, key });
const [LISTING = ""] = Object.keys(LISTINGS);

describe("the secret of a state folder", () => {
  test("that is empty, short or lost is refused, with what to do", () => {
    const folder = new StateFolder(join(scratch, "secret"));
    const path = join(folder.path, "secret");
    const first = folder.secret();
    expect([first.length, folder.secret()]).toEqual([32, first]);
    folder.keepOwnKey("orisma_example");
    for (const text of ["", "\n", "c0ffee", "x".repeat(64), `${"a".repeat(63)}\n`]) {
      writeFileSync(path, text);
      expect(() => folder.secret()).toThrow(SecretError);
      expect(() => folder.secret()).toThrow("does not hold 32 bytes in hexadecimal. Restore it");
    }
    rmSync(path);
    expect(() => folder.secret()).toThrow(`${path} is missing. Restore it from a backup; or start`);
    expect(existsSync(path)).toBe(false);
    expect(folder.newSecret()).not.toEqual(first);
    expect(folder.secret()).toHaveLength(32);
  });

  test("is replaced without losing the accounts of attached databases; cursors end, keys stay", async () => {
    const password = "lock and quay";
    const engine = await startEngine({
      folder: join(scratch, "database"),
      durable: false,
      tell: () => undefined,
      onCrash: () => undefined,
      accounts: [{ user: "reader", password, rights: "SELECT" }],
    });
    const { port } = engine.login;
    const place = { host: "127.0.0.1", port };
    const first = await startTestService({ attachable: [place] });
    await importWorks(first.client);
    await first.client.attachDatabase("levels", {
      ...place,
      database: "orisma",
      user: "reader",
      password,
    });
    const { links } = await first.client.records(LISTING, { size: "2" });
    const { key } = await first.client.createKey({ name: "site", role: "reader" });
    await first.service.close();
    const { login, state } = first;
    const second = await startTestService({ login, state, attachable: [place], newSecret: true });
    try {
      expect(await second.client.tables("levels")).toEqual([]);
      expect(existsSync(join(state, "secret.before"))).toBe(false);
      expect((await refusal(second.client.follow(links.next ?? "")))?.status).toBe(422);
      const site = new OrismaClient({ url: second.service.url, key });
      expect((await site.records(LISTING, { size: "2" })).records).toHaveLength(2);
    } finally {
      await second.end();
      await engine.stop();
    }
  });
});

describe("keys", () => {
  test("are only for listings that there are", async () => {
    const wrong = { name: "site", role: "reader", listings: [LISTING, "works-rised"] } as const;
    expect(await refusal(running.client.createKey(wrong))).toMatchObject({
      status: 422,
      faults: [{ path: "listings.1", nearest: ["works-raised"] }],
    });
  });

  test("are rotated at once, or with an overlap", async () => {
    const { id, key } = await running.client.createKey({
      name: "site",
      role: "reader",
      listings: [LISTING],
    });
    const second = await running.client.rotateKey(id, 60);
    expect(second).toMatchObject({ name: "site", role: "reader", listings: [LISTING] });
    for (const each of [key, second.key]) {
      expect((await clientWith(each).listings()).map(({ name }) => name)).toEqual([LISTING]);
    }
    const before = (await running.client.keys()).find((each) => each.id === id);
    const ends = Date.parse(before?.expiresAt ?? "");
    expect(ends).toBeGreaterThan(Date.now());
    expect(ends).toBeLessThanOrEqual(Date.now() + 3_600_000);
    const third = await running.client.rotateKey(second.id);
    expect((await refusal(clientWith(second.key).listings()))?.status).toBe(401);
    expect(await clientWith(third.key).listings()).toHaveLength(1);
    expect((await refusal(running.client.rotateKey(9_999)))?.status).toBe(404);
    expect((await refusal(running.client.rotateKey(third.id, 43_201)))?.status).toBe(422);
  });
});

describe("wrong sign-in codes", () => {
  const signIn = (url: string, code: string, headers: Record<string, string> = {}) =>
    fetch(`${url}/v1/session`, {
      method: "POST",
      headers: { "Content-Type": "application/json", ...headers },
      body: JSON.stringify({ code }),
    });
  const markOf = (answer: Response) =>
    answer.headers.getSetCookie().find((each) => each.startsWith("orisma_browser_")) ?? "";

  test("of others do not lock out a browser that signed in once, and no forged mark helps", async () => {
    const { url } = running.service;
    const [known = ""] = markOf(await signIn(url, running.service.createCode())).split(";");
    const wrong = async (headers: Record<string, string> = {}) => {
      const { status } = await signIn(url, "AAAA-AAAA-AAAA-AAAA", headers);
      return status;
    };
    for (let count = 0; count < 10; count++) expect(await wrong()).toBe(403);
    expect(await wrong()).toBe(429);
    expect((await signIn(url, running.service.createCode())).status).toBe(429);
    const forged = known.replace(/=.*/, "=another.proof");
    expect((await signIn(url, running.service.createCode(), { Cookie: forged })).status).toBe(429);
    const again = await signIn(url, running.service.createCode(), { Cookie: known });
    expect(again.status).toBe(201);
    for (let count = 0; count < 10; count++) expect(await wrong({ Cookie: known })).toBe(403);
    expect(await wrong({ Cookie: known })).toBe(429);
  });

  test("are counted by address, which only a trusted proxy may name", async () => {
    for (const trustedProxies of [[], ["127.0.0.0/8"]]) {
      const own = await startTestService({ settings: { trustedProxies } });
      const from = async (address: string) =>
        (await signIn(own.service.url, "AAAA", { "X-Forwarded-For": address })).status;
      for (let count = 0; count < 10; count++) expect(await from("192.0.2.7")).toBe(403);
      expect(await from("192.0.2.7")).toBe(429);
      expect(await from("192.0.2.8")).toBe(trustedProxies.length === 0 ? 429 : 403);
      await own.end();
    }
  });
});

describe("behind a proxy", () => {
  test("the service answers under its public name, with cookies for TLS only", async () => {
    const own = await startTestService({ settings: { baseUrl: "https://records.example" } });
    const { port } = new URL(own.service.url);
    const statusFor = (host: string) =>
      new Promise((resolve, reject) => {
        httpRequest(
          { host: "127.0.0.1", port, path: "/health/live", headers: { host } },
          (answer) => {
            answer.resume();
            resolve(answer.statusCode);
          },
        )
          .on("error", reject)
          .end();
      });
    expect(await statusFor("records.example")).toBe(200);
    expect(await statusFor("other.example")).toBe(421);
    const answer = await signInAt(own);
    for (const cookie of answer.headers.getSetCookie()) expect(cookie).toContain("; Secure");
    // The session, the mark of the browser, and that it has a session.
    expect(answer.headers.getSetCookie()).toHaveLength(3);
    await own.end();
  });

  const signInAt = ({ service }: TestService) =>
    fetch(`${service.url}/v1/session`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ code: service.createCode() }),
    });
});

describe("the log", () => {
  test("has no statement and no value of one, even where it failed", async () => {
    const connection = await mysql.createConnection({ ...running.login });
    await connection.query("RENAME TABLE access_keys TO kept_keys");
    try {
      const name = "the toll-keeper's own";
      const failing = running.client.createKey({ name, role: "reader" });
      expect((await refusal(failing))?.status).toBe(500);
      const path = join(running.state, "logs", "service.log");
      const isThere = () => readFileSync(path, "utf8").includes("ER_NO_SUCH_TABLE");
      await until(isThere);
      const log = readFileSync(path, "utf8");
      expect(log).toContain("ER_NO_SUCH_TABLE");
      expect(log).not.toContain("toll-keeper");
      expect(log).not.toMatch(/INSERT INTO|SELECT /);
    } finally {
      await connection.query("RENAME TABLE kept_keys TO access_keys");
      await connection.end();
    }
  });
});

describe("a file for a spreadsheet", () => {
  test("has no heading and no cell that would be taken for a formula", async () => {
    const { client, service } = running;
    await client.createSource({ name: "notes", key: "id" });
    await client.importFile(
      "notes",
      'id,day,note\nN-1,2025-02-01,"=HYPERLINK(""x"")"\nN-2,2025-02-02,plain\n',
    );
    const DAY = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
    await client.setReadings("notes", { day: DAY });
    await client.declareListing("notes", {
      source: "notes",
      mainDate: "day",
      labels: { note: "=Note" },
    });
    const csv = async (query: string) => {
      const headers = { Authorization: `Bearer ${service.key}` };
      const answer = await fetch(`${service.url}/v1/listings/notes/records.csv${query}`, {
        headers,
      });
      return (await answer.text()).trim().split(/\r?\n/);
    };
    expect(await csv("?with=escaped&order=day")).toEqual([
      "id,day,'=Note",
      'N-1,2025-02-01,"\'=HYPERLINK(""x"")"',
      "N-2,2025-02-02,plain",
    ]);
    expect((await csv("?order=day"))[0]).toBe("id,day,=Note");
  });
});
