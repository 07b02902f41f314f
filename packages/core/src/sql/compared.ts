import type { StoredDates } from "./cells.js";
import { sql, type Fragment } from "./fragment.js";

/** A comparison and what must hold beside it. */
export function andValid(comparison: Fragment, { guard }: StoredDates): Fragment {
  return guard === null ? comparison : sql`(${comparison} AND ${guard})`;
}

/** Two columns of dates compared: as they are stored where that is alike, else by milliseconds. */
export function comparedDates(a: StoredDates, operator: Fragment, b: StoredDates): Fragment {
  if (a.scale === null || a.scale !== b.scale) return sql`${a.millis} ${operator} ${b.millis}`;
  return andValid(andValid(sql`${a.order} ${operator} ${b.order}`, a), b);
}
