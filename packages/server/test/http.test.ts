import { request as httpRequest } from "node:http";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, OrismaError } from "@orisma/client";
import { traceOf } from "../src/http/log.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";
import { until } from "../../../test/until.js";

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

type Init = Omit<RequestInit, "headers"> & { readonly headers?: Record<string, string> };

function call(path: string, init: Init = {}): Promise<Response> {
  const headers = { Authorization: `Bearer ${running.service.key}`, ...init.headers };
  return fetch(`${running.service.url}${path}`, { ...init, headers });
}

async function statusOf(work: Promise<unknown>): Promise<number> {
  return work.then(
    () => 200,
    (error: unknown) => (error instanceof OrismaError ? error.status : -1),
  );
}

function clientWith(key: string): OrismaClient {
  return new OrismaClient({ url: running.service.url, key });
}

describe("answers", () => {
  const RECORDS = "/v1/listings/works-raised/records?from=2025-02";

  test("have an ETag that stays while the answer does, though the time of reading moves", async () => {
    const [first, second] = [await call(RECORDS), await call(RECORDS)];
    const etag = first.headers.get("etag") ?? "";
    expect(etag).toMatch(/^W\/"[\w-]+"$/);
    expect(second.headers.get("etag")).toBe(etag);
    expect(first.headers.get("cache-control")).toBe("private, no-cache");
    const again = await call(RECORDS, { headers: { "If-None-Match": etag } });
    expect([again.status, await again.text()]).toEqual([304, ""]);
    expect((await call(`${RECORDS}&size=2`)).headers.get("etag")).not.toBe(etag);
  });

  test("link to the pages beside them", async () => {
    const link = (await call("/v1/listings/works-raised/records")).headers.get("link");
    expect(link).toMatch(/^<[^>]+>; rel="first", <[^>]+cursor=[\w-]+>; rel="next"$/);
  });

  test("are problem documents when they fail, with the id of the request", async () => {
    const response = await call("/v1/listings/works-raised/records?from=abc");
    expect(response.headers.get("content-type")).toBe("application/problem+json; charset=utf-8");
    const id = response.headers.get("x-request-id") ?? "";
    expect(await response.json()).toMatchObject({ status: 422, instance: `urn:uuid:${id}` });
  });

  test("distinguish what is not there, not readable, and too large", async () => {
    expect((await call("/v1/nothing")).status).toBe(404);
    const nowhere = async (accept: string) => {
      const { status, headers } = await call("/nothing/here", { headers: { accept } });
      return [status, headers.get("content-type")?.split(";")[0]];
    };
    // A browser gets the console's page, which leads on.
    expect(await nowhere("text/html,*/*;q=0.8")).toEqual([404, "text/html"]);
    expect(await nowhere("*/*")).toEqual([404, "application/problem+json"]);
    expect(
      (
        await call("/v1/listings/x", {
          method: "PUT",
          body: "{",
          headers: { "Content-Type": "application/json" },
        })
      ).status,
    ).toBe(400);
    const large = JSON.stringify({ title: "x".repeat(2_000_000) });
    expect(
      (
        await call("/v1/listings/x", {
          method: "PUT",
          body: large,
          headers: { "Content-Type": "application/json" },
        })
      ).status,
    ).toBe(413);
    expect((await call("/v1/listings/%E0%A4%A", {})).status).toBe(400);
  });

  test("health and the page of problems are open", async () => {
    for (const path of ["/health/live", "/health/ready", "/problems"]) {
      expect((await fetch(`${running.service.url}${path}`)).status).toBe(200);
    }
  });

  test("hostile values of every parameter are 4xx or harmless, never a fault of the service", async () => {
    const values = [
      "'",
      '"',
      "`",
      "\\",
      "--",
      "/*",
      "\0",
      "%",
      "_",
      "🎉",
      "NaN",
      "-1",
      "1e309",
      "__proto__",
      "constructor",
      "[]",
      "{}",
      "<script>",
      "../../etc",
      "2025-01-01'--",
      "9".repeat(3_000),
    ];
    const names = [
      "from",
      "to",
      "from.blank",
      "order",
      "cursor",
      "size",
      "count",
      "with",
      "__proto__",
      "toString",
      "from[]",
    ];
    const counts = { refused: 0, served: 0 };
    for (const name of names) {
      for (const value of values) {
        const query = new URLSearchParams([[name, value]]).toString();
        const { status } = await call(`/v1/listings/works-raised/records?${query}`);
        expect([200, 422]).toContain(status);
        counts[status === 422 ? "refused" : "served"]++;
      }
    }
    expect(counts.refused).toBe(names.length * values.length);
    expect((await call("/v1/listings/works-raised/records")).status).toBe(200);
  });
});

describe("keys", () => {
  test("none, a wrong one and a revoked one are refused", async () => {
    expect(await statusOf(new OrismaClient({ url: running.service.url }).listings())).toBe(401);
    expect(await statusOf(clientWith("orisma_wrong").listings())).toBe(401);
    const created = await running.client.createKey({ name: "passing", role: "reader" });
    expect(await statusOf(clientWith(created.key).listings())).toBe(200);
    await running.client.revokeKey(created.id);
    expect(await statusOf(clientWith(created.key).listings())).toBe(401);
    expect(await statusOf(running.client.revokeKey(created.id))).toBe(404);
  });

  test("expire when they were set to, and say when they were last used", async () => {
    const soon = new Date(Date.now() + 1_500).toISOString();
    const { key, id, expiresAt } = await running.client.createKey({
      name: "visiting",
      role: "reader",
      expiresAt: soon,
    });
    const listed = async () => (await running.client.keys()).find((each) => each.id === id);
    expect(expiresAt).toBe(soon);
    expect((await listed())?.lastUsedAt).toBeNull();
    const begun = Date.now();
    expect(await statusOf(clientWith(key).listings())).toBe(200);
    expect(Date.parse((await listed())?.lastUsedAt ?? "")).toBeGreaterThanOrEqual(begun);
    await sleep(Date.parse(soon) - Date.now() + 20);
    expect(await statusOf(clientWith(key).listings())).toBe(401);
    const past = { name: "past", role: "reader", expiresAt: "2020-01-01T00:00:00Z" } as const;
    expect(await statusOf(running.client.createKey(past))).toBe(422);
    await running.client.revokeKey(id);
  });

  test("begin sessions of their own, which may what the key may and end with it", async () => {
    const created = await running.client.createKey({
      name: "desk",
      role: "reader",
      listings: ["works-raised"],
    });
    const signIn = await call("/v1/session", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ code: created.key }),
    });
    expect(signIn.status).toBe(201);
    expect(await signIn.json()).toMatchObject({ role: "reader" });
    const [cookie = ""] = (signIn.headers.get("set-cookie") ?? "").split(";");
    const asDesk = (path: string) =>
      fetch(`${running.service.url}${path}`, { headers: { cookie } });
    const session = (await (await asDesk("/v1/session")).json()) as { key: { name: string } };
    expect(session.key).toMatchObject({ name: "desk", listings: ["works-raised"] });
    expect((await asDesk("/v1/listings/works-raised/records")).status).toBe(200);
    expect((await asDesk("/v1/listings/works-passed/records")).status).toBe(404);
    expect((await asDesk("/v1/keys")).status).toBe(403);
    await running.client.revokeKey(created.id);
    expect((await asDesk("/v1/listings/works-raised/records")).status).toBe(401);
  });

  test("a reader reads its listings and nothing else", async () => {
    const { key } = await running.client.createKey({
      name: "site",
      role: "reader",
      listings: ["works-raised"],
    });
    const reader = clientWith(key);
    expect((await reader.listings()).map(({ name }) => name)).toEqual(["works-raised"]);
    expect(await statusOf(reader.records("works-raised"))).toBe(200);
    expect(await statusOf(reader.records("works-passed"))).toBe(404);
    expect(await statusOf(reader.explain("works-raised"))).toBe(403);
    expect(await statusOf(reader.sources())).toBe(403);
    expect(await statusOf(reader.keys())).toBe(403);
    expect(await statusOf(reader.createSignInCode())).toBe(403);
  });

  test("an author declares listings, and brings no records", async () => {
    const { key } = await running.client.createKey({ name: "author", role: "author" });
    const author = clientWith(key);
    expect(await statusOf(author.explain("works-raised"))).toBe(200);
    expect(
      await statusOf(author.declareListing("made", { source: "works", mainDate: "raised" })),
    ).toBe(200);
    expect(await statusOf(author.importFile("works", "order\n1\n"))).toBe(403);
    await author.deleteListing("made");
    expect(await statusOf(author.records("made"))).toBe(404);
  });

  test("a key's cursor is of no use to another key", async () => {
    const { key } = await running.client.createKey({ name: "other", role: "reader" });
    const { links } = await running.client.records("works-raised");
    expect(await statusOf(clientWith(key).follow(links.next ?? ""))).toBe(422);
    expect(await statusOf(running.client.follow(links.next ?? ""))).toBe(200);
  });

  test("are listed without the key, and kept only as a hash", async () => {
    const keys = await running.client.keys();
    expect(keys.length).toBeGreaterThan(0);
    expect(JSON.stringify(keys)).not.toContain(running.service.key);
    expect(await statusOf(running.client.createKey({ name: "", role: "reader" }))).toBe(422);
    expect(
      await statusOf(
        running.client.createKey({ name: "x", role: "author", listings: ["works-raised"] }),
      ),
    ).toBe(422);
  });
});

describe("sessions", () => {
  const json = { "Content-Type": "application/json" };
  const open = (path: string, init: RequestInit = {}) =>
    fetch(`${running.service.url}${path}`, init);

  async function signIn(): Promise<{ cookie: string; csrf: string; header: string }> {
    const body = JSON.stringify({ code: running.service.createCode().toLowerCase() });
    const response = await open("/v1/session", { method: "POST", headers: json, body });
    const header = response.headers.get("set-cookie") ?? "";
    const { csrf } = (await response.json()) as { csrf: string };
    return { cookie: header.split(";", 1)[0] ?? "", csrf, header };
  }

  test("begin with a code that is good once, and live in a cookie that scripts cannot read", async () => {
    const code = running.service.createCode();
    const body = JSON.stringify({ code });
    const first = await open("/v1/session", { method: "POST", headers: json, body });
    expect(first.status).toBe(201);
    expect(first.headers.get("set-cookie")).toMatch(
      /^orisma_session_\d+=[\w-]{43}; .*HttpOnly; SameSite=Strict/,
    );
    const second = await open("/v1/session", { method: "POST", headers: json, body });
    expect(second.status).toBe(403);
  });

  test("write only with the session's token", async () => {
    const { cookie, csrf } = await signIn();
    const write = (headers: Record<string, string>) =>
      open("/v1/sign-in-codes", {
        method: "POST",
        headers: { ...json, Cookie: cookie, ...headers },
        body: "{}",
      });
    expect((await open("/v1/listings", { headers: { Cookie: cookie } })).status).toBe(200);
    expect((await write({})).status).toBe(403);
    expect((await write({ "X-CSRF-Token": "wrong" })).status).toBe(403);
    expect((await write({ "X-CSRF-Token": csrf })).status).toBe(201);
  });

  test("stop when requested", async () => {
    const { cookie, csrf } = await signIn();
    const headers = { Cookie: cookie, "X-CSRF-Token": csrf };
    expect((await open("/v1/session", { method: "DELETE", headers })).status).toBe(204);
    expect((await open("/v1/listings", { headers: { Cookie: cookie } })).status).toBe(401);
  });

  test("cannot be guessed at: wrong codes are counted", async () => {
    const statuses = new Set<number>();
    for (let count = 0; count < 12; count++) {
      const body = JSON.stringify({ code: `AAAA-AAAA-AA${count}` });
      statuses.add((await open("/v1/session", { method: "POST", headers: json, body })).status);
    }
    expect([...statuses]).toEqual([403, 429]);
  });
});

describe("the Host header", () => {
  const statusWith = (host: string) =>
    new Promise<number | undefined>((resolve, reject) => {
      const { port } = new URL(running.service.url);
      httpRequest(
        { host: "127.0.0.1", port, path: "/health/live", headers: { Host: host } },
        (response) => {
          response.resume();
          resolve(response.statusCode);
        },
      )
        .on("error", reject)
        .end();
    });

  test("names this service or is an address", async () => {
    expect(await statusWith("localhost:4410")).toBe(200);
    expect(await statusWith("127.0.0.1")).toBe(200);
    expect(await statusWith("[::1]:4410")).toBe(200);
    expect(await statusWith("brindle.example")).toBe(421);
    expect(await statusWith("localhost.brindle.example:4410")).toBe(421);
  });
});

describe("the log", () => {
  test("has a line a request with its id, and neither values nor keys", async () => {
    const response = await call("/v1/listings/works-raised/records?from=1987-06-05");
    const id = response.headers.get("x-request-id") ?? "none";
    await running.client.listings();
    const path = join(running.state, "logs", "service.log");
    const deadline = Date.now() + 20_000;
    // The log is written in blocks; more requests push this one out.
    while (!readFileSync(path, "utf8").includes(id) && Date.now() < deadline)
      await call("/health/live");
    const log = readFileSync(path, "utf8");
    expect(log).toContain(id);
    expect(log).not.toContain("1987-06-05");
    expect(log).not.toContain(running.service.key);
  });
});

describe("a request that is part of a trace", () => {
  test("has its trace, its parent and a span of its own in the log", async () => {
    const traceId = "4bf92f3577b34da6a3ce929d0e0e4736";
    const header = `00-${traceId}-00f067aa0ba902b7-01`;
    expect(traceOf(header)).toMatchObject({ traceId, parentId: "00f067aa0ba902b7" });
    expect(traceOf(`01-${traceId}-00f067aa0ba902b7-01-more`)).toMatchObject({ traceId });
    for (const wrong of [
      undefined,
      "",
      `ff-${traceId}-00f067aa0ba902b7-01`,
      `00-${"0".repeat(32)}-00f067aa0ba902b7-01`,
      `00-${traceId}-${"0".repeat(16)}-01`,
      `00-${traceId.toUpperCase()}-00f067aa0ba902b7-01`,
      `00-${traceId}-00f067aa0ba902b7`,
    ]) {
      expect(traceOf(wrong)).toBeNull();
    }
    await call("/health/live", { headers: { traceparent: header } });
    const path = join(running.state, "logs", "service.log");
    const line = () =>
      readFileSync(path, "utf8")
        .split("\n")
        .find((each) => each.includes(traceId));
    await until(() => line() !== undefined);
    const logged = JSON.parse(line() ?? "{}") as Record<string, string>;
    expect(logged).toMatchObject({ traceId, parentId: "00f067aa0ba902b7", path: "/health/live" });
    expect(logged.spanId).toMatch(/^[0-9a-f]{16}$/);
  });
});

describe("a document with very many faults", () => {
  test("has fifty of them listed and the others counted", async () => {
    const keys = Object.fromEntries(Array.from({ length: 200 }, (_, index) => [`key${index}`, 1]));
    const answer = await call("/v1/keys", {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ name: "x", role: "reader", ...keys }),
    });
    expect(answer.status).toBe(422);
    const { faults } = (await answer.json()) as { faults: readonly { message: string }[] };
    expect(faults).toHaveLength(51);
    expect(faults.at(-1)?.message).toContain("150 more are not listed");
  });
});
