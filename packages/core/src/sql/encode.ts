import {
  MS_PER_DAY,
  civilDay,
  dayOf,
  isoDay,
  isoTime,
  wallMs,
  type Edge,
} from "../calendar/index.js";
import { edgeValue } from "../filters/index.js";
import type { DateKind } from "../reading/index.js";

/** A bound in stored form, or why there is none to compare with. */
export type Bound =
  | { readonly kind: "value"; readonly text: string }
  /** Below everything that the column can hold. */
  | { readonly kind: "below" }
  /** Above everything that the column can hold. */
  | { readonly kind: "above" };

/**
 * An edge as the text to compare a stored date column with: `2025-02-28`, or
 * `2025-02-28 14:30:00.000` (in UTC for instants, without a zone, which would cost the index).
 *
 * A column of days takes an edge inside a day up to the next one: on a point column both
 * bounds are rounded up to its resolution.
 */
export function encodeEdge(edge: Edge, kind: DateKind): Bound {
  return encodeMs(edgeValue(edge, kind), kind);
}

/** The milliseconds of a stored date, as a cell of its kind has them. */
export function decodeMs(stored: string): number {
  return Date.parse(`${stored.length > 10 ? stored.replace(" ", "T") : `${stored}T00:00`}Z`);
}

/** The stored form of a value of a kind; see {@link encodeEdge}. */
export function encodeMs(ms: number, kind: DateKind): Bound {
  const wall = wallMs(kind === "date" ? Math.ceil(ms / MS_PER_DAY) * MS_PER_DAY : ms);
  const day = dayOf(wall);
  const { year } = civilDay(day);
  if (year < 1) return { kind: "below" };
  if (year > 9999) return { kind: "above" };
  if (kind === "date") return { kind: "value", text: isoDay(day) };
  const time = isoTime(wall - day * MS_PER_DAY);
  return { kind: "value", text: `${isoDay(day)} ${time.length > 8 ? time : `${time}.000`}` };
}
