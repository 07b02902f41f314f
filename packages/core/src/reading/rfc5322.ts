import { fault } from "../faults/index.js";
import type { PatternReading } from "./pattern.js";
import { dateOf } from "./pattern-day.js";

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
const WEEKDAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];
/** Named zones of RFC 5322, section 4.3, in minutes; GMT is the one of HTTP. */
const ZONES: Readonly<Record<string, number>> = {
  z: 0,
  ut: 0,
  utc: 0,
  gmt: 0,
  est: -300,
  edt: -240,
  cst: -360,
  cdt: -300,
  mst: -420,
  mdt: -360,
  pst: -480,
  pdt: -420,
};

const DATE_TIME =
  /^(?:([a-z]{3}) ?, ?)?(\d{1,2}) ([a-z]{3}) (\d{2,4}) (\d{2}) ?: ?(\d{2})(?: ?: ?(\d{2}))? (?:([a-z]{1,3})|([+-])(\d{2})(\d{2}))$/;

/** Characters at most; a comment may be longer than the date. */
const LONGEST = 1_000;

/**
 * Reads the date of a mail or HTTP header: `Tue, 05 Mar 2024 14:30:05 +0100`, with the comments and the folded
 * lines that the standard allows between its parts. Years of two and three digits are those of the standard:
 * from 1950 to 2049, and after 1900.
 *
 * @see RFC 5322, sections 3.2.2, 3.3 and 4.3; RFC 9110, section 5.6.7
 */
export function readInternetDate(text: string): PatternReading {
  const match = text.length > LONGEST ? null : DATE_TIME.exec(unfolded(text.toLowerCase()));
  if (match === null) return { kind: "other" };
  const [
    ,
    weekdayName,
    day,
    monthName = "",
    year,
    hour,
    minute,
    second,
    zone,
    sign,
    hours,
    minutes,
  ] = match;
  const month = MONTHS.indexOf(monthName) + 1;
  const weekday = weekdayName === undefined ? undefined : WEEKDAYS.indexOf(weekdayName) + 1;
  const named = zone === undefined ? undefined : ZONES[zone];
  if (month === 0 || weekday === 0 || (zone !== undefined && named === undefined))
    return { kind: "other" };
  const size = Number(hours ?? 0) * 60 + Number(minutes ?? 0);
  const offset = (named ?? (sign === "-" ? -size : size)) * 60_000;
  const dated = dateOf({
    year: fullYear(year ?? ""),
    month,
    day: Number(day),
    hour: Number(hour),
    minute: Number(minute),
    second: Number(second ?? 0),
    ...(weekday === undefined ? {} : { weekday }),
  });
  if (typeof dated !== "string") return { kind: "fits", wall: dated, offset };
  return { kind: "fault", fault: fault("date.impossible", { text, reason: dated }) };
}

/** A text without its comments, which may be nested, each run of white space as one space. */
function unfolded(text: string): string {
  if (!/[(\t\r\n]| {2}/.test(text)) return text.trim();
  let depth = 0;
  let bare = "";
  // A backslash makes a parenthesis part of a comment.
  for (const [token] of text.matchAll(/\\.|[\s\S]/g)) {
    if (token === "(") depth++;
    if (depth === 0) bare += token;
    else if (token === ")" && --depth === 0) bare += " ";
  }
  // What is not closed is no comment.
  return depth > 0 ? text : bare.replace(/(?:\r?\n)?[ \t]+/g, " ").trim();
}

function fullYear(digits: string): number {
  if (digits.length === 4) return Number(digits);
  return Number(digits) + (digits.length === 2 && Number(digits) < 50 ? 2000 : 1900);
}
