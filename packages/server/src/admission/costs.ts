import type { CostClass } from "./limits.js";

/** Pages that take longer than this, in milliseconds, so many times in a row wait with the heavy calls. */
const HEAVY_MS = 400;
const TIMES_IN_A_ROW = 4;
/** A heavy call that lately took less than this runs with the pages: it holds nobody up. */
const LIGHT_MS = 40;
/** How much the last of a call's times counts against those before. */
const WEIGHT = 0.3;
/** Calls whose times are held, each a few dozen bytes. */
const MAX_HELD = 5_000;

/** What a call cost lately. */
interface Cost {
  readonly averageMs: number;
  /** How often in a row it took longer than {@link HEAVY_MS}. */
  readonly slow: number;
}

/** What calls cost lately, by what they ask of which listing. */
export class Costs {
  readonly #lately = new Map<string, Cost>();

  /** The class in which a call runs: that of its kind, unless its like cost otherwise lately. */
  classOf(kind: CostClass, key: string): CostClass {
    const lately = this.#lately.get(key);
    if (lately === undefined || kind === "export") return kind;
    // Once is chance: what is slow for want of processors is no heavier than others.
    if (lately.slow >= TIMES_IN_A_ROW) return "heavy";
    return kind === "heavy" && lately.averageMs < LIGHT_MS ? "page" : kind;
  }

  /** Notes what a call took, in milliseconds. */
  note(key: string, ms: number): void {
    const before = this.#lately.get(key);
    const averageMs =
      before === undefined ? ms : before.averageMs + WEIGHT * (ms - before.averageMs);
    this.#lately.delete(key);
    this.#lately.set(key, { averageMs, slow: ms > HEAVY_MS ? (before?.slow ?? 0) + 1 : 0 });
    if (this.#lately.size <= MAX_HELD) return;
    const oldest = this.#lately.keys().next();
    if (oldest.done !== true) this.#lately.delete(oldest.value);
  }
}
