import { connect as connectTcp, type Socket } from "node:net";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { until } from "../../../test/until.js";

const LIMIT = 6;
const ARRIVAL = { everyMs: 1_000, bytes: 64 };

let running: TestService;
beforeAll(async () => {
  running = await startTestService({
    settings: { connections: LIMIT },
    times: { arrival: ARRIVAL, headersMs: 200, idleMs: 200, checkEveryMs: 50 },
  });
});
afterAll(() => running.end());

/** A connection, and all that comes over it until it is closed. */
async function opened(): Promise<{ socket: Socket; ended: Promise<string> }> {
  const { port } = new URL(running.service.url);
  const socket = connectTcp(Number(port), "127.0.0.1");
  let text = "";
  socket.on("data", (piece) => (text += String(piece)));
  socket.on("error", () => undefined);
  const ended = new Promise<string>((resolve) => socket.once("close", () => resolve(text)));
  await new Promise((resolve) => socket.once("connect", resolve));
  return { socket, ended };
}

function head(method: string, path: string, length: number, type: string): string {
  return (
    `${method} ${path} HTTP/1.1\r\nHost: localhost\r\nAuthorization: Bearer ${running.service.key}\r\n` +
    `Content-Type: ${type}\r\nContent-Length: ${length}\r\n\r\n`
  );
}

const arriving = () => readdirSync(join(running.state, "arriving"));

describe("connections", () => {
  test("beyond the limit are closed and counted, and a place that is given back is taken", async () => {
    const held = await Promise.all(Array.from({ length: LIMIT }, opened));
    const beyond = await opened();
    expect(await beyond.ended).toBe("");
    for (const { socket } of held) socket.destroy();
    await Promise.all(held.map(({ ended }) => ended));
    const answer = await fetch(`${running.service.url}/metrics`, {
      headers: { Authorization: `Bearer ${running.service.key}` },
    });
    const text = await answer.text();
    expect(text).toContain("orisma_http_connections_dropped_total 1");
    expect(text).toMatch(/orisma_http_connections [1-6]\n/);
  });

  test("whose head does not arrive are ended", async () => {
    const { socket, ended } = await opened();
    socket.write("GET /health/live HTTP/1.1\r\nHost: loc");
    expect(await ended).toMatch(/^HTTP\/1\.1 408 /);
  });
});

describe("a body", () => {
  test.each([
    ["POST", "/v1/keys", "application/json", '{"name":"gauge'],
    ["POST", "/v1/sources/works/records", "text/csv", "order,raised\nW-01,2025-02-01\n"],
  ])("that stops arriving ends %s %s with 408", async (method, path, type, begun) => {
    if (path.includes("works")) {
      await running.client.createSource({ name: "works", key: "order" });
    }
    const { socket, ended } = await opened();
    socket.write(head(method, path, 10_000, type) + begun);
    const answer = await ended;
    expect(answer).toMatch(/^HTTP\/1\.1 408 /);
    expect(answer).toContain('"type":"/problems#request-timeout"');
    expect(answer).toContain("at least 64 bytes are expected within 1 s");
    // Nothing of it is left, and its source is free for the next.
    if (!path.includes("works")) return;
    await until(() => arriving().length === 0);
    const { records } = await running.client.importFile("works", `${begun}W-02,2025-02-02\n`);
    expect(records).toBe(2);
  });

  test("that comes in drops ends too, and one that comes slowly enough does not", async () => {
    const dripping = await opened();
    dripping.socket.write(head("POST", "/v1/keys", 10_000, "application/json"));
    const drip = setInterval(() => dripping.socket.write(" "), 100);
    expect(await dripping.ended).toMatch(/^HTTP\/1\.1 408 /);
    clearInterval(drip);

    const body = JSON.stringify({ name: "slow", role: "reader" }).padEnd(2_400);
    const slow = await opened();
    slow.socket.write(head("POST", "/v1/keys", body.length, "application/json"));
    for (let at = 0; at < body.length; at += 300) {
      await new Promise((resolve) => setTimeout(resolve, 300));
      slow.socket.write(body.slice(at, at + 300));
    }
    expect(await slow.ended).toMatch(/^HTTP\/1\.1 201 /);
    const keys = await running.client.keys();
    expect(keys.map(({ name }) => name)).toContain("slow");
  });
});
