import {
  MS_PER_DAY,
  civilDay,
  dayOf,
  longDay,
  longDateTime,
  monthName,
} from "../calendar/index.js";
import type { WrittenDate } from "../reading/index.js";

/** A written date in words, as it is echoed: `28 February 2025`, `February 2025`, `2025`. */
export function dateInWords(written: WrittenDate): string {
  const first = dayOf(written.start);
  const { year, month } = civilDay(first);
  switch (written.precision) {
    case "year":
      return String(year);
    case "quarter":
      return `quarter ${(month + 2) / 3} of ${year}`;
    case "month":
      return `${monthName(month)} ${year}`;
    case "week":
      return `week ${written.canonical.slice(6)} of ${written.canonical.slice(0, 4)}`;
    case "day":
      return longDay(first);
    case "hour":
    case "minute":
    case "second":
    case "millisecond":
      return longDateTime(written.start) + offsetInWords(written);
  }
}

/** Where a date begins: a day, or a day and a time. */
export function writtenStartInWords(written: WrittenDate): string {
  return written.start % MS_PER_DAY === 0 && written.offset === null
    ? longDay(dayOf(written.start))
    : longDateTime(written.start) + offsetInWords(written);
}

/** Where a date ends: until a day, which is included, or before a time. */
export function writtenEndInWords(written: WrittenDate): string {
  return written.end % MS_PER_DAY === 0 && written.offset === null
    ? `until ${longDay(dayOf(written.end) - 1)}`
    : `before ${longDateTime(written.end)}${offsetInWords(written)}`;
}

function offsetInWords(written: WrittenDate): string {
  const match = /(Z|[+-]\d\d:\d\d)$/.exec(written.offset === null ? "" : written.canonical);
  if (match === null) return "";
  return match[1] === "Z" ? " UTC" : ` UTC${match[1] ?? ""}`;
}
