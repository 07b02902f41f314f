import type { CostClass } from "./limits.js";

/** A page that lately took longer than this, in milliseconds, waits with the heavy calls. */
const HEAVY_MS = 400;
/** A heavy call that lately took less than this runs with the pages: it holds nobody up. */
const LIGHT_MS = 40;
/** How much the last of a call's times counts against those before. */
const WEIGHT = 0.3;
/** Calls whose times are held, each a few dozen bytes. */
const MAX_HELD = 5_000;

/** What calls cost lately, by what they ask of which listing. */
export class Costs {
  readonly #ms = new Map<string, number>();

  /** The class in which a call runs: that of its kind, unless its like cost otherwise lately. */
  classOf(kind: CostClass, key: string): CostClass {
    const lately = this.#ms.get(key);
    if (lately === undefined || kind === "export") return kind;
    if (lately > HEAVY_MS) return "heavy";
    return lately < LIGHT_MS ? "page" : kind;
  }

  /** Notes what a call took, in milliseconds. */
  note(key: string, ms: number): void {
    const before = this.#ms.get(key);
    this.#ms.delete(key);
    this.#ms.set(key, before === undefined ? ms : before + WEIGHT * (ms - before));
    if (this.#ms.size <= MAX_HELD) return;
    const oldest = this.#ms.keys().next();
    if (oldest.done !== true) this.#ms.delete(oldest.value);
  }
}
