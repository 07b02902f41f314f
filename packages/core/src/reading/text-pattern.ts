import {
  MS_PER_DAY,
  dayOf,
  isoDay,
  isoInstant,
  isoWall,
  wallMs,
  type EpochMs,
  type WallMs,
} from "../calendar/index.js";
import { fault } from "../faults/index.js";
import type { DateKind } from "./cell.js";
import { readIsoDate } from "./iso.js";
import { lastDayOf } from "./pattern-day.js";
import type { FixedReader } from "./pattern-fixed.js";
import type { DatePattern, PatternReading } from "./pattern.js";
import { readInternetDate } from "./rfc5322.js";

/** Reads text in one way. */
export interface TextPattern {
  read(text: string): PatternReading;
  /** The short way, for a pattern of fixed form. */
  readonly fixed: FixedReader | null;
  /** Whether every text of its form begins with a digit. */
  readonly beginsWithDigit: boolean;
  /** Whether its form has no letters, but those that stand for numbers. */
  readonly isOfDigits: boolean;
  /** Writes a time of a kind, given on the wall clock and as a point in time. */
  write(wall: WallMs, instant: EpochMs, kind: DateKind): string;
}

/** A compiled pattern as one of the ways in which text is read. */
export function asTextPattern(pattern: DatePattern): TextPattern {
  return {
    read: (text) => {
      const found = pattern.read(text);
      if (found.kind !== "other") return found;
      return { kind: "other", pattern: pattern.pattern };
    },
    fixed: pattern.fixed,
    beginsWithDigit: pattern.beginsWithDigit,
    isOfDigits: pattern.isOfDigits,
    write: (wall, instant) => pattern.write(wall, wall - instant),
  };
}

/** ISO 8601 at the precision of a day or finer. */
export const ISO_8601: TextPattern = isoPattern(false);

/**
 * ISO 8601 at any precision; a month, a quarter, a week or a year is read as its first day. So is one
 * that is uncertain or approximate, and what is left unspecified: `1984?`, `199X`, `1985-04-XX`.
 */
export const PARTIAL_ISO_8601: TextPattern = isoPattern(true);

function isoPattern(isPartial: boolean): TextPattern {
  return {
    fixed: null,
    beginsWithDigit: true,
    isOfDigits: false,
    read(text) {
      const { plain, years } = isPartial ? unmarked(text) : { plain: text, years: 1 };
      const written = readIsoDate(extended(plain));
      if (!written.ok) {
        return { kind: "fault", fault: written.faults[0] ?? fault("date.form", { text }) };
      }
      const { precision, start, end, offset } = written.value;
      // A stored value must name a day at least: a month is not one.
      const isCoarse = precision === "year" || precision === "quarter";
      if (!isPartial && (isCoarse || precision === "month" || precision === "week")) {
        return { kind: "fault", fault: fault("date.form", { text }) };
      }
      const isPartialDate = isCoarse || precision === "month" || precision === "week";
      const lastDay = years > 1 ? lastDayOf(start, 12 * years) : wallMs(end - MS_PER_DAY);
      const last = isPartialDate ? { last: lastDay } : {};
      return { kind: "fits", wall: start, offset, ...last };
    },
    write(wall, instant, kind) {
      if (kind === "instant") return isoInstant(instant);
      return kind === "date" ? isoDay(dayOf(wall)) : isoWall(wall);
    },
  };
}

const BASIC =
  /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(?:(\d{2})(?:(\d{2})([.,]\d{1,9})?)?)?(Z|[+-]\d{2}(?:\d{2})?)?)?$/i;

/**
 * The basic form of ISO 8601 in its extended one: `20110312T200000Z`; and the space that RFC 3339
 * (section 5.6) allows before the time as the T; any other text as it is.
 */
function extended(text: string): string {
  const match = BASIC.exec(text);
  if (match === null) return text.replace(/^(\d{4}-\d{2}-\d{2}) (?=\d{2}:)/, "$1T");
  const [, year, month, day, hour, minute = "00", second, fraction = "", zone = ""] = match;
  const date = `${year ?? ""}-${month ?? ""}-${day ?? ""}`;
  if (hour === undefined) return date;
  const offset = zone.length === 5 ? `${zone.slice(0, 3)}:${zone.slice(3)}` : zone;
  return `${date}T${hour}:${minute}${second === undefined ? "" : `:${second}`}${fraction}${offset}`;
}

const MARKED = /^(\d{4}|\d{3}X|\d{2}XX)(?:-(?:(\d{2})(?:-(\d{2}|XX))?|(XX)(?:-XX)?))?([?~%])?$/;

/**
 * A date with the marks of ISO 8601-2:2019, level 1, without them: `?` for uncertain, `~` for
 * approximate, `%` for both, and X for digits that are not specified, from the right; and the number of years of
 * which a year is the first. Any other text as it is.
 */
function unmarked(text: string): { readonly plain: string; readonly years: number } {
  const match = MARKED.exec(text);
  const [, year = "", month, day, unknownMonth] = match ?? [];
  const years = 10 ** (year.split("X").length - 1);
  // Of a decade nobody knows the month.
  const isOfDecade = years > 1 && (month ?? unknownMonth) !== undefined;
  if (match === null || isOfDecade) return { plain: text, years: 1 };
  const parts = [year.replaceAll("X", "0"), month, day === "XX" ? undefined : day];
  return { plain: parts.filter((part) => part !== undefined).join("-"), years };
}

/** The dates of mail and HTTP headers. */
export const RFC_5322: TextPattern = {
  fixed: null,
  beginsWithDigit: false,
  isOfDigits: false,
  read: readInternetDate,
  write: (_wall, instant) => new Date(instant).toUTCString(),
};
