import type { Dialect } from "./dialect.js";
import { joined, sql, valueOf } from "./fragment.js";
import { WHITE_SPACE, quoted } from "./spelling.js";

/** SQLite: names in double quotes, `?` for values. Dates are held as texts or numbers. */
export const SQLITE: Dialect = {
  database: "sqlite",
  quoteName: (name) => quoted(name, '"'),
  placeholder: () => "?",
  exact: (text) => sql`${text} COLLATE BINARY`,
  exactOf: (text) => sql`${text} COLLATE BINARY`,
  small: (text) => sql`LOWER(${text})`,
  isWhite: (text) => sql`TRIM(${text}, ${valueOf(WHITE_SPACE)}) = ''`,
  hasForm: (text, signs) => sql`${text} GLOB ${valueOf(signs.map(globSign).join(""))}`,
  // LIKE takes no notice of letter case there.
  hasPattern: (text, pattern) =>
    sql`${text} GLOB ${valueOf(
      pattern
        .map((piece) => {
          if (typeof piece === "string") return Array.from(piece).map(globSign).join("");
          return piece.any === "signs" ? "*" : "?";
        })
        .join(""),
    )}`,
  concat: (texts) => sql`(${joined(texts, sql` || `)})`,
  shown: (column) => sql`CAST(${column} AS TEXT)`,
  decimal: (value) => sql`CAST(${value} AS NUMERIC)`,
  moment: (value) => value,
  millis: (date) =>
    sql`(CAST(strftime('%s', ${date}) AS INTEGER) * 1000 + CAST(substr(strftime('%f', ${date}), 4) AS INTEGER))`,
  momentMillis: (column) => SQLITE.millis(column),
  wholeDays: (millis) => sql`CAST((${millis}) / 86400000 AS INTEGER)`,
  floor: (number) => sql`(CAST(${number} AS INTEGER) - (CAST(${number} AS INTEGER) > ${number}))`,
  isRealDay: () => null,
};

function globSign(sign: string | null): string {
  if (sign === null) return "[0-9]";
  return "*?[".includes(sign) ? `[${sign}]` : sign;
}
