import { Agent, createServer, request as httpRequest, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { until } from "../../../test/until.js";

const ROWS = 40_000;
const FILE = `order,raised,note\n${Array.from(
  { length: ROWS },
  (_, index) =>
    `W-${index},2025-02-${String(1 + (index % 28)).padStart(2, "0")},${"n".repeat(150)}`,
).join("\n")}\n`;

async function filled(): Promise<TestService> {
  const running = await startTestService();
  const DATE = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
  await running.client.createSource({ name: "works", key: "order", columns: { raised: DATE } });
  await running.client.importFile("works", FILE);
  await running.client.declareListing("works", { source: "works", mainDate: "raised" });
  return running;
}

let running: TestService;
beforeAll(async () => {
  running = await filled();
});
afterAll(() => running.end());

/** Asks without any agent of its own connections, and gives the answer as soon as its head is there. */
function ask(service: TestService, path: string, agent?: Agent): Promise<IncomingMessage> {
  const headers = { Authorization: `Bearer ${service.service.key}` };
  return new Promise((resolve, reject) => {
    httpRequest(`${service.service.url}${path}`, { headers, agent }, resolve)
      .on("error", reject)
      .end();
  });
}

async function textOf(answer: IncomingMessage): Promise<string> {
  let text = "";
  for await (const piece of answer) text += String(piece);
  return text;
}

describe("the end of a service", () => {
  test("cuts nothing that has begun, says at once that it is not ready, and closes connections", async () => {
    const agent = new Agent({ keepAlive: true });
    const idle = await ask(running, "/health/ready", agent);
    expect([idle.statusCode, idle.headers.connection]).toEqual([200, "keep-alive"]);
    await textOf(idle);
    const begun = await ask(running, "/v1/listings/works/records.csv");
    begun.pause();
    const closed = running.service.close({ graceMs: 1_500 });
    const ready = await ask(running, "/health/ready");
    expect([ready.statusCode, ready.headers["retry-after"]]).toEqual([503, "5"]);
    expect(await textOf(ready)).toContain("the service is ending");
    const page = await ask(running, "/v1/listings/works/records?size=1", agent);
    expect([page.statusCode, page.headers.connection]).toEqual([200, "close"]);
    await textOf(page);
    await sleep(1_700);
    await expect(ask(running, "/health/live")).rejects.toThrow("ECONNREFUSED");
    // Read only now: it is whole all the same.
    expect((await textOf(begun)).trim().split("\n")).toHaveLength(ROWS + 1);
    await closed;
    agent.destroy();
    running = await startTestService({ login: running.login });
  });
});

describe("two services behind one address, replaced one after the other under load", () => {
  test("lose no request", async () => {
    let services = [running, await filled()];
    const ready = new Set(services);
    const looked = new AbortController();
    // Whoever spreads the requests looks ten times a second which of them are ready.
    const looking = (async () => {
      while (!looked.signal.aborted) {
        for (const each of services) {
          const answer = await ask(each, "/health/ready").catch(() => null);
          if (answer?.statusCode === 200) ready.add(each);
          else ready.delete(each);
          if (answer !== null) await textOf(answer);
        }
        await sleep(100);
      }
    })();
    const agent = new Agent({ keepAlive: true });
    let turn = 0;
    const front = createServer((incoming, outgoing) => {
      const there = [...ready];
      const to = there[turn++ % there.length];
      if (to === undefined) {
        outgoing.writeHead(502).end();
        return;
      }
      ask(to, incoming.url ?? "/", agent).then(
        (answer) => {
          outgoing.writeHead(answer.statusCode ?? 500);
          answer.pipe(outgoing);
        },
        () => outgoing.writeHead(502).end(),
      );
    }).listen(0, "127.0.0.1");
    await new Promise((resolve) => front.once("listening", resolve));
    const url = `http://127.0.0.1:${(front.address() as AddressInfo).port}/v1/listings/works/records?size=20&total=none`;
    const found = new Map<number, number>();
    let isLoaded = true;
    const load = Array.from({ length: 8 }, async () => {
      while (isLoaded) {
        const status = await fetch(url).then(
          async (answer) => {
            await answer.text();
            return answer.status;
          },
          () => 0,
        );
        found.set(status, (found.get(status) ?? 0) + 1);
      }
    });
    try {
      for (const old of services) {
        await old.service.close({ graceMs: 1_000 });
        const replaced = await startTestService({ login: old.login });
        services = services.map((each) => (each === old ? replaced : each));
        // It takes requests once it is seen to be ready.
        await until(() => ready.has(replaced));
      }
    } finally {
      isLoaded = false;
      await Promise.all(load);
      looked.abort();
      await looking;
      front.close();
      agent.destroy();
    }
    expect([...found.keys()]).toEqual([200]);
    expect(found.get(200)).toBeGreaterThan(50);
    const [first, second] = services;
    await second?.end();
    if (first !== undefined) running = first;
  });
});
