/** What a call costs by its kind: a page, figures over many records, or all records of a request. */
export type CostClass = "page" | "heavy" | "export";

/** How many calls of a class run and wait at once. */
export interface PoolLimits {
  /** Calls that run at once, each with a connection of the database. */
  readonly running: number;
  /** Calls that wait at most, of all callers, and of one. */
  readonly waiting: number;
  readonly waitingOfCaller: number;
  /** Milliseconds that a call waits at most. */
  readonly waitMs: number;
}

/**
 * The limits of each class. Heavy calls run on one core fewer than there are, so that one is left for
 * pages.
 */
export function poolLimits(cores: number): Readonly<Record<CostClass, PoolLimits>> {
  return {
    page: { running: 6, waiting: 400, waitingOfCaller: 100, waitMs: 5_000 },
    heavy: {
      running: Math.min(8, Math.max(1, cores - 1)),
      waiting: 200,
      waitingOfCaller: 50,
      waitMs: 20_000,
    },
    export: { running: 3, waiting: 30, waitingOfCaller: 6, waitMs: 10_000 },
  };
}
