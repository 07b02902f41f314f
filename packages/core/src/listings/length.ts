import { MS_PER_DAY } from "../calendar/index.js";
import { readLength, type Duration } from "../windows/index.js";

/** A length in milliseconds, a day of 24 hours; months and years have no fixed length and count as none. */
export function lengthMs(text: string): number {
  const read = readLength(text);
  return read.ok ? durationMs(read.value) : 0;
}

/** Weeks, days and less of a length, in milliseconds. */
export function durationMs({ weeks, days, elapsedMs }: Duration): number {
  return (weeks * 7 + days) * MS_PER_DAY + elapsedMs;
}
