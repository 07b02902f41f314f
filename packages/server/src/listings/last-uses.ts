import type { DataSource } from "typeorm";
import { Listing } from "./entities.js";

/** Milliseconds after which what is remembered only here is written: of a service that is killed so much is lost. */
const FLUSH_MS = 60_000;

/** Knows when the records of each listing were last read. */
export class LastUses {
  /** By listing, in milliseconds since 1970-01-01T00:00:00Z. */
  readonly #at = new Map<string, number>();
  #unwritten = new Set<string>();
  #timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly dataSource: DataSource,
    private readonly now: () => number,
  ) {}

  /** Takes what was written before. */
  hold(listing: string, at: number | null): void {
    if (at !== null) this.#at.set(listing, at);
  }

  note(listing: string): void {
    this.#at.set(listing, this.now());
    this.#unwritten.add(listing);
    this.#timer ??= setTimeout(() => void this.flush().catch(() => undefined), FLUSH_MS).unref();
  }

  /** When a listing was last used; null where that is not known. */
  of(listing: string): number | null {
    return this.#at.get(listing) ?? null;
  }

  /** A listing has another name now, or none. */
  move(from: string, to: string | null): void {
    const at = this.of(from);
    this.#at.delete(from);
    if (to !== null) this.hold(to, at);
    if (this.#unwritten.delete(from) && to !== null) this.#unwritten.add(to);
  }

  /** Writes what is remembered only here. */
  async flush(): Promise<void> {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
    const names = [...this.#unwritten];
    this.#unwritten = new Set();
    for (const name of names) {
      const lastUsedAt = this.of(name);
      await this.dataSource.getRepository(Listing).update({ name }, { lastUsedAt });
    }
  }
}
