import { setImmediate } from "node:timers/promises";

/** Milliseconds for which work may go on before others have their turn. */
const TURN_MS = 15;

/** Lets others have their turn in long work: call {@link Turns.pause} between its steps. */
export class Turns {
  #since = performance.now();

  /** Waits for others where this work has gone on for long. */
  async pause(): Promise<void> {
    if (performance.now() - this.#since < TURN_MS) return;
    await setImmediate();
    this.#since = performance.now();
  }
}
