import { createHash, createHmac } from "node:crypto";
import { once } from "node:events";
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync } from "node:fs";
import { createServer, type IncomingHttpHeaders } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, beforeEach, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { until } from "../../../test/until.js";

const MINUTE = 60_000;
let now = Date.UTC(2025, 2, 14, 12);
let running: TestService;
const outbox = mkdtempSync(join(tmpdir(), "orisma-outbox-"));

const FILE = `work,raised,status,seen
W-1,2025-02-10,open,2025-02-10T09:00:00Z
W-2,2025-03-02,open,2025-03-02T09:00:00Z
W-3,2025-03-05,done,2025-03-05T09:00:00Z
`;

interface Received {
  readonly headers: IncomingHttpHeaders;
  readonly url: string;
  readonly body: string;
}
const received: Received[] = [];
let answer: number | "hang" = 204;
const receiver = createServer((request, response) => {
  const pieces: Buffer[] = [];
  request.on("data", (piece: Buffer) => pieces.push(piece));
  request.on("end", () => {
    const { headers, url = "" } = request;
    received.push({ headers, url, body: Buffer.concat(pieces).toString("utf8") });
    if (answer === "hang") return;
    response.writeHead(answer, answer === 302 ? { Location: "http://127.0.0.1:1/" } : {}).end();
  });
});
let place = "";

beforeAll(async () => {
  receiver.listen(0, "127.0.0.1");
  await once(receiver, "listening");
  const { port } = receiver.address() as AddressInfo;
  place = `http://127.0.0.1:${port}`;
  running = await startTestService({
    now: () => now,
    settings: {
      outbox,
      webhooks: [
        { host: "127.0.0.1", port },
        { host: "localhost", port },
      ],
    },
  });
  const { client } = running;
  const reading = { kind: "date", encoding: "text" } as const;
  const instant = { kind: "instant", encoding: "text" } as const;
  const columns = {
    raised: { type: "date", reading },
    seen: { type: "date", reading: instant },
  } as const;
  await client.createSource({ name: "works", key: "work", columns });
  await client.importFile("works", FILE);
  await client.declareListing("works", {
    source: "works",
    zone: "Europe/London",
    mainDate: "raised",
    columns: ["work", "raised", "status"],
    parameters: [
      { name: "on", column: "raised", type: "window", comparison: "on" },
      { name: "status", column: "status", type: "several", comparison: "among" },
      { name: "seen", column: "seen", type: "window", comparison: "on" },
    ],
    editable: ["status"],
    order: { allowed: ["raised"], default: "raised" },
  });
});
beforeEach(() => {
  received.length = 0;
  answer = 204;
});
afterAll(async () => {
  await running.end();
  receiver.closeAllConnections();
  receiver.close();
  rmSync(outbox, { recursive: true, force: true });
});

function content(name: string): string {
  const path = join(outbox, name);
  return existsSync(path) ? readFileSync(path, "utf8") : "";
}

describe("a delivery into a folder", () => {
  test("comes at its time on the clock of the listing, whole, under the name of its day", async () => {
    const { client } = running;
    const made = await client.createDelivery("works", {
      name: "the office",
      format: "csv",
      parameters: { status: ["open"] },
      when: "day",
      at: "06:30",
      to: { file: "open-{date}.csv" },
    });
    expect(made).toMatchObject({ secret: null, nextAt: "2025-03-15T06:30:00.000Z", last: null });
    await sleep(1_500);
    expect(readdirSync(outbox)).toEqual([]);
    now = Date.UTC(2025, 2, 15, 6, 30);
    await until(() => content("open-2025-03-15.csv") !== "");
    expect(content("open-2025-03-15.csv")).toBe(
      "work,raised,status\nW-1,2025-02-10,open\nW-2,2025-03-02,open\n",
    );
    expect(readdirSync(outbox)).toEqual(["open-2025-03-15.csv"]);
    await until(async () => (await client.deliveries("works"))[0]?.last?.state === "done");
    const [shown] = await client.deliveries("works");
    expect(shown).toMatchObject({ nextAt: "2025-03-16T06:30:00.000Z", last: { records: 2 } });
    await client.deleteDelivery("works", made.id);
    expect(await client.deliveries("works")).toEqual([]);
  });

  test("comes when the records change, and at first as they are", async () => {
    const { client } = running;
    const { id } = await client.createDelivery("works", {
      name: "the board",
      format: "ndjson",
      when: "records",
      to: { file: "board.ndjson" },
    });
    await until(() => content("board.ndjson").includes("W-3"));
    await client.editRecord("works", "W-3", { status: "held" }, { etag: "*" });
    await until(() => content("board.ndjson").includes('"held"'));
    await until(async () => (await client.deliveryRuns("works", id))[0]?.state === "done");
    const runs = await client.deliveryRuns("works", id);
    expect(runs.map(({ state, records }) => [state, records])).toEqual([
      ["done", 3],
      ["done", 3],
    ]);
    await client.editRecord("works", "W-3", { status: "done" }, { etag: "*" });
    await client.deleteDelivery("works", id);
  });

  test("has the workbook of the records, and is delivered at once on request", async () => {
    const { client } = running;
    const { id } = await client.createDelivery("works", {
      name: "workbook",
      format: "xlsx",
      when: "month",
      to: { file: "works.xlsx" },
    });
    expect(await client.runDelivery("works", id)).toMatchObject({ state: "done", records: 3 });
    expect(content("works.xlsx").slice(0, 2)).toBe("PK");
    await client.deleteDelivery("works", id);
  });
});

describe("a delivery by HTTP", () => {
  test("is signed, comes when its window moves, and has exactly its records", async () => {
    const { client } = running;
    const made = await client.createDelivery("works", {
      name: "the site",
      format: "ndjson",
      parameters: { on: ["month-1"] },
      when: "window",
      to: { url: `${place}/in?from=vale` },
    });
    const { id, secret } = made;
    await until(() => received.length === 1);
    const [first] = received;
    expect(
      first?.body
        .trim()
        .split("\n")
        .map((line) => (JSON.parse(line) as { id: string }).id),
    ).toEqual(["W-1"]);
    expect(first?.url).toBe("/in?from=vale");
    expect(first?.headers["content-type"]).toBe("application/x-ndjson");
    // As a receiver checks it (RFC 9421, RFC 9530).
    const digest = `sha-256=:${createHash("sha256")
      .update(first?.body ?? "")
      .digest("base64")}:`;
    expect(first?.headers["content-digest"]).toBe(digest);
    const input = String(first?.headers["signature-input"]).replace(/^sig=/, "");
    const event = String(first?.headers["orisma-event"]);
    const base = [
      '"@method": POST',
      `"@target-uri": ${place}/in?from=vale`,
      `"content-digest": ${digest}`,
      `"orisma-event": ${event}`,
      `"@signature-params": ${input}`,
    ].join("\n");
    const signed = createHmac("sha256", secret ?? "")
      .update(base)
      .digest("base64");
    expect(first?.headers.signature).toBe(`sig=:${signed}:`);
    expect(input).toContain(`keyid="delivery-${id}"`);
    now = Date.UTC(2025, 2, 31, 23);
    await until(() => received.length === 2);
    expect(received[1]?.body).toContain("W-2");
    expect(received[1]?.body).not.toContain("W-1");
    expect(received[1]?.headers["orisma-event"]).not.toBe(event);
    await client.deleteDelivery("works", id);
    const text = JSON.stringify(await client.deliveries("works"));
    expect(text).not.toContain(secret ?? "none");
  });

  test("is tried again under the same event, later each time, and failed ones are kept", async () => {
    const { client } = running;
    answer = 500;
    const { id } = await client.createDelivery("works", {
      name: "failing",
      format: "csv",
      when: "records",
      to: { url: `${place}/in` },
    });
    await until(() => received.length === 1);
    const last = async () => (await client.deliveryRuns("works", id))[0];
    await until(async () => (await last())?.attempts === 1);
    expect(await last()).toMatchObject({
      state: "waiting",
      error: "the receiver answered with 500",
      nextAt: new Date(now + MINUTE).toISOString(),
    });
    await sleep(1_300);
    expect(received).toHaveLength(1);
    for (const minutes of [1, 5, 30, 120, 360, 1_440]) {
      const before = received.length;
      now += minutes * MINUTE;
      await until(() => received.length > before);
      await until(async () => (await last())?.attempts === before + 1);
    }
    expect(await last()).toMatchObject({ state: "failed", attempts: 7, nextAt: null });
    expect(new Set(received.map(({ headers }) => headers["orisma-event"])).size).toBe(1);
    answer = 200;
    const run = (await last())?.id ?? 0;
    expect(await client.retryDelivery("works", id, run)).toMatchObject({ state: "done" });
    expect(await refusal(client.retryDelivery("works", id, run))).toMatchObject({ status: 409 });
    await client.deleteDelivery("works", id);
  });

  test("is attempted once at a time, however long it takes and whoever tries it again", async () => {
    const { client } = running;
    const { id } = await client.createDelivery("works", {
      name: "slow",
      format: "csv",
      when: "month",
      to: { url: `${place}/in` },
    });
    answer = "hang";
    const slow = client.runDelivery("works", id);
    await until(() => received.length === 1);
    now += 2 * MINUTE;
    await sleep(2_500);
    expect(received).toHaveLength(1);
    receiver.closeAllConnections();
    const { id: run, state } = await slow;
    expect(state).toBe("waiting");
    answer = 204;
    const tried = [1, 2, 3].map(() => client.retryDelivery("works", id, run).catch(() => null));
    const states = (await Promise.all(tried)).map((each) => each?.state ?? "refused");
    expect(states).toContain("done");
    expect(states).not.toContain("waiting");
    expect(received).toHaveLength(2);
    await client.deleteDelivery("works", id);
  });

  test("follows no redirection, waits for no receiver that hangs for ever, and goes where it was allowed", async () => {
    const { client } = running;
    const create = (url: string) =>
      client.createDelivery("works", { name: "x", format: "csv", when: "month", to: { url } });
    for (const url of ["http://127.0.0.1:1/", "http://169.254.169.254/", "https://vale.example/"]) {
      const refused = await refusal(create(url));
      expect(refused).toMatchObject({ status: 403 });
      expect(refused?.detail).toContain("ORISMA_WEBHOOKS");
    }
    expect(await refusal(create("file:///etc/passwd"))).toMatchObject({ status: 422 });
    expect(await refusal(create(place.replace("//", "//user:word@")))).toMatchObject({
      status: 403,
    });
    const { id } = await create(`${place}/in`);
    answer = 302;
    expect(await client.runDelivery("works", id)).toMatchObject({
      error: "the receiver answered with 302",
    });
    expect(received).toHaveLength(1);
    await client.deleteDelivery("works", id);
    // A name is allowed, and leads to an address of this machine.
    const named = await create(place.replace("127.0.0.1", "localhost"));
    const run = await client.runDelivery("works", named.id);
    expect(run.error).toContain("leads to a private address");
    expect(received).toHaveLength(1);
    await client.deleteDelivery("works", named.id);
  });
});

/** When a delivery is looked at next. */
async function nextOf(client: OrismaClient, id: number): Promise<string | null | undefined> {
  return (await client.deliveries("works")).find((each) => each.id === id)?.nextAt;
}

test("a delivery is what can be delivered, by those who may, as long as they may", async () => {
  const { client, service } = running;
  const body = { name: "x", format: "csv", when: "day", to: { file: "x.csv" } } as const;
  const wrong = async (changed: object) =>
    (await refusal(client.createDelivery("works", { ...body, ...changed })))?.status;
  expect(await wrong({ to: { file: "../x.csv" } })).toBe(422);
  expect(await wrong({ to: { file: ".x.csv" } })).toBe(422);
  expect(await wrong({ to: { file: "x.xlsx" } })).toBe(422);
  expect(await wrong({ at: "24:00" })).toBe(422);
  expect(await wrong({ when: "hour", at: "06:00" })).toBe(422);
  expect(await wrong({ when: "window" })).toBe(422);
  expect(await wrong({ when: "window", parameters: { seen: ["2025/now"] } })).toBe(422);
  expect(await wrong({ parameters: { colour: ["red"] } })).toBe(422);
  const { key } = await client.createKey({ name: "reads", role: "reader" });
  const reader = new OrismaClient({ url: service.url, key });
  expect(await refusal(reader.createDelivery("works", body))).toMatchObject({ status: 403 });
  const author = await client.createKey({ name: "writes", role: "author" });
  const other = new OrismaClient({ url: service.url, key: author.key });
  const { id } = await other.createDelivery("works", body);
  await client.revokeKey(author.id);
  expect(await client.runDelivery("works", id)).toMatchObject({
    error: "Whoever made the delivery has no access any more",
  });
  now += 24 * 60 * MINUTE;
  const runs = async () => client.deliveryRuns("works", id);
  await until(async () => (await runs()).some(({ attempts }) => attempts === 2));
  const [waiting, ...others] = await runs();
  for (const minutes of [1, 1, 1]) {
    const looked = await nextOf(client, id);
    now += minutes * MINUTE;
    await until(async () => (await nextOf(client, id)) !== looked);
  }
  expect((await runs()).map((run) => run.id)).toEqual([waiting, ...others].map((run) => run?.id));
  await client.renameListing("works", { to: "orders" });
  expect(await client.deliveries("orders")).toHaveLength(1);
  await client.renameListing("orders", { to: "works" });
  await client.copyListing("works", { name: "gone", title: "Gone" });
  await client.createDelivery("gone", body);
  await client.deleteListing("gone");
  await client.copyListing("works", { name: "gone", title: "Gone" });
  expect(await client.deliveries("gone")).toEqual([]);
});
