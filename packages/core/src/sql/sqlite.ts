import type { FixedField, FixedForm, OffsetForm } from "../reading/index.js";
import type { Dialect } from "./dialect.js";
import {
  joined,
  sql,
  joinConditions,
  valueOf,
  type CalendarField,
  type Fragment,
} from "./fragment.js";
import { behind, partOf } from "./parts.js";
import { WHITE_SPACE, quoted } from "./spelling.js";

/** SQLite: names in double quotes, `?` for values. Dates are held as strings or numbers. */
export const SQLITE: Dialect = {
  database: "sqlite",
  nullIs: "lowest",
  quoteName: (name) => quoted(name, '"'),
  placeholder: () => "?",
  exact: (text) => sql`${text} COLLATE BINARY`,
  exactOf: (text) => sql`${text} COLLATE BINARY`,
  small: (text) => sql`LOWER(${text})`,
  isWhite: (text) => sql`TRIM(${text}, ${valueOf(WHITE_SPACE)}) = ''`,
  isDateText: (text, form) => {
    // What is worked out stands there but thrice.
    const written = text.kind === "concat" && form.offset === undefined ? writtenForm(form) : null;
    if (written !== null) {
      return sql`(${text} >= '0001' AND strftime(${written}, ${text}) = ${text})`;
    }
    const glob = form.characters.map(globCharacter).join("");
    const { offset } = form;
    if (offset === undefined) {
      return sql`(${text} GLOB ${valueOf(glob)} AND ${calendarOf(text, form)})`;
    }
    const date = sql`${text} GLOB ${valueOf(`${glob}*`)} AND ${calendarOf(text, form)}`;
    return sql`(${date} AND ${isOffset(behind(text, form), offset)})`;
  },
  // LIKE takes no notice of letter case there.
  hasPattern: (text, pattern) =>
    sql`${text} GLOB ${valueOf(
      pattern
        .map((piece) => {
          if (typeof piece === "string") return Array.from(piece).map(globCharacter).join("");
          return piece.any === "characters" ? "*" : "?";
        })
        .join(""),
    )}`,
  concat: (strings) => sql`(${joined(strings, sql` || `)})`,
  bytes: (text) => sql`LENGTH(CAST(${text} AS BLOB))`,
  shown: (column) => sql`CAST(${column} AS TEXT)`,
  decimal: (value) => sql`CAST(${value} AS NUMERIC)`,
  moment: (value) => value,
  millis: (date) =>
    sql`(CAST(strftime('%s', ${date}) AS INTEGER) * 1000 + CAST(substr(strftime('%f', ${date}), 4) AS INTEGER))`,
  momentMillis: (column) => SQLITE.millis(column),
  // It has no hash, and numbers all records.
  spread: () => sql`rowid`,
  dateOfMillis: (millis) =>
    sql`datetime(${SQLITE.floor(sql`((${millis}) / 1000.0)`)}, 'unixepoch')`,
  utcDate: (column) => column,
  weekNumber: () => null,
  dateField: (field, date) => FIELDS[field](date),
  shifted: (date, seconds) => sql`datetime(${date}, ${seconds} || ' seconds')`,
  wholeDays: (millis) => sql`CAST((${millis}) / 86400000 AS INTEGER)`,
  workedOnce: (value, name, made) =>
    sql`(SELECT ${made} FROM (SELECT ${value} AS ${name}) AS orisma_once)`,
  byItself: null,
  floor: (number) => sql`(CAST(${number} AS INTEGER) - (CAST(${number} AS INTEGER) > ${number}))`,
  isTrue: (column) => sql`${column} <> 0`,
  isFalse: (column) => sql`${column} = 0`,
  isRealDay: () => null,
};

/** The forms that it writes dates in: a text that it writes as it is names a day that there is. */
function writtenForm({ characters }: FixedForm): Fragment | null {
  const form = characters.map((each) => each ?? "0").join("");
  if (form === "0000-00-00") return sql`'%Y-%m-%d'`;
  return form === "0000-00-00 00:00:00.000" ? sql`'%Y-%m-%d %H:%M:%f'` : null;
}

function globCharacter(character: string | null): string {
  if (character === null) return "[0-9]";
  return "*?[".includes(character) ? `[${character}]` : character;
}

/**
 * That the parts of a text of digits name a day and a time that there are. Only strings are
 * compared: no database reads a date, of which each has ideas of its own.
 */
function calendarOf(text: Fragment, form: FixedForm): Fragment {
  const part = (field: FixedField) => partOf(text, form, field);
  const [year, month, day] = [part("year"), part("month"), part("day")];
  const ofCentury = sql`SUBSTR(${year}, 3, 2)`;
  const century = sql`SUBSTR(${year}, 1, 2)`;
  const isLeap = sql`(${ofCentury} IN (${LEAPS}) AND ${ofCentury} <> '00' OR ${ofCentury} = '00' AND ${century} IN (${LEAPS}))`;
  const lastDay = sql`CASE WHEN ${month} IN ('04', '06', '09', '11') THEN '30' WHEN ${month} <> '02' THEN '31' WHEN ${isLeap} THEN '29' ELSE '28' END`;
  const times = (
    [
      ["hour", "23"],
      ["minute", "59"],
      ["second", "59"],
    ] as const
  ).flatMap(([field, most]) =>
    form.places.has(field) ? [sql`${part(field)} <= ${valueOf(most)}`] : [],
  );
  return joinConditions(
    [
      sql`${year} >= '0001'`,
      sql`${month} >= '01' AND ${month} <= '12'`,
      sql`${day} >= '01' AND ${day} <= ${lastDay}`,
      ...times,
    ],
    sql` AND `,
    sql`1 = 1`,
  );
}

/** That a text is an offset, written in the one way of its form. */
function isOffset(text: Fragment, { hasColon, isZ }: OffsetForm): Fragment {
  const colon = hasColon ? ":" : "";
  const none = isZ ? "Z" : `+00${colon}00`;
  const isDigits = sql`${text} GLOB ${valueOf(`[+-][0-9][0-9]${colon}[0-5][0-9]`)}`;
  const isRight = sql`SUBSTR(${text}, 2, 2) <= '23' AND SUBSTR(${text}, 2) <> ${valueOf(none.slice(1) || `00${colon}00`)}`;
  return sql`(${text} = ${valueOf(none)} OR (${isDigits} AND ${isRight}))`;
}

/** Two digits that four divides. */
const LEAPS = joined(
  Array.from({ length: 25 }, (_, index): Fragment => ({
    kind: "text",
    text: `'${String(index * 4).padStart(2, "0")}'`,
  })),
  sql`, `,
);

const formatted = (letter: Fragment) => (date: Fragment) =>
  sql`CAST(strftime('%${letter}', ${date}) AS INTEGER)`;

const FIELDS: Readonly<Record<CalendarField, (date: Fragment) => Fragment>> = {
  year: formatted(sql`Y`),
  month: formatted(sql`m`),
  day: formatted(sql`d`),
  dayOfYear: formatted(sql`j`),
  weekday: (date) => sql`((${formatted(sql`w`)(date)} + 6) % 7 + 1)`,
  // Of a year that has the same length: beyond the year 9999 it knows no days.
  daysInMonth: (date) =>
    sql`CAST(strftime('%d', ${date}, 'start of month', '-400 years', '+1 month', '-1 day') AS INTEGER)`,
  hour: formatted(sql`H`),
  minute: formatted(sql`M`),
};
