import { END_MS, FIRST_MS, MS_PER_DAY } from "../calendar/index.js";
import {
  fixedFormOf,
  type FixedForm,
  type PlacedPart,
  type Reading,
  type TextLayout,
} from "../reading/index.js";
import { daysSinceYear1, wholeDay } from "./attached-days.js";
import {
  functionCall,
  joinConditions,
  joined,
  literal,
  numeral,
  sql,
  type Fragment,
} from "./fragment.js";
import { clockZone, instantOfWall, wallOfInstant, wallThatIs } from "./zoned.js";

type Field = PlacedPart["field"];

/** What a text of one form is. */
export interface LayoutMoment {
  /** Milliseconds, as a cell's `ms`; NULL for a text that is none of this form. */
  readonly moment: Fragment;
  /** The last day of what names no day, in milliseconds; NULL as the moment. */
  readonly last: Fragment | null;
}

const DAY_FORM = neededForm("yyyy-MM-dd");
const TIME_FORM = neededForm("yyyy-MM-dd HH:mm:ss.SSS");

function neededForm(pattern: string): FixedForm {
  const form = fixedFormOf(pattern);
  if (form === null) throw new Error(`${pattern} has no fixed form`);
  return form;
}

/** Works out what a text of one form means, but for what its zone's clock makes of it: see {@link clockOf}. */
export function momentOf(layout: TextLayout, text: Fragment, reading: Reading): LayoutMoment {
  const { kind, twoDigitYearFrom = 0 } = reading;
  const { characters, months } = layout;
  const parts = new LayoutParts(layout, text);
  const year = yearOf(parts, twoDigitYearFrom);
  const day = dayText(parts, year);
  const hasTime = parts.has("hour") || parts.has("hour12");
  const begins = functionCall(
    "millis",
    hasTime ? strings(day, sql`' '`, ...timeTexts(parts)) : day,
  );
  const wall = sql`(${[begins, ...daysOn(parts, begins)].reduce((sum, each) => sql`${sum} + ${each}`)})`;
  const isOffset = layout.offset === "digits";
  const ms = isOffset ? sql`(${wall} - ${offsetMillis(parts)})` : wall;
  const isMoved = clockOf(layout, reading) !== null;
  const isForm: Fragment = {
    kind: "pattern",
    of: text,
    pattern: characters.map((each) => each ?? { any: "character" }),
  };
  const isRead = joinConditions(
    [
      isForm,
      hasTime
        ? isText(strings(day, sql`' '`, ...timeTexts(parts)), TIME_FORM)
        : isText(day, DAY_FORM),
      ...digitTests(parts),
    ],
    sql` AND `,
    sql`1 = 1`,
  );
  const tests = [
    ...unpaddedTests(parts),
    ...dayTests(parts, year, wall),
    ...(isOffset ? offsetTests(parts, layout.takesZeroOffset) : []),
    // What a zone's clock makes of it is NULL where it leads out of the calendar.
    ...(isOffset && !isMoved ? [withinCalendar(ms)] : []),
  ];
  // What is no text of the form is worked out of nothing: a database may try one condition before the other.
  const where = (value: Fragment) => {
    const tested =
      tests.length === 0
        ? value
        : sql`CASE WHEN ${joinConditions(tests, sql` AND `, sql`1 = 1`)} THEN ${value} END`;
    return sql`CASE WHEN ${isRead} THEN ${tested} END`;
  };
  return {
    moment: where(kind === "date" && hasTime && !isMoved ? wholeDay(ms) : ms),
    last: months === 0 ? null : where(lastDayOf(months, { parts, year, first: ms })),
  };
}

/** What a zone's clock makes of milliseconds that a text says. */
export interface Clock {
  readonly makes: "instants" | "walls" | "walls that are";
  /** @param goesBeyond whether it may lead out of the calendar. */
  readonly of: (ms: Fragment, goesBeyond: boolean) => Fragment;
}

/**
 * What is made of what the strings of a form say: of their wall-clock times instants, or of instants what the zone's
 * clock shows; null where they stay as they are.
 */
export function clockOf({ offset }: TextLayout, reading: Reading): Clock | null {
  const zone = clockZone(reading);
  if (zone === null) return null;
  const isWall = offset === null || offset === "zone";
  if (reading.kind === "instant") {
    if (!isWall) return null;
    return { makes: "instants", of: (ms, goesBeyond) => instantOfWall(zone, ms, goesBeyond) };
  }
  if (offset === null) return null;
  const ofKind = (ms: Fragment) => (reading.kind === "date" ? wholeDay(ms) : ms);
  return offset === "zone"
    ? { makes: "walls that are", of: (ms) => ofKind(wallThatIs(zone, ms)) }
    : { makes: "walls", of: (ms) => ofKind(wallOfInstant(zone, ms)) };
}

/** The parts of a text of some form. */
class LayoutParts {
  constructor(
    readonly layout: TextLayout,
    readonly text: Fragment,
  ) {}

  has(field: Field): boolean {
    return this.layout.parts.has(field);
  }

  all(): readonly PlacedPart[] {
    return [...this.layout.parts.values()];
  }

  /** The characters of a part, some of them by their places in it. */
  characters({ at, width }: PlacedPart, from = 0, to = width): Fragment {
    return sql`SUBSTR(${this.text}, ${numeral(at + from + 1)}, ${numeral(to - from)})`;
  }

  /** A part in so many digits, with noughts before it; what a name stands for likewise. Null where it is not there. */
  digits(field: Field, width = 2): Fragment | null {
    const part = this.layout.parts.get(field);
    if (part === undefined) return null;
    const { names } = part;
    const characters = this.characters(part);
    if (names !== undefined) {
      const ways = names.map(
        ({ name, number }) => sql`WHEN ${literal(name)} THEN ${digitText(number, width)}`,
      );
      return sql`CASE ${characters} ${joined(ways, sql` `)} END`;
    }
    return part.width < width ? strings(digitText(0, width - part.width), characters) : characters;
  }
}

function strings(...of: readonly Fragment[]): Fragment {
  return { kind: "concat", of };
}

/** A number of this code as a text of digits. */
function digitText(number: number, width: number): Fragment {
  return literal(String(number).padStart(width, "0"));
}

function isText(of: Fragment, form: FixedForm): Fragment {
  return { kind: "dateText", of, form };
}

function yearOf(parts: LayoutParts, twoDigitYearFrom: number): Fragment {
  const field = parts.has("weekYear") ? "weekYear" : "year";
  const part = parts.layout.parts.get(field);
  if (part === undefined) throw new Error("the pattern has no year");
  const characters = parts.characters(part);
  if (part.width > 2) return characters;
  const century = Math.floor(twoDigitYearFrom / 100);
  const from = twoDigitYearFrom % 100;
  const [first, next] = [digitText(century, 2), digitText(Math.min(99, century + 1), 2)];
  const before = sql`CASE WHEN ${characters} >= ${digitText(from, 2)} THEN ${first} ELSE ${next} END`;
  return strings(from === 0 ? first : before, characters);
}

/** The first month of each quarter, and its last day. */
const QUARTERS = [
  ["01", "03-31"],
  ["04", "06-30"],
  ["07", "09-30"],
  ["10", "12-31"],
] as const;

/** The day of a text as `yyyy-MM-dd`, or that from which its days are counted. */
function dayText(parts: LayoutParts, year: Fragment): Fragment {
  if (parts.has("dayOfYear")) return strings(year, sql`'-01-01'`);
  // The first week is that of the fourth of January.
  if (parts.has("week")) return strings(year, sql`'-01-04'`);
  const ofQuarter = parts.has("quarter") ? byQuarter(parts, ([month]) => month) : sql`'01'`;
  const month = parts.digits("month") ?? ofQuarter;
  return strings(year, sql`'-'`, month, sql`'-'`, parts.digits("day") ?? sql`'01'`);
}

function byQuarter(
  parts: LayoutParts,
  of: (quarter: (typeof QUARTERS)[number]) => string,
): Fragment {
  const ways = QUARTERS.map((quarter, index) => {
    return sql`WHEN ${digitText(index + 1, 1)} THEN ${literal(of(quarter))}`;
  });
  return sql`CASE ${parts.digits("quarter", 1) ?? sql`'0'`} ${joined(ways, sql` `)} END`;
}

/** The time of day of a text as `HH:mm:ss.SSS`. */
function timeTexts(parts: LayoutParts): readonly Fragment[] {
  const fraction = parts.layout.parts.get("fraction");
  const millis =
    fraction === undefined
      ? sql`'000'`
      : fraction.width >= 3
        ? parts.characters(fraction, 0, 3)
        : strings(parts.characters(fraction), digitText(0, 3 - fraction.width));
  return [
    parts.digits("hour") ?? hourOfHalf(parts),
    sql`':'`,
    parts.digits("minute") ?? sql`'00'`,
    sql`':'`,
    parts.digits("second") ?? sql`'00'`,
    sql`'.'`,
    millis,
  ];
}

/** The hour of the day by its half: none for one that half a day does not have. */
function hourOfHalf(parts: LayoutParts): Fragment {
  const hour = strings(parts.digits("half", 1) ?? sql`'0'`, parts.digits("hour12") ?? sql`'00'`);
  const ways = Array.from({ length: 24 }, (_, index) => {
    const spoken = index % 12 === 0 ? 12 : index % 12;
    const written = `${index < 12 ? 0 : 1}${String(spoken).padStart(2, "0")}`;
    return sql`WHEN ${literal(written)} THEN ${digitText(index, 2)}`;
  });
  return sql`CASE ${hour} ${joined(ways, sql` `)} END`;
}

/** What a day of the year or of a week is ahead of the day from which it is counted, in milliseconds. */
function daysOn(parts: LayoutParts, begins: Fragment): readonly Fragment[] {
  const day = numeral(MS_PER_DAY);
  const dayOfYear = parts.digits("dayOfYear", 3);
  if (dayOfYear !== null) return [sql`(${functionCall("decimal", dayOfYear)} - 1) * ${day}`];
  const week = parts.digits("week");
  if (week === null) return [];
  const weeks = sql`(${functionCall("decimal", week)} - 1) * 7`;
  const monday = sql`${daysSinceYear1(begins)} % 7`;
  return [sql`(${weeks} + ${weekdayOf(parts)} - 1 - ${monday}) * ${day}`];
}

/** The day of the week that a text names, from 1 for Monday. */
function weekdayOf(parts: LayoutParts): Fragment {
  const named = parts.digits("weekday", 1) ?? parts.digits("weekdayName", 1) ?? sql`'0'`;
  const ways = Array.from(
    { length: 7 },
    (_, index) => sql`WHEN ${digitText(index + 1, 1)} THEN ${numeral(index + 1)}`,
  );
  return sql`CASE ${named} ${joined(ways, sql` `)} END`;
}

/** That what is worked with as numbers is digits: as the parts of a time that there is. */
function digitTests(parts: LayoutParts): readonly Fragment[] {
  const asTime = (...of: readonly Fragment[]) =>
    isText(strings(sql`'2000-01-01 '`, ...of), TIME_FORM);
  const [dayOfYear, week] = [parts.digits("dayOfYear", 3), parts.digits("week")];
  const offset = parts.layout.parts.get("offset");
  return [
    ...(dayOfYear === null ? [] : [asTime(sql`'00:00:00.'`, dayOfYear)]),
    ...(week === null ? [] : [asTime(sql`'00:'`, week, sql`':00.000'`)]),
    ...(offset === undefined
      ? []
      : [
          asTime(
            offsetHours(parts, offset),
            sql`':'`,
            offsetMinutes(parts, offset),
            sql`':00.000'`,
          ),
        ]),
  ];
}

/** That nothing is written that could be left out, and nothing is lost of a fraction. */
function unpaddedTests(parts: LayoutParts): readonly Fragment[] {
  return parts.all().flatMap((part) => {
    const { field, width, isUnpadded } = part;
    if (field === "fraction" && width > 3) {
      return [sql`${parts.characters(part, 3)} = ${digitText(0, width - 3)}`];
    }
    if (isUnpadded !== true) return [];
    return field === "offset"
      ? [sql`${offsetMinutes(parts, part)} <> '00'`]
      : [sql`${parts.characters(part, 0, 1)} <> '0'`];
  });
}

/** That a day is one of its year, and what else a text says of it is true. */
function dayTests(parts: LayoutParts, year: Fragment, wall: Fragment): readonly Fragment[] {
  const tests: Fragment[] = [];
  const dayOfYear = parts.digits("dayOfYear", 3);
  const week = parts.digits("week");
  if (dayOfYear !== null) {
    const isLeap = isText(strings(year, sql`'-02-29'`), DAY_FORM);
    tests.push(
      sql`${dayOfYear} >= '001' AND (${dayOfYear} <= '365' OR (${dayOfYear} = '366' AND ${isLeap}))`,
    );
  }
  if (week !== null) {
    // The last week of a year has its Thursday in it.
    const thursday = sql`${wall} + (4 - ${weekdayOf(parts)}) * ${numeral(MS_PER_DAY)}`;
    const end = sql`${functionCall("millis", strings(year, sql`'-12-31'`))} + ${numeral(MS_PER_DAY)}`;
    tests.push(sql`${week} >= '01' AND ${thursday} < ${end}`);
  } else if (parts.has("weekday") || parts.has("weekdayName")) {
    tests.push(sql`${daysSinceYear1(wall)} % 7 + 1 = ${weekdayOf(parts)}`);
  }
  if (parts.has("quarter") && (parts.has("month") || parts.layout.months === 0)) {
    const month = {
      kind: "dateField",
      field: "month",
      of: functionCall("dateOfMillis", wall),
    } as const;
    const ways = QUARTERS.map(
      (_, index) => sql`WHEN ${digitText(index + 1, 1)} THEN ${numeral(index + 1)}`,
    );
    const named = sql`CASE ${parts.digits("quarter", 1) ?? sql`'0'`} ${joined(ways, sql` `)} END`;
    tests.push(sql`${functionCall("floor", sql`((${month} + 2) / 3.0)`)} = ${named}`);
  }
  return tests;
}

function offsetHours(parts: LayoutParts, offset: PlacedPart): Fragment {
  return parts.characters(offset, 1, 3);
}

function offsetMinutes(parts: LayoutParts, offset: PlacedPart): Fragment {
  return offset.width === 3 ? sql`'00'` : parts.characters(offset, offset.width - 2);
}

function offsetOf(parts: LayoutParts) {
  const offset = parts.layout.parts.get("offset");
  if (offset === undefined) throw new Error("the form has no offset");
  const sign = parts.characters(offset, 0, 1);
  return { sign, hours: offsetHours(parts, offset), minutes: offsetMinutes(parts, offset) };
}

function offsetMillis(parts: LayoutParts): Fragment {
  const { sign, hours, minutes } = offsetOf(parts);
  const decimal = (text: Fragment) => functionCall("decimal", text);
  return sql`(${decimal(hours)} * 60 + ${decimal(minutes)}) * CASE ${sign} WHEN '-' THEN -60000 ELSE 60000 END`;
}

function withinCalendar(ms: Fragment): Fragment {
  return sql`${ms} >= ${numeral(FIRST_MS)} AND ${ms} < ${numeral(END_MS)}`;
}

/** That an offset is written in the one way of its pattern. */
function offsetTests(parts: LayoutParts, takesZero: boolean): readonly Fragment[] {
  const { sign, hours, minutes } = offsetOf(parts);
  const isZero = sql`(${hours} = '00' AND ${minutes} = '00')`;
  return [
    takesZero
      ? sql`(${sign} = '+' OR (${sign} = '-' AND NOT ${isZero}))`
      : sql`(${sign} IN ('+', '-') AND NOT ${isZero})`,
  ];
}

/** The last day of a month, a quarter or a year, in milliseconds. */
function lastDayOf(
  months: number,
  {
    parts,
    year,
    first,
  }: { readonly parts: LayoutParts; readonly year: Fragment; readonly first: Fragment },
): Fragment {
  if (months === 12) return functionCall("millis", strings(year, sql`'-12-31'`));
  if (months === 3) {
    const end = byQuarter(parts, ([, last]) => last);
    return functionCall("millis", strings(year, sql`'-'`, end));
  }
  const date = functionCall("dateOfMillis", first);
  const days: Fragment = { kind: "dateField", field: "daysInMonth", of: date };
  return sql`(${first} + (${days} - 1) * ${numeral(MS_PER_DAY)})`;
}
