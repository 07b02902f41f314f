/**
 * One month of a column in each encoding, as the core asks for it of somebody's own table: against
 * the best way by hand, and against the decoded form that people write.
 */
import { cpus, release } from "node:os";
import {
  ISO_CALENDAR,
  MARIADB,
  UTC,
  attachedColumn,
  countStatement,
  epochMs,
  pageParts,
  pageStatement,
  readCql2,
  type AttachedColumn,
  type BareDeclared,
  type DateKind,
  type Filter,
  type DatabaseType,
  type PageQuery,
  type Reading,
  type StoredTable,
} from "@orisma/core/internal";
import type mysql from "mysql2/promise";
import { Rivals, onEngine, say, statement } from "../rivals.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 7);

interface Encoded {
  readonly type: string;
  readonly holding: DatabaseType;
  readonly reading: Omit<Reading, "kind"> & { readonly kind?: DateKind };
  /** How a row's moment, in milliseconds, is stored. */
  readonly stored: string;
  /** June 2021 as one would best ask for it, and as people write it. */
  readonly best: readonly [string, readonly (string | number)[]];
  readonly decoded: string;
}

const JUNE = [Date.UTC(2021, 5, 1), Date.UTC(2021, 6, 1)] as const;
const DAYS = Array.from({ length: 30 }, (_, day) => `${String(day + 1).padStart(2, "0")}/06/2021`);
const AT = "TIMESTAMPADD(MICROSECOND, ms * 1000, '1970-01-01')";
const between = (column: string) => `${column} >= ? AND ${column} < ?`;
const stamps = ["2021-06-01 00:00:00", "2021-07-01 00:00:00"];

const ENCODED: Readonly<Record<string, Encoded>> = {
  d_date: {
    type: "DATE",
    holding: { type: "date" },
    reading: { kind: "date", encoding: "native" },
    stored: `DATE(${AT})`,
    best: [between("d_date"), ["2021-06-01", "2021-07-01"]],
    decoded: "YEAR(d_date) = 2021 AND MONTH(d_date) = 6",
  },
  d_time: {
    type: "DATETIME(3)",
    holding: { type: "timestamp", digits: 3, zoned: false },
    reading: { encoding: "native" },
    stored: AT,
    best: [between("d_time"), stamps],
    decoded: "DATE(d_time) BETWEEN '2021-06-01' AND '2021-06-30'",
  },
  d_stamp: {
    type: "TIMESTAMP NULL",
    holding: { type: "timestamp", digits: 0, zoned: true },
    reading: { kind: "instant", encoding: "native" },
    stored: AT,
    best: [between("d_stamp"), stamps],
    decoded: "DATE(d_stamp) BETWEEN '2021-06-01' AND '2021-06-30'",
  },
  d_ms: {
    type: "BIGINT",
    holding: { type: "integer" },
    reading: { kind: "instant", encoding: "epoch-ms" },
    stored: "ms",
    best: [between("d_ms"), JUNE],
    decoded:
      "FROM_UNIXTIME(d_ms / 1000) >= '2021-06-01' AND FROM_UNIXTIME(d_ms / 1000) < '2021-07-01'",
  },
  d_seconds: {
    type: "INT",
    holding: { type: "integer" },
    reading: { kind: "instant", encoding: "epoch-s" },
    stored: "ms DIV 1000",
    best: [between("d_seconds"), JUNE.map((ms) => ms / 1_000)],
    decoded: "FROM_UNIXTIME(d_seconds) >= '2021-06-01' AND FROM_UNIXTIME(d_seconds) < '2021-07-01'",
  },
  d_serial: {
    type: "DOUBLE",
    holding: { type: "float" },
    reading: { encoding: "serial-1900" },
    stored: "ms / 86400000e0 + 25569",
    best: [between("d_serial"), [44_348, 44_378]],
    decoded:
      "DATE_ADD('1899-12-30', INTERVAL FLOOR(d_serial) DAY) >= '2021-06-01' AND " +
      "DATE_ADD('1899-12-30', INTERVAL FLOOR(d_serial) DAY) < '2021-07-01'",
  },
  d_compact: {
    type: "CHAR(8) CHARACTER SET ascii",
    holding: { type: "text" },
    reading: { kind: "date", encoding: "text", patterns: ["yyyyMMdd"] },
    stored: `DATE_FORMAT(${AT}, '%Y%m%d')`,
    best: [between("d_compact"), ["20210601", "20210701"]],
    decoded:
      "STR_TO_DATE(d_compact, '%Y%m%d') >= '2021-06-01' AND STR_TO_DATE(d_compact, '%Y%m%d') < '2021-07-01'",
  },
  d_slashed: {
    type: "VARCHAR(10) CHARACTER SET ascii",
    holding: { type: "text" },
    reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
    stored: `DATE_FORMAT(${AT}, '%d/%m/%Y')`,
    best: [`d_slashed IN (${DAYS.map(() => "?").join(", ")})`, DAYS],
    decoded:
      "STR_TO_DATE(d_slashed, '%d/%m/%Y') >= '2021-06-01' AND " +
      "STR_TO_DATE(d_slashed, '%d/%m/%Y') < '2021-07-01'",
  },
};

const TABLE: StoredTable<AttachedColumn> = {
  table: "gauges",
  key: "id",
  columns: new Map(Object.entries(ENCODED).map(([name, each]) => [name, columnOf(name, each)])),
};

function columnOf(name: string, { holding, reading }: Encoded): AttachedColumn {
  const kind = reading.kind ?? "local";
  const type: BareDeclared["type"] = { type: "date", reading: { ...reading, kind } };
  const attached = attachedColumn(name, { value: name, holding, type });
  if (!attached.ok) throw new Error(`${name} cannot be queried`);
  return attached.value;
}

await onEngine(run);

async function run(connection: mysql.Connection): Promise<void> {
  say(`writing ${ROWS} rows …`);
  await makeRows(connection);
  const rivals = new Rivals(connection, PASSES);
  for (const [name, each] of Object.entries(ENCODED)) {
    const june = filter(`inWindow(${name}, '2021-06')`);
    const [where, values] = each.best;
    await rivals.compare(`${name}, page`, page(name, june), {
      "the best by hand": statement(`${select(name)} WHERE ${where} ${orderBy(name)}`, values),
      "the decoded form": statement(`${select(name)} WHERE ${each.decoded} ${orderBy(name)}`, []),
    });
    await rivals.compare(`${name}, count`, [count(june)], {
      "the best by hand": statement(`SELECT COUNT(*) AS n FROM gauges WHERE ${where}`, values),
      "the decoded form": statement(`SELECT COUNT(*) AS n FROM gauges WHERE ${each.decoded}`, []),
      ...(name === "d_slashed"
        ? {
            "days of a DATE": statement(
              `SELECT COUNT(*) AS n FROM gauges WHERE ${between("d_date")}`,
              ["2021-06-01", "2021-07-01"],
            ),
          }
        : {}),
    });
  }
  process.stdout.write(
    [
      `One month in each encoding of ${ROWS} rows; ${PASSES} passes in turn, medians; the ratio is ours by theirs.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, MariaDB on the same machine.`,
      "",
      ...rivals.lines,
      "",
    ].join("\n"),
  );
}

/** By hand too, strings in another order are put in that of their dates. */
function orderBy(name: string): string {
  const by = name === "d_slashed" ? `STR_TO_DATE(${name}, '%d/%m/%Y')` : name;
  return `ORDER BY ${by}, id LIMIT 51`;
}

function select(name: string): string {
  return `SELECT id, ${name}, level FROM gauges`;
}

function filter(text: string): Filter {
  const columns = new Map([...TABLE.columns].map(([name, { column }]) => [name, column]));
  const window = { asOf: epochMs(Date.UTC(2025, 0, 1)), zone: UTC, calendar: ISO_CALENDAR };
  const read = readCql2(text, { window, columns });
  if (!read.ok) throw new Error(`${text} was refused`);
  return read.value;
}

/** The statements of a page until it is full, as the service runs them. */
function page(name: string, condition: Filter) {
  const query: PageQuery = {
    filter: condition,
    columns: [name],
    order: { column: name, descending: false },
    after: null,
    limit: 51,
    counts: [],
  };
  return pageParts(query, TABLE)
    .slice(0, 1)
    .map((part) => pageStatement(part, TABLE, MARIADB));
}

function count(condition: Filter) {
  return countStatement({ filter: condition, cap: null }, TABLE, MARIADB);
}

async function makeRows(connection: mysql.Connection): Promise<void> {
  const fields = Object.entries(ENCODED).map(
    ([name, { type }]) => `${name} ${type}, KEY (${name})`,
  );
  await connection.query(
    `CREATE TABLE gauges (id INT UNSIGNED NOT NULL PRIMARY KEY, level INT, ${fields.join(", ")})`,
  );
  // Ten years in milliseconds, stepped through by a number that has no part in common with them.
  const ms = "1420070400000 + ((seq * 198491317771) MOD 315619200000)";
  const stored = Object.values(ENCODED).map((each) => each.stored);
  await connection.query(
    `INSERT INTO gauges SELECT seq, seq MOD 997, ${stored.join(", ")} ` +
      `FROM (SELECT seq, ${ms} AS ms FROM seq_1_to_${ROWS}) AS made`,
  );
  await connection.query("ANALYZE TABLE gauges");
}
