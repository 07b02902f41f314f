import { Problem } from "../http/index.js";

/** Seconds after which a caller may try again. */
const RETRY_AFTER_S = 10;

/**
 * Keeps apart what writes to a source: records that are imported or read again go into a table of
 * their own, which takes the place of the one before; whatever was written to that one meanwhile
 * would be lost.
 */
export class SourceLocks {
  readonly #filling = new Set<string>();
  readonly #writing = new Map<string, Set<Promise<unknown>>>();

  /**
   * Does what replaces the records of a source, once all that writes to them has ended. Throws a
   * problem where something else replaces them already.
   */
  async whileReplacing<T>(name: string, work: () => Promise<T>): Promise<T> {
    this.#mustBeFree(name);
    this.#filling.add(name);
    try {
      await Promise.allSettled([...(this.#writing.get(name) ?? [])]);
      return await work();
    } finally {
      this.#filling.delete(name);
    }
  }

  /** Does what writes to the records of a source; throws a problem while they are replaced. */
  async whileWriting<T>(name: string, work: () => Promise<T>): Promise<T> {
    this.#mustBeFree(name);
    const written = work();
    const others = this.#writing.get(name) ?? new Set();
    this.#writing.set(name, others.add(written));
    try {
      return await written;
    } finally {
      others.delete(written);
      if (others.size === 0) this.#writing.delete(name);
    }
  }

  #mustBeFree(name: string): void {
    if (!this.#filling.has(name)) return;
    const detail = `The records of ${name} are being replaced at the moment. Try again when that has ended.`;
    throw new Problem("busy", detail, [], { "Retry-After": String(RETRY_AFTER_S) });
  }
}
