import {
  EVERYTHING,
  MARIADB,
  columnsOf,
  countStatement,
  isEverything,
  isNothing,
  withConstants,
  type Catalogue,
  type Filter,
  type Narrowing,
  type Row,
  type StoredTable,
} from "@orisma/core/internal";
import { TooSlow, type Read } from "../database/index.js";
import { narrowedTo } from "./read.js";
import type { Sight } from "./sight.js";

/** Seconds that all counts of one explanation may take together. */
const BUDGET_S = 8;
/** Seconds that one of them may take. */
const ONE_S = 3;

/** A table in which records are counted. */
export interface CountTarget {
  readonly table: StoredTable;
  readonly read: Read;
  /** The cells that all of its records share; none for most. */
  readonly cells: Row;
}

/** Counts records until the time for it is used up; null for what was not counted. */
export class Counter {
  #left = BUDGET_S * 1_000;

  constructor(
    /** The tables in which records are counted, and what is known of all that are in one. */
    private readonly targets: readonly CountTarget[],
    private readonly columns: Catalogue,
    /** Inside which everything is counted. */
    private readonly within: Filter,
  ) {}

  async count(requested: Filter): Promise<number | null> {
    let total = 0;
    const filter: Filter = isEverything(this.within)
      ? requested
      : { kind: "all", of: [this.within, requested] };
    for (const { table, read, cells } of this.targets) {
      const decided = withConstants(filter, cells, this.columns);
      if (!decided.ok) return null;
      if (isNothing(decided.value)) continue;
      const found = await this.#countIn(decided.value, table, read);
      if (found === null) return null;
      total += found;
    }
    return total;
  }

  async #countIn(filter: Filter, table: StoredTable, read: Read): Promise<number | null> {
    const seconds = Math.min(ONE_S, Math.floor(this.#left / 1_000));
    if (seconds < 1) return null;
    const begun = performance.now();
    try {
      const laid = await narrowedTo(filter, table, { read });
      const statement = countStatement({ filter: laid, cap: null }, table, MARIADB);
      const [row] = await read(statement, seconds);
      return Number(row?.[0] ?? 0);
    } catch (error) {
      if (error instanceof TooSlow) return null;
      throw error;
    } finally {
      this.#left -= performance.now() - begun;
    }
  }
}

/** How many records each condition lets through, alone and after those before it. */
export async function narrowingOf(
  conditions: readonly Filter[],
  words: readonly string[],
  columns: Catalogue,
  counter: Counter,
  { sees }: Pick<Sight, "sees">,
  /** How many of the conditions, at the beginning, are the listing's own. */
  fixed: number,
): Promise<Narrowing> {
  const records = await counter.count(EVERYTHING);
  const steps: Narrowing["steps"][number][] = [];
  for (const [index, condition] of conditions.entries()) {
    const alone = await counter.count(condition);
    const before: Filter = { kind: "all", of: conditions.slice(0, index + 1) };
    const inTurn = index === 0 ? alone : await counter.count(before);
    const isFixed = index < fixed ? { isFixed: true as const } : {};
    steps.push({ condition: words[index] ?? "", ...isFixed, alone, inTurn });
  }
  const without: Record<string, { blank: number | null; unreadable: number | null }> = {};
  for (const column of new Set(conditions.flatMap(columnsOf).filter(sees))) {
    const state = (name: "blank" | "unreadable") =>
      counter.count({ kind: "state", column, state: name });
    const isText = columns.get(column)?.type === "text";
    without[column] = {
      blank: await state("blank"),
      unreadable: isText ? 0 : await state("unreadable"),
    };
  }
  return { records, steps, without };
}
