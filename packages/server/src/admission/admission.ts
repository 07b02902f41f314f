import { availableParallelism } from "node:os";
import { performance } from "node:perf_hooks";
import type { Request, RequestHandler } from "express";
import { disconnectedSignal, sendProblem } from "../http/index.js";
import { Costs } from "./costs.js";
import { Crowding } from "./crowding.js";
import { poolLimits, type CostClass, type PoolLimits } from "./limits.js";
import { Pool, Refusal } from "./pool.js";
import { Refusals } from "./refusals.js";

/** A call on records, as it is admitted. */
export interface AdmittedCall {
  /** The class of its kind. */
  readonly kind: CostClass;
  /** The id of the caller's key, and what it was sent with. */
  readonly caller: string;
  readonly credentials?: string | undefined;
  /** The path of its URL. */
  readonly path?: string | undefined;
  readonly listing: string;
  /** What it asks of the listing, without the values: calls of one key cost about the same. */
  readonly costKey: string;
  /** Calls of the listing that run at once at most, in each class; no limit of its own by default. */
  readonly maxOfListing?: number;
}

/** The share of a time that the event loop is at work from which on the process is busy. */
const BUSY = 0.85;
/** Milliseconds within which a call was quick, whatever else there was to do. */
const QUICK_MS = 100;

/** Whether a request is for a page or a record for certain, and for no export. */
function isPage({ method, originalUrl, headers: { accept = "" } }: Request): boolean {
  return (
    method === "GET" &&
    /^\/v1\/listings\/[^/?]+\/records(?:\/[^/?]+)?(?:\?(?!.*\bformat=).*)?$/.test(originalUrl) &&
    (accept === "" || /json|^\*\/\*$/.test(accept))
  );
}

const CLASSES = ["page", "heavy", "export"] as const;

/**
 * Who may ask the database now: calls run in pools of their own by what they cost, so that a page never
 * waits behind summaries and exports, and take turns by caller, so that nobody's calls keep out another's.
 */
export class Admission {
  readonly #costs = new Costs();
  readonly #refusals = new Refusals();
  readonly #crowding = new Crowding();
  readonly #pools: Readonly<Record<CostClass, Pool>>;

  constructor(
    limits: Readonly<Record<CostClass, PoolLimits>> = poolLimits(availableParallelism()),
  ) {
    this.#pools = {
      page: new Pool(limits.page),
      heavy: new Pool(limits.heavy),
      export: new Pool(limits.export),
    };
  }

  /**
   * Runs a call when it is its turn. Throws a problem, before any work, where too many wait: 429
   * (`too-many-requests`) for the caller's own, 503 (`overloaded`) for everybody's, each with
   * `Retry-After`.
   */
  async run<T>(call: AdmittedCall, signal: AbortSignal, work: () => Promise<T>): Promise<T> {
    const { kind, caller, listing, costKey, maxOfListing = Infinity } = call;
    const key = `${listing} ${costKey}`;
    const pool = this.#pools[this.#costs.classOf(kind, key)];
    const timed = async () => {
      const started = performance.now();
      const loop = performance.eventLoopUtilization();
      try {
        return await work();
      } finally {
        const ms = performance.now() - started;
        const { utilization } = performance.eventLoopUtilization(loop);
        // That it took long says nothing of the call where this process itself had no time to spare.
        if (ms < QUICK_MS || utilization < BUSY) this.#costs.note(kind, key, ms);
      }
    };
    try {
      return await pool.run({ caller, listing, maxOfListing }, signal, timed);
    } catch (error) {
      if (error instanceof Refusal) {
        if (error.why === "too-many-requests") this.#crowding.note(call, key);
        await this.#refusals.holdBack(caller, error.why, signal);
      }
      throw error;
    }
  }

  /**
   * Turns requests away before anything is done for them: pages while no page can even wait, and calls like
   * those by which a caller has filled its share, while it has. What a refusal costs is taken from those that
   * are answered. The problems are those of {@link run}.
   */
  readonly turnAway: RequestHandler = (request, response, next) => {
    const crowding = this.#crowding.of(request);
    const refusal =
      crowding !== null
        ? this.#pools[this.#costs.classOf(crowding.kind, crowding.key)].refuse(crowding.caller)
        : isPage(request)
          ? this.#pools.page.refuse(null)
          : null;
    if (refusal === null) {
      next();
      return;
    }
    const caller = request.get("Authorization") ?? request.ip ?? "";
    const signal = disconnectedSignal(response);
    void this.#refusals.holdBack(caller, refusal.why, signal).then(() => {
      if (!signal.aborted) sendProblem(response, refusal);
    });
  };

  /** Calls that run and that wait now, by class. */
  counts(): readonly {
    readonly class: CostClass;
    readonly running: number;
    readonly waiting: number;
  }[] {
    return CLASSES.map((each) => {
      const { running, waiting } = this.#pools[each];
      return { class: each, running, waiting };
    });
  }
}
