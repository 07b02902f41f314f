/** Strings that try to be more than text: to databases, readers and people. */

const BEGINNINGS = [
  "",
  "x",
  "'",
  '"',
  "`",
  "\\",
  "\\'",
  "\u0000",
  "2025-01-01",
  "1",
  "-1",
  "%",
  "\ufeff",
];
const MIDDLES = [
  "' OR '1'='1",
  '" OR ""="',
  "` OR 1=1 -- ",
  "'; DROP TABLE works; --",
  "') UNION SELECT user, password FROM keys -- ",
  "1; SELECT SLEEP(5)",
  "/* */ OR /* */ 1=1",
  "\\' OR 1=1 #",
  "$1",
  "?",
  ":name",
  "{{7*7}}",
  "${7*7}",
  "%s%n",
  "\u202e'",
  "＇ OR 1=1",
  "CASEI(",
  "inWindow(",
  "..",
  "NULL",
  "undefined",
  "true",
  "[]",
  "{}",
  "0x27",
  "%27%20OR",
  "\n",
  "\r\nSet-Cookie: a=b",
  "<script>alert(1)</script>",
  "😀",
  "e\u0301",
  "9".repeat(400),
  "(".repeat(200),
  "a".repeat(3_000),
];
const ENDS = ["", " -- ", "#", "'"];

/** A thousand and more of them, each another. */
export const HOSTILE: readonly string[] = [
  ...new Set(
    BEGINNINGS.flatMap((beginning) =>
      MIDDLES.flatMap((middle) => ENDS.map((end) => beginning + middle + end)),
    ),
  ),
];
