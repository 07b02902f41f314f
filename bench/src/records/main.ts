/**
 * The records endpoint against what an expert and what most people write by hand: the same
 * table, the same requests, one run, in turn.
 */
import { fork, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { cpus, release, tmpdir } from "node:os";
import { join } from "node:path";
import type { OrismaClient } from "@orisma/client";
import { freePort, startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { median, pass, type Pass, type Target } from "../measure.js";
import { startOrisma } from "../service.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 200_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 7);
const SECONDS = Number(process.env.BENCH_SECONDS ?? 5);
const REQUESTS = 400;
const YEARS_MS = 4 * 365.25 * 86_400_000;
const FIRST_DAY = Date.UTC(2022, 0, 1);

const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
chmodSync(scratch, 0o711);
const children: ChildProcess[] = [];
const engine = await startEngine({ folder: join(scratch, "database"), tell: say, onCrash: say });
try {
  await run();
} finally {
  for (const child of children) child.kill("SIGTERM");
  await Promise.all(
    children
      .filter(({ exitCode, signalCode }) => exitCode === null && signalCode === null)
      .map((child) => once(child, "exit")),
  );
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
}

async function run(): Promise<void> {
  const orisma = await startOrisma(engine.login, join(scratch, "state"));
  children.push(orisma.child);
  say(`importing ${ROWS} rows …`);
  await bringRows(orisma.client);
  const table = await recordsTable();
  const task = { login: engine.login, table, key: orisma.key };
  const windows = randomWindows();
  const expert = await startRival("expert", task, windows);
  const usual = await startRival("usual", task, windows);
  const listing = "/v1/listings/works/records";
  const target: Target = {
    name: "orisma",
    pid: orisma.child.pid ?? 0,
    url: orisma.url,
    paths: windows.map((query) => `${listing}?${query}`),
    headers: { authorization: `Bearer ${orisma.key}` },
  };
  await sameAnswers([target, expert, usual]);

  const targets = [target, expert, usual];
  const passes = new Map<string, Pass[]>(targets.map(({ name }) => [name, []]));
  for (const each of targets) await pass(each, 2);
  for (let count = 0; count < PASSES; count++) {
    // In turn, and each time from another one, so that no place in the order is a favour.
    for (let place = 0; place < targets.length; place++) {
      const each = targets[(place + count) % targets.length];
      if (each !== undefined) passes.get(each.name)?.push(await pass(each, SECONDS));
    }
    say(`pass ${count + 1} of ${PASSES}`);
  }
  report(passes);
}

function report(passes: ReadonlyMap<string, readonly Pass[]>): void {
  const middle = (name: string, field: keyof Pass) =>
    median((passes.get(name) ?? []).map((each) => each[field]));
  const version = process.version;
  const lines = [
    `Records endpoint: a page of 50 in random windows of 1 to 31 days over ${ROWS} rows of four years,`,
    `with a total; ${PASSES} passes of ${SECONDS} s each in turn, medians.`,
    `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${version}, MariaDB on the same machine.`,
    "",
    "            requests/s   CPU ms/request   p50 ms   p99 ms",
    ...["orisma", "expert", "usual"].map((name) =>
      [
        name.padEnd(10),
        middle(name, "rate").toFixed(0).padStart(12),
        middle(name, "cpu").toFixed(2).padStart(17),
        middle(name, "p50").toFixed(1).padStart(9),
        middle(name, "p99").toFixed(1).padStart(9),
      ].join(""),
    ),
    "",
    ...["expert", "usual"].map((rival) => {
      const ratio = (field: keyof Pass) => pairwise(passes, rival, field).toFixed(2);
      return `orisma / ${rival}: requests ${ratio("rate")}, CPU ${ratio("cpu")}, p50 ${ratio("p50")}, p99 ${ratio("p99")}`;
    }),
    "",
  ];
  process.stdout.write(lines.join("\n"));
}

/** The median of the ratios pass by pass, which holds while the machine's own speed drifts. */
function pairwise(
  passes: ReadonlyMap<string, readonly Pass[]>,
  rival: string,
  field: keyof Pass,
): number {
  const others = passes.get(rival) ?? [];
  return median(
    (passes.get("orisma") ?? []).map(
      (each, index) => each[field] / (others[index]?.[field] ?? NaN),
    ),
  );
}

async function bringRows(client: OrismaClient): Promise<void> {
  await client.createSource({
    name: "works",
    key: "order",
    columns: {
      raised: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
      },
      cost: { type: "integer" },
    },
  });
  const lines = Array.from({ length: ROWS }, (_, index) => {
    const day = new Date(
      FIRST_DAY + ((index * 7_919_317) % ROWS) * (YEARS_MS / ROWS),
    ).toISOString();
    const raised = `${day.slice(8, 10)}/${day.slice(5, 7)}/${day.slice(0, 4)}`;
    const state = ["planned", "in hand", "finished", "cancelled"][index % 4] ?? "";
    return `W-${String(index).padStart(7, "0")},${raised},Grease the paddle gear ${index % 97},${state},${(index * 37) % 99_991}\n`;
  });
  await client.takeFile("works", `order,raised,task,status,cost\n${lines.join("")}`);
  await client.declareListing("works", {
    source: "works",
    zone: "Europe/London",
    mainDate: "raised",
    parameters: [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
    ],
    order: { allowed: ["raised", "cost"] },
  });
}

async function recordsTable(): Promise<string> {
  const connection = await mysql.createConnection({ ...engine.login });
  const [rows] = await connection.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records\\_%'");
  await connection.query(`ANALYZE TABLE ${String(Object.values(rows[0] ?? {})[0])}`);
  await connection.end();
  return String(Object.values(rows[0] ?? {})[0]);
}

function randomWindows(): readonly string[] {
  let state = 20_261_125;
  const random = () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
  return Array.from({ length: REQUESTS }, () => {
    const start = FIRST_DAY + Math.floor(random() * 1_420) * 86_400_000;
    const end = start + Math.floor(random() * 31) * 86_400_000;
    const day = (ms: number) => new Date(ms).toISOString().slice(0, 10);
    return `from=${day(start)}&to=${day(end)}`;
  });
}

async function startRival(
  name: string,
  task: { login: typeof engine.login; table: string; key: string },
  windows: readonly string[],
): Promise<Target> {
  const port = await freePort();
  const child = fork(join(import.meta.dirname, `${name}.js`), {
    env: { ...process.env, NODE_ENV: "production", BENCH_TASK: JSON.stringify({ ...task, port }) },
  });
  children.push(child);
  await once(child, "message");
  return {
    name,
    pid: child.pid ?? 0,
    url: `http://127.0.0.1:${port}`,
    paths: windows.map((query) => `/works?${query}`),
    headers: { authorization: `Bearer ${task.key}` },
  };
}

/** A faster wrong answer would be worth nothing: ids and totals must be the same. */
async function sameAnswers(targets: readonly Target[]): Promise<void> {
  for (let index = 0; index < REQUESTS; index += 20) {
    const answers = await Promise.all(
      targets.map(async ({ url, paths, headers }) => {
        const response = await fetch(`${url}${paths[index] ?? ""}`, { headers });
        const answer = (await response.json()) as {
          records: { id: string }[];
          total?: number;
          meta?: { total: number };
        };
        return JSON.stringify([
          answer.records.map(({ id }) => id),
          answer.total ?? answer.meta?.total,
        ]);
      }),
    );
    if (new Set(answers).size !== 1)
      throw new Error(`the answers differ at ${targets[0]?.paths[index] ?? ""}`);
  }
}

function say(line: string): void {
  process.stderr.write(`bench: ${line}\n`);
}
