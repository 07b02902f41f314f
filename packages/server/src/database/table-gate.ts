/** Milliseconds after which it is tried again to drop a table. */
const AGAIN_MS = 2_000;

/**
 * Lets a copy of all tables be begun at one moment: meanwhile no table takes the place of another, and none
 * is dropped until the copy is whole.
 */
export class TableGate {
  readonly #changing = new Set<Promise<unknown>>();
  #closed: Promise<void> | null = null;
  #deferred: (() => Promise<unknown>)[] | null = null;
  /** What could not be dropped yet. */
  readonly #left: (() => Promise<unknown>)[] = [];
  #timer: NodeJS.Timeout | null = null;
  #isStopped = false;

  /** Does what puts a table in the place of another. */
  async change<T>(work: () => Promise<T>): Promise<T> {
    while (this.#closed !== null) await this.#closed;
    const changed = work();
    const ended = changed.catch(() => undefined);
    this.#changing.add(ended);
    try {
      return await changed;
    } finally {
      this.#changing.delete(ended);
    }
  }

  /**
   * Drops a table; where a copy is made, once that is whole. What cannot be dropped now, since the database
   * is away, is tried again until it is: nobody waits for it.
   */
  async drop(work: () => Promise<unknown>): Promise<void> {
    if (this.#deferred !== null) this.#deferred.push(work);
    else await this.#dropped([work]);
  }

  /** Tries no more; what is left is found and dropped at the next start. */
  stop(): void {
    this.#isStopped = true;
    if (this.#timer !== null) clearTimeout(this.#timer);
  }

  async #dropped(works: readonly (() => Promise<unknown>)[]): Promise<void> {
    for (const work of works) {
      await work().catch(() => {
        this.#left.push(work);
        if (!this.#isStopped)
          this.#timer ??= setTimeout(() => void this.#again(), AGAIN_MS).unref();
      });
    }
  }

  async #again(): Promise<void> {
    this.#timer = null;
    await this.#dropped(this.#left.splice(0));
  }

  /** Whether a copy is being made: there is one at a time. */
  get isCopying(): boolean {
    return this.#deferred !== null;
  }

  /** Makes a copy, which calls `begun` once its moment has come; tables may change from then on. */
  async copy<T>(work: (begun: () => void) => Promise<T>): Promise<T> {
    const deferred: (() => Promise<unknown>)[] = [];
    this.#deferred = deferred;
    let begun: () => void = () => undefined;
    this.#closed = new Promise((resolve) => {
      begun = () => {
        this.#closed = null;
        resolve();
      };
    });
    try {
      await Promise.all(this.#changing);
      return await work(begun);
    } finally {
      begun();
      this.#deferred = null;
      await this.#dropped(deferred);
    }
  }
}
