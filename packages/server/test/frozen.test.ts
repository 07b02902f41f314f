import { chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { startEngine, type Engine } from "@orisma/server";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";

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
}, 60_000);
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
      const waiting = [ask(page), ask(page), ask(`${page}&order=cost`)];
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
    let last = 503;
    for (let tries = 0; tries < 40 && last === 503; tries++) {
      last = (await ask(page)).status;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    expect(last).toBe(200);
    expect((await ask("/health/ready")).status).toBe(200);
  }, 90_000);
});
