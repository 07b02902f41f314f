import {
  MARIADB,
  countStatement,
  datesOf,
  extentStatement,
  narrowToExtents,
  pageParts,
  pageStatement,
  recurringColumns,
  type ColumnExtent,
  type CountQuery,
  type Filter,
  type PageFields,
  type PageQuery,
  type StoredTable,
} from "@orisma/core/internal";
import { TooSlow, type Gateway, type Read, type ResultRow } from "../database/index.js";
import type { Reader } from "./source-tables.js";

/** Seconds that a page with its totals may take before the totals are omitted. */
export const COUNT_LIMIT_S = 3;

/** The rows of a page, and the counts that the first of them carried: none where it was empty. */
export interface ReadPage {
  readonly rows: readonly ResultRow[];
  /** Null where they took too long: then the rows have none. */
  readonly counts: readonly number[] | null;
  readonly fields: PageFields;
}

/** Where nothing was read. */
const NO_FIELDS: PageFields = { key: 0, counts: [], columns: [], order: null, then: [] };

/** A page with its counts; without them where they take too long. */
export async function readPage(
  query: PageQuery,
  table: StoredTable,
  gateway: Gateway,
): Promise<ReadPage> {
  const [first, ...others] = pageParts(query, table);
  // Of no interval of the window can anything be left: the page is empty, and counted apart.
  if (first === undefined) return { rows: [], counts: [], fields: NO_FIELDS };
  if (others.length === 0) return readFirst(first, table, readBy(gateway));
  return gateway.snapshot(async (read) => {
    const begun = await readFirst(first, table, read);
    const rows = [...begun.rows];
    // Their rows have no counts between the key and the rest.
    const none = begun.counts === null ? [] : query.counts.map(() => null);
    for (const part of others) {
      if (rows.length >= query.limit) break;
      const limit = query.limit - rows.length;
      const more = await read(pageStatement({ ...part, limit }, table, MARIADB));
      rows.push(...more.map(([key = null, ...rest]) => [key, ...none, ...rest]));
    }
    return { ...begun, rows };
  });
}

async function readFirst(query: PageQuery, table: StoredTable, read: Read): Promise<ReadPage> {
  const page = pageStatement(query, table, MARIADB);
  const { fields } = page;
  if (query.counts.length === 0) return { rows: await read(page), counts: [], fields };
  try {
    const rows = await read(page, COUNT_LIMIT_S);
    const [row] = rows;
    const counts = row === undefined ? [] : fields.counts.map((place) => Number(row[place] ?? 0));
    return { rows, counts, fields };
  } catch (error) {
    if (!(error instanceof TooSlow)) throw error;
    const uncounted = pageStatement({ ...query, counts: [] }, table, MARIADB);
    return { rows: await read(uncounted), counts: null, fields: uncounted.fields };
  }
}

/** The number of a count. */
export async function countOf(
  count: CountQuery,
  table: StoredTable,
  gateway: Reader,
): Promise<number> {
  const [row] = await gateway.read(countStatement(count, table, MARIADB));
  return Number(row?.[0] ?? 0);
}

/**
 * A filter with recurring rules laid out over the dates that a table has, where that makes it faster;
 * it keeps the same records either way.
 */
export async function narrowedTo(
  filter: Filter,
  table: StoredTable,
  gateway: Reader,
): Promise<Filter> {
  const extents = new Map<string, ColumnExtent>();
  for (const column of recurringColumns(filter)) {
    const [row] = await gateway.read(extentStatement(column, table, MARIADB));
    const [first, last] = [row?.[0] ?? null, row?.[1] ?? null];
    if (first === null || last === null) continue;
    const { kind, msOf } = datesOf(column, table);
    extents.set(column, { kind, first: msOf(first), last: msOf(last) });
  }
  return narrowToExtents(filter, extents);
}

/** Single queries, each on a snapshot of its own. */
export function readBy(gateway: Gateway): Read {
  return (statement, seconds) => gateway.read(statement, seconds);
}
