import { DatabaseUnavailable } from "./unavailable.js";

/** Milliseconds for which a database that failed once is not asked; doubled with each failure in a row. */
const FIRST_PAUSE_MS = 1_000;
const LONGEST_PAUSE_MS = 30_000;

/**
 * Keeps requests from waiting for a database that is away: after a failure each is refused at once for a
 * while, then one may try while the others are still refused.
 */
export class Circuit {
  #failures = 0;
  #closedUntil = 0;

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** Throws {@link DatabaseUnavailable} where the database is not to be asked now. */
  check(): void {
    const now = this.now();
    if (now < this.#closedUntil) {
      const seconds = Math.ceil((this.#closedUntil - now) / 1_000);
      throw new DatabaseUnavailable(
        `the database did not answer, and is tried again in ${seconds} s`,
      );
    }
    if (this.#failures > 0) this.#closedUntil = now + this.#pauseMs();
  }

  failed(): void {
    this.#failures++;
    this.#closedUntil = this.now() + this.#pauseMs();
  }

  succeeded(): void {
    this.#failures = 0;
    this.#closedUntil = 0;
  }

  #pauseMs(): number {
    return Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (this.#failures - 1));
  }
}
