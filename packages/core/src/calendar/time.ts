declare const epochBrand: unique symbol;
declare const wallBrand: unique symbol;

/** A point in time: milliseconds since 1970-01-01T00:00:00Z, whole. */
export type EpochMs = number & { readonly [epochBrand]: true };

/**
 * A wall-clock date and time without a zone: the milliseconds from 1970-01-01T00:00 to it on
 * a clock that is never changed, whole.
 */
export type WallMs = number & { readonly [wallBrand]: true };

export const MS_PER_SECOND = 1_000;
export const MS_PER_MINUTE = 60_000;
export const MS_PER_HOUR = 3_600_000;
export const MS_PER_DAY = 86_400_000;

/** Makes a point in time of whole milliseconds; a fraction is floored. */
export function epochMs(ms: number): EpochMs {
  return Math.floor(ms) as EpochMs;
}

/** Makes a wall-clock time of whole milliseconds; a fraction is floored. */
export function wallMs(ms: number): WallMs {
  return Math.floor(ms) as WallMs;
}

/**
 * One end of a span, with both its faces: the point in time, and the wall clock in the zone
 * in which it was resolved.
 */
export interface Edge {
  readonly instant: EpochMs;
  readonly wall: WallMs;
}

/** The half-open interval `[start, end)` that one written value covers. */
export interface Span {
  readonly start: Edge;
  readonly end: Edge;
}

/** A half-open interval of which either end may be open. */
export interface Interval {
  readonly start: Edge | null;
  readonly end: Edge | null;
}
