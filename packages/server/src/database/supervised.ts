import type { ChildProcess } from "node:child_process";
import { setTimeout as sleep } from "node:timers/promises";

/** A server process that answers. */
export interface Launched {
  readonly server: ChildProcess;
  /** How it ended, once it has. */
  readonly ended: Promise<string>;
}

/** What is done about a server that ends by itself. */
export interface Supervision {
  /** Called with each end, each start, and each start that failed. */
  readonly tell: (line: string) => void;
  /** Called where it is not started again. */
  readonly onCrash: (report: string) => void;
  /** An end in words, with what is known of why. */
  readonly reportOf: (how: string) => string;
  /** Milliseconds before the first start after a crash. */
  readonly backOffMs?: number;
}

/** Milliseconds that a server may take to end when it is asked to. */
export const STOP_LIMIT_MS = 60_000;
const BACK_OFF_MS = 250;
const LONGEST_BACK_OFF_MS = 30_000;
/**
 * A server that ran for so many milliseconds had started well: the count begins again. One that ends again and again
 * later on is of more use than none.
 */
const STEADY_MS = 15_000;
/** Starts in a row that fail, or end soon, before it is given up. */
const MAX_STARTS = 8;

/** A server that is started again when it ends by itself, after a pause that doubles each time. */
export class Supervised {
  readonly #stopped = new AbortController();
  readonly #done: Promise<void>;
  #current: Launched;

  constructor(
    first: Launched,
    private readonly launch: () => Promise<Launched>,
    private readonly supervision: Supervision,
  ) {
    this.#current = first;
    this.#done = this.#watch();
  }

  /** Asks the server to end, kills it after a limit, and waits until it has ended; it is not started again. */
  async stop(limitMs = STOP_LIMIT_MS): Promise<void> {
    this.#stopped.abort();
    this.#current.server.kill("SIGTERM");
    const timeout = setTimeout(() => this.#current.server.kill("SIGKILL"), limitMs);
    await this.#done;
    clearTimeout(timeout);
  }

  #isStopping(): boolean {
    return this.#stopped.signal.aborted;
  }

  async #watch(): Promise<void> {
    const { tell, onCrash, reportOf } = this.supervision;
    let since = performance.now();
    let starts = 0;
    for (;;) {
      const report = reportOf(await this.#current.ended);
      if (this.#isStopping()) return;
      if (performance.now() - since > STEADY_MS) starts = 0;
      tell(report);
      for (let isUp = false; !isUp;) {
        if (starts === MAX_STARTS) {
          onCrash(report);
          return;
        }
        isUp = await this.#start(starts++);
        if (this.#isStopping() && !isUp) return;
      }
      since = performance.now();
    }
  }

  /** Starts the server after the pause that is due after so many starts; says whether it is up. */
  async #start(before: number): Promise<boolean> {
    const { tell, backOffMs = BACK_OFF_MS } = this.supervision;
    const pause = Math.min(LONGEST_BACK_OFF_MS, backOffMs * 2 ** before);
    await sleep(pause, undefined, { signal: this.#stopped.signal }).catch(() => undefined);
    if (this.#isStopping()) return false;
    try {
      this.#current = await this.launch();
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error));
      return false;
    }
    tell("the database was started again");
    // Asked to stop while it was starting.
    if (this.#isStopping()) this.#current.server.kill("SIGTERM");
    return true;
  }
}
