import type { IndexProposal } from "../sources/index.js";
import { hasIndexFor, indexFor } from "./indexable.js";
import type { PreparedRequest } from "./prepared.js";
import { conditionsOf } from "./why.js";

/** Milliseconds from which on a request is slow. */
const SLOW_MS = 200;
/** Indexes that are remembered as wanted at most; of more the oldest are forgotten. */
const MAX_WANTED = 500;
/** Those that are proposed for a source at most. */
const MAX_PROPOSED = 10;

interface Wanted extends IndexProposal {
  readonly source: string;
}

/** Which indexes would have served the requests that were slow. */
export class Demand {
  readonly #wanted = new Map<string, Wanted>();

  /** Notes how long a request took, in milliseconds. */
  note({ listing, filter }: PreparedRequest, ms: number): void {
    if (ms < SLOW_MS) return;
    const { name: source } = listing.source;
    for (const condition of conditionsOf(filter)) {
      const columns = indexFor(condition, listing);
      if (columns === null || hasIndexFor(condition, listing)) continue;
      const key = JSON.stringify([source, columns]);
      const before = this.#wanted.get(key);
      this.#wanted.delete(key);
      this.#wanted.set(key, {
        source,
        columns,
        requests: (before?.requests ?? 0) + 1,
        slowestMs: Math.max(before?.slowestMs ?? 0, Math.round(ms)),
        column: columns[0] ?? "",
      });
    }
    for (const key of this.#wanted.keys()) {
      if (this.#wanted.size <= MAX_WANTED) break;
      this.#wanted.delete(key);
    }
  }

  /** The indexes that would have served a source's requests, those of most use first. */
  of(name: string): readonly IndexProposal[] {
    return [...this.#wanted.values()]
      .filter(({ source }) => source === name)
      .sort((a, b) => b.requests * b.slowestMs - a.requests * a.slowestMs)
      .slice(0, MAX_PROPOSED)
      .map(({ source: _, ...proposal }) => proposal);
  }
}
