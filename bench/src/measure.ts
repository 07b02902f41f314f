import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import autocannon from "autocannon";

/** One server under load, for one pass. */
export interface Pass {
  /** Requests answered a second. */
  readonly rate: number;
  /** Milliseconds of the server's own processor time a request. */
  readonly cpu: number;
  readonly p50: number;
  readonly p99: number;
}

/** A server to put under load. */
export interface Target {
  readonly name: string;
  readonly pid: number;
  readonly url: string;
  readonly paths: readonly string[];
  readonly headers: Readonly<Record<string, string>>;
}

/** Requests that are on their way at a time. */
const CONNECTIONS = Number(process.env.BENCH_CONNECTIONS ?? 8);

/** Sends requests for some seconds; throws where any is not answered with 200. */
export async function pass(target: Target, seconds: number): Promise<Pass> {
  const before = processorMs(target.pid);
  const result = await autocannon({
    url: target.url,
    connections: CONNECTIONS,
    duration: seconds,
    headers: { ...target.headers },
    requests: target.paths.map((path) => ({ path })),
  });
  const spent = processorMs(target.pid) - before;
  const { total } = result.requests;
  if (total === 0 || result.non2xx > 0 || result.errors > 0) {
    throw new Error(
      `${target.name}: ${result.non2xx} refused, ${result.errors} failed of ${total}`,
    );
  }
  return {
    rate: total / result.duration,
    cpu: spent / total,
    p50: result.latency.p50,
    p99: result.latency.p99,
  };
}

const TICKS_PER_SECOND = Number(execFileSync("getconf", ["CLK_TCK"], { encoding: "utf8" }));

/** Processor time that a process has used, user and system. */
function processorMs(pid: number): number {
  const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
  const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
  return ((Number(fields[11]) + Number(fields[12])) * 1_000) / TICKS_PER_SECOND;
}

/** The middle value. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
}
