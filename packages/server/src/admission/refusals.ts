import { setTimeout as sleep } from "node:timers/promises";

/** Refusals of one caller that are sent at once in a second: few where it is its own calls that are too many. */
const AT_ONCE = { "too-many-requests": 20, overloaded: 200 } as const;
/** Milliseconds that further ones are held back: whoever does not wait by itself is made to. */
const HELD_BACK_MS = { "too-many-requests": 4_000, overloaded: 1_000 } as const;

/** Slows down callers that try again and again although they were told when to. */
export class Refusals {
  #second = 0;
  readonly #counts = new Map<string, number>();

  /** Waits where a caller was refused too often within this second; ends early with its client. */
  async holdBack(caller: string, why: keyof typeof AT_ONCE, signal: AbortSignal): Promise<void> {
    const second = Math.floor(performance.now() / 1_000);
    if (second !== this.#second) {
      this.#second = second;
      this.#counts.clear();
    }
    const count = (this.#counts.get(caller) ?? 0) + 1;
    this.#counts.set(caller, count);
    if (count <= AT_ONCE[why]) return;
    await sleep(HELD_BACK_MS[why], undefined, { signal }).catch(() => undefined);
  }
}
