import { spawn, type ChildProcess } from "node:child_process";
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
} from "node:fs";
import { once } from "node:events";
import { createServer } from "node:http";
import { createServer as createTlsServer } from "node:https";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { ROOT } from "../../../test/service.js";
import { until } from "../../../test/until.js";

const scratch = mkdtempSync(join(tmpdir(), "orisma-process-"));
const state = join(scratch, "state");
// The database may run as another user, who must be able to pass through.
chmodSync(scratch, 0o711);
const children: ChildProcess[] = [];

afterAll(() => {
  for (const child of children) child.kill("SIGKILL");
  rmSync(scratch, { recursive: true, force: true });
});

interface Started {
  readonly child: ChildProcess;
  readonly output: () => string;
  readonly ended: Promise<number | null>;
}

/** `npm start` without npm: the same script, with a state folder and a free port of its own. */
function start(words: readonly string[] = [], environment: Record<string, string> = {}): Started {
  const child = spawn(process.execPath, [join(ROOT, "scripts/start.mjs"), ...words], {
    env: {
      ...process.env,
      NODE_OPTIONS: "",
      ORISMA_STATE: state,
      ORISMA_PORT: "0",
      ...environment,
    },
    stdio: ["ignore", "pipe", "pipe"],
  });
  children.push(child);
  let output = "";
  child.stdout.on("data", (text) => (output += String(text)));
  child.stderr.on("data", (text) => (output += String(text)));
  const ended = new Promise<number | null>((resolve) =>
    child.once("exit", (code) => resolve(code)),
  );
  return { child, output: () => output, ended };
}

async function answering(started: Started, folder = state): Promise<OrismaClient> {
  await until(() => {
    if (started.child.exitCode !== null) throw new Error(started.output());
    return started.output().includes("Orisma answers at");
  });
  return new OrismaClient(clientFile(folder));
}

function databasePid(): number {
  return Number(readFileSync(join(state, "database", "run", "mariadbd.pid"), "utf8"));
}

/** Does something in the middle of the loading of a file; gives the number of the import. */
async function duringImport(client: OrismaClient, work: () => void): Promise<number> {
  const { columns } = await client.source("works");
  const headings = columns.map(({ name }) => name);
  const row = headings.slice(1).map(() => ",");
  const rows = Array.from({ length: 100_000 }, (_, index) => `K-${index}${row.join("")}\n`);
  const load = client
    .importFile("works", `${headings.join(",")}\n${rows.join("")}`, { file: "big.csv" })
    .catch(() => null);
  for (;;) {
    const { running, imports } = await client.imports("works");
    if (running?.stage === "reading" && running.records > 0) {
      work();
      expect(await load).toBeNull();
      return imports[0]?.number ?? 0;
    }
    await sleep(5);
  }
}

function recordTables(): readonly string[] {
  return readdirSync(join(state, "database", "data", "orisma")).filter((name) =>
    name.startsWith("records_"),
  );
}

describe("the service as a process", () => {
  test("starts with the demo, keeps everything through kill -9, and ends in order", async () => {
    const first = start();
    const client = await answering(first);
    expect(first.output()).toMatch(/sign-in code (?:[A-Z2-9]{4}-){3}[A-Z2-9]{4},/);
    expect(statSync(join(state, "client.json")).mode & 0o777).toBe(0o600);
    const before = await client.records("works-raised", {
      from: "2025-02",
      to: "2025-02",
      size: "100",
    });
    expect(before.records.length).toBeGreaterThan(20);
    const { key } = await client.createKey({ name: "kept", role: "reader" });
    const orphan = databasePid();

    const rival = start();
    expect(await rival.ended).toBe(1);
    expect(rival.output()).toContain("a service already runs on");

    const broken = await duringImport(client, () => first.child.kill("SIGKILL"));
    await first.ended;
    expect(readdirSync(join(state, "arriving"))).toHaveLength(1);
    expect(recordTables()).toContain(`records_1_${broken}.ibd`);
    // However the service ends, no database runs on behind it.
    await until(() => !existsSync(`/proc/${orphan}`));

    const second = start();
    const again = await answering(second);
    expect(second.output()).not.toContain("loading the demo data");
    const after = await new OrismaClient({ ...clientFile(), key }).records("works-raised", {
      from: "2025-02",
      to: "2025-02",
      size: "100",
    });
    expect(after.records).toEqual(before.records);
    expect((await again.sources()).length).toBeGreaterThan(5);
    // The import that was broken off left the records as they were, and nothing behind.
    expect((await again.source("works")).records).toBe(2_400);
    expect(existsSync(join(state, "arriving"))).toBe(false);
    expect(recordTables()).not.toContain(`records_1_${broken}.ibd`);
    const [load] = (await again.imports("works")).imports;
    expect(load).toMatchObject({ state: "failed", file: "big.csv" });
    expect(load?.problem).toContain("the service ended before the file was imported");

    const database = databasePid();
    second.child.kill("SIGTERM");
    expect(await second.ended).toBe(0);
    expect(second.output()).toContain("SIGTERM, ending");
    expect(existsSync(`/proc/${database}`)).toBe(false);
    expect(existsSync(join(state, "client.json"))).toBe(false);
  });

  test("changes all records of an action or none, whenever it is killed", async () => {
    const before = start();
    const client = await answering(before);
    const rows = Array.from({ length: 10_000 }, (_, index) => `K-${index},2025-02-03,open\n`);
    const reading = { kind: "date", encoding: "text" } as const;
    const columns = { day: { type: "date", reading } } as const;
    await client.createSource({ name: "orders", key: "order", columns });
    await client.importFile("orders", `order,day,status\n${rows.join("")}`);
    const actions = { close: { set: { status: "closed", day: "2025-03-04" } } };
    await client.declareListing("orders", { source: "orders", actions, page: { max: 10_000 } });
    const counted = await client.act("orders", "close", { dryRun: true });
    expect(counted).toMatchObject({ records: 10_000, changed: 10_000 });
    const acted = client.act("orders", "close", { expected: 10_000 }).catch(() => null);
    // While it writes: how far it is cannot be seen from outside.
    await sleep(150);
    before.child.kill("SIGKILL");
    expect(await acted).toBeNull();
    await before.ended;

    const after = start();
    const again = await answering(after);
    const { records } = await again.records("orders", { size: "10000" });
    const states = new Set(records.map(({ status, day }) => `${String(status)} ${String(day)}`));
    expect(states.size).toBe(1);
    // With all of its history, or without any.
    const found = await again.edits("orders");
    expect(found).toHaveLength(states.has("closed 2025-03-04") ? 1 : 0);
    for (const { number } of found) await again.undoEdit("orders", number);
    const done = await again.act("orders", "close", { expected: 10_000 });
    expect(done).toMatchObject({ records: 10_000, changed: 10_000 });
    const [edit] = await again.edits("orders");
    expect(edit).toMatchObject({ records: 10_000, action: "close" });
    expect(edit?.cells).toHaveLength(100);
    const { changed } = await again.undoEdit("orders", done.edit ?? 0);
    expect(changed).toBe(10_000);
    after.child.kill("SIGTERM");
    expect(await after.ended).toBe(0);
  });

  test("delivers again under the same event what it was killed in", async () => {
    const events: string[] = [];
    let isHanging = true;
    const receiver = createServer((request, response) => {
      events.push(String(request.headers["orisma-event"]));
      if (!isHanging) response.writeHead(204).end();
    });
    receiver.listen(0, "127.0.0.1");
    await once(receiver, "listening");
    const { port } = receiver.address() as AddressInfo;
    const allowed = { ORISMA_WEBHOOKS: `127.0.0.1:${port}` };
    const first = start([], allowed);
    const client = await answering(first);
    const { id } = await client.createDelivery("works-open", {
      name: "the board",
      format: "ndjson",
      when: "records",
      to: { url: `http://127.0.0.1:${port}/` },
    });
    await until(() => events.length > 0);
    first.child.kill("SIGKILL");
    await first.ended;
    isHanging = false;
    const second = start([], allowed);
    const again = await answering(second);
    await until(() => events.length > 1);
    expect(events[1]).toBe(events[0]);
    for (;;) {
      const [run] = await again.deliveryRuns("works-open", id);
      if (run?.state === "done") break;
      await sleep(50);
    }
    await sleep(2_500);
    // Delivered once, it is not delivered again.
    expect(events).toHaveLength(2);
    await again.deleteDelivery("works-open", id);
    second.child.kill("SIGTERM");
    expect(await second.ended).toBe(0);
    receiver.closeAllConnections();
    receiver.close();
  });

  test("fetches a file by https once its certificate is trusted, and knows it again after a restart", async () => {
    const folder = join(import.meta.dirname, "fixtures/tls");
    const read = (name: string) => readFileSync(join(folder, name));
    const asked: (string | undefined)[] = [];
    const server = createTlsServer(
      { key: read("key.pem"), cert: read("certificate.pem") },
      (request, response) => {
        const known = request.headers["if-none-match"];
        asked.push(known);
        if (known === '"one"') response.writeHead(304).end();
        else response.writeHead(200, { ETag: '"one"' }).end("boat,seen\nHeron,2025-03-01\n");
      },
    );
    server.listen(0, "127.0.0.1");
    await once(server, "listening");
    const { port } = server.address() as AddressInfo;
    const allowed = {
      ORISMA_FETCHABLE: `127.0.0.1:${port}`,
      NODE_EXTRA_CA_CERTS: join(folder, "certificate.pem"),
    };
    const first = start([], allowed);
    const client = await answering(first);
    await client.createSource({ name: "fetched", key: "boat", columns: {} });
    const url = `https://127.0.0.1:${port}/boats.csv`;
    await client.watchFile("fetched", { url, every: 604_800 });
    const look = await client.lookNow("fetched");
    expect([look.place, look.problem]).toEqual([url, null]);
    const { records } = await client.source("fetched");
    expect(records).toBe(1);
    first.child.kill("SIGTERM");
    expect(await first.ended).toBe(0);
    const second = start([], allowed);
    const again = await answering(second);
    expect(await again.lookNow("fetched")).toMatchObject({ outcome: "unchanged" });
    expect(asked.at(-1)).toBe('"one"');
    await again.deleteSource("fetched");
    second.child.kill("SIGTERM");
    expect(await second.ended).toBe(0);
    server.closeAllConnections();
    server.close();
  });

  test("starts its database again when that ends, and says meanwhile when to try again", async () => {
    const started = start();
    const client = await answering(started);
    const before = databasePid();
    process.kill(before, "SIGKILL");
    const statuses = new Set<number>();
    const { url, key } = clientFile();
    for (let tries = 0; tries < 400; tries++) {
      const answer = await fetch(
        `${url}/v1/listings/works-raised/records?size=1&order=cost&from=${1990 + (tries % 30)}`,
        {
          headers: { Authorization: `Bearer ${key}` },
        },
      );
      statuses.add(answer.status);
      await answer.text();
      if (answer.status === 503) expect(answer.headers.get("Retry-After")).not.toBeNull();
      else if (statuses.has(503)) break;
      await sleep(25);
    }
    expect([...statuses].sort()).toEqual([200, 503]);
    expect(databasePid()).not.toBe(before);
    expect(started.output()).toContain("the database ended by itself (signal SIGKILL)");
    const isAgain = () => started.output().includes("the database was started again");
    await until(isAgain);
    expect((await client.sources()).length).toBeGreaterThan(5);
    started.child.kill("SIGTERM");
    expect(await started.ended).toBe(0);
  });

  test("is backed up and restored by command, into another folder, and the doctor finds nothing wrong", async () => {
    const first = start();
    const client = await answering(first);
    const before = await client.records("works-raised", { from: "2025-02", to: "2025-02" });
    const file = join(scratch, "backup.gz");
    const command = (folder: string, ...words: string[]) =>
      new Promise<{ code: number | null; text: string }>((resolve) => {
        const child = spawn(
          process.execPath,
          [join(ROOT, "packages/cli/bin/orisma.mjs"), ...words],
          {
            env: { ...process.env, NODE_OPTIONS: "", ORISMA_STATE: folder },
          },
        );
        let text = "";
        for (const stream of [child.stdout, child.stderr]) {
          stream.on("data", (piece) => (text += String(piece)));
        }
        child.once("close", (code) => resolve({ code, text }));
      });
    const made = await command(state, "backup", file);
    expect(made).toMatchObject({ code: 0, text: expect.stringContaining("bytes, checked") });
    expect(statSync(file).mode & 0o777).toBe(0o600);
    expect((await command(state, "backup", file)).text).toContain("--force replaces it");
    const doctor = await command(state, "doctor");
    expect([doctor.code, doctor.text]).toEqual([0, expect.stringContaining("ok ")]);
    const refused = await command(state, "restore", file);
    expect([refused.code, refused.text]).toEqual([
      1,
      expect.stringContaining("npm start -- --empty"),
    ]);
    first.child.kill("SIGTERM");
    await first.ended;

    const other = join(scratch, "restored");
    const second = start(["--empty"], { ORISMA_STATE: other });
    await answering(second, other);
    const restored = await command(other, "restore", file);
    expect(restored).toMatchObject({
      code: 0,
      text: expect.stringContaining("restored: all as it was"),
    });
    const after = new OrismaClient(clientFile(other));
    const found = await after.records("works-raised", { from: "2025-02", to: "2025-02" });
    expect(found.records).toEqual(before.records);
    second.child.kill("SIGTERM");
    expect(await second.ended).toBe(0);
  });

  test("starts empty, in a place that its user can reach, and refuses what it does not know", async () => {
    const closed = join(scratch, "closed");
    mkdirSync(closed, { mode: 0o700 });
    const folder = join(closed, "state");
    const empty = start(["--empty"], { ORISMA_STATE: folder });
    expect(await (await answering(empty, folder)).sources()).toEqual([]);
    const elsewhere = /the database lies in (\S+)/.exec(empty.output())?.[1];
    expect(elsewhere === undefined).toBe(process.getuid?.() !== 0);
    empty.child.kill("SIGINT");
    expect(await empty.ended).toBe(0);
    if (elsewhere !== undefined) rmSync(elsewhere, { recursive: true });

    const wrong = start([], { ORISMA_PORT: "http" });
    expect(await wrong.ended).toBe(2);
    expect(wrong.output()).toContain("ORISMA_PORT cannot be used; expected a whole number");
    const unknown = start(["--emtpy"]);
    expect(await unknown.ended).toBe(2);
    expect(unknown.output()).toContain("--emtpy is not an option");
  });
});

function clientFile(folder = state): { readonly url: string; readonly key: string } {
  return JSON.parse(readFileSync(join(folder, "client.json"), "utf8")) as never;
}
