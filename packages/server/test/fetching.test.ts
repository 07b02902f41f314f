import { once } from "node:events";
import { readFileSync } from "node:fs";
import {
  createServer,
  type IncomingHttpHeaders,
  type Server,
  type ServerResponse,
} from "node:http";
import { createServer as createTlsServer } from "node:https";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { afterAll, beforeAll, beforeEach, describe, expect, jest, test } from "@jest/globals";
import type { WatchLook } from "@orisma/client";
import { Places } from "../src/http/index.js";
import { Fetcher } from "../src/imports/index.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

jest.setTimeout(60_000);

const TLS = join(import.meta.dirname, "fixtures/tls");
const FIRST = "order,raised,cost\nW-1,01/03/2025,100\n";
const SECOND = "order,raised,cost\nW-1,01/03/2025,100\nW-2,02/03/2025,200\n";

const requests: { readonly url: string; readonly headers: IncomingHttpHeaders }[] = [];
let respond: (response: ServerResponse, url: string) => void = () => undefined;
const server = createServer((request, response) => {
  requests.push({ url: request.url ?? "", headers: request.headers });
  respond(response, request.url ?? "");
});
const other = createServer((_, response) => response.end(SECOND));
const secure = createTlsServer(
  { key: readFileSync(join(TLS, "key.pem")), cert: readFileSync(join(TLS, "certificate.pem")) },
  (_, response) => response.end(FIRST),
);
let running: TestService;
const ports = new Map<Server, number>();
const at = (which: Server, path: string, host = "127.0.0.1") =>
  `http://${host}:${ports.get(which) ?? 0}${path}`;

beforeAll(async () => {
  for (const each of [server, other, secure]) {
    each.listen(0, "127.0.0.1");
    await once(each, "listening");
    ports.set(each, (each.address() as AddressInfo).port);
  }
  const allowed = [server, secure].flatMap((each) =>
    ["127.0.0.1", "localhost"].map((host) => ({ host, port: ports.get(each) ?? 0 })),
  );
  running = await startTestService({ settings: { fetchable: allowed } });
  const reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] } as const;
  await running.client.createSource({
    name: "orders",
    key: "order",
    columns: { raised: { type: "date", reading }, cost: { type: "integer" } },
  });
});
beforeEach(async () => {
  requests.length = 0;
  await running.client.watchFile("orders", null);
});
afterAll(async () => {
  await running.end();
  for (const each of [server, other, secure]) {
    each.closeAllConnections();
    each.close();
  }
});

/** Watches an address, which is looked at by hand alone. */
async function watch(url: string): Promise<void> {
  await running.client.watchFile("orders", { url, every: 604_800 });
}

async function records(): Promise<number | null> {
  const { records: count } = await running.client.source("orders");
  return count;
}

test("a file is fetched, and again only when its server says that it is another", async () => {
  let [etag, text] = ['"one"', FIRST];
  respond = (response) => {
    const known = requests.at(-1)?.headers["if-none-match"];
    if (known === etag) response.writeHead(304).end();
    else response.writeHead(200, { ETag: etag }).end(text);
  };
  await watch(at(server, "/orders.csv"));
  const { client } = running;
  const look = () => client.lookNow("orders");
  await look();
  expect(await records()).toBe(1);
  expect(await look()).toMatchObject({ outcome: "unchanged", problem: null });
  expect(requests.at(-1)?.headers["if-none-match"]).toBe('"one"');
  const imports = (await client.imports("orders")).imports.length;
  expect((await look()).looks).toBeGreaterThan(1);
  expect((await client.imports("orders")).imports).toHaveLength(imports);

  [etag, text] = ['"two"', SECOND];
  expect(await look()).toMatchObject({ outcome: "imported", records: 2, looks: 1 });
  expect(await records()).toBe(2);
  const [latest] = (await client.imports("orders")).imports;
  expect(latest).toMatchObject({ file: "orders.csv", records: 2 });
  const state = await client.watch("orders");
  expect(state.watch).toMatchObject({ url: at(server, "/orders.csv"), every: 604_800 });
  expect(Date.parse(state.nextAt ?? "")).toBeGreaterThan(Date.now() + 600_000_000);
  const outcomes = state.looks.map(({ outcome }) => outcome);
  expect(outcomes.slice(0, 2)).toEqual(["imported", "unchanged"]);
});

test.each<[string, (response: ServerResponse, url: string) => void, RegExp]>([
  ["a status", (response) => response.writeHead(500).end(), /answered with 500/],
  [
    "a redirection elsewhere",
    (response) => response.writeHead(302, { Location: at(other, "/") }).end(),
    /Nothing is fetched from 127.0.0.1:\d+: the operator allows .*ORISMA_FETCHABLE/,
  ],
  [
    "a redirection without end",
    (response, url) => response.writeHead(302, { Location: `${url}x` }).end(),
    /leads on more than 5 times/,
  ],
  [
    "a redirection to a name of this machine",
    (response) => response.writeHead(307, { Location: at(server, "/", "localhost") }).end(),
    /by http only from an address in digits/,
  ],
  [
    "a file that is too large",
    (response) => response.writeHead(200, { "Content-Length": String(17 * 1024 ** 3) }).write("a"),
    /bytes; at most/,
  ],
  [
    "a file that breaks off",
    (response) => {
      response.writeHead(200, { "Content-Length": "1000" }).write("order,");
      setTimeout(() => response.destroy(), 50);
    },
    /did not arrive whole|aborted|hang up/,
  ],
  ["a page", (response) => response.end("<html>"), /./],
])("%s is no file, and the records stay", async (_, answer, reason) => {
  respond = (response) => response.end(SECOND);
  await watch(at(server, "/before.csv"));
  await firstLook();
  const before = await records();
  respond = answer;
  await watch(at(server, `/${encodeURIComponent(_)}`));
  const found = await firstLook();
  expect(found).toMatchObject({ outcome: "failed" });
  expect(found?.problem).toMatch(reason);
  expect(await records()).toBe(before);
});

test("a redirection within the places that are allowed is followed, and what is packed is unpacked", async () => {
  respond = (response, url) => {
    if (url === "/moved") response.writeHead(302, { Location: "/there/orders.csv" }).end();
    else response.writeHead(200, { "Content-Encoding": "gzip" }).end(gzipSync(FIRST));
  };
  await watch(at(server, "/moved"));
  expect(await firstLook()).toMatchObject({ outcome: "imported", records: 1 });
  expect(requests.map(({ url }) => url).slice(0, 2)).toEqual(["/moved", "/there/orders.csv"]);
});

test("a certificate that nobody vouches for is none", async () => {
  await watch(`https://127.0.0.1:${ports.get(secure) ?? 0}/orders.csv`);
  const found = await firstLook();
  expect(found?.outcome).toBe("failed");
  expect(found?.problem).toMatch(/certificate/);
});

test("a name that leads to a private address is refused, as are places that nobody allowed", async () => {
  await watch(`https://localhost:${ports.get(secure) ?? 0}/orders.csv`);
  const found = await firstLook();
  expect(found?.problem).toMatch(/localhost leads to a private address/);

  const { client } = running;
  const refused = async (url: string) => refusal(client.watchFile("orders", { url }));
  for (const url of [
    at(other, "/"),
    "https://files.brindle.example/x.csv",
    at(server, "/", "user:secret@127.0.0.1"),
  ]) {
    expect(await refused(url)).toMatchObject({ status: 403 });
  }
  // By http a name is never asked.
  expect(await refused(at(server, "/", "localhost"))).toMatchObject({ status: 403 });
  expect(await refused("ftp://127.0.0.1/x.csv")).toMatchObject({ status: 422 });
  const both = { url: at(server, "/"), file: "orders.csv" };
  expect(await refusal(client.watchFile("orders", both))).toMatchObject({ status: 422 });
  await client.watchFile("orders", null);
  expect(await refusal(client.lookNow("orders"))).toMatchObject({ status: 404 });
});

describe("a server that takes its time", () => {
  const limits = { answer: 200, stalled: 300, whole: 700 };
  const fetchedText = async () => {
    const port = ports.get(server) ?? 0;
    const places = new Places([{ host: "127.0.0.1", port }], { setting: "", nothing: "" });
    const fetcher = new Fetcher(places, limits);
    const found = await fetcher.fetch(at(server, "/"), {}, new AbortController().signal);
    let text = "";
    for await (const piece of found?.body ?? []) text += String(piece);
    return text;
  };

  test("is given up where it does not answer, pauses, or does not come to an end", async () => {
    respond = () => undefined;
    await expect(fetchedText()).rejects.toThrow(/did not answer in 0.2 seconds/);
    respond = (response) => response.write("order,");
    await expect(fetchedText()).rejects.toThrow(/sent nothing for 0.3 seconds/);
    respond = (response) => {
      const timer = setInterval(() => response.write("order,"), 50);
      response.once("close", () => clearInterval(timer));
    };
    await expect(fetchedText()).rejects.toThrow(/did not arrive whole in 0.7 seconds/);
    respond = (response) => response.end(FIRST);
    expect(await fetchedText()).toBe(FIRST);
  });
});

/** What came of the first look at what is watched now: another may have been made by itself. */
async function firstLook(): Promise<WatchLook | undefined> {
  const { client } = running;
  await client.lookNow("orders");
  const { watch: now, looks } = await client.watch("orders");
  return looks.filter(({ place }) => place === now?.url).at(-1);
}
