/**
 * The statements that the core writes for windows, against the best and the usual hand-written
 * ones, on a table of Orisma's own layout in one run; and what it takes to write them.
 */
import { cpus, release } from "node:os";
import {
  ISO_CALENDAR,
  MARIADB,
  UTC,
  countStatement,
  epochMs,
  pageParts,
  pageStatement,
  readCql2,
  type Catalogue,
  type Column,
  type Filter,
  type PageQuery,
  type Statement,
  type ImportedTable,
} from "@orisma/core/internal";
import type mysql from "mysql2/promise";
import { median } from "../measure.js";
import { Rivals, onEngine, say, statement } from "../rivals.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 7);
/** Times that what is written without a database is written in a pass. */
const TIMES = 5_000;

/** Instants and days spread over the ten years 2015 to 2024, in no order; one in twenty is blank. */
const COLUMNS: readonly Column[] = [
  { name: "at", type: "date", kind: "instant" },
  { name: "day", type: "date", kind: "date" },
  { name: "task", type: "text" },
  { name: "cost", type: "integer" },
];
const CATALOGUE: Catalogue = new Map(COLUMNS.map((column) => [column.name, column]));
const TABLE: ImportedTable = {
  table: "passages",
  key: "id",
  columns: new Map(
    COLUMNS.map((column, index) => {
      const n = index + 1;
      const isText = column.type === "text";
      const cell = isText ? null : { state: `s${n}`, raw: `t${n}` };
      const folded = isText ? `f${n}` : null;
      return [
        column.name,
        { storage: "imported", column, value: `c${n}`, cell, folded, dictionary: null },
      ];
    }),
  ),
};
const WINDOW = { asOf: epochMs(Date.UTC(2025, 0, 1)), zone: UTC, calendar: ISO_CALENDAR };

const SELECT = "SELECT id, c1, c3, c4 FROM passages";
const COUNT = "SELECT COUNT(*) AS n FROM passages";

await onEngine(run);

async function run(connection: mysql.Connection): Promise<void> {
  say(`writing ${ROWS} rows …`);
  await makeRows(connection);
  const rivals = new Rivals(connection, PASSES);
  const compare = rivals.compare.bind(rivals);
  const { lines } = rivals;

  const month = filter("inWindow(at, '2021-06')");
  const june = ["2021-06-01 00:00:00.000", "2021-07-01 00:00:00.000"];
  await compare("one month, page", page(month), {
    "the best by hand": statement(
      `${SELECT} WHERE c1 >= ? AND c1 < ? ORDER BY c1, id LIMIT 51`,
      june,
    ),
    "YEAR() and MONTH()": statement(
      `${SELECT} WHERE YEAR(c1) = 2021 AND MONTH(c1) = 6 ORDER BY c1, id LIMIT 51`,
      [],
    ),
  });
  await compare("one month, count", [count(month)], {
    "the best by hand": statement(`${COUNT} WHERE c1 >= ? AND c1 < ?`, june),
    "YEAR() and MONTH()": statement(`${COUNT} WHERE YEAR(c1) = 2021 AND MONTH(c1) = 6`, []),
  });

  const spring = filter("inWindow(at, '2015/2024;BYMONTH=4..6')");
  const springs = Array.from({ length: 10 }, (_, index) => [
    `${2015 + index}-04-01 00:00:00.000`,
    `${2015 + index}-07-01 00:00:00.000`,
  ]);
  await compare("April to June of ten years, page", page(spring), {
    "MONTH()": statement(
      `${SELECT} WHERE MONTH(c1) BETWEEN 4 AND 6 AND YEAR(c1) BETWEEN 2015 AND 2024 ORDER BY c1, id LIMIT 51`,
      [],
    ),
  });
  await compare(
    "April to June of ten years, count",
    [count(spring)],
    byHand(springs, "MONTH(c1) BETWEEN 4 AND 6"),
  );

  const tuesdays = filter("inWindow(at, '2015/2024;BYDAY=TU')");
  const days = Array.from({ length: 522 }, (_, index) => {
    const start = Date.UTC(2015, 0, 6) + index * 7 * 86_400_000;
    return [start, start + 86_400_000].map(
      (ms) => `${new Date(ms).toISOString().slice(0, 10)} 00:00:00.000`,
    );
  });
  await compare("Tuesdays of ten years, page", page(tuesdays), {
    "a plain window": statement(`${SELECT} WHERE c1 >= ? ORDER BY c1, id LIMIT 51`, ["2015-01-01"]),
  });
  await compare("Tuesdays of ten years, count", [count(tuesdays)], byHand(days, "WEEKDAY(c1) = 1"));
  await compare(
    "Tuesdays of ten years on days, count",
    [count(filter("inWindow(day, '2015/2024;BYDAY=TU')"))],
    { "WEEKDAY()": statement(`${COUNT} WHERE WEEKDAY(c2) = 1`, []) },
  );

  const condition: Filter = { kind: "any", of: [month, filter("at IS NULL")] };
  await compare("one month and blanks last, page", page(condition, "last"), {
    "the window alone": statement(
      `${SELECT} WHERE c1 >= ? AND c1 < ? ORDER BY c1, id LIMIT 51`,
      june,
    ),
  });
  const [[deep]] = await connection.execute<mysql.RowDataPacket[]>(
    `SELECT id, DATE_FORMAT(c1, '%Y-%m-%d %H:%i:%s.%f') AS at FROM passages WHERE c1 IS NOT NULL ORDER BY c1, id LIMIT 1 OFFSET ${Math.floor(ROWS / 2)}`,
  );
  const after = { value: String(deep?.at).slice(0, 23), key: Number(deep?.id) };
  // Dated records alone: the blank ones lie side by side in the table, where one read has several.
  const everything = filter("at >= DATE('2015-01-01')");
  await compare("a page half way through, by its place", page(everything, undefined, after), {
    "the first page": page(everything)[0] ?? statement("", []),
  });

  const text =
    "(at >= TIMESTAMP('2021-02-01T00:00:00Z') AND at <= DATE('2021-02-28')) AND cost BETWEEN 500 AND 2000 " +
    "AND (CASEI(task) LIKE CASEI('%lock%') OR task IN ('a', 'b')) AND inWindow(day, 'month-1/today')";
  const five = filter(text);
  lines.push(
    "",
    `CQL2 of ${text.length} characters read and checked  ${perTime(() => filter(text)).toFixed(0)} µs`,
    `its page and count written out     ${perTime(() => [...page(five), count(five)]).toFixed(0)} µs`,
  );
  process.stdout.write(
    [
      `Statements on ${ROWS} rows; ${PASSES} passes in turn, medians; the ratio is ours by theirs.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, MariaDB on the same machine.`,
      "",
      ...lines,
      "",
    ].join("\n"),
  );
}

/** The forms in which many ranges can be counted by hand. */
function byHand(
  ranges: readonly (readonly string[])[],
  part: string,
): Readonly<Record<string, Statement>> {
  const range = "c1 >= ? AND c1 < ?";
  const or = ranges.map(() => `(${range})`).join(" OR ");
  const union = ranges.map(() => `${COUNT} WHERE ${range}`).join(" UNION ALL ");
  return {
    "an OR": statement(`${COUNT} WHERE ${or}`, ranges.flat()),
    "counts apart": statement(`SELECT SUM(n) AS n FROM (${union}) AS q`, ranges.flat()),
    "the part's function": statement(
      `${COUNT} WHERE c1 >= '2015-01-01' AND c1 < '2025-01-01' AND ${part}`,
      [],
    ),
  };
}

function filter(text: string): Filter {
  const read = readCql2(text, { window: WINDOW, columns: CATALOGUE });
  if (!read.ok) throw new Error(`${text} was refused`);
  return read.value;
}

/** The first statement of a page, which most often fills it. */
function page(
  condition: Filter,
  blanks?: "last",
  after: PageQuery["after"] = null,
): readonly Statement[] {
  const query: PageQuery = {
    filter: condition,
    columns: ["at", "task", "cost"],
    order: { column: "at", descending: false, ...(blanks === undefined ? {} : { blanks }) },
    after,
    limit: 51,
    counts: [],
  };
  return pageParts(query, TABLE)
    .slice(0, 1)
    .map((each) => pageStatement(each, TABLE, MARIADB));
}

function count(condition: Filter): Statement {
  return countStatement({ filter: condition, cap: null }, TABLE, MARIADB);
}

function perTime(work: () => unknown): number {
  const passes = Array.from({ length: PASSES + 1 }, () => {
    const begun = performance.now();
    for (let time = 0; time < TIMES; time++) work();
    return ((performance.now() - begun) * 1_000) / TIMES;
  });
  return median(passes.slice(1));
}

async function makeRows(connection: mysql.Connection): Promise<void> {
  await connection.query(
    "CREATE TABLE passages (id BIGINT UNSIGNED NOT NULL PRIMARY KEY, c1 DATETIME(3) NULL, " +
      "s1 TINYINT UNSIGNED NOT NULL, t1 MEDIUMTEXT NULL, c2 DATE NULL, s2 TINYINT UNSIGNED NOT NULL, " +
      "t2 MEDIUMTEXT NULL, c3 MEDIUMTEXT NULL, f3 MEDIUMTEXT NULL, c4 BIGINT NULL, " +
      "s4 TINYINT UNSIGNED NOT NULL, t4 MEDIUMTEXT NULL, KEY c1 (c1), KEY c2 (c2)) ENGINE=InnoDB",
  );
  // Ten years in milliseconds, stepped through by a number that has no part in common with them.
  const ms = "((seq * 198491317771) MOD 315619200000)";
  const at = `TIMESTAMPADD(MICROSECOND, ${ms} * 1000, '2015-01-01')`;
  await connection.query(
    `INSERT INTO passages SELECT seq, IF(seq MOD 20 = 0, NULL, ${at}), IF(seq MOD 20 = 0, 2, 1), NULL, ` +
      `IF(seq MOD 20 = 0, NULL, DATE(${at})), IF(seq MOD 20 = 0, 2, 1), NULL, CONCAT('Boat ', seq), ` +
      `CONCAT('boat ', seq), seq MOD 9973, 1, NULL FROM seq_1_to_${ROWS}`,
  );
  await connection.query("ANALYZE TABLE passages");
}
