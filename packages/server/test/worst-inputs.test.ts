import { spawn, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { ROOT, freshDatabase } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";
import { worstInputs, type WorstInput } from "../../../test/worst.js";
import { until } from "../../../test/until.js";

/** How many times the unit others may wait for their turn at most. */
const LONGEST_TURN = 10;

/**
 * Loaded before the service, as a process of its own, since the test runner's own code is slower:
 * answers each message with the longest turn since the last, in milliseconds, and with what plain
 * work of this machine takes now: a document of 300,000 numbers, read and written.
 */
const WATCH = `
import { monitorEventLoopDelay } from "node:perf_hooks";
const delay = monitorEventLoopDelay({ resolution: 5 });
const text = JSON.stringify(Array.from({ length: 300_000 }, (_, index) => index));
function unit() {
  const times = Array.from({ length: 5 }, () => {
    const begun = performance.now();
    JSON.stringify(JSON.parse(text));
    return performance.now() - begun;
  });
  return times.sort((a, b) => a - b)[2];
}
delay.enable();
process.on("message", () => {
  // The turn that has ended is seen only in the next.
  setTimeout(() => {
    const longest = delay.max / 1e6;
    process.send({ longest, unit: unit() });
    // The unit's own turn is not one of the service.
    setTimeout(() => { delay.reset(); process.send("watching"); }, 20);
  }, 20);
});
process.channel.unref();
`;

const state = mkdtempSync(join(tmpdir(), "orisma-worst-"));
let child: ChildProcess;
let client: OrismaClient;
let access: { readonly url: string; readonly key: string };

beforeAll(async () => {
  const { user, password, host, port, database } = await freshDatabase();
  const watch = `data:text/javascript,${encodeURIComponent(WATCH)}`;
  child = spawn(process.execPath, ["--import", watch, join(ROOT, "scripts/start.mjs"), "--empty"], {
    env: {
      ...process.env,
      NODE_OPTIONS: "",
      ORISMA_STATE: state,
      ORISMA_PORT: "0",
      ORISMA_DATABASE_URL: `mariadb://${user}:${password}@${host}:${port}/${database}`,
    },
    stdio: ["ignore", "pipe", "pipe", "ipc"],
  });
  let output = "";
  child.stdout?.on("data", (text) => (output += String(text)));
  child.stderr?.on("data", (text) => (output += String(text)));
  await until(() => {
    if (child.exitCode !== null) throw new Error(output);
    return output.includes("Orisma answers at");
  });
  access = JSON.parse(readFileSync(join(state, "client.json"), "utf8")) as typeof access;
  client = new OrismaClient(access);
  await importWorks(client);
  await client.declareListing("filtered", {
    source: "works",
    mainDate: "raised",
    filter: { columns: "all" },
  });
  await look();
});

afterAll(async () => {
  child.kill("SIGTERM");
  if (child.exitCode === null) await once(child, "exit");
  rmSync(state, { recursive: true, force: true });
});

/** The longest turn since the last look, in units as they are now. */
async function look(): Promise<number> {
  child.send("look");
  const [{ longest, unit }] = (await once(child, "message")) as [{ longest: number; unit: number }];
  await once(child, "message");
  return longest / Math.max(unit, 10);
}

/** Sends an input, and gives the longest turn that it took. */
async function longestTurn({
  method,
  path,
  type,
  body,
  name,
  status,
}: WorstInput): Promise<number> {
  const answer = await fetch(`${access.url}${path}`, {
    method,
    headers: { Authorization: `Bearer ${access.key}`, "Content-Type": type },
    ...(method === "GET" ? {} : { body: body as string }),
    signal: AbortSignal.timeout(300_000),
  }).catch(() => null);
  await answer?.text();
  expect([name, answer?.status]).toEqual([name, status]);
  return look();
}

test("no input keeps the service from others: it is refused, or read in turns", async () => {
  const late: string[] = [];
  for (const input of await worstInputs("filtered")) {
    let turn = Infinity;
    // Other processes of the machine make a turn long now and then, but not always.
    for (let tries = 0; tries < 3 && turn > LONGEST_TURN; tries++) {
      turn = Math.min(turn, await longestTurn(input));
    }
    if (turn > LONGEST_TURN) late.push(`${input.name}: ${Math.round(turn)} units`);
  }
  expect(late).toEqual([]);
  expect((await client.records("filtered", { size: "1" })).records).toHaveLength(1);
});
