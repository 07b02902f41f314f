/**
 * One service under more than it can do. Fairness: the pages of one key, alone and while another key sends
 * hundreds of summaries at once. Shedding: pages over two thousand connections against the best rate, and how
 * long those wait that are refused, against `/health/live` in the same run. Restart: two services behind one
 * address are replaced under load.
 */
import { once } from "node:events";
import { chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { cpus, release, tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { startEngine } from "@orisma/server";
import { say } from "../rivals.js";
import { startOrisma } from "../service.js";
import { Connection } from "./connection.js";
import { restartRun } from "./restart.js";
import { importWorks } from "../works.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 300_000);
const SECONDS = Number(process.env.BENCH_SECONDS ?? 10);
const HEAVY = Number(process.env.BENCH_HEAVY ?? 300);
const CROWD = Number(process.env.BENCH_CROWD ?? 2_000);

/** Milliseconds over which connections begin. */
const RAMP_MS = 2_000;
/** Keys of those many connections. */
const CROWD_KEYS = 40;

/** Milliseconds of requests by the status of their answers; 0 where there was none. */
type Times = Map<number, number[]>;

const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
chmodSync(scratch, 0o711);
const engine = await startEngine({ folder: join(scratch, "database"), tell: say, onCrash: say });
const orisma = await startOrisma(engine.login, join(scratch, "state"));
const { client, url } = orisma;

/** What a crowd is counted by: how long its connections took to open, and when the last one was. */
interface Opening {
  readonly opened: Times;
  /** Answers that came before the last connection was open. */
  readonly early: Times;
  at: number;
}

/**
 * Sends requests over so many connections until a time, each connection one after the other; those that are
 * refused are sent again when the answer says, or at once where a caller is greedy.
 */
async function load(
  keys: string | readonly string[],
  paths: readonly string[],
  connections: number,
  until: number | ((openedAt: number) => number),
  {
    isGreedy = false,
    opening = { opened: new Map(), early: new Map(), at: Infinity },
  }: { isGreedy?: boolean; opening?: Opening } = {},
) {
  const { opened, early } = opening;
  let toOpen = connections;
  const end = () => (typeof until === "number" ? until : until(opening.at));
  const times: Times = new Map();
  let turn = 0;
  const one = async (connection: Connection, key: string, path: string, into: Times) => {
    const started = performance.now();
    const { status, retryS } = await connection.request(path, key);
    const of = into.get(status) ?? [];
    of.push(performance.now() - started);
    into.set(status, of);
    return retryS;
  };
  await Promise.all(
    Array.from({ length: connections }, async (_, index) => {
      const key = typeof keys === "string" ? keys : (keys[index % keys.length] ?? "");
      const connection = new Connection(url);
      // Not all in one instant: nobody's clients begin so.
      await sleep((index / connections) * RAMP_MS);
      // The runtime accepts one connection in each turn of its loop: what that takes is counted by itself.
      await one(connection, key, "/health/live", opened);
      if (--toOpen === 0) opening.at = performance.now();
      while (performance.now() < end()) {
        const into = typeof until === "number" || toOpen === 0 ? times : early;
        const retryS = await one(connection, key, paths[turn++ % paths.length] ?? "", into);
        const remaining = end() - performance.now();
        if (retryS > 0 && !isGreedy && remaining > 0)
          await sleep(Math.min(retryS * 1_000, remaining));
      }
      connection.close();
    }),
  );
  return times;
}

function quantile(times: readonly number[], share: number): number {
  const sorted = [...times].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}

function of(times: Times, status: number): readonly number[] {
  return times.get(status) ?? [];
}

function refused(times: Times): readonly number[] {
  return [...times].flatMap(([status, all]) => (status === 429 || status === 503 ? all : []));
}

function memoryMb(): number {
  const status = readFileSync(`/proc/${orisma.child.pid ?? 0}/status`, "utf8");
  return Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
}

const PAGES = Array.from(
  { length: 40 },
  (_, index) =>
    `/v1/listings/works/records?from=2024-0${1 + (index % 9)}&to=2024-0${1 + (index % 9)}&size=${20 + index}`,
);
const SUMMARIES = Array.from(
  { length: 12 },
  (_, index) =>
    `/v1/listings/works/summary?by=status&by=raised:month&measure=sum:cost&from=2022&to=202${2 + (index % 4)}`,
);
const soon = (seconds = SECONDS) => performance.now() + seconds * 1_000;

try {
  say(`importing ${ROWS} rows …`);
  await importWorks(client, ROWS);
  const { key: reader } = await client.createKey({ name: "pages", role: "reader" });
  const { key: greedy } = await client.createKey({ name: "summaries", role: "reader" });
  const crowdKeys: string[] = [];
  for (let each = 0; each < CROWD_KEYS; each++) {
    crowdKeys.push((await client.createKey({ name: `crowd ${each}`, role: "reader" })).key);
  }
  await load(reader, PAGES, 2, soon(3));
  const lines = [
    `node ${process.version}, ${cpus().length} cores, Linux ${release()}, ${ROWS} rows`,
    "",
  ];

  const quiet = of(await load(reader, PAGES, 2, soon()), 200);
  const until = soon();
  const [heavy, pages] = await Promise.all([
    load(greedy, SUMMARIES, HEAVY, until, { isGreedy: true }),
    load(reader, PAGES, 2, until),
  ]);
  const busy = of(pages, 200);
  const ratio = quantile(busy, 0.99) / quantile(quiet, 0.99);
  lines.push(
    `fairness: pages of one key, while another has ${HEAVY} summaries under way`,
    `  quiet  p50 ${quantile(quiet, 0.5).toFixed(1)} ms  p99 ${quantile(quiet, 0.99).toFixed(1)} ms  ${quiet.length} answered`,
    `  busy   p50 ${quantile(busy, 0.5).toFixed(1)} ms  p99 ${quantile(busy, 0.99).toFixed(1)} ms  ${busy.length} answered, ${refused(pages).length} refused`,
    `  p99 busy / quiet ${ratio.toFixed(2)} (at most 3)`,
    `  summaries: ${of(heavy, 200).length} answered, ${refused(heavy).length} refused`,
    "",
  );

  let best = 0;
  for (const connections of [8, 32]) {
    const found = of(await load(reader, PAGES, connections, soon(SECONDS / 2)), 200).length;
    best = Math.max(best, found / (SECONDS / 2));
  }
  const before = memoryMb();
  const opening: Opening = { opened: new Map(), early: new Map(), at: Infinity };
  const begun = performance.now();
  // Whatever happens, it ends.
  const last = soon(6 * SECONDS);
  const end = (openedAt: number) => Math.min(openedAt + SECONDS * 1_000, last);
  const [crowd, live] = await Promise.all([
    load(crowdKeys, PAGES, CROWD, end, { opening }),
    load(reader, ["/health/live"], 2, () => end(opening.at)),
  ]);
  const { opened, early, at } = opening;
  const rate = of(crowd, 200).length / SECONDS;
  const openingS = (at - begun) / 1_000;
  const openingRate = of(early, 200).length / openingS;
  const shed = refused(crowd);
  const liveP99 = quantile(of(live, 200), 0.99);
  const openedP99 = quantile(of(opened, 200), 0.99);
  lines.push(
    `shedding: pages over ${CROWD} connections`,
    `  rate ${rate.toFixed(0)}/s of a best of ${best.toFixed(0)}/s: ${(rate / best).toFixed(2)} (at least 0.8)`,
    `  while they were opened, for ${openingS.toFixed(1)} s: ${openingRate.toFixed(0)}/s, ${(openingRate / best).toFixed(2)}`,
    `  refused ${shed.length}, p99 ${quantile(shed, 0.99).toFixed(0)} ms; live p99 ${liveP99.toFixed(0)} ms: ${(quantile(shed, 0.99) / liveP99).toFixed(2)} (at most 3)`,
    `  answered p50 ${quantile(of(crowd, 200), 0.5).toFixed(0)} ms, p99 ${quantile(of(crowd, 200), 0.99).toFixed(0)} ms; refused p50 ${quantile(shed, 0.5).toFixed(0)} ms, p90 ${quantile(shed, 0.9).toFixed(0)} ms`,
    `  connections opened p50 ${quantile(of(opened, 200), 0.5).toFixed(0)} ms, p99 ${openedP99.toFixed(0)} ms: ${(openedP99 / liveP99).toFixed(2)} (at most 3)`,
    `  without an answer ${of(crowd, 0).length}; memory ${before} MB before, ${memoryMb()} MB after`,
  );
  const restarted = await restartRun(
    engine.login,
    (number) => join(scratch, `state-${number}`),
    reader,
    PAGES[0] ?? "",
  );
  const { quiet: calm, during, lost } = restarted;
  lines.push(
    "",
    "restart: two services behind one address, each replaced by another under load",
    `  before p50 ${quantile(calm, 0.5).toFixed(1)} ms  p99 ${quantile(calm, 0.99).toFixed(1)} ms  ${calm.length} answered`,
    `  during p50 ${quantile(during, 0.5).toFixed(1)} ms  p99 ${quantile(during, 0.99).toFixed(1)} ms  ${during.length} answered, ${lost} lost (none)`,
    `  p99 during / before ${(quantile(during, 0.99) / quantile(calm, 0.99)).toFixed(2)}`,
  );
  process.stdout.write(`${lines.join("\n")}\n`);
} finally {
  orisma.child.kill("SIGTERM");
  await once(orisma.child, "exit");
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
}
