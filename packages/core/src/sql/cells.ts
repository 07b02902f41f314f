import { nameOf, sql, valueOf, type Fragment } from "./fragment.js";
import { STATE_CODES, type StoredCells } from "./storage.js";

/** Whether a cell holds no value: its stored value is NULL too, which lets the index serve. */
export function isCell(which: "blank" | "unreadable", { value, state }: StoredCells): Fragment {
  return sql`(${nameOf(value)} IS NULL AND ${nameOf(state)} = ${valueOf(STATE_CODES[which])})`;
}

/** Whether a cell holds a value. */
export function isFilled({ value }: StoredCells): Fragment {
  return sql`${nameOf(value)} IS NOT NULL`;
}
