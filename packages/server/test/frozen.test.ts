import { request, type IncomingMessage } from "node:http";
import { createServer, connect as connectTcp, type AddressInfo, type Server } from "node:net";
import { chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, jest, test } from "@jest/globals";
import { startEngine, type Engine } from "@orisma/server";
import mysql from "mysql2/promise";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";
import { until } from "../../../test/until.js";

const scratch = mkdtempSync(join(tmpdir(), "orisma-frozen-"));
// The database runs as another user where this one is root.
chmodSync(scratch, 0o711);
let engine: Engine;
let running: TestService;
beforeAll(async () => {
  engine = await startEngine({
    folder: join(scratch, "database"),
    durable: false,
    tell: () => undefined,
    onCrash: () => undefined,
  });
  running = await startTestService({ login: engine.login });
  await importWorks(running.client);
});
afterAll(async () => {
  await running.end();
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
});

describe("a database that stands still", () => {
  test("costs those who ask it a bounded wait and a 503, and nobody else anything", async () => {
    const pid = Number(readFileSync(join(engine.folder, "run", "mariadbd.pid"), "utf8"));
    const ask = (path: string) =>
      fetch(`${running.service.url}${path}`, {
        headers: { Authorization: `Bearer ${running.service.key}` },
      });
    const [name] = Object.keys(LISTINGS);
    const page = `/v1/listings/${name}/records?size=1`;
    expect((await ask(page)).status).toBe(200);
    process.kill(pid, "SIGSTOP");
    try {
      // Records, and what the service keeps beside them.
      const waiting = [ask(page), ask(page), ask(`${page}&order=cost`), ask("/v1/keys")];
      expect((await ask("/health/live")).status).toBe(200);
      expect((await ask(`/v1/listings/${name}`)).status).toBe(200);
      expect((await ask("/health/ready")).status).toBe(503);
      for (const answer of await Promise.all(waiting)) {
        expect(answer.status).toBe(503);
        expect(answer.headers.get("Retry-After")).toBe("5");
        expect(await answer.json()).toMatchObject({ type: "/problems#unavailable" });
      }
    } finally {
      process.kill(pid, "SIGCONT");
    }
    // It goes on by itself, on connections of their own.
    await until(async () => (await ask(page)).status === 200);
    expect((await ask("/health/ready")).status).toBe(200);
  });
});

describe("a database that ends in the middle of an export", () => {
  test("cuts it at once, and keeps nobody waiting for more", async () => {
    const { client, service } = running;
    const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
    await client.createSource({ name: "many", key: "id", columns: { day } });
    const note = "n".repeat(400);
    const lines = Array.from({ length: 30_000 }, (_, index) => `M-${index},2025-02-01,${note}`);
    await client.importFile("many", `id,day,note\n${lines.join("\n")}\n`);
    await client.declareListing("many", { source: "many", mainDate: "day" });
    const answer = await new Promise<IncomingMessage>((resolve, reject) => {
      const headers = { Authorization: `Bearer ${service.key}` };
      request(`${service.url}/v1/listings/many/records.csv`, { headers }, resolve)
        .on("error", reject)
        .end();
    });
    // Nobody reads it: the database waits until there is room for more.
    answer.pause();
    await new Promise((resolve) => setTimeout(resolve, 300));
    process.kill(
      Number(readFileSync(join(engine.folder, "run", "mariadbd.pid"), "utf8")),
      "SIGKILL",
    );
    const ended = new Promise<string>((resolve) => {
      answer.once("end", () => resolve("whole")).once("error", () => resolve("cut"));
    });
    answer.resume();
    const written = jest.spyOn(console, "error");
    expect(await ended).toBe("cut");
    const log = () => readFileSync(join(running.state, "logs", "service.log"), "utf8");
    await until(() => log().includes("an answer that had begun was cut"));
    expect(written).not.toHaveBeenCalled();
    written.mockRestore();
    await until(async () => (await fetch(`${service.url}/health/ready`)).status === 200);
  });
});

/** Stands before a database: counts who comes, and lets nothing through while it is closed. */
class Gate {
  tries = 0;
  isOpen = true;
  readonly #server: Server;

  constructor(to: number) {
    this.#server = createServer((from) => {
      this.tries++;
      from.on("error", () => undefined);
      if (!this.isOpen) {
        from.destroy();
        return;
      }
      const beyond = connectTcp(to, "127.0.0.1");
      beyond.on("error", () => from.destroy());
      from.on("close", () => beyond.destroy());
      beyond.on("close", () => from.destroy());
      from.pipe(beyond).pipe(from);
      this.#cut.push(() => from.destroy());
    });
  }

  readonly #cut: (() => void)[] = [];

  async listen(): Promise<number> {
    await new Promise<void>((resolve) => this.#server.listen(0, "127.0.0.1", resolve));
    return (this.#server.address() as AddressInfo).port;
  }

  shut(): void {
    this.isOpen = false;
    for (const cut of this.#cut) cut();
  }

  end(): void {
    this.shut();
    this.#server.close();
  }
}

describe("an attached database that is gone", () => {
  test("is asked once a while only; the rest is refused at once, until it is back", async () => {
    const password = "lock and quay";
    const server = await startEngine({
      folder: join(scratch, "attached"),
      durable: false,
      tell: () => undefined,
      onCrash: () => undefined,
      accounts: [{ user: "reader", password, rights: "SELECT" }],
    });
    const gate = new Gate(server.login.port);
    const port = await gate.listen();
    const connection = await mysql.createConnection({ ...server.login });
    await connection.query("CREATE DATABASE orisma_levels");
    await connection.query("CREATE TABLE orisma_levels.gauges (id INT PRIMARY KEY, read_on DATE)");
    await connection.query("INSERT INTO orisma_levels.gauges VALUES (1, '2025-02-01')");
    await connection.end();
    const attaching = await startTestService({ attachable: [{ host: "127.0.0.1", port }] });
    const { client } = attaching;
    await client.attachDatabase("levels", {
      host: "127.0.0.1",
      port,
      database: "orisma_levels",
      user: "reader",
      password,
    });
    await client.createSource({
      name: "gauges",
      attached: { database: "levels", table: "gauges" },
    });
    await client.declareListing("gauges", { source: "gauges", mainDate: "read_on" });
    const ask = () =>
      fetch(`${attaching.service.url}/v1/listings/gauges/records`, {
        headers: { Authorization: `Bearer ${attaching.service.key}` },
      });
    try {
      expect((await ask()).status).toBe(200);
      gate.shut();
      const answers = [await ask(), await ask()];
      const tries = gate.tries;
      for (let count = 0; count < 20; count++) answers.push(await ask());
      expect(gate.tries).toBeLessThanOrEqual(tries + 2);
      for (const answer of answers) {
        expect([answer.status, answer.headers.get("Retry-After")]).toEqual([503, "5"]);
        expect(await answer.json()).toMatchObject({ type: "/problems#unavailable" });
      }
      gate.isOpen = true;
      await until(async () => (await ask()).status === 200);
    } finally {
      gate.end();
      await attaching.end();
      await server.stop();
    }
  });
});
