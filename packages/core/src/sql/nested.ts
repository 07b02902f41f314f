import { failure, success, type Fault, type Result } from "../faults/index.js";
import { columnsOf, isBlankText, type Column, type Filter } from "../filters/index.js";
import type { Reading } from "../reading/index.js";
import { attachedColumn } from "./attached.js";
import {
  BY_ITSELF,
  functionCall,
  joined,
  nameOf,
  numeral,
  sql,
  valueOf,
  type Fragment,
} from "./fragment.js";
import { joinsFor } from "./joined.js";
import { pathText, type JsonPath } from "./json-path.js";
import type { AttachedColumn, NestedValue, StoredNested, StoredTable } from "./storage.js";

/** What a value inside is understood as. */
export type NestedType =
  | { readonly type: "text" | "integer" | "decimal" | "boolean" }
  | { readonly type: "date"; readonly reading: Reading };

/** Digits of a place, with zeros before it so that places are in order: more than a text has room for. */
const PLACE_DIGITS = 10;

/** The id of a value inside, from its key: without the zeros. */
export function valueId(key: string): string {
  return key.replace(/:0*(\d+)$/, ":$1");
}

/** The key of a value inside, from its id. */
export function valueKey(id: string): string {
  return id.replace(/:(\d+)$/, (_, place: string) => `:${place.padStart(PLACE_DIGITS, "0")}`);
}

const [ELEMENTS, PLACE, KEY] = ["orisma_element", "orisma_place", "orisma_key"];

/** The physical column of the value at a place of the list. */
function physicalName(index: number): string {
  return `orisma_v${index + 1}`;
}

/**
 * A table with the values inside a column of it, as further columns: conditions on several of them
 * are about one element. A JSON text that cannot be read has no elements; an object or a list where
 * a value is expected is blank.
 *
 * Fails with the faults of readings and `storage.reading` for an encoding that is no text.
 */
export function withNested(
  table: StoredTable,
  column: string,
  each: JsonPath,
  values: readonly (NestedValue & { readonly type: NestedType })[],
): Result<StoredTable> {
  const faults: Fault[] = [];
  const columns = new Map(table.columns);
  const outer = table.columns.get(column);
  if (outer === undefined) throw new Error(`${column} is no column of ${table.table}`);
  for (const [index, { name, type }] of values.entries()) {
    const made = nestedColumn(name, physicalName(index), type);
    if (made.ok) columns.set(name, made.value);
    else faults.push(...made.faults);
  }
  if (faults.length > 0) return failure(...faults);
  const nested = { column: outer.value, key: table.key, each, values, rows: "records" } as const;
  return success({ ...table, columns, nested });
}

function nestedColumn(name: string, value: string, type: NestedType): Result<AttachedColumn> {
  if (type.type === "date" || type.type === "text") {
    return attachedColumn(name, { value, holding: { type: "text" }, type });
  }
  const text = nameOf(value);
  const isBlank = sql`(${text} IS NULL OR ${functionCall("isWhite", text)})`;
  const cells = (form: Fragment) => ({
    isFilled: sql`(${text} IS NOT NULL AND ${form})`,
    isNotFilled: sql`(${text} IS NULL OR NOT (${form}))`,
    isBlank,
    isNotBlank: sql`NOT ${isBlank}`,
    isUnreadable: sql`(NOT ${isBlank} AND NOT (${form}))`,
    isNotUnreadable: sql`(${isBlank} OR ${form})`,
  });
  const column: Column = { name, type: type.type };
  const nested = { storage: "attached", column, value, holding: { type: "text" } } as const;
  if (type.type === "boolean") {
    const exact = functionCall("exactOf", text);
    const [isTrue, isFalse] = [sql`${exact} = 'true'`, sql`${exact} = 'false'`];
    const number = sql`CASE WHEN ${isTrue} THEN 1 WHEN ${isFalse} THEN 0 END`;
    const booleans = {
      ...cells(sql`${exact} IN ('true', 'false')`),
      isTrue,
      isFalse,
      value: number,
    };
    return success({ ...nested, cells: { type: "boolean", booleans } });
  }
  const isNumber = sql`${text} REGEXP ${valueOf(NUMBER_FORMS[type.type])}`;
  const number = sql`CASE WHEN ${isNumber} THEN CAST(${text} AS DECIMAL(38,12)) END`;
  return success({
    ...nested,
    cells: { type: "number", numbers: { ...cells(isNumber), value: number } },
  });
}

/** Numbers as JSON has them (RFC 8259, section 6), of as many digits as a database compares exactly. */
const NUMBER_FORMS = {
  integer: "^-?[0-9]{1,18}$",
  decimal: "^-?[0-9]{1,26}([.][0-9]{1,12})?$",
};

/** The value of a column inside, as it is sent; undefined where it is none of its type. */
export function nestedValue(
  text: string,
  type: "integer" | "decimal" | "boolean",
): string | boolean | null | undefined {
  if (isBlankText(text)) return null;
  if (type === "boolean") {
    return text === "true" ? true : text === "false" ? false : undefined;
  }
  return new RegExp(NUMBER_FORMS[type]).test(text) ? text : undefined;
}

/** The same table with a line for each value inside. */
export function flattened(table: StoredTable): StoredTable {
  const { nested } = table;
  if (nested === undefined || nested.rows === "values") return table;
  return { ...table, key: KEY, nested: { ...nested, rows: "values" } };
}

/** The same table with each record once. */
export function recordsOf(table: StoredTable): StoredTable {
  const { nested } = table;
  if (nested === undefined || nested.rows === "records") return table;
  return { ...table, key: nested.key, nested: { ...nested, rows: "records" } };
}

/**
 * What a statement reads from, of which it names some columns: the table, or a line for each value
 * inside, and the tables of which it has columns.
 */
export function fromOf(table: StoredTable, names: Iterable<string>): Fragment {
  return sql`${rowsOf(table)}${joinsFor(table, names)}`;
}

function rowsOf({ table, nested }: StoredTable): Fragment {
  if (nested?.rows !== "values") return nameOf(table);
  const [record, element] = [nameOf("orisma_record"), nameOf(ELEMENTS)];
  const id = sql`${record}.${nameOf(nested.key)}`;
  const digits = numeral(PLACE_DIGITS);
  const place = sql`LPAD(COALESCE(${element}.${nameOf(PLACE)}, 0), ${digits}, '0')`;
  // Elements of a record in their order, whatever the record's key and the characters of its strings are.
  const key = functionCall("exactOf", sql`CONCAT(${id}, ':', ${place})`);
  return sql`(SELECT ${record}.*, ${element}.*, ${key} AS ${nameOf(KEY)} FROM ${nameOf(table)} AS ${record} LEFT JOIN ${elementsOf(nested, record)} ON 1 = 1) AS ${nameOf("orisma_values")}`;
}

/** The elements of a record's list as a table. */
function elementsOf(nested: StoredNested, record: Fragment): Fragment {
  const { column, each, values } = nested;
  const text = sql`${record}.${nameOf(column)}`;
  const fields = values.map(
    ({ path }, index) =>
      sql`${nameOf(physicalName(index))} LONGTEXT CHARACTER SET utf8mb4 PATH ${pathText(path)} NULL ON EMPTY NULL ON ERROR`,
  );
  const columns = [sql`${nameOf(PLACE)} FOR ORDINALITY`, ...fields];
  return sql`JSON_TABLE(CASE WHEN JSON_VALID(${text}) THEN ${text} END, ${pathText(each)} COLUMNS (${joined(columns, sql`, `)})) AS ${nameOf(ELEMENTS)}`;
}

/** The table in which the values of a column stand, one a line. */
export function tableOfColumn(name: string, table: StoredTable): StoredTable {
  return isNested(name, table) ? flattened(table) : table;
}

/** Whether a column is of values inside another, or worked out of one that is. */
export function isNested(name: string, { nested, computed }: StoredTable): boolean {
  if (nested === undefined) return false;
  const names = computed?.get(name)?.operands ?? [name];
  return nested.values.some((value) => names.includes(value.name));
}

/**
 * The parts of a filter that must all hold, of which some are about values inside: apart, so that
 * those are requested together of one element of each record. Null where there is nothing to be said
 * apart.
 */
export function insideApart<F extends Filter>(
  parts: readonly F[],
  table: StoredTable,
): { readonly outside: readonly F[]; readonly inside: readonly F[] } | null {
  if (table.nested?.rows !== "records") return null;
  const inside = parts.filter((part) => columnsOf(part).some((name) => isNested(name, table)));
  if (inside.length === 0) return null;
  return { inside, outside: parts.filter((part) => !inside.includes(part)) };
}

/** That some element of a record has what a condition says. */
export function someElement(condition: Fragment, table: StoredTable): Fragment {
  const { nested } = table;
  if (nested === undefined) return condition;
  // A record without elements has one of which everything is blank.
  const one = sql`(SELECT 1 AS ${nameOf("orisma_one")}) AS ${nameOf("orisma_only")}`;
  const elements = elementsOf(nested, nameOf(table.table));
  return sql`EXISTS (SELECT 1 FROM ${one} LEFT JOIN ${elements} ON 1 = 1 WHERE (${condition}) AND ${BY_ITSELF})`;
}
