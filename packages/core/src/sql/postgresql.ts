import type { Dialect } from "./dialect.js";
import { joined, sql, valueOf, type CalendarField, type Fragment } from "./fragment.js";
import { WHITE_SPACE, likeText, quoted, dateExpression } from "./spelling.js";

/** PostgreSQL: names in double quotes, `$1`, `$2`, … for values. */
export const POSTGRESQL: Dialect = {
  database: "postgresql",
  nullIs: "highest",
  quoteName: (name) => quoted(name, '"'),
  placeholder: (position) => `$${position}`,
  exact: (text) => sql`${text} COLLATE "C"`,
  exactOf: (text) => sql`${text} COLLATE "C"`,
  small: (text) => sql`LOWER(${text})`,
  isWhite: (text) => sql`BTRIM(${text}, ${valueOf(WHITE_SPACE)}) = ''`,
  isDateText: (text, form) => sql`${text} ~ ${valueOf(`^${dateExpression(form)}$`)}`,
  hasPattern: (text, pattern) => sql`${text} LIKE ${valueOf(likeText(pattern))} ESCAPE '!'`,
  concat: (strings) => sql`(${joined(strings, sql` || `)})`,
  bytes: (text) => sql`OCTET_LENGTH(${text})`,
  shown: (column) => sql`CAST(${column} AS TEXT)`,
  decimal: (value) => sql`CAST(${value} AS NUMERIC)`,
  moment: (value) => sql`(CAST(${value} AS TIMESTAMP) AT TIME ZONE 'UTC')`,
  millis: (date) => sql`FLOOR(EXTRACT(EPOCH FROM CAST(${date} AS TIMESTAMP)) * 1000)`,
  momentMillis: (column) => sql`FLOOR(EXTRACT(EPOCH FROM ${column}) * 1000)`,
  // Days apart from the rest: an interval of all the milliseconds would not be exact.
  spread: (key) => sql`ABS(HASHTEXT(CAST(${key} AS TEXT))::BIGINT)`,
  dateOfMillis: (millis) =>
    sql`(TIMESTAMP '1970-01-01' + FLOOR((${millis}) / 86400000) * INTERVAL '1 day' + ((${millis}) - FLOOR((${millis}) / 86400000) * 86400000) * INTERVAL '1 millisecond')`,
  utcDate: (column) => sql`(${column} AT TIME ZONE 'UTC')`,
  weekNumber: (date, { weekStart, firstWeekDays }) =>
    weekStart === 1 && firstWeekDays === 4 ? sql`EXTRACT(WEEK FROM ${date})` : null,
  dateField: (field, date) => FIELDS[field](date),
  shifted: (date, seconds) => sql`(${date} + ${seconds} * INTERVAL '1 second')`,
  wholeDays: (millis) => sql`TRUNC((${millis}) / 86400000)`,
  // With an offset it is not put in wherever its name stands.
  workedOnce: (value, name, made) =>
    sql`(SELECT ${made} FROM (SELECT ${value} AS ${name} OFFSET 0) AS orisma_once)`,
  byItself: null,
  floor: (number) => sql`FLOOR(${number})`,
  isTrue: (column) => sql`${column} IS TRUE`,
  isFalse: (column) => sql`${column} IS FALSE`,
  // Infinity is a date there.
  isRealDay: (column) => sql`(${column} >= '0001-01-01' AND ${column} < '10000-01-01')`,
};

const FIELDS: Readonly<Record<CalendarField, (date: Fragment) => Fragment>> = {
  year: (date) => sql`EXTRACT(YEAR FROM ${date})`,
  month: (date) => sql`EXTRACT(MONTH FROM ${date})`,
  day: (date) => sql`EXTRACT(DAY FROM ${date})`,
  dayOfYear: (date) => sql`EXTRACT(DOY FROM ${date})`,
  weekday: (date) => sql`EXTRACT(ISODOW FROM ${date})`,
  daysInMonth: (date) =>
    sql`EXTRACT(DAY FROM DATE_TRUNC('month', ${date}) + INTERVAL '1 month' - INTERVAL '1 day')`,
  hour: (date) => sql`EXTRACT(HOUR FROM ${date})`,
  minute: (date) => sql`EXTRACT(MINUTE FROM ${date})`,
};
