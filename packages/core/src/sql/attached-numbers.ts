import { END_MS, FIRST_MS, MS_PER_DAY } from "../calendar/index.js";
import type { CompiledReading, EpochEncoding, SerialEncoding } from "../reading/index.js";
import type { EncodedDates } from "./attached-cells.js";
import { wholeDay } from "./attached-days.js";
import {
  functionCall,
  joined,
  nameOf,
  sql,
  valueOf,
  type Fragment,
  type SqlValue,
} from "./fragment.js";

/** Counts of seconds, milliseconds or microseconds since 1970. */
export function epochEncoding(
  value: string,
  encoding: EpochEncoding,
  compiled: CompiledReading,
  isWhole: boolean,
): EncodedDates {
  const column = nameOf(value);
  const perMs = { "epoch-s": 1e-3, "epoch-ms": 1, "epoch-us": 1e3 }[encoding];
  const least = (ms: number): SqlValue => {
    if (isWhole) {
      if (perMs < 1) return Math.ceil(ms * perMs);
      return perMs === 1 ? ms : BigInt(ms) * 1_000n;
    }
    return leastNumber(ms * perMs, (number) => dateMs(compiled, number) >= ms);
  };
  const whole = isWhole ? column : functionCall("floor", column);
  const fraction = sql`${column} - ${whole} + ABS(${column}) * 4.440892098500626E-16`;
  const millis = {
    // A fraction makes a number of it that has room for the product.
    "epoch-s": isWhole
      ? sql`${column} * 1000.0`
      : sql`(${whole} * 1000 + ${functionCall("floor", sql`(${fraction}) * 1000`)})`,
    "epoch-ms": whole,
    "epoch-us": isWhole
      ? sql`((${column} - (${column} % 1000 + 1000) % 1000) / 1000)`
      : functionCall("floor", sql`(${column} / 1000.0)`),
  }[encoding];
  const first = valueOf(least(FIRST_MS));
  const end = valueOf(least(END_MS));
  return numbers(column, encoding, compiled, {
    least,
    lowest: FIRST_MS,
    valid: sql`(${column} >= ${first} AND ${column} < ${end})`,
    closed: { from: sql`${column} >= ${first}`, before: sql`${column} < ${end}` },
    millis,
    isWhole,
  });
}

/** Day numbers of spreadsheets: rounded to the millisecond, so bounds lie at the midpoint below. */
export function serialEncoding(
  value: string,
  encoding: SerialEncoding,
  compiled: CompiledReading,
  isWhole: boolean,
): EncodedDates {
  const column = nameOf(value);
  const base = compiled.write(FIRST_MS) as number;
  const zero = FIRST_MS - base * MS_PER_DAY;
  const least = (ms: number): SqlValue => {
    const near = (ms - zero) / MS_PER_DAY;
    if (isWhole) return Math.ceil(near);
    return leastNumber(near, (number) => zero + serialOffset(number) >= ms);
  };
  const whole = isWhole ? column : functionCall("floor", column);
  const time = functionCall("floor", sql`((${column} - ${whole}) * 86400000 + 0.5)`);
  const days = sql`(${whole} * 86400000.0 + ${valueOf(zero)})`;
  const end = valueOf(least(END_MS));
  return numbers(column, encoding, compiled, {
    least,
    lowest: zero,
    // What lies between is a time of day alone.
    valid: sql`(${column} < ${end} AND (${column} >= 1 OR ${column} = 0))`,
    closed: { from: sql`${column} >= 0`, before: sql`${column} < ${end}` },
    millis: isWhole ? days : sql`(${days} + ${time})`,
    isWhole,
  });
}

/** Milliseconds of a day number since day 0, as a reading rounds them. */
function serialOffset(number: number): number {
  const day = Math.floor(number);
  return day * MS_PER_DAY + Math.round((number - day) * MS_PER_DAY);
}

interface NumberEncoding {
  /** The least number that is read as at or after some milliseconds. */
  readonly least: (ms: number) => SqlValue;
  /** Milliseconds of the first date that there is. */
  readonly lowest: number;
  readonly valid: Fragment;
  readonly closed: EncodedDates["closed"];
  readonly millis: Fragment;
  readonly isWhole: boolean;
}

function numbers(
  column: Fragment,
  encoding: EpochEncoding | SerialEncoding,
  compiled: CompiledReading,
  { least, lowest, valid, closed, millis, isWhole }: NumberEncoding,
): EncodedDates {
  const { kind } = compiled;
  const tick = kind === "date" ? MS_PER_DAY : 1;
  const bound = (ms: number, compared: (value: Fragment) => Fragment, isFrom: boolean) => {
    const point = Math.ceil(ms / tick) * tick;
    if (point <= lowest) return isFrom ? "all" : "none";
    if (point >= END_MS) return isFrom ? "none" : "all";
    return compared(valueOf(least(point)));
  };
  const isDayNumber = isWhole && encoding.startsWith("serial");
  return {
    kind,
    column,
    valid,
    from: (ms) => bound(ms, (value) => sql`${column} >= ${value}`, true),
    before: (ms) => bound(ms, (value) => sql`${column} < ${value}`, false),
    onDays: (days) =>
      isDayNumber
        ? sql`${column} IN (${joined(
            days.map((day) => valueOf(least(day * MS_PER_DAY))),
            sql`, `,
          )})`
        : null,
    listsExactly: false,
    listsUpTo: 0,
    closed,
    order: column,
    scale: isWhole && (kind !== "date" || isDayNumber) ? encoding : null,
    millis: kind === "date" && !isDayNumber ? wholeDay(millis) : millis,
    msOf: (ordered) => compiled.dateOf(ordered),
    keepsOrder: true,
    isFiner: kind === "date" ? !isDayNumber : !isWhole || encoding === "epoch-us",
    isWhite: null,
    spelled: (blanks) => {
      const listed = blanks.map(Number).filter((number, at) => String(number) === blanks[at]);
      if (listed.length === 0) return null;
      return sql`${column} IN (${joined(listed.map(valueOf), sql`, `)})`;
    },
  };
}

function dateMs(compiled: CompiledReading, number: number): number {
  const ms = compiled.dateOf(number);
  return Number.isNaN(ms) ? (number > 0 ? Infinity : -Infinity) : ms;
}

/** The least floating-point number near another of which something holds from there on. */
export function leastNumber(near: number, holds: (number: number) => boolean): number {
  const size = Math.max(1, Math.abs(near)) * 1e-9;
  let [low, high] = [near - size, near + size];
  // Halving ends when no number lies between the two.
  for (;;) {
    const middle = low + (high - low) / 2;
    if (middle <= low || middle >= high) return high;
    if (holds(middle)) high = middle;
    else low = middle;
  }
}
