import { functionCall, nameOf, type Fragment } from "./fragment.js";
import type { StoredColumn } from "./storage.js";

/** Where cells have a state beside them; null where they stand alone. */
export function cellOf(stored: StoredColumn) {
  return stored.storage === "imported" ? stored.cell : null;
}

/** What a column's cells hold, as it came: of a bare one in the database's own text. */
export function rawOf(stored: StoredColumn): Fragment {
  if (stored.storage === "imported") return nameOf(stored.cell?.raw ?? stored.value);
  if (stored.text !== undefined) return stored.text;
  return functionCall(stored.holding.type === "text" ? "exactOf" : "shown", nameOf(stored.value));
}
