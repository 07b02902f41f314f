import type { CostClass } from "./limits.js";

/**
 * Pages that take longer than this, in milliseconds, so many times in a row, and so many times as long as the
 * cheapest do, wait with the heavy calls: when all are slow for want of processors, none is heavier.
 */
const HEAVY_MS = 400;
const TIMES_IN_A_ROW = 4;
const TIMES_THE_CHEAPEST = 8;
/** Milliseconds for which the cheapest is looked up once. */
const LOOK_EVERY_MS = 1_000;
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
  readonly kind: CostClass;
}

/** What calls cost lately, by what they ask of which listing. */
export class Costs {
  readonly #lately = new Map<string, Cost>();
  #cheapest = { ms: 0, at: -Infinity };

  /** The class in which a call runs: that of its kind, unless its like cost otherwise lately. */
  classOf(kind: CostClass, key: string): CostClass {
    const lately = this.#lately.get(key);
    if (lately === undefined || kind === "export") return kind;
    const isHeavier = lately.averageMs > TIMES_THE_CHEAPEST * this.#cheapestPage();
    if (lately.slow >= TIMES_IN_A_ROW && isHeavier) return "heavy";
    return kind === "heavy" && lately.averageMs < LIGHT_MS ? "page" : kind;
  }

  /** Notes what a call took, in milliseconds. */
  note(kind: CostClass, key: string, ms: number): void {
    const before = this.#lately.get(key);
    const averageMs =
      before === undefined ? ms : before.averageMs + WEIGHT * (ms - before.averageMs);
    this.#lately.delete(key);
    this.#lately.set(key, { averageMs, slow: ms > HEAVY_MS ? (before?.slow ?? 0) + 1 : 0, kind });
    if (this.#lately.size <= MAX_HELD) return;
    const oldest = this.#lately.keys().next();
    if (oldest.done !== true) this.#lately.delete(oldest.value);
  }

  /** What the cheapest of the pages that are held takes, in milliseconds. */
  #cheapestPage(): number {
    const now = performance.now();
    if (now - this.#cheapest.at >= LOOK_EVERY_MS) {
      let ms = Infinity;
      for (const each of this.#lately.values()) {
        if (each.kind === "page" && each.averageMs < ms) ms = each.averageMs;
      }
      this.#cheapest = { ms: ms === Infinity ? 0 : ms, at: now };
    }
    return this.#cheapest.ms;
  }
}
