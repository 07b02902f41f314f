/**
 * How columns of moments are stored: milliseconds since 1970. The driver gives large numbers as strings; those here are
 * well within what is exact.
 */
export const MS = { to: (ms: number) => ms, from: Number };
export const MS_OR_NULL = {
  to: (ms: number | null) => ms,
  from: (ms: string | null) => (ms === null ? null : Number(ms)),
};
