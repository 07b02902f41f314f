import type { PlannedRequest } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import { PUBLIC_ROLE } from "../http/index.js";
import { RecentChoice } from "./entities.js";

/** Values of a column that are remembered of a caller. */
const MAX_VALUES = 5;
/** Columns of callers that are remembered: the longest unused is forgotten. */
const MAX_HELD = 20_000;
/** How long a value may be remembered only here, in milliseconds. */
const FLUSH_MS = 10_000;

/**
 * What each caller used recently, by listing and column, the latest first. It is a convenience: what
 * a crash takes of it is what was chosen in the last seconds.
 */
export class RecentChoices {
  readonly #held = new Map<string, readonly string[]>();
  readonly #changed = new Set<string>();
  #timer: NodeJS.Timeout | null = null;

  constructor(private readonly dataSource: DataSource) {}

  async load(): Promise<void> {
    for (const { caller, listing, column, values } of await this.dataSource
      .getRepository(RecentChoice)
      .find()) {
      this.#held.set(keyOf(caller, listing, column), values);
    }
  }

  /** The values that a caller used recently. */
  of(caller: string, listing: string, column: string): readonly string[] {
    return this.#held.get(keyOf(caller, listing, column)) ?? [];
  }

  /** Remembers what a request chose by name. */
  note(caller: string, listing: string, { values, defaults }: PlannedRequest): void {
    // They are many people, of whom none is told what another chose.
    if (caller === PUBLIC_ROLE) return;
    for (const { parameters } of values) {
      for (const { declaration, values: chosen } of parameters) {
        const { type, column, name } = declaration;
        const isChoice = type === "oneOf" || type === "several";
        if (!isChoice || column === undefined || Object.hasOwn(defaults, name)) continue;
        this.#add(keyOf(caller, listing, column), chosen);
      }
    }
  }

  /** Writes what is remembered only here. */
  async flush(): Promise<void> {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
    const changed = [...this.#changed].flatMap((key) => {
      const [caller = "", listing = "", column = ""] = JSON.parse(key) as readonly string[];
      const values = this.#held.get(key);
      return values === undefined ? [] : [{ caller, listing, column, values: [...values] }];
    });
    this.#changed.clear();
    if (changed.length > 0) await this.dataSource.getRepository(RecentChoice).save(changed);
  }

  #add(key: string, chosen: readonly string[]): void {
    const before = this.#held.get(key) ?? [];
    const values = [...new Set([...chosen, ...before])].slice(0, MAX_VALUES);
    if (values.join("\n") === before.join("\n")) return;
    // The latest stands at the end.
    this.#held.delete(key);
    this.#held.set(key, values);
    const [oldest] = this.#held.keys();
    if (this.#held.size > MAX_HELD && oldest !== undefined) this.#held.delete(oldest);
    this.#changed.add(key);
    this.#timer ??= setTimeout(() => void this.flush().catch(() => undefined), FLUSH_MS).unref();
  }
}

function keyOf(...parts: readonly [caller: string, listing: string, column: string]): string {
  return JSON.stringify(parts);
}
