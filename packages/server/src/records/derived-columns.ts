import {
  derivedValue,
  pageStatement,
  MARIADB,
  type PageQuery,
  type RecordAnswer,
  type RecordValue,
} from "@orisma/core/internal";
import type { KnownSource } from "../sources/index.js";
import type { RecordSources } from "./source-tables.js";
import { PageReader } from "./answer.js";
import type { PreparedRequest } from "./prepared.js";

/** Strings that could not be read, by record and column. */
export type Unreadables = Record<string, Record<string, string>>;

/** Keys of records that are looked up in one statement. */
const MAX_KEYS = 512;

/**
 * Records with the columns that are made, and without those that were only read for them. The
 * records of other sources are looked up by their keys, so that there are as many records after as
 * before: one that is not there leaves its columns blank.
 */
export async function withDerivedColumns(
  prepared: PreparedRequest,
  records: readonly RecordAnswer[],
  unreadable: Unreadables,
  sources: RecordSources,
): Promise<readonly RecordAnswer[]> {
  const { listing, shown, query, derivedAt: asOf } = prepared;
  const { derivedColumns, columns, zone } = listing;
  if (shown.length === query.columns.length && shown.every((name) => !derivedColumns.has(name))) {
    return records;
  }
  const related = await relatedRecords(prepared, records, sources);
  const context = { columns, asOf, zone };
  return records.map((record) => {
    const read = unreadable[String(record.id)] ?? {};
    const strings: Record<string, string> = {};
    const values = shown.map((name): readonly [string, RecordValue] => {
      const column = derivedColumns.get(name);
      if (column?.kind === "derived") return [name, derivedValue(column.derived, record, context)];
      const other =
        column === undefined
          ? { record, unreadable: read }
          : related.get(column.relation)?.get(String(record[column.by] ?? ""));
      const inside = column?.column.name ?? name;
      const text = other?.unreadable[inside];
      if (text !== undefined) strings[name] = text;
      return [name, other?.record[inside] ?? null];
    });
    // What was read for others only is not reported, nor what of it could not be read.
    if (Object.keys(strings).length > 0 || Object.keys(read).length > 0) {
      unreadable[String(record.id)] = strings;
    }
    const others = values.filter(([name]) => name !== "id");
    return { id: record.id, ...Object.fromEntries(others) };
  });
}

interface RelatedRecord {
  readonly record: RecordAnswer;
  readonly unreadable: Readonly<Record<string, string>>;
}

/** For each relation that is shown the other records, by key. */
async function relatedRecords(
  { listing, shown }: PreparedRequest,
  records: readonly RecordAnswer[],
  sources: RecordSources,
): Promise<ReadonlyMap<string, ReadonlyMap<string, RelatedRecord>>> {
  const found = new Map<string, ReadonlyMap<string, RelatedRecord>>();
  for (const [name, { source, by, columns }] of Object.entries(
    listing.declaration.relations ?? {},
  )) {
    const other = listing.related.get(source);
    const wanted = columns.filter((each) => shown.includes(`${name}.${each}`));
    if (other === undefined || wanted.length === 0) continue;
    const keys = new Set(records.flatMap((record) => record[by] ?? []).map(String));
    found.set(name, await lookUp(other, [...keys], wanted, sources));
  }
  return found;
}

async function lookUp(
  source: KnownSource,
  keys: readonly string[],
  columns: readonly string[],
  sources: RecordSources,
): Promise<ReadonlyMap<string, RelatedRecord>> {
  const found = new Map<string, RelatedRecord>();
  const { table } = source;
  if (table === null || keys.length === 0) return found;
  const gateway = await sources.gatewayOf(source);
  for (let from = 0; from < keys.length; from += MAX_KEYS) {
    const some = keys.slice(from, from + MAX_KEYS);
    const query: PageQuery = {
      filter: { kind: "all", of: [] },
      columns,
      order: { column: null, descending: false },
      after: null,
      limit: some.length,
      counts: [],
      only: some,
    };
    const statement = pageStatement(query, table, MARIADB);
    const reader = new PageReader(columns, table, statement.fields);
    for (const row of await gateway.read(statement)) {
      const unreadable: Unreadables = {};
      const record = reader.read(row, unreadable);
      const id = String(record.id);
      // To a database 12abc may be 12, and a letter its capital: found by the key as it is written.
      found.set(id, { record, unreadable: unreadable[id] ?? {} });
    }
  }
  return found;
}
