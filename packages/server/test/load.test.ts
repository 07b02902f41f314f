import { connect, type Socket } from "node:net";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import mysql from "mysql2/promise";
import { poolLimits } from "../src/admission/index.js";
import { startTestService, type TestService } from "../../../test/service.js";

const ROWS = 60_000;
const FILE = `order,raised,note\n${Array.from(
  { length: ROWS },
  (_, index) =>
    `W-${index},2025-02-${String(1 + (index % 28)).padStart(2, "0")},${"n".repeat(200)}`,
).join("\n")}\n`;
const DATE = { type: "date", reading: { kind: "date", encoding: "text" } } as const;

let running: TestService;
beforeAll(async () => {
  const limits = poolLimits(2);
  running = await startTestService({
    // One export at a time, which the others wait for as long as a test lasts.
    limits: { ...limits, export: { ...limits.export, running: 1, waitMs: 60_000 } },
  });
  await running.client.createSource({ name: "works", key: "order", columns: { raised: DATE } });
  await running.client.importFile("works", FILE);
  await running.client.declareListing("works", { source: "works", mainDate: "raised" });
});
afterAll(() => running.end());

/** A client that asks for an export and reads none of it. */
async function hung(): Promise<{ readonly socket: Socket; readonly closed: Promise<void> }> {
  const { hostname, port } = new URL(running.service.url);
  const socket = connect({ host: hostname, port: Number(port) });
  await new Promise((resolve) => socket.once("connect", resolve));
  socket.on("error", () => undefined);
  socket.write(
    `GET /v1/listings/works/records.csv HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\n` +
      `Authorization: Bearer ${running.service.key}\r\n\r\n`,
  );
  await new Promise((resolve) => socket.once("readable", resolve));
  // What came is left where it is: from now on the answer stands still.
  return { socket, closed: new Promise((resolve) => socket.once("close", () => resolve())) };
}

const exported = () =>
  fetch(`${running.service.url}/v1/listings/works/records.csv`, {
    headers: { Authorization: `Bearer ${running.service.key}` },
  });

describe("exports", () => {
  test("that nobody reads give their place back, and those that are read go on", async () => {
    const { socket } = await hung();
    // It waits for the place that the other holds, until that is ended.
    const next = await exported();
    expect(next.status).toBe(200);
    expect((await next.text()).trim().split("\n")).toHaveLength(ROWS + 1);
    socket.destroy();
  });

  test("that are read slowly, but are read, are whole", async () => {
    const answer = await exported();
    let bytes = 0;
    let pauses = 0;
    for await (const piece of answer.body ?? []) {
      bytes += (piece as Uint8Array).length;
      // Twenty seconds of pauses in all, none as long as the limit.
      if (pauses < 4) {
        pauses++;
        await new Promise((resolve) => setTimeout(resolve, 5_000));
      }
    }
    expect(bytes).toBeGreaterThan(ROWS * 200);
  });

  test("hold up no page, and beyond its share a key is refused with 429 and when to try again", async () => {
    const { socket } = await hung();
    const page = await running.client.records("works", { size: "1" });
    expect(page.records).toHaveLength(1);
    const leaving = new AbortController();
    const waiting = Array.from({ length: 6 }, () =>
      fetch(`${running.service.url}/v1/listings/works/records.csv`, {
        headers: { Authorization: `Bearer ${running.service.key}` },
        signal: leaving.signal,
      }).catch(() => null),
    );
    let refused: Response | null = null;
    for (let tries = 0; tries < 100 && refused === null; tries++) {
      const more = new AbortController();
      const answer = await Promise.race([
        fetch(`${running.service.url}/v1/listings/works/records.csv`, {
          headers: { Authorization: `Bearer ${running.service.key}` },
          signal: more.signal,
        }).catch(() => null),
        new Promise<null>((resolve) => setTimeout(() => resolve(null), 200)),
      ]);
      if (answer?.status === 429) refused = answer;
      else more.abort();
    }
    expect(refused?.status).toBe(429);
    expect(Number(refused?.headers.get("Retry-After"))).toBeGreaterThan(0);
    leaving.abort();
    await Promise.all(waiting);
    socket.destroy();
    // Those that gave up wait no longer: an export is served again.
    let last = await exported();
    for (let tries = 0; tries < 50 && last.status === 429; tries++) {
      await last.text();
      last = await exported();
    }
    expect(last.status).toBe(200);
    await last.text();
  });
});

describe("pages, while no more can wait", () => {
  test("are turned away before their key is looked at; everything else is answered", async () => {
    const limits = poolLimits(2);
    const small = await startTestService({
      limits: { ...limits, page: { ...limits.page, running: 1, waiting: 1 } },
    });
    try {
      await small.client.createSource({ name: "works", key: "order", columns: { raised: DATE } });
      await small.client.importFile("works", "order,raised\nW-1,2025-02-01\nW-2,2025-03-01\n");
      await small.client.declareListing("works", { source: "works", mainDate: "raised" });
      const ask = (path: string, headers: Record<string, string> = {}) =>
        fetch(`${small.service.url}/v1/listings/works/${path}`, {
          headers: { Authorization: `Bearer ${small.service.key}`, ...headers },
        });
      const lock = await mysql.createConnection({ ...small.login });
      const [tables] = await lock.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records\\_%'");
      await lock.query(`LOCK TABLES ${String(Object.values(tables[0] ?? {})[0])} WRITE`);
      const held = [ask("records"), ask("records")];
      let turnedAway = await ask("records?size=1");
      for (let tries = 0; tries < 50 && turnedAway.status !== 503; tries++) {
        turnedAway = await ask("records?size=1");
      }
      expect(turnedAway.status).toBe(503);
      expect(Number(turnedAway.headers.get("Retry-After"))).toBeGreaterThan(0);
      expect(turnedAway.headers.get("Content-Type")).toContain("application/problem+json");
      expect(await turnedAway.json()).toMatchObject({ type: "/problems#overloaded" });
      expect((await ask("records/W-1", { Authorization: "Bearer nobody" })).status).toBe(503);
      // Neither a page nor a record: it has no part in what is crowded.
      expect((await ask("nothing")).status).toBe(404);
      expect((await ask("records/W-1/none", { Authorization: "Bearer nobody" })).status).toBe(401);
      expect((await small.client.listing("works")).source).toBe("works");
      await lock.query("UNLOCK TABLES");
      await lock.end();
      const answers = await Promise.all(held);
      expect(answers.map(({ status }) => status)).toEqual([200, 200]);
      expect((await small.client.records("works", { size: "5" })).records).toHaveLength(2);
      expect((await ask("records", { Authorization: "Bearer nobody" })).status).toBe(401);
    } finally {
      await small.end();
    }
  });
});
