import type { ImportedTable, StoredDictionary } from "@orisma/core/internal";
import { In, type DataSource, type EntityManager } from "typeorm";
import { foldedOf, wellFormed } from "./cells.js";
import { Dictionary } from "./entities.js";

/** Values of a dictionary at most. */
const MAX_VALUES = 10_000;
/** Characters of a value at most. */
const MAX_LENGTH = 255;
/** Characters that the dictionaries of a table have together at most. */
const MAX_CHARACTERS = 4_000_000;
/** Columns of a table that have a dictionary at most. */
const MAX_COLUMNS = 64;
/** How often a value must occur, on average, for a dictionary to be of use. */
const TIMES = 4;

/** The values of each column of a table that has a dictionary. */
export type DictionaryValues = ReadonlyMap<string, readonly string[]>;

/** Gives the values of a column numbers as they come, until they are too many. */
export class DictionaryBuilder {
  readonly #values: string[];
  readonly #codes: Map<string, number>;
  #isWhole = true;

  constructor(
    values: readonly string[],
    private readonly budget: { characters: number },
  ) {
    this.#values = [...values];
    this.#codes = new Map(values.map((value, index) => [value, index + 1]));
    for (const { length } of values) budget.characters -= length;
  }

  /** In the order of their numbers; of no account unless {@link isWhole}. */
  get values(): readonly string[] {
    return this.#values;
  }

  /** Whether every value so far has a number. */
  get isWhole(): boolean {
    return this.#isWhole;
  }

  /** The number of a value; null of a blank one, and where there are too many. */
  codeOf(text: string | null): number | null {
    if (text === null || !this.#isWhole) return null;
    const known = this.#codes.get(text);
    if (known !== undefined) return known;
    const value = wellFormed(text);
    const found = this.#codes.get(value);
    if (found !== undefined) return found;
    if (foldedOf(value) === null) return null;
    this.budget.characters -= value.length;
    const isFull = this.#values.length >= MAX_VALUES || this.budget.characters < 0;
    if (isFull || value.length > MAX_LENGTH) {
      this.#giveUp();
      return null;
    }
    const code = this.#values.push(value);
    this.#codes.set(value, code);
    return code;
  }

  #giveUp(): void {
    for (const { length } of this.#values) this.budget.characters += length;
    this.#isWhole = false;
    this.#values.length = 0;
    this.#codes.clear();
  }
}

/** The dictionaries of a table that is being filled, by the names of their columns. */
export type DictionaryBuilders = ReadonlyMap<string, DictionaryBuilder>;

/** Begins the dictionaries of a table: of its text columns, or those that another has already. */
export function dictionaryBuilders(
  columns: ReadonlyMap<string, { readonly type: string }>,
  key: string | null,
  known: DictionaryValues | null = null,
): DictionaryBuilders {
  const budget = { characters: MAX_CHARACTERS };
  const names = [...columns].flatMap(([name, { type }]) => {
    const may = known === null ? type === "text" && name !== key : known.has(name);
    return may ? [name] : [];
  });
  return new Map(
    names
      .slice(0, MAX_COLUMNS)
      .map((name) => [name, new DictionaryBuilder(known?.get(name) ?? [], budget)]),
  );
}

/** The dictionaries of a filled table that are of use: its values occur several times. */
export function usefulDictionaries(
  builders: DictionaryBuilders,
  records: number,
): DictionaryValues {
  const useful = [...builders].filter(
    ([, { isWhole, values }]) => isWhole && values.length * TIMES <= records,
  );
  return new Map(useful.map(([name, { values }]) => [name, values]));
}

/** The values of the dictionaries of a table as it is known. */
export function dictionaryValues({ columns }: ImportedTable): DictionaryValues {
  return new Map(
    [...columns].flatMap(([name, { dictionary }]) =>
      dictionary === null ? [] : [[name, dictionary.values] as const],
    ),
  );
}

/** The characters of the dictionaries of a table. */
export function dictionarySize({ columns }: ImportedTable): number {
  let size = 0;
  for (const { dictionary } of columns.values()) {
    for (const { length } of dictionary?.values ?? []) size += length;
  }
  return size;
}

/**
 * The dictionaries with more values of a column: the same where it has them or none is needed, and without that of
 * the column where it has become too large.
 */
export function withValues(
  known: DictionaryValues,
  column: string,
  values: readonly (string | null)[],
): DictionaryValues {
  const types = new Map([...known.keys()].map((name) => [name, { type: "text" }]));
  const builder = dictionaryBuilders(types, null, known).get(column);
  if (builder === undefined) return known;
  const before = builder.values.length;
  for (const value of values) builder.codeOf(value);
  if (builder.isWhole && builder.values.length === before) return known;
  const others = new Map(known);
  others.delete(column);
  return builder.isWhole ? others.set(column, builder.values) : others;
}

/** The number of a text in a dictionary; null of one that has none. */
export function codeIn(dictionary: StoredDictionary, text: string | null): number | null {
  const place = text === null ? -1 : dictionary.values.indexOf(wellFormed(text));
  return place < 0 ? null : place + 1;
}

/** Keeps the dictionaries of tables. */
export class Dictionaries {
  constructor(private readonly dataSource: DataSource) {}

  /** The dictionaries of some tables, by table and column. */
  async of(tables: readonly string[]): Promise<ReadonlyMap<string, DictionaryValues>> {
    const kept = await this.dataSource
      .getRepository(Dictionary)
      .findBy({ recordsTable: In([...tables]) });
    const found = new Map<string, Map<string, readonly string[]>>();
    for (const { recordsTable, column, values } of kept) {
      const others = found.get(recordsTable) ?? new Map<string, readonly string[]>();
      found.set(recordsTable, others.set(column, values));
    }
    return found;
  }

  /** Keeps the dictionaries of a table in place of those that it had. */
  async keep(recordsTable: string, dictionaries: DictionaryValues): Promise<void> {
    await this.dataSource.transaction(async (manager) => {
      await this.forget(recordsTable, manager);
      for (const [column, values] of dictionaries) {
        await manager.insert(Dictionary, { recordsTable, column, values: [...values] });
      }
    });
  }

  /** Forgets the dictionaries of a table that has gone. */
  async forget(
    recordsTable: string,
    manager: EntityManager = this.dataSource.manager,
  ): Promise<void> {
    await manager.delete(Dictionary, { recordsTable });
  }

  /** Forgets the dictionaries of all but some tables. */
  async forgetOthers(tables: readonly string[]): Promise<void> {
    const rows = await this.dataSource
      .getRepository(Dictionary)
      .createQueryBuilder("dictionary")
      .select("DISTINCT dictionary.recordsTable", "name")
      .getRawMany<{ name: string }>();
    for (const { name } of rows) if (!tables.includes(name)) await this.forget(name);
  }
}
