/**
 * The records endpoint against what an expert and what most people write by hand: the same
 * table, the same requests, one run, in turn.
 */
import { fork, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { cpus, release, tmpdir } from "node:os";
import { join } from "node:path";
import {
  ISO_CALENDAR,
  MARIADB,
  epochMs,
  findZone,
  pageParts,
  pageStatement,
  planRequest,
  readCql2,
  UTC,
  type Catalogue,
  type ImportedTable,
} from "@orisma/core/internal";
import type { OrismaClient } from "@orisma/client";
import { freePort, startEngine } from "@orisma/server";
import { median, pass, type Pass, type Target } from "../measure.js";
import { startOrisma } from "../service.js";
import { FIRST_DAY, MAX_COST, STATES, importWorks, recordsTable } from "../works.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 7);
const SECONDS = Number(process.env.BENCH_SECONDS ?? 5);
const REQUESTS = 400;
/** Days of a window at most. */
const DAYS = Number(process.env.BENCH_DAYS ?? 31);

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
  await importWorks(orisma.client, ROWS);
  const table = await recordsTable(engine.login);
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
  const compound: Target = {
    ...target,
    name: "compound",
    paths: windows.map((query) => `${listing}?filter=${encodeURIComponent(compoundOf(query))}`),
  };
  await pass(compound, 2);
  const compounds: Pass[] = [];
  for (let count = 0; count < PASSES; count++) compounds.push(await pass(compound, SECONDS));
  const details = await orisma.client.listing("works");
  const ofCompound = median(compounds.map(({ cpu }) => cpu));
  const ofFive = median((passes.get("orisma") ?? []).map(({ cpu }) => cpu));
  report(passes, sharesOf(details, windows, table, ofFive, ofCompound));
}

/** The same conditions as one compound condition. */
function compoundOf(query: string): string {
  const sent = new URLSearchParams(query);
  const states = sent.getAll("status").map((state) => `'${state}'`);
  return (
    `raised >= DATE('${sent.get("from")}') AND raised <= DATE('${sent.get("to")}') ` +
    `AND status IN (${states.join(", ")}) AND cost >= ${sent.get("least")} AND cost <= ${sent.get("most")}`
  );
}

/** What it takes to understand a request and to write its statement, of a request's processor time. */
function sharesOf(
  listing: Awaited<ReturnType<OrismaClient["listing"]>>,
  windows: readonly string[],
  table: string,
  ofFive: number,
  ofCompound: number,
): readonly string[] {
  const columns: Catalogue = new Map(
    listing.shown.map(({ name, type, kind }) => [
      name,
      type === "date" ? { name, type, kind: kind ?? "date" } : { name, type },
    ]),
  );
  const found = findZone(listing.zone);
  const zone = found.ok ? found.value : UTC;
  const asOf = epochMs(Date.UTC(2026, 0, 1));
  const context = {
    asOf,
    zone,
    calendar: ISO_CALENDAR,
    columns,
    caller: "bench",
    allowed: [],
    forms: new Map(),
  };
  const sent = windows.map((query) => {
    const parameters = new URLSearchParams(query);
    return new Map([...parameters.keys()].map((name) => [name, parameters.getAll(name)]));
  });
  const strings = windows.map(compoundOf);
  const own = ownTable(table, columns);
  const filters = sent.map((each) => {
    const planned = planRequest(listing, each, context);
    if (!planned.ok) throw new Error("a request was refused");
    return planned.value.requested.filter;
  });
  const line = (what: string, of: string, cpu: number, us: number) =>
    `${what.padEnd(52)} ${us.toFixed(0).padStart(4)} µs, ${(us / cpu / 10).toFixed(1)} % of ${of}`;
  return [
    line(
      "five parameters read and checked",
      "their request's CPU",
      ofFive,
      perTime(sent, (each) => planRequest(listing, each, context)),
    ),
    line(
      "a condition in CQL2 of five parts read and checked",
      "its request's CPU",
      ofCompound,
      perTime(strings, (text) => readCql2(text, { window: { asOf, zone }, columns })),
    ),
    line(
      "the statement of its page and count written",
      "its request's CPU",
      ofCompound,
      perTime(filters, (filter) =>
        pageParts(
          {
            filter,
            columns: ["order", "raised", "task", "status", "cost"],
            order: { column: "raised", descending: true },
            after: null,
            limit: 51,
            counts: [{ filter, cap: 10_000 }],
          },
          own,
        )
          .slice(0, 1)
          .map((part) => pageStatement(part, own, MARIADB)),
      ),
    ),
  ];
}

function ownTable(table: string, columns: Catalogue): ImportedTable {
  const stored = [...columns.values()].map((column, index) => {
    const n = index + 1;
    const isText = column.type === "text";
    const cell = isText ? null : { state: `s${n}`, raw: `t${n}` };
    const folded = isText ? `f${n}` : null;
    return [
      column.name,
      { storage: "imported", column, value: `c${n}`, cell, folded, dictionary: null },
    ] as const;
  });
  return { table, key: "id", columns: new Map(stored) };
}

/** The middle of some passes over all of them, in microseconds for one. */
function perTime<T>(all: readonly T[], work: (each: T) => unknown): number {
  const times = Array.from({ length: 12 }, () => {
    const begun = performance.now();
    for (let round = 0; round < 10; round++) for (const each of all) work(each);
    return ((performance.now() - begun) * 1_000) / (10 * all.length);
  });
  return median(times.slice(2));
}

function report(passes: ReadonlyMap<string, readonly Pass[]>, shares: readonly string[]): void {
  const middle = (name: string, field: keyof Pass) =>
    median((passes.get(name) ?? []).map((each) => each[field]));
  const version = process.version;
  const lines = [
    `Records endpoint: a page of 50 under five parameters, in random windows of 1 to ${DAYS} days over ${ROWS}`,
    `rows of four years, with a total; ${PASSES} passes of ${SECONDS} s each in turn, medians.`,
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
    ...shares,
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

function randomWindows(): readonly string[] {
  let state = 20_261_125;
  const random = () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
  return Array.from({ length: REQUESTS }, () => {
    const start = FIRST_DAY + Math.floor(random() * 1_420) * 86_400_000;
    const end = start + Math.floor(random() * DAYS) * 86_400_000;
    const day = (ms: number) => new Date(ms).toISOString().slice(0, 10);
    const states = Math.floor(random() * 4);
    const least = Math.floor((random() * MAX_COST) / 2);
    return [
      `from=${day(start)}&to=${day(end)}`,
      `status=${STATES[states]}&status=${STATES[(states + 1) % 4]}`,
      `least=${least}&most=${least + Math.floor(MAX_COST / 2)}`,
    ]
      .join("&")
      .replaceAll(" ", "%20");
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
