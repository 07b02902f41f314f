import type { ColumnDeclaration, ImportReport, ReadNewSource } from "@orisma/contract";
import {
  EVERYTHING,
  MARIADB,
  countStatement,
  fault,
  withLocation,
  renderFault,
  unreadableStatement,
  type CellState,
  type Fault,
  type Filter,
  type DatabaseType,
  type StoredDates,
} from "@orisma/core/internal";
import {
  isDistinct,
  isPattern,
  readTablePattern,
  type AttachedDatabases,
  type TableCatalogue,
} from "../attached/index.js";
import { problemOf } from "../http/index.js";
import type { Gateway } from "../database/index.js";
import { columnEntity, storedAttached, tableOf, type KnownSource, writtenOf } from "./columns.js";
import type { AttachedSource, SourceColumn } from "./entities.js";

/** The column that has the dates of a pattern's tables, by default. */
const DATE_COLUMN = "table_date";
/** Unreadable cells of a column that are reported one by one. */
const MAX_EXAMPLES = 20;

/** A source that is a table of an attached database, as it is kept. */
export interface AttachedParts {
  readonly attached: AttachedSource;
  readonly keyColumn: string;
  readonly columns: SourceColumn[];
}

/**
 * Makes a source of a table of an attached database: its columns are those of the catalogue, its
 * key the declared or the primary one. Throws a problem with every fault of the declaration.
 */
export async function attachTable(
  declared: ReadNewSource,
  {
    database,
    table: requested,
    dateColumn: sentColumn,
    runningDay,
    parts = {},
  }: NonNullable<ReadNewSource["attached"]>,
  databases: AttachedDatabases,
): Promise<AttachedParts> {
  const table = isPattern(requested) ? await newestOf(requested, database, databases) : requested;
  const catalogue = await databases.table(database, table);
  const usable = catalogue.columns.flatMap(({ name, holding }) =>
    holding === null ? [] : [{ name, holding }],
  );
  const faults: Fault[] = partsFaults(
    parts,
    usable.map(({ name }) => name),
  );
  // What several columns make up is text, whatever they hold.
  const made = Object.keys(parts).map((name) => ({ name, holding: { type: "text" } as const }));
  const known = [...usable, ...made].map(({ name }) => name);
  const unknown = Object.keys(declared.columns)
    .filter((name) => !known.includes(name))
    .map((name) =>
      fault("column.unknown", { name, known }, { path: `columns.${name}`, value: name }),
    );
  faults.push(...unknown);
  const columns = [...usable, ...made].map(({ name, holding }, index) => {
    const sent = Object.hasOwn(declared.columns, name) ? declared.columns[name] : undefined;
    const column = sent ?? usualColumn(holding);
    const entity = Object.assign(columnEntity(name, index + 1, column), { holding });
    faults.push(...attachedColumnFaults(entity, column, parts));
    return entity;
  });
  const keyColumn = declared.key ?? catalogue.keys[0] ?? null;
  const keyFault = await faultOfKey(
    keyColumn,
    usable.map(({ name }) => name),
    catalogue,
    database,
    databases,
  );
  if (keyFault !== null) faults.push(keyFault);
  if (faults.length > 0 || keyColumn === null) throw problemOf(faults);
  const { indexes } = catalogue;
  if (!isPattern(requested)) {
    if (sentColumn !== undefined || runningDay !== undefined) {
      const reason = "it is one table, and has no dates of tables";
      const place = { path: "attached.table", value: requested };
      throw problemOf([fault("attach.pattern", { table: requested, reason }, place)]);
    }
    const attached = { database, table: catalogue.name, indexes, ...madeOf(parts) };
    return { attached, keyColumn, columns };
  }
  const dateColumn = sentColumn ?? DATE_COLUMN;
  if (known.some((name) => name.toLowerCase() === dateColumn.toLowerCase())) {
    const place = { path: "attached.dateColumn", value: dateColumn };
    throw problemOf([fault("name.taken", { name: dateColumn }, place)]);
  }
  const dates = { column: dateColumn, runningDay: runningDay ?? false };
  const attached = { database, table: requested, indexes, dates, ...madeOf(parts) };
  return { attached, keyColumn, columns };
}

type Parts = NonNullable<AttachedSource["parts"]>;

function madeOf(parts: Parts): Pick<AttachedSource, "parts"> {
  return Object.keys(parts).length === 0 ? {} : { parts };
}

/** What is wrong with columns that others make up: names that are taken, or of no column. */
function partsFaults(parts: Parts, known: readonly string[]): Fault[] {
  return Object.entries(parts).flatMap(([name, of]) => {
    const path = `attached.parts.${name}`;
    const isTaken = known.some((each) => each.toLowerCase() === name.toLowerCase());
    const taken = isTaken ? [fault("name.taken", { name }, { path, value: name })] : [];
    const missing = of.filter((part) => !known.includes(part));
    return [
      ...taken,
      ...missing.map((part) =>
        fault("column.unknown", { name: part, known }, { path, value: part }),
      ),
    ];
  });
}

/** The table of a pattern with the latest day, whose columns are those of the source. */
async function newestOf(
  requested: string,
  database: string,
  databases: AttachedDatabases,
): Promise<string> {
  const pattern = readTablePattern(requested);
  if (!pattern.ok) throw problemOf(pattern.faults);
  const tables = await databases.dated(database, pattern.value);
  const dated = tables.flatMap(({ name, ms }) => (ms === null ? [] : [{ name, ms }]));
  const newest = dated.sort((a, b) => b.ms - a.ms)[0];
  if (newest !== undefined) return newest.name;
  const reason = "no table has such a name";
  const place = { path: "attached.table", value: requested };
  throw problemOf([fault("attach.pattern", { table: requested, reason }, place)]);
}

/** What is wrong with how a column of an attached table is to be understood. */
export function attachedColumnFaults(
  entity: SourceColumn,
  column: ColumnDeclaration,
  parts?: AttachedSource["parts"],
): readonly Fault[] {
  if (writtenOf(column) !== null) {
    const facts = {
      column: entity.name,
      reason: "numbers, and yes and no, in a form of their own",
      instead: "the type text",
    };
    const place = { path: `columns.${entity.name}.written` };
    return [fault("storage.reading", facts, place)];
  }
  const stored = storedAttached(entity, column, parts);
  if (stored === null || stored.ok) return [];
  return stored.faults.map((each) => withLocation(each, { path: `columns.${entity.name}` }));
}

/** What comes of setting how columns of an attached table are read: counts, and the first unreadable cells. */
export async function reportAttached(
  source: KnownSource,
  confirmed: Readonly<Record<string, ColumnDeclaration>>,
  gateway: Gateway,
): Promise<ImportReport> {
  const table = tableOf(source);
  const count = async (filter: Filter) => {
    const [row] = await gateway.read(countStatement({ filter, cap: null }, table, MARIADB));
    return Number(row?.[0] ?? 0);
  };
  const columns: Record<string, ImportReport["columns"][string]> = {};
  for (const column of Object.keys(confirmed)) {
    const inState = (state: CellState) => count({ kind: "state", column, state });
    const unreadable = unreadableStatement(column, MAX_EXAMPLES, table, MARIADB);
    const cells = unreadable === null ? [] : await gateway.read(unreadable);
    const stored = table.columns.get(column);
    const dates =
      stored?.storage === "attached" && stored.cells.type === "date" ? stored.cells : null;
    columns[column] = {
      read: await inState("dated"),
      blank: await inState("blank"),
      unreadable: unreadable === null ? 0 : await inState("unreadable"),
      examples: cells.flatMap(([record, value]) => {
        const cell = dates?.reading.read(value ?? null);
        if (cell?.state !== "unreadable") return [];
        const returned = renderFault(withLocation(cell.fault, { value: String(value) }));
        return [{ record: String(record), ...returned }];
      }),
      ...(dates?.dates.isWorkedOut === true ? { notice: workedOutNotice(dates.dates) } : {}),
    };
  }
  const records = await count(EVERYTHING);
  return {
    source: source.name,
    importNumber: null,
    records,
    added: 0,
    changed: 0,
    refused: 0,
    columns,
  };
}

/** What it means for requests that a column's dates are worked out of its values. */
function workedOutNotice({ listsUpTo }: StoredDates): string {
  const most = listsUpTo > 0 ? ` An index is used for up to ${listsUpTo} days.` : "";
  return `Its dates are worked out record by record, which takes time in a large table.${most}`;
}

/** What a column is taken for unless it is declared: what the database says that it is. */
function usualColumn(holding: DatabaseType): ColumnDeclaration {
  switch (holding.type) {
    case "text":
    case "other":
      return { type: "text" };
    // What is declared so can hold any number: that it is a yes or no is for people to say.
    case "boolean":
    case "integer":
      return { type: "integer" };
    case "decimal":
    case "float":
      return { type: "decimal" };
    case "date":
      return {
        type: "date",
        reading: { kind: "date", encoding: "native", blanks: ["0000-00-00"] },
      };
    case "timestamp": {
      const blanks = ["0000-00-00 00:00:00"];
      const kind = holding.zoned ? "instant" : "local";
      return { type: "date", reading: { kind, encoding: "native", blanks } };
    }
  }
}

async function faultOfKey(
  key: string | null,
  known: readonly string[],
  { name: table, kind, keys }: TableCatalogue,
  database: string,
  databases: AttachedDatabases,
): Promise<Fault | null> {
  const place = { path: "key", ...(key === null ? {} : { value: key }) };
  const refused = (reason: string) => fault("attach.key", { table, reason, keys }, place);
  if (key === null) return refused("it has no primary key of one column, and none was named");
  if (!known.includes(key))
    return withLocation(fault("column.unknown", { name: key, known }), place);
  if (keys.includes(key)) return null;
  if (kind === "table") return refused(`${key} has no unique index of its own, or may be blank`);
  // A view has no indexes: its records are looked at.
  const distinct = await isDistinct(table, key, await databases.gateway(database));
  return distinct === false ? refused(`${key} is blank or has a value twice`) : null;
}
