import type { StoredCells, StoredDates } from "./cells.js";
import { functionCall, joined, nameOf, sql, withPieces, type Fragment } from "./fragment.js";
import {
  storedColumn,
  type AttachedCells,
  type StoredColumn,
  type StoredJoin,
  type StoredTable,
} from "./storage.js";

/** A table whose records stand beside those of another, each found by its key. */
export interface JoinedTable {
  readonly table: StoredTable;
  /** The columns that are taken from it, as `relation.column`. */
  readonly columns: readonly string[];
  /** Whether its key is a whole number, or a text compared character by character. */
  readonly key: "integer" | "text";
}

/**
 * A table with columns of another one, in which each record finds at most one by its key: never a record
 * more or less. Of a record that finds none they are blank. The other table is read only where a
 * statement names one of its columns.
 *
 * @param relation what stands before the names of the columns, with a dot.
 * @param by the column that has the other record's key: a whole number, or a text.
 */
export function withJoin(
  table: StoredTable,
  relation: string,
  by: string,
  { table: other, columns, key }: JoinedTable,
): StoredTable {
  const { joins = [] } = table;
  const alias = `orisma_j${joins.length + 1}`;
  const physical = new Map<string, string>();
  const rename = (name: string) => {
    const renamed = physical.get(name) ?? `${alias}_${physical.size + 1}`;
    physical.set(name, renamed);
    return renamed;
  };
  const ownKey = rename(other.key);
  const storedColumns = columns.map((name): [string, StoredColumn] => {
    const full = `${relation}.${name}`;
    return [full, renamedColumn(full, storedColumn(name, other), rename)];
  });
  const join: StoredJoin = {
    alias,
    table: other.table,
    columns: physical,
    names: new Set(storedColumns.map(([name]) => name)),
    by,
    on: sql`${nameOf(ownKey)} = ${keyIn(by, key, table)}`,
  };
  return {
    ...table,
    columns: new Map([...table.columns, ...storedColumns]),
    joins: [...joins, join],
  };
}

/** The key of another record as a record has it, for comparing with the key itself, by its index. */
function keyIn(by: string, key: JoinedTable["key"], table: StoredTable): Fragment {
  const stored = storedColumn(by, table);
  const { column, value } = stored;
  if (stored.storage === "attached" && stored.text !== undefined) {
    return functionCall("exactOf", stored.text);
  }
  if (key === "integer") return nameOf(value);
  return functionCall(column.type === "text" ? "exact" : "exactOf", nameOf(value));
}

function renamedColumn(
  name: string,
  stored: StoredColumn,
  rename: (name: string) => string,
): StoredColumn {
  const { value } = stored;
  if (stored.storage === "attached") {
    const column = { ...stored.column, name };
    const { text, parts } = stored;
    const names = parts === undefined ? {} : { parts: parts.map(rename) };
    return {
      ...{ ...stored, column, value: rename(value), cells: renamedBare(stored.cells, rename) },
      ...names,
      ...(text === undefined ? {} : { text: renamed(text, rename) }),
    };
  }
  const { cell, folded, dictionary } = stored;
  return {
    ...stored,
    column: { ...stored.column, name },
    value: rename(value),
    cell: cell && {
      state: rename(cell.state),
      raw: rename(cell.raw),
      ...(cell.last === undefined ? {} : { last: rename(cell.last) }),
      mayLack: true,
    },
    folded: folded === null ? null : rename(folded),
    dictionary: dictionary && { ...dictionary, code: rename(dictionary.code) },
  };
}

function renamedBare(cells: AttachedCells, rename: (name: string) => string): AttachedCells {
  const of = (fragment: Fragment) => renamed(fragment, rename);
  switch (cells.type) {
    case "date":
      return { ...cells, dates: renamedDates(cells.dates, of), orderKey: null };
    case "text": {
      const { strings } = cells;
      const { exact, folded, bare } = strings;
      const whole = { exact: of(exact), folded: of(folded), bare: bare && of(bare) };
      return { ...cells, strings: { ...strings, ...renamedCells(strings, of), ...whole } };
    }
    case "number": {
      const { numbers } = cells;
      return { ...cells, numbers: { ...renamedCells(numbers, of), value: of(numbers.value) } };
    }
    case "boolean": {
      const { isTrue, isFalse, value } = cells.booleans;
      const whole = { isTrue: of(isTrue), isFalse: of(isFalse), value: of(value) };
      return { ...cells, booleans: { ...renamedCells(cells.booleans, of), ...whole } };
    }
  }
}

type Renaming = (fragment: Fragment) => Fragment;

function renamedCells(cells: StoredCells, of: Renaming): StoredCells {
  return {
    isFilled: of(cells.isFilled),
    isNotFilled: of(cells.isNotFilled),
    isBlank: of(cells.isBlank),
    isNotBlank: of(cells.isNotBlank),
    isUnreadable: of(cells.isUnreadable),
    isNotUnreadable: of(cells.isNotUnreadable),
  };
}

function renamedDates(dates: StoredDates, of: Renaming): StoredDates {
  const { guard, closed, last } = dates;
  const bound = (found: Fragment | "all" | "none") =>
    typeof found === "string" ? found : of(found);
  return {
    ...dates,
    ...renamedCells(dates, of),
    guard: guard && of(guard),
    from: (ms) => bound(dates.from(ms)),
    before: (ms) => bound(dates.before(ms)),
    onDays: (days) => {
      const found = dates.onDays(days);
      return found && of(found);
    },
    closed: {
      from: closed.from && of(closed.from),
      before: closed.before && of(closed.before),
    },
    ...(last === undefined
      ? {}
      : {
          last: {
            isNone: of(last.isNone),
            isThere: of(last.isThere),
            from: (ms) => bound(last.from(ms)),
            before: (ms) => bound(last.before(ms)),
          },
        }),
    order: of(dates.order),
    millis: of(dates.millis),
    calendarDate: of(dates.calendarDate),
  };
}

/** The same piece with other names of columns. */
function renamed(fragment: Fragment, rename: (name: string) => string): Fragment {
  return fragment.kind === "name"
    ? nameOf(rename(fragment.name))
    : withPieces(fragment, (piece) => renamed(piece, rename));
}

/** The joins that follow a table in FROM, for the columns of others that a statement names. */
export function joinsFor(table: StoredTable, names: Iterable<string>): Fragment {
  const { joins } = table;
  if (joins === undefined) return sql``;
  const stored = [...names].flatMap((name) => table.computed?.get(name)?.operands ?? [name]);
  const wanted = joins.filter((join) => stored.some((name) => join.names.has(name)));
  return joined(
    wanted.map((join) => {
      const fields = [...join.columns].map(([name, as]) => sql`${nameOf(name)} AS ${nameOf(as)}`);
      return sql` LEFT JOIN (SELECT ${joined(fields, sql`, `)} FROM ${nameOf(join.table)}) AS ${nameOf(join.alias)} ON ${join.on}`;
    }),
    sql``,
  );
}
