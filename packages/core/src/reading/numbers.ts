import {
  END_MS,
  FIRST_MS,
  MS_PER_DAY,
  dayNumber,
  epochMs,
  wallMs,
  type EpochMs,
  type WallMs,
} from "../calendar/index.js";
import { fault, notice, type Fault, type Notice } from "../faults/index.js";

/** What a day number is in the two systems of spreadsheets: the day that 0 stands for. */
const SERIAL_BASES = {
  "serial-1900": dayNumber(1899, 12, 30),
  "serial-1904": dayNumber(1904, 1, 1),
} as const;

export type SerialEncoding = keyof typeof SERIAL_BASES;

/** Counts of seconds, milliseconds and microseconds since 1970. */
export type EpochEncoding = "epoch-s" | "epoch-ms" | "epoch-us";

/** Up to this day number the 1900 system shows other days, for it has a 29 February 1900. */
const LAST_SHIFTED_SERIAL = 60;

/** The time that a number stands for, or why it stands for none. */
export type NumberReading<T> =
  | { readonly kind: "fits"; readonly value: T; readonly notices: readonly Notice[] }
  | { readonly kind: "fault"; readonly fault: Fault };

/** A stored number, as a number or as text with plain digits; NaN for anything else. */
export function numberOf(stored: string | number): number {
  if (typeof stored === "number") return stored;
  const text = stored.trim();
  return /^[+-]?\d+(?:\.\d+)?(?:e[+-]?\d{1,3})?$/i.test(text) ? Number(text) : NaN;
}

/**
 * Reads the day number of a spreadsheet: whole days, and a fraction as the time of day, rounded
 * to the millisecond so that `.999999` is not a second early.
 *
 * In the 1900 system 0 is 30 December 1899 and 45292 is 1 January 2024; up to 60 a spreadsheet
 * shows another day, which a notice reports. A number between 0 and 1 is a time of day alone
 * (`date.timeOnly`); one outside the years 1899 to 9999 is `date.number`.
 *
 * @see ISO/IEC 29500-1:2016, 18.17.4.1
 */
export function readSerial(
  stored: string | number,
  encoding: SerialEncoding,
): NumberReading<WallMs> {
  const number = numberOf(stored);
  const text = String(stored);
  if (number > 0 && number < 1) return { kind: "fault", fault: fault("date.timeOnly", { text }) };
  const ms = serialMs(number, encoding);
  if (Number.isNaN(ms)) return outOfRange(text, "days");
  const day = Math.floor(number);
  const shifted = encoding === "serial-1900" && day <= LAST_SHIFTED_SERIAL;
  const notices = shifted ? [notice("serial.shifted", { serial: day, shown: shownAs(day) })] : [];
  return { kind: "fits", value: wallMs(ms), notices };
}

/** The wall-clock milliseconds of a day number; NaN where it is none. */
export function serialMs(number: number, encoding: SerialEncoding): number {
  const day = Math.floor(number);
  const ms = (day + SERIAL_BASES[encoding]) * MS_PER_DAY + Math.round((number - day) * MS_PER_DAY);
  return (number >= 1 || number === 0) && ms < END_MS ? ms : NaN;
}

function shownAs(day: number): string {
  if (day === LAST_SHIFTED_SERIAL) return "29 February 1900, a day that never was";
  return day >= 32 ? `${day - 31} February 1900` : `${day} January 1900`;
}

/** The day number of a wall-clock time; the reverse of {@link readSerial}. */
export function writeSerial(wall: WallMs, encoding: SerialEncoding): number {
  return wall / MS_PER_DAY - SERIAL_BASES[encoding];
}

/**
 * Reads a count of seconds, milliseconds or microseconds since 1970-01-01T00:00:00Z; what is
 * finer than a millisecond is floored. Outside the years 0001 to 9999 it is `date.number`.
 */
export function readEpoch(
  stored: string | number,
  encoding: EpochEncoding,
): NumberReading<EpochMs> {
  const ms = epochOf(stored, encoding);
  if (!(ms >= FIRST_MS && ms < END_MS)) return outOfRange(String(stored), UNIT_WORDS[encoding]);
  return { kind: "fits", value: epochMs(ms), notices: [] };
}

const UNIT_WORDS: Record<EpochEncoding, string> = {
  "epoch-s": "seconds since 1970",
  "epoch-ms": "milliseconds since 1970",
  "epoch-us": "microseconds since 1970",
};

function epochOf(stored: string | number, encoding: EpochEncoding): number {
  const number = numberOf(stored);
  switch (encoding) {
    case "epoch-ms":
      return Math.floor(number);
    case "epoch-us":
      // Beyond 2^53 a text of digits says more than a number can.
      return typeof stored === "string" && /^[+-]?\d{16,20}$/.test(stored.trim())
        ? flooredThousandth(BigInt(stored.trim()))
        : Math.floor(number / 1_000);
    case "epoch-s": {
      const whole = Math.floor(number);
      // A decimal fraction is off by up to the number's own grain, and must not be floored away:
      // 1.001 s is 1001 ms and not 1000.
      const grain = Math.abs(number) * Number.EPSILON * 2;
      return whole * 1_000 + Math.floor((number - whole + grain) * 1_000);
    }
  }
}

/**
 * The count of a point in time; the reverse of {@link readEpoch}. A text of digits where a
 * number would not be exact, which only microseconds beyond the year 2255 need.
 */
export function writeEpoch(instant: EpochMs, encoding: EpochEncoding): number | string {
  switch (encoding) {
    case "epoch-s":
      return instant / 1_000;
    case "epoch-ms":
      return instant;
    case "epoch-us": {
      const count = instant * 1_000;
      return Number.isSafeInteger(count) ? count : String(BigInt(instant) * 1_000n);
    }
  }
}

function flooredThousandth(count: bigint): number {
  const rest = ((count % 1_000n) + 1_000n) % 1_000n;
  return Number((count - rest) / 1_000n);
}

function outOfRange(text: string, unit: string): NumberReading<never> {
  return { kind: "fault", fault: fault("date.number", { text, unit }) };
}
