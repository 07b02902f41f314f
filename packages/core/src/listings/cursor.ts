import { fault, type Fault } from "../faults/index.js";
import type { Position } from "../sql/index.js";

/** Where a page begins, and what it is a page of. */
export interface Cursor {
  readonly position: Position;
  /** Whether the page lies before the position, in the order of the listing. */
  readonly backward: boolean;
  readonly binding: CursorBinding;
  /** The instant of the request, for a query that moves with the clock; every page has the first's. */
  readonly asOf: number | null;
  /** A hash of filter and order, so that a cursor is not taken for another query's. */
  readonly query: string;
  /** For a source of several tables: that of the record, and its date in milliseconds. */
  readonly partition: { readonly label: string; readonly ms: number | null } | null;
}

/** What a cursor is bound to: a place among records means something only as long as these stay. */
export interface CursorBinding {
  readonly listing: string;
  /** The id of the key with which it was requested. */
  readonly caller: string;
  readonly version: number;
  readonly source: number;
  /** What the ids of the source's records are. */
  readonly ids: string;
  /** What the columns of the order hold. */
  readonly order: string;
}

/** What may have become of a listing and its source so that a place in it means nothing any more. */
export const CURSOR_ENDS = ["version", "source", "ids", "order"] as const;

/** The fault of a cursor that means nothing here, or no more; null for one that does. */
export function cursorFault(
  text: string | null,
  cursor: Cursor | null,
  binding: CursorBinding,
  query: string,
): Fault | null {
  if (text === null) return null;
  const place = { parameter: "cursor", value: text };
  const { listing, caller } = binding;
  if (cursor?.binding.listing !== listing || cursor.binding.caller !== caller) {
    return fault("cursor.unreadable", {}, place);
  }
  const ended = CURSOR_ENDS.find((each) => cursor.binding[each] !== binding[each]);
  if (ended !== undefined) return fault("cursor.ended", { by: ended }, place);
  return cursor.query === query ? null : fault("cursor.otherQuery", {}, place);
}
