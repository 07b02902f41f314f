/**
 * Recurring rules as the core writes them, against the function form by hand with the same bounds,
 * and against the same rules laid out as a list of intervals.
 */
import { cpus, release } from "node:os";
import {
  MARIADB,
  UTC,
  countStatement,
  epochMs,
  findZone,
  narrowToExtents,
  pageParts,
  pageStatement,
  readWindow,
  resolveExactly,
  simplify,
  type Catalogue,
  type Column,
  type ColumnExtent,
  type DateCondition,
  type Filter,
  type ImportedTable,
  type PageQuery,
  type Statement,
  type Zone,
} from "@orisma/core/internal";
import type mysql from "mysql2/promise";
import { Rivals, onEngine, say, statement } from "../rivals.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 5);
/** With this only the rules that it names are measured: `BENCH_RULES=BYHOUR`. */
const ONLY = process.env.BENCH_RULES ?? "";

const COLUMNS: readonly Column[] = [
  { name: "at", type: "date", kind: "instant" },
  { name: "day", type: "date", kind: "date" },
];
const CATALOGUE: Catalogue = new Map(COLUMNS.map((column) => [column.name, column]));
const TABLE: ImportedTable = {
  table: "passages",
  key: "id",
  columns: new Map(
    COLUMNS.map((column, index) => {
      const n = index + 1;
      const cell = { state: `s${n}`, raw: `t${n}` };
      return [
        column.name,
        { storage: "imported", column, value: `c${n}`, cell, folded: null, dictionary: null },
      ];
    }),
  ),
};
const LONDON = findZone("Europe/London");
/** The dates of the table, which the service finds by two looks into an index. */
const EXTENT = { first: Date.UTC(2015, 0, 1), last: Date.UTC(2024, 11, 31) };
const EXTENTS = new Map<string, ColumnExtent>([
  ["at", { ...EXTENT, kind: "instant" }],
  ["day", { ...EXTENT, kind: "date" }],
]);

/** Each rule, and how a developer writes it as a function of a column. */
const RULES: readonly (readonly [string, string])[] = [
  ["BYMONTH=4..6", "MONTH(c) BETWEEN 4 AND 6"],
  ["BYMONTHDAY=17;BYMONTH=3", "MONTH(c) = 3 AND DAYOFMONTH(c) = 17"],
  ["BYMONTHDAY=-1", "DAYOFMONTH(c) = DAYOFMONTH(LAST_DAY(c))"],
  ["BYYEARDAY=60", "DAYOFYEAR(c) = 60"],
  ["BYWEEKNO=9", "WEEK(c, 3) = 9"],
  ["BYDAY=TU", "WEEKDAY(c) = 1"],
  ["BYDAY=1MO", "WEEKDAY(c) = 0 AND DAYOFMONTH(c) <= 7"],
  ["BYHOUR=9,12,15", "HOUR(c) IN (9, 12, 15)"],
];
const RANGES: readonly (readonly [string, string | null, string | null])[] = [
  ["../..", null, null],
  ["1900/2099", "1900-01-01", "2100-01-01"],
  ["2015/2024", "2015-01-01", "2025-01-01"],
  ["2020", "2020-01-01", "2021-01-01"],
];

await onEngine(run);

async function run(connection: mysql.Connection): Promise<void> {
  say(`writing ${ROWS} rows …`);
  await makeRows(connection);
  const rivals = new Rivals(connection, PASSES);
  for (const column of ["at", "day"] as const) {
    for (const [rule, written] of RULES.filter(([name]) => name.includes(ONLY))) {
      if (column === "day" && rule.startsWith("BYHOUR")) continue;
      for (const [range, from, to] of RANGES) {
        const physical = column === "at" ? "c1" : "c2";
        const bounds = [
          `${physical} IS NOT NULL`,
          ...(from === null ? [] : [`${physical} >= '${from}'`]),
          ...(to === null ? [] : [`${physical} < '${to}'`]),
        ];
        const where = [
          ...bounds,
          written.replaceAll("c)", `${physical})`).replaceAll("(c,", `(${physical},`),
        ].join(" AND ");
        const filter = filterOf(`${range};${rule}`, column, UTC);
        const select = `SELECT id, c1, c2 FROM passages WHERE ${where} ORDER BY ${physical}, id LIMIT 51`;
        const countSql = `SELECT COUNT(*) AS n FROM passages WHERE ${where}`;
        const title = `${column} ${range};${rule}`;
        await rivals.compare(`${title}, page`, page(filter, column), {
          "the function": statement(select, []),
          ...rulesAlone(title, (each) => page(each, column)[0], `${range};${rule}`, column),
        });
        await rivals.compare(`${title}, count`, [count(filter)], {
          "the function": statement(countSql, []),
          ...rulesAlone(title, count, `${range};${rule}`, column),
        });
        if (column === "at" && LONDON.ok) {
          const there = filterOf(`${range};${rule}`, column, LONDON.value);
          await rivals.compare(`${title}, London, page`, page(there, column), {
            "the function, moved by an hour": statement(inLondon(select), []),
          });
          await rivals.compare(`${title}, London, count`, [count(there)], {
            "the function, moved by an hour": statement(inLondon(countSql), []),
          });
        }
      }
    }
  }
  process.stdout.write(
    [
      `Recurring rules on ${ROWS} rows; ${PASSES} passes in turn, medians; the ratio is ours by theirs.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, MariaDB on the same machine.`,
      "",
      ...rivals.lines,
      "",
    ].join("\n"),
  );
}

/** A statement by hand whose functions see another clock, and so counts other records. */
function inLondon(sql: string): string {
  return sql
    .replace("AS n", "AS there")
    .replace(/([A-Z_]+)\(c1([,)])/g, "$1(CONVERT_TZ(c1, '+00:00', '+01:00')$2");
}

/** The rule as it stands, where it was laid out as intervals. */
function rulesAlone(
  _: string,
  written: (filter: Filter) => Statement | undefined,
  window: string,
  column: string,
): Readonly<Record<string, Statement>> {
  const filter = rulesOf(window, column);
  const found = written(filter);
  return found === undefined ? {} : { "the rule alone": found };
}

/** A condition as the service asks it: rules laid out over the dates that there are. */
function filterOf(window: string, column: string, zone: Zone): Filter {
  const read = readWindow(window);
  const found = read.ok
    ? resolveExactly(read.value.window, { asOf: epochMs(0), zone, wholeDays: column === "day" })
    : read;
  if (!found.ok) throw new Error(`${window} was refused`);
  const condition = conditionOf(column, zone, found.value.intervals, found.value.recurring);
  return simplify(narrowToExtents(condition, EXTENTS), CATALOGUE).filter;
}

/** The same with its rules not laid out at all. */
function rulesOf(window: string, column: string): Filter {
  const read = readWindow(window);
  const [range = ""] = window.split(";");
  const bounds = readWindow(range);
  const context = { asOf: epochMs(0), zone: UTC, wholeDays: column === "day" };
  const within = bounds.ok ? resolveExactly(bounds.value.window, context) : bounds;
  if (!read.ok || !within.ok) throw new Error(`${window} was refused`);
  const [{ recurring }] = read.value.window.alternatives;
  const interval = within.value.intervals[0] ?? { start: null, end: null };
  return conditionOf(column, UTC, [], [{ interval, recurring }]);
}

function conditionOf(
  column: string,
  zone: Zone,
  intervals: DateCondition["intervals"],
  recurring: readonly {
    readonly interval: DateCondition["intervals"][number];
    readonly recurring: DateCondition["recurring"][number]["rules"];
  }[],
): DateCondition {
  return {
    kind: "date",
    column,
    side: "inside",
    intervals,
    recurring: recurring.map(({ interval, recurring: rules }) => ({
      interval,
      rules,
      weeks: { weekStart: 1, firstWeekDays: 4 },
      zone: zone.id,
    })),
    blanks: "exclude",
  };
}

/** The first statement of a page, which most often fills it. */
function page(filter: Filter, column: string): readonly Statement[] {
  const query: PageQuery = {
    filter,
    columns: ["at", "day"],
    order: { column, descending: false },
    after: null,
    limit: 51,
    counts: [],
  };
  return pageParts(query, TABLE)
    .slice(0, 1)
    .map((each) => pageStatement(each, TABLE, MARIADB));
}

function count(filter: Filter): Statement {
  return countStatement({ filter, cap: null }, TABLE, MARIADB);
}

async function makeRows(connection: mysql.Connection): Promise<void> {
  await connection.query(
    "CREATE TABLE passages (id BIGINT UNSIGNED NOT NULL PRIMARY KEY, c1 DATETIME(3) NULL, " +
      "s1 TINYINT UNSIGNED NOT NULL, t1 MEDIUMTEXT NULL, c2 DATE NULL, s2 TINYINT UNSIGNED NOT NULL, " +
      "t2 MEDIUMTEXT NULL, KEY c1 (c1), KEY c2 (c2)) ENGINE=InnoDB",
  );
  // Ten years in milliseconds, stepped through by a number that has no part in common with them.
  const ms = "((seq * 198491317771) MOD 315619200000)";
  const at = `TIMESTAMPADD(MICROSECOND, ${ms} * 1000, '2015-01-01')`;
  await connection.query(
    `INSERT INTO passages SELECT seq, IF(seq MOD 20 = 0, NULL, ${at}), IF(seq MOD 20 = 0, 2, 1), NULL, ` +
      `IF(seq MOD 20 = 0, NULL, DATE(${at})), IF(seq MOD 20 = 0, 2, 1), NULL FROM seq_1_to_${ROWS}`,
  );
  await connection.query("ANALYZE TABLE passages");
}
