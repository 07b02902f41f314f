import type { Dialect } from "./dialect.js";
import { joined, sql, valueOf, type CalendarField, type Fragment } from "./fragment.js";
import { likeText, quoted, dateExpression } from "./spelling.js";

/**
 * MariaDB and MySQL: names in backticks, `?` for values. The connection's time zone is UTC, and its
 * modes are strict.
 */
export const MARIADB: Dialect = {
  database: "mariadb",
  nullIs: "lowest",
  quoteName: (name) => quoted(name, "`"),
  placeholder: () => "?",
  exact: (text) => sql`${text} COLLATE utf8mb4_nopad_bin`,
  exactOf: (text) => sql`CONVERT(${text} USING utf8mb4) COLLATE utf8mb4_nopad_bin`,
  small: (text) => sql`LOWER(${text})`,
  // The white space of ECMAScript, and not that of a locale.
  isWhite: (text) => sql`CONVERT(${text} USING utf8mb4) REGEXP ${valueOf(`^[${WHITE}]*\\z`)}`,
  isDateText: (text, form) => sql`${text} REGEXP ${valueOf(`(?-i)^${dateExpression(form)}\\z`)}`,
  hasPattern: (text, pattern) => sql`${text} LIKE ${valueOf(likeText(pattern))} ESCAPE '!'`,
  concat: (strings) => sql`CONCAT(${joined(strings, sql`, `)})`,
  bytes: (text) => sql`OCTET_LENGTH(CONVERT(${text} USING utf8mb4))`,
  shown: (column) => sql`CAST(${column} AS CHAR)`,
  // A database compares a text with a number in binary fractions.
  decimal: (value) => sql`CAST(${value} AS DECIMAL(65,30))`,
  moment: (value) => value,
  millis: (date) => sql`FLOOR(TIMESTAMPDIFF(MICROSECOND, '1970-01-01', ${date}) / 1000)`,
  momentMillis: (column) => MARIADB.millis(column),
  spread: (key) => sql`CRC32(CONVERT(${key} USING utf8mb4))`,
  dateOfMillis: (millis) =>
    sql`(TIMESTAMP'1970-01-01 00:00:00' + INTERVAL (${millis}) * 1000 MICROSECOND)`,
  utcDate: (column) => column,
  weekNumber: (date, { weekStart, firstWeekDays }) => {
    const mode = WEEK_MODES[`${weekStart} ${firstWeekDays}`];
    return mode === undefined ? null : sql`WEEK(${date}, ${mode})`;
  },
  dateField: (field, date) => FIELDS[field](date),
  shifted: (date, seconds) => sql`(${date} + INTERVAL ${seconds} SECOND)`,
  wholeDays: (millis) => sql`((${millis}) DIV 86400000)`,
  // It holds the answers of a subquery by the columns it names, compared as they are; but for what is random.
  byItself: sql`RAND() >= 0`,
  // Of what stands in FROM only this sees the record.
  workedOnce: (value, name, made) =>
    sql`(SELECT ${made} FROM JSON_TABLE(JSON_ARRAY(${value}), '$[*]' COLUMNS (${name} DECIMAL(20, 0) PATH '$')) AS orisma_once WHERE RAND() >= 0)`,
  floor: (number) => sql`FLOOR(${number})`,
  isTrue: (column) => sql`${column} <> 0`,
  isFalse: (column) => sql`${column} = 0`,
  // A table that was written under loose modes can hold 2021-00-00 and 2021-02-31, and any the year 0.
  isRealDay: (column) =>
    sql`(LAST_DAY(${column}) >= DATE(${column}) AND ${column} >= '0001-01-01')`,
};

/** The white space of ECMAScript, as a class of an expression. */
const WHITE =
  "\\x{9}-\\x{d}\\x{20}\\x{a0}\\x{1680}\\x{2000}-\\x{200a}\\x{2028}\\x{2029}\\x{202f}\\x{205f}\\x{3000}\\x{feff}";

/** The modes of WEEK() that number weeks from 1, by the first weekday and the days of week 1. */
const WEEK_MODES: Readonly<Record<string, Fragment>> = {
  "1 4": sql`3`,
  "1 7": sql`7`,
  "7 4": sql`6`,
  "7 7": sql`2`,
};

const FIELDS: Readonly<Record<CalendarField, (date: Fragment) => Fragment>> = {
  year: (date) => sql`YEAR(${date})`,
  month: (date) => sql`MONTH(${date})`,
  day: (date) => sql`DAYOFMONTH(${date})`,
  dayOfYear: (date) => sql`DAYOFYEAR(${date})`,
  weekday: (date) => sql`(WEEKDAY(${date}) + 1)`,
  daysInMonth: (date) => sql`DAYOFMONTH(LAST_DAY(${date}))`,
  hour: (date) => sql`HOUR(${date})`,
  minute: (date) => sql`MINUTE(${date})`,
};
