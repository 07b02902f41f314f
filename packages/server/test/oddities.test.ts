import { createServer, type AddressInfo } from "node:net";
import { connect as connectTcp } from "node:net";
import { createServer as createMysqlServer } from "mysql2";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { connect } from "../src/attached/connection.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";

const [LISTING = ""] = Object.keys(LISTINGS);

let now = Date.UTC(2026, 10, 29, 12);
let running: TestService;
beforeAll(async () => {
  running = await startTestService({ now: () => now });
  await importWorks(running.client);
});
afterAll(() => running.end());

const send = (method: string, path: string, type: string, body: string | Buffer) =>
  fetch(`${running.service.url}${path}`, {
    method,
    headers: { Authorization: `Bearer ${running.service.key}`, "Content-Type": type },
    body: body as string,
  });

describe("a body of another media type", () => {
  test.each([
    ["POST", "/v1/keys", "text/plain", '{"name":"x","role":"reader"}'],
    ["POST", "/v1/keys", "application/yaml", "name: x"],
    [
      "POST",
      `/v1/listings/${LISTING}/records/query`,
      "application/x-www-form-urlencoded",
      "from=2025",
    ],
    ["PUT", "/v1/listings/odd", "text/csv", "source: works"],
    ["POST", "/v1/files/inspect", "multipart/form-data; boundary=x", "--x--"],
    ["PUT", "/v1/sources/works/records", "image/png", "x"],
    ["POST", "/v1/restore", "text/plain", "x"],
  ])("is refused with 415 and what is accepted: %s %s as %s", async (method, path, type, body) => {
    const answer = await send(method, path, type, body);
    const problem = (await answer.json()) as { type: string; detail: string };
    expect([answer.status, problem.type]).toEqual([415, "/problems#unsupported-media"]);
    expect(problem.detail).toMatch(/application\//);
  });

  test("is none of a call without a body", async () => {
    const answer = await send("DELETE", "/v1/windows/nobody-knows", "text/plain", "");
    expect(answer.status).toBe(404);
  });
});

describe("half of a surrogate pair", () => {
  test.each([
    ["POST", "/v1/keys", '{"name":"a\\ud800b","role":"reader"}'],
    ["PUT", "/v1/windows/odd", '{"label":"\\uDFFF","window":"today"}'],
    ["POST", `/v1/listings/${LISTING}/compare`, '{"left":{"from":"\\ud800"},"right":{}}'],
    ["PUT", "/v1/listings/odd", '{"source":"works","labels":{"\\ud83d":"x"}}'],
    [
      "POST",
      "/v1/dates/read",
      '{"values":["\\ud800"],"reading":{"kind":"date","encoding":"text"}}',
    ],
  ])("is refused in every body: %s %s", async (method, path, body) => {
    const answer = await send(method, path, "application/json", body);
    expect(answer.status).toBe(422);
    expect(await answer.text()).toContain("half of a surrogate pair");
  });

  test("is refused in YAML and in the record that has it; a whole pair is a character", async () => {
    const yaml = await send("PUT", "/v1/listings/odd", "application/yaml", 'source: "a\\ud800"');
    expect(yaml.status).toBe(422);
    const { client } = running;
    await client.createSource({ name: "odd", key: "id" });
    const file =
      '[{"id":"1","note":"a\\ud800b"},{"id":"2","note":"\\ud83d\\ude80"},{"id":"3","note":"c"}]';
    const report = await client.importFile("odd", file);
    expect(report).toMatchObject({ records: 2, refused: 1 });
    const refused = await client.refusedRows("odd", report.importNumber ?? 0);
    expect(JSON.stringify(refused)).toContain("half of a surrogate pair");
    const key = await send(
      "POST",
      "/v1/keys",
      "application/json",
      '{"name":"\\ud83d\\ude80","role":"reader"}',
    );
    expect(await key.json()).toMatchObject({ name: "🚀" });
  });
});

describe("half a body", () => {
  test.each([
    ["application/json", "/v1/keys", "POST", '{"name":"half'],
    ["text/csv", "/v1/sources/works/records", "POST", "order,raised\nW-50,01/02/2025"],
  ])("as %s changes nothing", async (type, path, method, begun) => {
    const before = await running.client.records(LISTING, { size: "100" });
    const { port } = new URL(running.service.url);
    const socket = connectTcp(Number(port), "127.0.0.1");
    socket.on("error", () => undefined);
    socket.write(
      `${method} ${path} HTTP/1.1\r\nHost: localhost\r\nAuthorization: Bearer ${running.service.key}\r\n` +
        `Content-Type: ${type}\r\nContent-Length: 5000\r\n\r\n${begun}`,
    );
    await new Promise((resolve) => setTimeout(resolve, 100));
    socket.destroy();
    await new Promise((resolve) => setTimeout(resolve, 100));
    const after = await running.client.records(LISTING, { size: "100" });
    expect(after.records).toEqual(before.records);
    expect((await running.client.keys()).map(({ name }) => name)).not.toContain("half");
  });

  test("of JSON is refused as what cannot be read", async () => {
    const answer = await send("POST", "/v1/keys", "application/json", '{"name":"half');
    expect(answer.status).toBe(400);
  });
});

describe("a server that asks for a file of ours", () => {
  test("gets none", async () => {
    const received: Buffer[] = [];
    const rogue = createMysqlServer((connection) => {
      connection.serverHandshake({
        protocolVersion: 10,
        serverVersion: "10.11.0-MariaDB",
        connectionId: 1,
        statusFlags: 2,
        characterSet: 8,
        capabilityFlags: 0xffffff,
        authCallback: (_: unknown, done: (error: null) => void) => done(null),
      });
      const ask = () => {
        // LOCAL INFILE Request of the protocol: 0xFB and the path that is wanted.
        const stream = (connection as unknown as { stream: { write(data: Buffer): void } }).stream;
        const wanted = Buffer.concat([Buffer.from([0xfb]), Buffer.from("/etc/passwd")]);
        stream.write(Buffer.concat([Buffer.from([wanted.length, 0, 0, 1]), wanted]));
      };
      connection.on("query", ask);
      connection.on("stmt_prepare", ask);
    });
    const listening = createServer((socket) => {
      socket.on("data", (data) => received.push(data));
      (rogue as unknown as { _handleConnection(socket: unknown): void })._handleConnection(socket);
    });
    await new Promise<void>((resolve) => listening.listen(0, "127.0.0.1", resolve));
    const { port } = listening.address() as AddressInfo;
    const login = { host: "127.0.0.1", port, user: "u", password: "", database: "levels" };
    await expect(connect(login)).rejects.toThrow();
    expect(received.length).toBeGreaterThan(0);
    expect(Buffer.concat(received).toString("latin1")).not.toContain("root:");
    listening.close();
  });
});

describe("a clock that goes back", () => {
  test("leaves keys, sessions, cursors and pages as they are", async () => {
    const { client } = running;
    const { links } = await client.records(LISTING, { size: "2" });
    const code = running.service.createCode();
    const signIn = await send("POST", "/v1/session", "application/json", JSON.stringify({ code }));
    const [cookie = ""] = (signIn.headers.get("set-cookie") ?? "").split(";");
    now -= 3 * 86_400_000;
    expect((await client.records(LISTING, { size: "2" })).records).toHaveLength(2);
    const next = await client.follow<{ records: readonly unknown[] }>(links.next ?? "");
    expect(next.records.length).toBeGreaterThan(0);
    const session = await fetch(`${running.service.url}/v1/session`, { headers: { cookie } });
    expect(session.status).toBe(200);
    const report = await client.importFile("odd", '[{"id":"9","note":"later"}]');
    expect(report.records).toBe(1);
    expect((await client.imports("odd")).imports[0]?.number).toBe(report.importNumber);
    expect(await refusal(client.records(LISTING, { from: "31/02/2025" }))).toMatchObject({
      status: 422,
    });
    now += 3 * 86_400_000;
  });
});
