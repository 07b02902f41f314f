import { once } from "node:events";
import { Agent, createServer, request, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { setTimeout as sleep } from "node:timers/promises";
import type { DatabaseLogin } from "@orisma/server";
import { startOrisma } from "../service.js";

type Started = Awaited<ReturnType<typeof startOrisma>>;

/** Milliseconds between two looks at which services are ready. */
const LOOK_EVERY_MS = 100;
/** Requests that are on their way at a time. */
const CONNECTIONS = 8;

/** What came of replacing two services behind one address, one after the other, under load. */
export interface Restarted {
  readonly quiet: readonly number[];
  readonly during: readonly number[];
  /** Requests that got another answer than 200, or none. */
  readonly lost: number;
}

/** Spreads requests over two services, and replaces each by another on the same database. */
export async function restartRun(
  login: DatabaseLogin,
  stateOf: (number: number) => string,
  key: string,
  path: string,
): Promise<Restarted> {
  let services: readonly Started[] = [
    await startOrisma(login, stateOf(0)),
    await startOrisma(login, stateOf(1)),
  ];
  let next = 2;
  const ready = new Set<Started>(services);
  const agent = new Agent({ keepAlive: true });
  const ask = (service: Started, target: string) =>
    new Promise<IncomingMessage>((resolve, reject) => {
      const headers = { Authorization: `Bearer ${key}` };
      request(`${service.url}${target}`, { agent, headers }, resolve).once("error", reject).end();
    });
  const done = new AbortController();
  const looking = (async () => {
    while (!done.signal.aborted) {
      for (const each of services) {
        const answer = await fetch(`${each.url}/health/ready`).catch(() => null);
        if (answer?.status === 200) ready.add(each);
        else ready.delete(each);
      }
      await sleep(LOOK_EVERY_MS);
    }
  })();
  let turn = 0;
  const front = createServer((incoming, outgoing) => {
    const there = [...ready];
    const to = there[turn++ % there.length];
    const fail = () => outgoing.writeHead(502).end();
    if (to === undefined) fail();
    else {
      ask(to, incoming.url ?? "/").then((answer) => {
        outgoing.writeHead(answer.statusCode ?? 502);
        answer.pipe(outgoing);
      }, fail);
    }
  }).listen(0, "127.0.0.1");
  await once(front, "listening");
  const url = `http://127.0.0.1:${(front.address() as AddressInfo).port}${path}`;
  const times = { quiet: [] as number[], during: [] as number[] };
  let lost = 0;
  let into = times.quiet;
  const load = Array.from({ length: CONNECTIONS }, async () => {
    while (!done.signal.aborted) {
      const started = performance.now();
      const status = await fetch(url).then(
        async (answer) => {
          await answer.text();
          return answer.status;
        },
        () => 0,
      );
      if (status === 200) into.push(performance.now() - started);
      else lost++;
    }
  });
  await sleep(5_000);
  into = times.during;
  for (const old of services) {
    old.child.kill("SIGTERM");
    await once(old.child, "exit");
    const fresh = await startOrisma(login, stateOf(next++));
    services = services.map((each) => (each === old ? fresh : each));
    while (!ready.has(fresh)) await sleep(LOOK_EVERY_MS);
  }
  done.abort();
  await Promise.all([...load, looking]);
  front.close();
  agent.destroy();
  for (const { child } of services) {
    child.kill("SIGTERM");
    await once(child, "exit");
  }
  return { ...times, lost };
}
