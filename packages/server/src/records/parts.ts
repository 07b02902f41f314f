import {
  MARIADB,
  SHORT_TEXT,
  datesOf,
  extentStatement,
  fault,
  groupStatement,
  keyDictionaries,
  textKeys,
  isNothing,
  unscaled,
  withConstants,
  type Column,
  type DateColumn,
  type Filter,
  type GroupQuery,
  type RecordValue,
  type Row,
  type SentParameters,
  type StoredDictionary,
  type StoredTable,
} from "@orisma/core/internal";
import { TableReplaced, type ResultRow } from "../database/index.js";
import { problemOf } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import type { RunningRequest, PreparedRequest } from "./prepared.js";
import { countOf, narrowedTo } from "./read.js";
import type { Reader } from "./source-tables.js";

/** A table of a request, and the conditions on it. */
export interface Part {
  readonly table: StoredTable;
  readonly gateway: Reader;
  readonly filter: Filter;
  readonly cells: Row;
}

/**
 * Asks several things of one request: figures that belong together come from one snapshot, but for
 * those of several tables, which each have their own.
 */
export function inSnapshot<T>(
  prepared: PreparedRequest,
  work: (requested: RunningRequest) => Promise<T>,
): Promise<T> {
  if (prepared.isSeveral) return work(prepared);
  return prepared.gateway.snapshot((read) => {
    const gateway = { read };
    const [tables, everyTable] = [
      prepared.tables.map((each) => ({ ...each, gateway })),
      prepared.everyTable.map((each) => ({ ...each, gateway })),
    ];
    return work({ ...prepared, gateway, tables, everyTable });
  });
}

/** The columns that callers may see, and that are of the source: what is made is only shown. */
export function ofSource({ shown, columns }: ServedListing): readonly string[] {
  return shown.filter((name) => columns.has(name));
}

/** A column that callers may see; throws a problem for another. */
export function shownColumn(name: string, listing: ServedListing): Column {
  const { shown, columns } = listing;
  const column = shown.includes(name) ? columns.get(name) : undefined;
  if (column !== undefined) return column;
  throw problemOf([
    fault("column.unknown", { name, known: ofSource(listing) }, { path: "column", value: name }),
  ]);
}

export function dateColumn(name: string, { columns }: ServedListing): DateColumn | null {
  const column = columns.get(name);
  return column?.type === "date" ? column : null;
}

/** The parameters that an answer around a listing takes for itself, as strings. */
export function pickParameters(
  sent: SentParameters,
  names: readonly string[],
): Readonly<Record<string, string>> {
  return Object.fromEntries(
    names.flatMap((name) => {
      const text = (sent.get(name)?.[0] ?? "").trim();
      return text === "" ? [] : [[name, text] as const];
    }),
  );
}

export function omitParameters(sent: SentParameters, names: readonly string[]): SentParameters {
  return new Map([...sent].filter(([name]) => !names.includes(name)));
}

export function and(filter: Filter, others: readonly Filter[]): Filter {
  return { kind: "all", of: [filter, ...others] };
}

/** The tables of a request, each with the conditions on it, narrowed to the dates that it has. */
export async function partsOf(prepared: RunningRequest, other?: Filter): Promise<readonly Part[]> {
  const { tables, query, listing } = prepared;
  const parts: Part[] = [];
  for (const each of tables) {
    const decided = withConstants(other ?? query.filter, each.cells, listing.columns);
    // The only table stays, so that there is something to ask, whatever is left.
    if (!decided.ok || (each.label !== null && isNothing(decided.value))) continue;
    const filter = await narrowedTo(decided.value, each.table, each.gateway);
    parts.push({ ...each, filter });
  }
  return parts;
}

/** Groups of a table; long strings are grouped by all of them only where there are some. */
export async function groups(part: Part, query: GroupQuery): Promise<readonly ResultRow[]> {
  const dictionaries = keyDictionaries(query, part.table);
  const rows = await groupsAsStored(part, query);
  if (dictionaries.every((dictionary) => dictionary === null)) return rows;
  return rows.map((row) =>
    row.map((cell, index) => {
      const dictionary = dictionaries[index] ?? null;
      return dictionary === null || cell === null ? cell : valueIn(dictionary, Number(cell));
    }),
  );
}

/** The value of a number; one that is not known was added since the request was understood. */
function valueIn({ values }: StoredDictionary, code: number): string {
  const value = values[code - 1];
  if (value === undefined) throw new TableReplaced("a dictionary has grown");
  return value;
}

async function groupsAsStored(
  { table, gateway }: Part,
  query: GroupQuery,
): Promise<readonly ResultRow[]> {
  const strings = textKeys(query, table).length;
  if (strings === 0) return gateway.read(groupStatement(query, table, MARIADB));
  const short = { ...query, shortTexts: true };
  const rows = await gateway.read(groupStatement(short, table, MARIADB));
  const isCut = rows.some((row) =>
    row.slice(-strings).some((characters) => Number(characters) > SHORT_TEXT),
  );
  return isCut ? gateway.read(groupStatement(query, table, MARIADB)) : rows;
}

export function countIn(
  { table, gateway }: Part,
  filter: Filter,
  cap: number | null = null,
): Promise<number> {
  return countOf({ filter, cap }, table, gateway);
}

/** Records of a request that have something more. */
export async function countOfRequest(prepared: RunningRequest, more: Filter): Promise<number> {
  let total = 0;
  for (const part of await partsOf(prepared, and(prepared.query.filter, [more]))) {
    total += await countIn(part, part.filter);
  }
  return total;
}

/** A value of a group, as records have it. */
export function valueOf(
  value: string | number | null,
  { name, type }: Column,
  { declaration }: ServedListing,
): RecordValue {
  if (value === null) return null;
  if (type === "boolean") return Number(value) !== 0;
  const scale = declaration.units?.[name]?.scale ?? 0;
  return type === "text" ? String(value) : numberOf(String(value), scale);
}

/** A number where it has the digits of the decimal, else the digits as text. */
export function numberOf(stored: string, scale = 0): string | number {
  const digits = unscaled(stored, scale);
  return String(Number(digits)) === digits ? Number(digits) : digits;
}

/** The first and the last date of a column in the records of a request, in milliseconds; null for none. */
export async function extentOf(
  name: string,
  prepared: RunningRequest,
): Promise<{ readonly first: number; readonly last: number } | null> {
  let [first, last] = [Infinity, -Infinity];
  for (const { table, gateway, filter, cells } of await partsOf(prepared)) {
    const shared = cells[name];
    if (shared !== undefined) {
      if (shared.state !== "dated") continue;
      [first, last] = [Math.min(first, shared.ms), Math.max(last, shared.ms)];
      continue;
    }
    const [row] = await gateway.read(extentStatement(name, table, MARIADB, filter));
    const { msOf } = datesOf(name, table);
    const [from = null, to = null] = row ?? [];
    if (from === null || to === null) continue;
    [first, last] = [Math.min(first, msOf(from)), Math.max(last, msOf(to))];
  }
  return first <= last ? { first, last } : null;
}
