/**
 * Lets a copy of all tables be begun at one moment: meanwhile no table takes the place of another, and none
 * is dropped until the copy is whole.
 */
export class TableGate {
  readonly #changing = new Set<Promise<unknown>>();
  #closed: Promise<void> | null = null;
  #deferred: (() => Promise<unknown>)[] | null = null;

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

  /** Drops a table; where a copy is made, once that is whole. */
  async drop(work: () => Promise<unknown>): Promise<void> {
    if (this.#deferred === null) await work();
    else this.#deferred.push(work);
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
      // What is left is found and dropped at the next start.
      for (const drop of deferred) await drop().catch(() => undefined);
    }
  }
}
