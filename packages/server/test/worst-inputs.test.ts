import { monitorEventLoopDelay } from "node:perf_hooks";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, importWorks } from "../../../test/works.js";
import { worstInputs, type WorstInput } from "../../../test/worst.js";

/** How many times the unit others may wait for their turn at most. */
const LONGEST_TURN = 12;

let running: TestService;
beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

/** Milliseconds that plain work of this machine takes now: a document of 300,000 numbers, read and written. */
function unitMs(): number {
  const text = JSON.stringify(Array.from({ length: 300_000 }, (_, index) => index));
  const times = Array.from({ length: 5 }, () => {
    const begun = performance.now();
    JSON.stringify(JSON.parse(text));
    return performance.now() - begun;
  });
  return times.sort((a, b) => a - b)[2] ?? 0;
}

/** Sends an input, and gives the longest turn that it took, in units as they are now. */
async function longestTurn({ method, path, type, body, name }: WorstInput): Promise<number> {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  const answer = await fetch(`${running.service.url}${path}`, {
    method,
    headers: { Authorization: `Bearer ${running.service.key}`, "Content-Type": type },
    ...(method === "GET" ? {} : { body: body as string }),
    signal: AbortSignal.timeout(30_000),
  }).catch(() => null);
  await answer?.text();
  // The turn that has ended is seen only in the next.
  await sleep(20);
  delay.disable();
  expect([name, answer?.status]).toEqual([name, expect.any(Number)]);
  expect([name, answer?.status]).not.toEqual([name, 500]);
  return delay.max / 1e6 / Math.max(unitMs(), 10);
}

test("no input keeps the service from others: it is refused, or read in turns", async () => {
  const [listing = ""] = Object.keys(LISTINGS);
  const late: string[] = [];
  for (const input of await worstInputs(listing)) {
    let turn = Infinity;
    // Other processes of the machine make a turn long now and then, but not always.
    for (let tries = 0; tries < 3 && turn > LONGEST_TURN; tries++) {
      turn = Math.min(turn, await longestTurn(input));
    }
    if (turn > LONGEST_TURN) late.push(`${input.name}: ${Math.round(turn)} units`);
  }
  expect(late).toEqual([]);
  expect((await running.client.records(listing, { size: "1" })).records).toHaveLength(1);
}, 300_000);
