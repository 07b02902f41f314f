/** Accounts whose attempts are counted at most: those beyond push out the earliest. */
const MAX_COUNTED = 10_000;

/** Counts failed attempts by name: beyond some within a time none is made. */
export class Attempts {
  readonly #failures = new Map<string, { count: number; readonly since: number }>();

  constructor(
    private readonly max: number,
    private readonly withinMs: number,
    private readonly now: () => number,
  ) {}

  /** Milliseconds until another attempt may be made; 0 for now. */
  waitMs(name: string): number {
    const found = this.#failures.get(name);
    if (found === undefined || found.count < this.max) return 0;
    const ms = found.since + this.withinMs - this.now();
    if (ms > 0) return ms;
    this.#failures.delete(name);
    return 0;
  }

  failed(name: string): void {
    const found = this.#failures.get(name);
    if (found !== undefined && found.since + this.withinMs > this.now()) {
      found.count++;
      return;
    }
    this.#failures.delete(name);
    const [earliest] = this.#failures.keys();
    if (this.#failures.size >= MAX_COUNTED && earliest !== undefined) {
      this.#failures.delete(earliest);
    }
    this.#failures.set(name, { count: 1, since: this.now() });
  }

  succeeded(name: string): void {
    this.#failures.delete(name);
  }
}
