import { Problem } from "../http/index.js";
import type { PoolLimits } from "./limits.js";

/** A call is not run: its caller tries again when the answer says. */
export class Refusal extends Problem {
  constructor(
    readonly why: "too-many-requests" | "overloaded",
    detail: string,
    headers: Readonly<Record<string, string>>,
  ) {
    super(why, detail, [], headers);
  }
}

/** A call that wants to run. */
export interface WaitingCall {
  readonly caller: string;
  readonly listing: string;
  /** Calls of the listing that run at once at most. */
  readonly maxOfListing: number;
}

interface Waiting extends WaitingCall {
  readonly start: () => void;
}

/**
 * How many turns each refused call stands for: those that are served come again at once, before those
 * that were told to wait.
 */
const TURNS_OF_REFUSED = 2;
/** Seconds that a caller is told to wait at least and at most before it tries again. */
const RETRY_S = { min: 1, max: 30 };
/** How much the last call's time counts in the average by which the wait is foretold. */
const WEIGHT = 0.1;

/**
 * Calls of one class: some run, the others wait their turn. Of those that wait the next is of the
 * caller that has the fewest running, and of these the one that was served longest ago: however many
 * calls a caller sends, another's waits for one of them at most.
 */
export class Pool {
  readonly #waiting = new Map<string, Waiting[]>();
  readonly #runningOf = new Map<string, number>();
  #running = 0;
  #queued = 0;
  #averageMs = 50;
  /** Until when turns are promised to calls that were refused; each is told to come when it is its own. */
  #promisedUntil = 0;

  constructor(private readonly limits: PoolLimits) {}

  get running(): number {
    return this.#running;
  }

  get waiting(): number {
    return this.#queued;
  }

  /**
   * Refuses a call where no more can even wait, and promises it a turn; null where it can run, or wait. With the
   * caller it is also refused where too many of that caller's wait.
   */
  refuse(caller: string | null): Refusal | null {
    const mine = caller === null ? 0 : (this.#waiting.get(caller)?.length ?? 0);
    if (mine < this.limits.waitingOfCaller) {
      return this.#queued < this.limits.waiting
        ? null
        : this.#overloaded("Too many requests are waiting");
    }
    const detail = `${mine} requests of this key are waiting already`;
    return new Refusal("too-many-requests", detail, retryAfter(mine * this.#turnMs()));
  }

  /**
   * Runs work when it is its turn. Refused at once with 429 where its caller has too many calls
   * waiting, with 503 where all have, and with 503 where it waited too long; a call whose client
   * disconnects waits no longer.
   */
  async run<T>(call: WaitingCall, signal: AbortSignal, work: () => Promise<T>): Promise<T> {
    await this.#turn(call, signal);
    const started = performance.now();
    try {
      return await work();
    } finally {
      this.#averageMs += WEIGHT * (performance.now() - started - this.#averageMs);
      this.#release(call);
    }
  }

  #turn(call: WaitingCall, signal: AbortSignal): Promise<void> | undefined {
    const { caller } = call;
    // An event that has been is not heard again.
    if (signal.aborted) throw reasonOf(signal);
    if (this.#running < this.limits.running && this.#queued === 0 && this.#mayRun(call)) {
      this.#hold(call);
      return undefined;
    }
    const refusal = this.refuse(caller);
    if (refusal !== null) throw refusal;
    const mine = this.#waiting.get(caller) ?? [];
    return new Promise((resolve, reject) => {
      const leave = (error: Error) => {
        this.#forget(waiting);
        end();
        reject(error);
      };
      const late = () => leave(this.#overloaded("The request waited too long for its turn"));
      const timer = setTimeout(late, this.limits.waitMs);
      const onAbort = () => leave(reasonOf(signal));
      const end = () => {
        clearTimeout(timer);
        signal.removeEventListener("abort", onAbort);
      };
      const waiting: Waiting = {
        ...call,
        start: () => {
          end();
          resolve();
        },
      };
      signal.addEventListener("abort", onAbort, { once: true });
      // Last in the order of callers: whoever waits longest is first.
      this.#waiting.set(caller, [...mine, waiting]);
      this.#queued++;
      this.#next();
    });
  }

  #release({ caller, listing }: WaitingCall): void {
    this.#running--;
    for (const key of [caller, listingKey(listing)]) {
      const remaining = (this.#runningOf.get(key) ?? 1) - 1;
      if (remaining === 0) this.#runningOf.delete(key);
      else this.#runningOf.set(key, remaining);
    }
    this.#next();
  }

  /** Starts those whose turn it is. */
  #next(): void {
    while (this.#running < this.limits.running) {
      const next = this.#first();
      if (next === null) return;
      this.#forget(next);
      // Behind all other callers from now on.
      const others = this.#waiting.get(next.caller);
      if (others !== undefined) {
        this.#waiting.delete(next.caller);
        this.#waiting.set(next.caller, others);
      }
      this.#hold(next);
      next.start();
    }
  }

  #first(): Waiting | null {
    let found: Waiting | null = null;
    let fewest = Infinity;
    for (const [caller, all] of this.#waiting) {
      const running = this.#runningOf.get(caller) ?? 0;
      if (running >= fewest) continue;
      const first = all.find((each) => this.#mayRun(each));
      if (first !== undefined) [found, fewest] = [first, running];
    }
    return found;
  }

  #mayRun({ listing, maxOfListing }: WaitingCall): boolean {
    return (this.#runningOf.get(listingKey(listing)) ?? 0) < maxOfListing;
  }

  #hold({ caller, listing }: WaitingCall): void {
    this.#running++;
    for (const key of [caller, listingKey(listing)]) {
      this.#runningOf.set(key, (this.#runningOf.get(key) ?? 0) + 1);
    }
  }

  #forget(waiting: Waiting): void {
    const all = this.#waiting.get(waiting.caller)?.filter((each) => each !== waiting) ?? [];
    if (all.length === 0) this.#waiting.delete(waiting.caller);
    else this.#waiting.set(waiting.caller, all);
    this.#queued--;
  }

  /** Each is told to come when all who were told so before have had their turn. */
  #overloaded(detail: string): Refusal {
    const now = performance.now();
    const turnMs = this.#turnMs();
    const from = Math.max(now + this.#queued * turnMs, this.#promisedUntil);
    this.#promisedUntil = Math.min(from + TURNS_OF_REFUSED * turnMs, now + RETRY_S.max * 1_000);
    return new Refusal("overloaded", detail, retryAfter(this.#promisedUntil - now));
  }

  /** Milliseconds after which one of the calls that run makes room for the next. */
  #turnMs(): number {
    return this.#averageMs / this.limits.running;
  }
}

function retryAfter(ms: number): Readonly<Record<string, string>> {
  const seconds = Math.min(RETRY_S.max, Math.max(RETRY_S.min, Math.ceil(ms / 1_000)));
  return { "Retry-After": String(seconds) };
}

/** Why a call is given up. */
function reasonOf({ reason }: AbortSignal): Error {
  return reason instanceof Error ? reason : new Error(String(reason));
}

/** Callers and listings are counted side by side; no caller's id begins so. */
function listingKey(listing: string): string {
  return `listing ${listing}`;
}
