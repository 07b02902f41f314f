import {
  functionCall,
  joined,
  nameOf,
  numeral,
  sql,
  valueOf,
  type Fragment,
  type SqlValue,
} from "./fragment.js";
import type { BlankPlace, OrderKey, Position, RecordOrder } from "./page-query.js";
import {
  booleansOf,
  cellsOf,
  datesOf,
  numbersOf,
  storedColumn,
  stringsOf,
  type StoredTable,
} from "./storage.js";

/**
 * Characters of a text by which it is put in order. A database sorts by so many bytes of a text, and
 * what it takes for equal must be equal to the place of a page too.
 */
const ORDERED_CHARACTERS = 200;

/** A column with `-` before it for descending. */
export function orderKeyOf(text: string): OrderKey {
  const descending = text.startsWith("-");
  return { column: descending ? text.slice(1) : text, descending };
}

/** How a column orders records. */
export interface ColumnOrder {
  /** What is compared; of no account where the cell holds no value. */
  readonly value: Fragment;
  /** Whether it is the stored value, as it is shown too. */
  readonly isStoredValue: boolean;
  /** Whether it is NULL just where the cell holds no value, which puts these on one side. */
  readonly groupNulls: boolean;
  readonly isFilled: Fragment;
  readonly isNotFilled: Fragment;
  /** A value of an order as it is bound to compare it. */
  bound(value: SqlValue): Fragment;
}

/** How an order's first column orders records; by others beside it what is alike must be so. */
export function firstOrder(
  { column, then = [] }: RecordOrder,
  table: StoredTable,
): ColumnOrder | null {
  return column === null ? null : columnOrder(column, table, then.length > 0);
}

/**
 * How a column orders records: dates as dates, numbers as numbers, no before yes, strings character by character
 * without regard to letter case. Throws on a column that the table lacks.
 */
export function columnOrder(name: string, table: StoredTable, isAmongOthers = true): ColumnOrder {
  const held = isAmongOthers ? amongOthers : alone;
  const orders = held.get(table) ?? new Map<string, ColumnOrder>();
  const found = orders.get(name) ?? buildOrder(name, table, isAmongOthers);
  orders.set(name, found);
  held.set(table, orders);
  return found;
}

/** What was made for a table's columns: every request for records asks for it several times. */
const alone = new WeakMap<StoredTable, Map<string, ColumnOrder>>();
const amongOthers = new WeakMap<StoredTable, Map<string, ColumnOrder>>();

function buildOrder(name: string, table: StoredTable, isAmongOthers: boolean): ColumnOrder {
  if (table.computed?.has(name) === true) {
    const { value, isFilled, isNotFilled } = numbersOf(name, table);
    const bound = (each: SqlValue) => functionCall("decimal", valueOf(each));
    return { value, isStoredValue: false, groupNulls: true, isFilled, isNotFilled, bound };
  }
  const { column, value, storage } = storedColumn(name, table);
  const { isFilled, isNotFilled } = cellsOf(name, table);
  switch (column.type) {
    case "date": {
      const { order, keepsOrder, groupNulls, isFiner, millis } = datesOf(name, table);
      if (isAmongOthers && isFiner) {
        const whole = { value: millis, isStoredValue: false, groupNulls: true };
        return { ...whole, isFilled, isNotFilled, bound: valueOf };
      }
      return {
        value: order,
        isStoredValue: keepsOrder,
        groupNulls,
        isFilled,
        isNotFilled,
        bound: valueOf,
      };
    }
    case "text": {
      const { folded, blankIsNull } = stringsOf(name, table);
      const characters = numeral(ORDERED_CHARACTERS);
      return {
        value: sql`SUBSTR(${folded}, 1, ${characters})`,
        isStoredValue: false,
        groupNulls: blankIsNull,
        isFilled,
        isNotFilled,
        bound: valueOf,
      };
    }
    case "boolean": {
      const booleans = booleansOf(name, table);
      const isStoredValue = storage === "imported";
      return {
        value: booleans.value,
        isStoredValue,
        groupNulls: true,
        isFilled,
        isNotFilled,
        bound: valueOf,
      };
    }
    default:
      return {
        value: nameOf(value),
        isStoredValue: true,
        groupNulls: true,
        isFilled,
        isNotFilled,
        // A text beside a decimal number would make both of them doubles.
        bound: (each) =>
          storage === "imported" ? functionCall("decimal", valueOf(each)) : valueOf(each),
      };
  }
}

/** What is compared, and NULL where the cell holds no value. */
export function valueOrNull({ value, isFilled, groupNulls }: ColumnOrder): Fragment {
  return groupNulls ? value : sql`CASE WHEN ${isFilled} THEN ${value} END`;
}

/** Where records without a value stand, by default. */
export function usualBlanks({ descending }: Pick<OrderKey, "descending">): BlankPlace {
  return descending ? "last" : "first";
}

/** What orders by a column, with those without a value where they are wanted. */
export function termsOf(key: OrderKey, table: StoredTable): readonly Fragment[] {
  const order = columnOrder(key.column, table);
  const areBlanksFirst = (key.blanks ?? usualBlanks(key)) === "first";
  const direction = key.descending ? sql` DESC` : sql``;
  return [
    areBlanksFirst
      ? sql`CASE WHEN ${order.isFilled} THEN 1 ELSE 0 END`
      : sql`CASE WHEN ${order.isFilled} THEN 0 ELSE 1 END`,
    sql`${valueOrNull(order)}${direction}`,
  ];
}

/**
 * The records that come after a place among those which the first column of the order does not
 * distinguish: by its further columns, and then by the key.
 */
export function afterTies(
  { descending, then = [] }: RecordOrder,
  { key: keyValue, then: values = [] }: Position,
  key: Fragment,
  table: StoredTable,
): Fragment {
  const beyondKey = descending
    ? sql`${key} < ${valueOf(keyValue)}`
    : sql`${key} > ${valueOf(keyValue)}`;
  return then.reduceRight((beyond: Fragment, each, index) => {
    const at = values[index] ?? null;
    const order = columnOrder(each.column, table);
    const same = at === null ? order.isNotFilled : sql`${valueOrNull(order)} = ${order.bound(at)}`;
    return sql`(${joined([...beyondValue(each, order, at), sql`(${same} AND ${beyond})`], sql` OR `)})`;
  }, beyondKey);
}

/** What comes after a value, or after those without one, in the order of a column. */
function beyondValue(key: OrderKey, order: ColumnOrder, at: SqlValue): readonly Fragment[] {
  const areBlanksFirst = (key.blanks ?? usualBlanks(key)) === "first";
  if (at === null) return areBlanksFirst ? [order.isFilled] : [];
  const value = valueOrNull(order);
  const beyond = key.descending
    ? sql`${value} < ${order.bound(at)}`
    : sql`${value} > ${order.bound(at)}`;
  return areBlanksFirst ? [beyond] : [beyond, order.isNotFilled];
}
