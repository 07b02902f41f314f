/**
 * All records as CSV, against what is written by hand: the bare driver's rows, one by one, into the
 * answer, with its back pressure. One run, in turn; both send the same rows.
 */
import { fork } from "node:child_process";
import { once } from "node:events";
import { chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { cpus, release, tmpdir } from "node:os";
import { join } from "node:path";
import { freePort, startEngine } from "@orisma/server";
import { median } from "../measure.js";
import { say } from "../rivals.js";
import { startOrisma } from "../service.js";
import { importWorks, recordsTable } from "../works.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 5);

const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
chmodSync(scratch, 0o711);
const engine = await startEngine({ folder: join(scratch, "database"), tell: say, onCrash: say });
const orisma = await startOrisma(engine.login, join(scratch, "state"));
say(`importing ${ROWS} rows …`);
await importWorks(orisma.client, ROWS);
const table = await recordsTable(engine.login);
const port = await freePort();
const rival = fork(join(import.meta.dirname, "by-hand.js"), {
  env: {
    ...process.env,
    NODE_ENV: "production",
    BENCH_TASK: JSON.stringify({ login: engine.login, table, key: orisma.key, port }),
  },
});
await once(rival, "message");

/** The service that is to be ended, whatever happens. */
let running = orisma.child;

interface Taken {
  readonly seconds: number;
  readonly bytes: number;
  readonly lines: number;
  readonly most: number;
}

/** Takes a whole answer, and looks at the memory of its process meanwhile. */
async function take(url: string, pid: number): Promise<Taken> {
  const begun = performance.now();
  const response = await fetch(url, {
    headers: { authorization: `Bearer ${orisma.key}`, "accept-encoding": "identity" },
  });
  if (!response.ok || response.body === null) throw new Error(`${url}: ${response.status}`);
  let [bytes, lines, most, looked] = [0, 0, 0, 0];
  for await (const chunk of response.body) {
    bytes += chunk.length;
    for (const character of chunk) if (character === 10) lines++;
    if (bytes - looked > 1_000_000) {
      looked = bytes;
      most = Math.max(most, memoryMb(pid));
    }
  }
  return { seconds: (performance.now() - begun) / 1_000, bytes, lines, most };
}

function memoryMb(pid: number): number {
  const [, kb = "0"] = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8")) ?? [];
  return Number(kb) / 1_024;
}

try {
  // Taking the file left garbage: what an export needs is seen in a service that begins again.
  orisma.child.kill("SIGTERM");
  await once(orisma.child, "exit");
  const fresh = await startOrisma(engine.login, join(scratch, "state"));
  running = fresh.child;
  const targets = [
    ["orisma", `${fresh.url}/v1/listings/works/records.csv?order=raised`, fresh.child.pid ?? 0],
    ["by hand", `http://127.0.0.1:${port}/works.csv`, rival.pid ?? 0],
  ] as const;
  const took = new Map<string, Taken[]>(targets.map(([name]) => [name, []]));
  for (let count = 0; count <= PASSES; count++) {
    for (const [name, url, pid] of targets) {
      const result = await take(url, pid);
      if (result.lines !== ROWS + 1) throw new Error(`${name} sent ${result.lines} lines`);
      if (count > 0) took.get(name)?.push(result);
    }
    say(`pass ${count} of ${PASSES}`);
  }
  const [own = [], other = []] = [took.get("orisma"), took.get("by hand")];
  const ratio = median(own.map(({ seconds }, index) => (other[index]?.seconds ?? NaN) / seconds));
  const middle = (of: readonly Taken[]) => median(of.map(({ seconds }) => seconds));
  process.stdout.write(
    [
      `All ${ROWS} records as CSV, by date; ${PASSES} passes in turn, medians.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, MariaDB on the same machine.`,
      "",
      `orisma    ${middle(own).toFixed(1)} s, ${((own[0]?.bytes ?? 0) / 1e6).toFixed(0)} MB, memory of the service at most ${Math.max(...own.map(({ most }) => most)).toFixed(0)} MB`,
      `by hand   ${middle(other).toFixed(1)} s, ${((other[0]?.bytes ?? 0) / 1e6).toFixed(0)} MB, memory at most ${Math.max(...other.map(({ most }) => most)).toFixed(0)} MB`,
      `orisma / by hand: ${ratio.toFixed(2)} times as fast`,
      "",
    ].join("\n"),
  );
} finally {
  rival.kill("SIGTERM");
  running.kill("SIGTERM");
  await once(running, "exit");
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
}
