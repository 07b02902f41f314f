import { failure, fault, withLocation, success, type Fault, type Result } from "../faults/index.js";
import { filterInWords, simplify, type Catalogue } from "../filters/index.js";
import {
  DIALECTS,
  attachedColumn,
  compileWhere,
  countStatement,
  orderKeyDdl,
  orderKeyOf,
  pageParts,
  pageStatement,
  storedColumn,
  type AttachedColumn,
  type BareDeclared,
  type Database,
  type DatabaseType,
  type OrderKey,
  type PageQuery,
  type RecordOrder,
  type SqlValue,
  type Statement,
  type StoredTable,
} from "../sql/index.js";
import type { WindowContext } from "../windows/index.js";
import { cql2Of, cql2Text, readCql2 } from "./cql2/index.js";

/** A column of somebody's own table, and how it is understood. */
export interface TranslatedColumn {
  readonly type: BareDeclared["type"];
  /** What the database says that it holds; what its type and encoding usually are by default. */
  readonly holding?: DatabaseType;
}

/** A filter to be written for a database. */
export interface TranslateRequest {
  readonly database: Database;
  readonly table: string;
  /** The column that identifies a record, by which ties are broken. */
  readonly key: string;
  readonly columns: Readonly<Record<string, TranslatedColumn>>;
  /** In CQL2: a text, or a document of the JSON form. */
  readonly filter: unknown;
  /** Columns, with `-` before one for descending; the key alone by default. */
  readonly order?: readonly string[];
  /** Records of a page at most. */
  readonly limit: number;
}

/** A statement as it is sent: whole numbers beyond what JSON keeps exactly are strings of digits. */
export interface TranslatedStatement {
  readonly text: string;
  readonly values: readonly (string | number | null)[];
}

/** A filter as a database takes it. */
export interface Translation {
  readonly database: Database;
  readonly sentence: string;
  /** The filter in CQL2, as it was understood. */
  readonly canonical: string;
  /** Why no record can satisfy it, where that can be seen. */
  readonly contradictions: readonly string[];
  /** What stands after WHERE; the text is empty where every record is kept. */
  readonly where: TranslatedStatement;
  /** The first page: statements to be run one after the other until it is full. */
  readonly page: readonly TranslatedStatement[];
  readonly count: TranslatedStatement;
  /** What the statements rely on, and what would make them faster. */
  readonly remarks: readonly string[];
}

/**
 * Writes a filter for a database, by which it is never run here.
 *
 * Fails with every fault at once: those of the filter ({@link readCql2}), of each column's reading
 * ({@link attachedColumn}) and `column.unknown` for the key and the order.
 */
export function translateFilter(
  request: TranslateRequest,
  window: WindowContext,
): Result<Translation> {
  const { database, key, filter: written, limit } = request;
  const faults: Fault[] = [];
  const stored = new Map<string, AttachedColumn>();
  for (const [name, column] of Object.entries(request.columns)) {
    const made = storedOf(name, column, database);
    if (made.ok) stored.set(name, made.value);
    else faults.push(...made.faults.map((each) => withLocation(each, { path: `columns.${name}` })));
  }
  const order = (request.order ?? []).map(orderKeyOf);
  const known = Object.keys(request.columns);
  for (const [path, name] of [
    ["key", key] as const,
    ...order.map(({ column }, index) => [`order.${index}`, column] as const),
  ]) {
    if (known.includes(name)) continue;
    faults.push(fault("column.unknown", { name, known }, { path, value: name }));
  }
  const columns: Catalogue = new Map([...stored].map(([name, { column }]) => [name, column]));
  const filter = faults.length > 0 ? failure() : readCql2(written, { window, columns });
  if (!filter.ok) {
    const found = filter.faults.map((each) => withLocation(each, { path: "filter" }));
    return failure(...faults, ...found);
  }
  const { filter: simple, contradictions } = simplify(filter.value, columns);
  const dialect = DIALECTS[database];
  const table: StoredTable<AttachedColumn> = { table: request.table, key, columns: stored };
  const query: PageQuery = {
    filter: simple,
    columns: known.filter((name) => name !== key),
    order: orderOf(order, key),
    after: null,
    limit,
    counts: [],
  };
  return success({
    database,
    sentence: filterInWords(filter.value),
    canonical: cql2Text(cql2Of(filter.value, columns)),
    contradictions,
    where: sent(compileWhere(simple, table, { dialect })),
    page: pageParts(query, table).map((part) => sent(pageStatement(part, table, dialect))),
    count: sent(countStatement({ filter: simple, cap: null }, table, dialect)),
    remarks: remarksOn(table, request),
  });
}

/** An order by some columns, which ends where the key distinguishes every record. */
function orderOf(keys: readonly OrderKey[], key: string): RecordOrder {
  const place = keys.findIndex(({ column }) => column === key);
  const [first, ...then] = place < 0 ? keys : keys.slice(0, place);
  if (first === undefined) return { column: null, descending: keys[0]?.descending ?? false };
  return then.length === 0 ? first : { ...first, then };
}

function storedOf(
  name: string,
  { type, holding }: TranslatedColumn,
  database: Database,
): Result<AttachedColumn> {
  if (database === "sqlite" && type.type === "date" && type.reading.encoding === "native") {
    const reason = "SQLite has no dates of its own";
    const instead = "the encoding text with a pattern, an epoch or a serial";
    return failure(fault("storage.reading", { column: name, reason, instead }));
  }
  return attachedColumn(name, { value: name, holding: holding ?? usualDatabaseType(type), type });
}

/** What a column holds that is declared so, unless the caller says otherwise. */
function usualDatabaseType(type: BareDeclared["type"]): DatabaseType {
  if (type.type !== "date") return { type: type.type };
  const { kind, encoding } = type.reading;
  switch (encoding) {
    case "native":
      if (kind === "date") return { type: "date" };
      return { type: "timestamp", digits: 3, zoned: kind === "instant" };
    case "text":
      return { type: "text" };
    case "serial-1900":
    case "serial-1904":
      return { type: "float" };
    case "epoch-s":
    case "epoch-ms":
    case "epoch-us":
      return { type: "integer" };
  }
}

function sent({ text, values }: Statement): TranslatedStatement {
  return { text, values: values.map(sentValue) };
}

function sentValue(value: SqlValue): string | number | null {
  return typeof value === "bigint" ? String(value) : value;
}

function isNative({ type }: TranslatedColumn): boolean {
  return type.type === "date" && type.reading.encoding === "native";
}

function remarksOn(
  table: StoredTable<AttachedColumn>,
  { database, columns }: TranslateRequest,
): readonly string[] {
  const dates = [...table.columns.values()].filter(({ cells }) => cells.type === "date");
  const isText = [...table.columns.values()].some(({ cells }) => cells.type === "text");
  return [
    ...(database === "mariadb" && Object.values(columns).some(isNative)
      ? ["the connection's time_zone is '+00:00', and its sql_mode is strict"]
      : []),
    ...(isText && database !== "mariadb"
      ? ["without regard to letter case only the plain letters A to Z are alike"]
      : []),
    ...dates.flatMap(({ column: { name } }) => {
      const stored = storedColumn(name, table);
      if (stored.storage === "imported" || stored.cells.type !== "date") return [];
      const { keepsOrder, listsUpTo } = stored.cells.dates;
      if (keepsOrder) return [];
      const ddl = database === "mariadb" ? orderKeyDdl(name, table) : null;
      const advice = ddl === null ? "" : `; this makes a key that is: ${ddl}`;
      const listed =
        listsUpTo > 0 ? `up to ${listsUpTo} days are looked up one by one, more` : "they";
      return [
        `the strings of ${name} are not in the order of their dates: ${listed} are read record by record${advice}`,
      ];
    }),
  ];
}
