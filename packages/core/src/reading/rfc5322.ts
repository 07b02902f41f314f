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
  /^(?:([a-z]{3}), ?)?(\d{1,2}) ([a-z]{3}) (\d{4}) (\d{2}):(\d{2})(?::(\d{2}))? (?:([a-z]{1,3})|([+-])(\d{2})(\d{2}))$/;

/**
 * Reads the date of a mail or HTTP header: `Tue, 05 Mar 2024 14:30:05 +0100`.
 *
 * @see RFC 5322, section 3.3; RFC 9110, section 5.6.7
 */
export function readInternetDate(text: string): PatternReading {
  const match = DATE_TIME.exec(text.toLowerCase());
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
    year: Number(year),
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
