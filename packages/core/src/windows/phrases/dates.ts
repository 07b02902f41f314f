import {
  civilDay,
  dayNumber,
  digits,
  isCivilDay,
  isoDay,
  isoMonth,
  longDay,
  weekday,
} from "../../calendar/index.js";
import { fault, type Fault } from "../../faults/index.js";
import { ENGLISH } from "../../reading/index.js";

/** Where a date without a year, or a weekday, lies: the last before today, the first after it, or either. */
export type Direction = "past" | "future" | null;

/** What a text means as a date: parts of windows, or what is wrong with it; null where it is no date. */
export type DateReadings = { readonly parts: readonly string[] } | { readonly fault: Fault } | null;

const MONTHS = new Map([...ENGLISH.wideMonths.numbers, ...ENGLISH.abbreviatedMonths.numbers]);
const WEEKDAYS = new Map([...ENGLISH.wideWeekdays.numbers, ...ENGLISH.abbreviatedWeekdays.numbers]);
const MONTH = `(?<month>${[...MONTHS.keys()].sort((a, b) => b.length - a.length).join("|")})`;
const WEEKDAY = `(?<weekday>${[...WEEKDAYS.keys()].sort((a, b) => b.length - a.length).join("|")})`;
const DAY = "(?<day>\\d{1,2})";
const YEAR = "(?<year>\\d{4})";
const SHORT_YEAR = "(?:'|’)?(?<year>\\d{4}|\\d{2})";

/** Two-digit years are those of the 80 years before this one and the 19 after it. */
const YEARS_BACK = 80;

const FORMS: readonly {
  readonly form: RegExp;
  readonly order: "named" | "iso" | "dayFirst" | "either";
}[] = [
  { form: whole(`(?:${WEEKDAY} )?${DAY} ${MONTH}(?: ${SHORT_YEAR})?`), order: "named" },
  { form: whole(`(?:${WEEKDAY} )?${MONTH} ${DAY}(?: ${SHORT_YEAR})?`), order: "named" },
  { form: whole(`${YEAR} ${MONTH} ${DAY}`), order: "named" },
  { form: whole(`${YEAR}([-/.])(?<first>\\d{1,2})\\2(?<second>\\d{1,2})`), order: "iso" },
  { form: whole(`${YEAR}(?<first>\\d{2})(?<second>\\d{2})`), order: "iso" },
  { form: whole(`(?<first>\\d{1,2})\\.(?<second>\\d{1,2})\\.${SHORT_YEAR}`), order: "dayFirst" },
  { form: whole(`(?<first>\\d{1,2})([-/])(?<second>\\d{1,2})\\2${SHORT_YEAR}`), order: "either" },
];

function whole(pattern: string): RegExp {
  return new RegExp(`^${pattern}$`);
}

/**
 * Reads a date as people write it, in the form of a plain phrase: with the name of a month in any order, in digits,
 * a month, a quarter or a year alone, or a weekday. What can be two dates is both.
 */
export function readDate(text: string, today: number, direction: Direction): DateReadings {
  return (
    readDay(text, today, direction) ??
    readMonth(text, today, direction) ??
    readWeekday(text, today, direction)
  );
}

function readDay(text: string, today: number, direction: Direction): DateReadings {
  for (const { form, order } of FORMS) {
    const groups = form.exec(text)?.groups;
    if (groups === undefined) continue;
    const { year: written } = groups;
    const years =
      written === undefined ? yearsAround(today) : [yearOf(written, civilDay(today).year)];
    const days = pairsOf(groups, order).flatMap(([month, day]) =>
      years.flatMap((year) => (isCivilDay(year, month, day) ? [dayNumber(year, month, day)] : [])),
    );
    // The fault of the date that was meant comes from the notation of windows.
    if (days.length === 0) {
      const [[month, day] = [0, 0]] = pairsOf(groups, order);
      return { parts: [`${isoMonth(years[0] ?? 0, month)}-${digits(day, 2)}`] };
    }
    const found = written === undefined ? nearestTo(days, today, direction) : days;
    return checkedWeekday(groups.weekday, found) ?? { parts: [...new Set(found)].map(isoDay) };
  }
  return null;
}

/** The months and days that digits or names can be. */
function pairsOf(
  { month = "", day = "", first = "", second = "" }: Readonly<Record<string, string | undefined>>,
  order: (typeof FORMS)[number]["order"],
): readonly (readonly [number, number])[] {
  const [one, other] = [Number(first), Number(second)];
  switch (order) {
    case "named":
      return [[MONTHS.get(month) ?? 0, Number(day)]];
    case "iso":
      return [[one, other]];
    case "dayFirst":
      return [[other, one]];
    case "either":
      return [
        [other, one],
        [one, other],
      ];
  }
}

function yearOf(written: string, thisYear: number): number {
  const year = Number(written);
  if (written.length === 4) return year;
  const first = thisYear - YEARS_BACK;
  return first + ((((year - first) % 100) + 100) % 100);
}

function yearsAround(today: number): readonly number[] {
  const { year } = civilDay(today);
  // A 29 February may be eight years away.
  return Array.from({ length: 17 }, (_, index) => year - 8 + index);
}

/** Of days in order the last before today, the first after it, or both; today alone where it is one. */
function nearestTo(
  days: readonly number[],
  today: number,
  direction: Direction,
): readonly number[] {
  if (days.includes(today)) return [today];
  const before = days.filter((day) => day < today).at(-1);
  const after = days.find((day) => day > today);
  return [
    ...(before === undefined || direction === "future" ? [] : [before]),
    ...(after === undefined || direction === "past" ? [] : [after]),
  ];
}

function checkedWeekday(name: string | undefined, days: readonly number[]): DateReadings {
  const wanted = name === undefined ? undefined : WEEKDAYS.get(name);
  if (wanted === undefined) return null;
  const right = days.filter((day) => weekday(day) === wanted);
  if (right.length > 0) return { parts: right.map(isoDay) };
  const [day = 0] = days;
  const facts = {
    date: longDay(day),
    is: nameOf(weekday(day)),
    not: nameOf(wanted),
    day: isoDay(day),
  };
  return { fault: fault("phrase.weekday", facts) };
}

function nameOf(number: number): string {
  return ENGLISH.wideWeekdays.written[number - 1] ?? "";
}

const MONTH_OF_YEAR = [whole(`${MONTH} ${SHORT_YEAR}`), whole(`${YEAR} ${MONTH}`), whole(MONTH)];
const QUARTER_OF_YEAR = [
  whole(`q ?(?<quarter>[1-4])(?: ${YEAR})?`),
  whole(`${YEAR} q ?(?<quarter>[1-4])`),
  whole(`(?<ordinal>first|second|third|fourth|[1-4]) quarter(?: ${YEAR})?`),
];

const WEEK_OF_YEAR = [
  whole(`(?:week|w) (?<week>\\d{1,2}) ${YEAR}`),
  whole(`${YEAR} (?:week|w) (?<week>\\d{1,2})`),
];

function readMonth(text: string, today: number, direction: Direction): DateReadings {
  const { year: thisYear, month: thisMonth } = civilDay(today);
  const year = /^(?:year )?(\d{4})$/.exec(text)?.[1];
  if (year !== undefined) return { parts: [year] };
  for (const form of WEEK_OF_YEAR) {
    const groups = form.exec(text)?.groups;
    const week = digits(Number(groups?.week), 2);
    if (groups !== undefined) return { parts: [`${groups.year ?? ""}-W${week}`] };
  }
  for (const form of MONTH_OF_YEAR) {
    const groups = form.exec(text)?.groups;
    if (groups === undefined) continue;
    const month = MONTHS.get(groups.month ?? "") ?? 0;
    const years =
      groups.year === undefined
        ? yearsOfUnit(thisYear, month - thisMonth, direction)
        : [yearOf(groups.year, thisYear)];
    return { parts: years.map((year) => isoMonth(year, month)) };
  }
  for (const form of QUARTER_OF_YEAR) {
    const groups = form.exec(text)?.groups;
    if (groups === undefined) continue;
    const place = ["first", "second", "third", "fourth"].indexOf(groups.ordinal ?? "") + 1;
    const quarter = place > 0 ? place : Number(groups.quarter ?? groups.ordinal);
    const years =
      groups.year === undefined
        ? yearsOfUnit(thisYear, quarter - Math.ceil(thisMonth / 3), direction)
        : [Number(groups.year)];
    return { parts: years.map((year) => `${digits(year, 4)}-Q${quarter}`) };
  }
  return null;
}

/** The years of a month or a quarter without one, which is so many before or after the current one. */
function yearsOfUnit(year: number, offset: number, direction: Direction): readonly number[] {
  if (offset === 0) return [year];
  const [before, after] = offset < 0 ? [year, year + 1] : [year - 1, year];
  if (direction === "past") return [before];
  return direction === "future" ? [after] : [before, after];
}

const WEEKDAY_FORM = whole(`(?:(?<which>last|previous|past|next|this|coming) )?${WEEKDAY}`);

function readWeekday(text: string, today: number, direction: Direction): DateReadings {
  const groups = WEEKDAY_FORM.exec(text)?.groups;
  if (groups === undefined) return null;
  const wanted = WEEKDAYS.get(groups.weekday ?? "") ?? 0;
  const ahead = (wanted - weekday(today) + 7) % 7;
  const next = today + (ahead === 0 ? 7 : ahead);
  const last = today - (ahead === 0 ? 7 : 7 - ahead);
  switch (groups.which) {
    case "last":
    case "previous":
    case "past":
      return { parts: [isoDay(last)] };
    case "next":
    case "coming":
      return { parts: [isoDay(next)] };
    case "this":
      return { parts: [isoDay(today - weekday(today) + wanted)] };
    default:
      if (ahead === 0) return { parts: [isoDay(today)] };
      if (direction === "past") return { parts: [isoDay(last)] };
      return { parts: direction === "future" ? [isoDay(next)] : [isoDay(last), isoDay(next)] };
  }
}
