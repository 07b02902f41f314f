import { isoDay } from "../calendar/index.js";
import type { CellState, DateKind } from "../reading/index.js";
import {
  filledOrBlank,
  type StoredBooleans,
  type StoredCells,
  type StoredDates,
  type StoredDictionary,
  type StoredNumbers,
  type StoredStrings,
} from "./cells.js";
import { decodeMs, encodeMs } from "./encode.js";
import { functionCall, joined, nameOf, numeral, sql, valueOf, type Fragment } from "./fragment.js";

/** The numbers under which the three states are stored in imported tables. */
export const STATE_CODES: Readonly<Record<CellState, number>> = {
  dated: 1,
  blank: 2,
  unreadable: 3,
};

/** The columns beside that of a value. */
export interface ImportedCell {
  /** One of {@link STATE_CODES}. */
  readonly state: string;
  readonly raw: string;
  /** Of dates without a day whose days all count: the last of them; NULL for any other. */
  readonly last?: string;
  /** Whether a record may lack the state, which then is blank: it is of another record, if any. */
  readonly mayLack?: true;
}

/**
 * Cells with a state beside them. That of a cell without a value is NULL too, which lets the index
 * serve.
 */
function importedCells(value: string, { state, mayLack }: ImportedCell): StoredCells {
  const column = nameOf(value);
  const code =
    mayLack === true
      ? sql`COALESCE(${nameOf(state)}, ${numeral(STATE_CODES.blank)})`
      : nameOf(state);
  const isIn = (which: CellState) =>
    sql`(${column} IS NULL AND ${code} = ${valueOf(STATE_CODES[which])})`;
  const isNotIn = (which: CellState) =>
    sql`(${column} IS NOT NULL OR ${code} <> ${valueOf(STATE_CODES[which])})`;
  return {
    isFilled: sql`${column} IS NOT NULL`,
    isNotFilled: sql`${column} IS NULL`,
    isBlank: isIn("blank"),
    isNotBlank: isNotIn("blank"),
    isUnreadable: isIn("unreadable"),
    isNotUnreadable: isNotIn("unreadable"),
  };
}

/** Dates as imported tables store them: days as DATE, times as DATETIME(3), instants in UTC. */
export function importedDates(kind: DateKind, value: string, cell: ImportedCell): StoredDates {
  const column = nameOf(value);
  const bounds = (name: Fragment) => {
    const bound = (ms: number, compared: (text: Fragment) => Fragment, isAbove: boolean) => {
      const found = encodeMs(ms, kind);
      if (found.kind === "value") return compared(valueOf(found.text));
      return (found.kind === "below") === isAbove ? "all" : "none";
    };
    return {
      from: (ms: number) => bound(ms, (text) => sql`${name} >= ${text}`, true),
      before: (ms: number) => bound(ms, (text) => sql`${name} < ${text}`, false),
    };
  };
  const last = cell.last === undefined ? null : nameOf(cell.last);
  return {
    ...importedCells(value, cell),
    kind,
    guard: null,
    ...bounds(column),
    ...(last === null
      ? {}
      : {
          last: {
            isNone: sql`${last} IS NULL`,
            isThere: sql`${last} IS NOT NULL`,
            ...bounds(last),
          },
        }),
    onDays: (days) => {
      if (kind !== "date") return null;
      return sql`${column} IN (${joined(
        days.map((day) => valueOf(isoDay(day))),
        sql`, `,
      )})`;
    },
    listsUpTo: 0,
    closed: { from: null, before: null },
    order: column,
    scale: kind,
    millis: functionCall("millis", column),
    calendarDate: column,
    msOf: (ordered) => decodeMs(String(ordered)),
    keepsOrder: true,
    isDayTyped: kind === "date",
    isFiner: false,
    groupNulls: true,
  };
}

/** Strings with their folded form beside them, which is NULL where the text is blank. */
export function importedStrings(
  value: string,
  folded: string,
  dictionary: StoredDictionary | null,
): StoredStrings {
  const small = nameOf(folded);
  // Both are NULL where the text is blank, and an index holds the number.
  const state = dictionary === null ? small : nameOf(dictionary.code);
  const [isFilled, isBlank] = [sql`${state} IS NOT NULL`, sql`${state} IS NULL`];
  return {
    ...filledOrBlank(isFilled, isBlank),
    exact: functionCall("exact", nameOf(value)),
    // Its collation is one that counts every character.
    folded: small,
    blankIsNull: true,
    bare: null,
    dictionary,
  };
}

/** Yes and no, as 1 and 0 with a state beside them. */
export function importedBooleans(value: string, cell: ImportedCell): StoredBooleans {
  const column = nameOf(value);
  const [isTrue, isFalse] = [sql`${column} = 1`, sql`${column} = 0`];
  return { ...importedCells(value, cell), isTrue, isFalse, value: column };
}

/** Numbers with a state beside them. */
export function importedNumbers(value: string, cell: ImportedCell): StoredNumbers {
  return { ...importedCells(value, cell), value: nameOf(value) };
}
