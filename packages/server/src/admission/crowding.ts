import type { Request } from "express";
import type { CostClass } from "./limits.js";

/** Callers whose last refusals are held, a few hundred bytes each. */
const MAX_HELD = 200;

/** What a caller was refused for. */
export interface Crowded {
  readonly caller: string;
  readonly kind: CostClass;
  /** What such calls cost lately is known by. */
  readonly key: string;
}

/** What each caller has lately sent too much of, by what it sends before it is known who it is. */
export class Crowding {
  readonly #lately = new Map<string, Crowded>();

  /** Notes that a call was refused because too many of its caller are waiting. */
  note(
    call: Omit<Crowded, "key"> & {
      readonly credentials?: string | undefined;
      readonly path?: string | undefined;
    },
    key: string,
  ): void {
    const { credentials, path, caller, kind } = call;
    if (credentials === undefined || path === undefined) return;
    const place = placeOf(credentials, path);
    this.#lately.delete(place);
    this.#lately.set(place, { caller, kind, key });
    const oldest = this.#lately.keys().next();
    if (this.#lately.size > MAX_HELD && oldest.done !== true) this.#lately.delete(oldest.value);
  }

  /** What a request is like that was refused lately; null where it is like none. */
  of({ headers: { authorization }, originalUrl }: Request): Crowded | null {
    if (this.#lately.size === 0 || authorization === undefined) return null;
    const [path = ""] = originalUrl.split("?", 1);
    return this.#lately.get(placeOf(authorization, path)) ?? null;
  }
}

function placeOf(credentials: string, path: string): string {
  return `${credentials} ${path}`;
}
