/** One table of dates in every encoding, in three databases, with hostile values. */
import {
  MARIADB,
  POSTGRESQL,
  SQLITE,
  attachedColumn,
  compileReading,
  isBlankText,
  type AttachedColumn,
  type BareDeclared,
  type Column,
  type Database,
  type Dialect,
  type Row,
  type Statement,
  type StoredTable,
  type TranslatedColumn,
} from "@orisma/core/internal";
import { PGlite } from "@electric-sql/pglite";
import fc from "fast-check";
import mysql from "mysql2/promise";
import initSqlJs from "sql.js";
import { freshDatabase } from "./service.js";
import { NUMBERS, TEXTS, moment } from "./trees.js";

/** A value as a table holds it; a bigint where a number would not be exact. */
export type Raw = string | number | bigint | null;

/** A column in one encoding: how each database declares it, and what is put into it. */
export interface Encoded {
  readonly name: string;
  readonly types: Readonly<Record<Database, string>>;
  readonly declared: Omit<BareDeclared, "value">;
  /** For SQLite, which has no dates of its own. */
  readonly sqlite?: Omit<BareDeclared, "value">;
  /** Milliseconds of the finest that it holds, where that is more than one. */
  readonly tick?: number;
  readonly hostile: readonly Raw[];
  /** Patterns in which dates are written, where it takes more than one; the column's first by default. */
  readonly written?: readonly string[];
  /** Hostile values that only one database can hold. */
  readonly loose?: readonly Raw[];
}

export const text = (
  pattern: string | readonly string[],
  kind: "date" | "local" | "instant",
  more = {},
) =>
  ({
    holding: { type: "text" },
    type: {
      type: "date",
      reading: { kind, encoding: "text", patterns: [pattern].flat(), ...more },
    },
  }) as const;
export const digits = (
  pattern: string | readonly string[],
  kind: "date" | "local" | "instant",
  more = {},
) => ({ ...text(pattern, kind, more), holding: { type: "integer" } }) as const;
export const number = (
  type: "integer" | "float",
  encoding: "epoch-s" | "epoch-ms" | "epoch-us" | "serial-1900" | "serial-1904",
  kind: "date" | "local" | "instant",
  more = {},
) => ({ holding: { type }, type: { type: "date", reading: { kind, encoding, ...more } } }) as const;
export const native = (
  type: "date" | "timestamp",
  kind: "date" | "local" | "instant",
  digits = 0,
  zoned = false,
  more = {},
) =>
  ({
    holding: type === "date" ? { type } : { type, digits, zoned },
    type: { type: "date", reading: { kind, encoding: "native", ...more } },
  }) as const;

export const VARCHAR = { mariadb: "VARCHAR(40)", postgresql: "TEXT", sqlite: "TEXT" };
export const BIGINT = { mariadb: "BIGINT", postgresql: "BIGINT", sqlite: "INTEGER" };
export const DOUBLE = { mariadb: "DOUBLE", postgresql: "DOUBLE PRECISION", sqlite: "REAL" };

const BLANKS = { blanks: ["n/a", "-"] };
const ZERO = { blanks: ["0000-00-00", "0000-00-00 00:00:00"] };

/** Strings that are nearly dates. */
export const NEARLY = [
  "",
  "  ",
  "\u00a0",
  "n/a",
  "N/A",
  "-",
  "soon",
  "２０２４0229",
  "0",
  "99999999",
];

const ENCODED: readonly Encoded[] = [
  {
    name: "native day",
    types: { mariadb: "DATE", postgresql: "DATE", sqlite: "TEXT" },
    declared: native("date", "date", 0, false, ZERO),
    sqlite: text("yyyy-MM-dd", "date"),
    hostile: [],
    loose: ["0000-00-00", "2021-02-00", "2021-02-31"],
  },
  {
    name: "native stamp as day",
    types: { mariadb: "DATETIME", postgresql: "TIMESTAMP(0)", sqlite: "TEXT" },
    declared: native("timestamp", "date"),
    sqlite: text("yyyy-MM-dd HH:mm:ss", "date"),
    hostile: [],
    loose: ["0000-00-00 00:00:00", "2021-02-31 10:00:00"],
  },
  {
    name: "native local",
    types: { mariadb: "DATETIME(3)", postgresql: "TIMESTAMP(3)", sqlite: "TEXT" },
    declared: native("timestamp", "local", 3, false, { sentinels: ["9999-12-31"] }),
    sqlite: text("yyyy-MM-dd HH:mm:ss.SSS", "local", { sentinels: ["9999-12-31"] }),
    hostile: [],
  },
  {
    name: "native seconds",
    types: { mariadb: "DATETIME", postgresql: "TIMESTAMP(0)", sqlite: "TEXT" },
    declared: native("timestamp", "local"),
    sqlite: text("yyyy-MM-dd HH:mm:ss", "local"),
    tick: 1_000,
    hostile: [],
  },
  {
    name: "native instant",
    types: { mariadb: "DATETIME(6)", postgresql: "TIMESTAMPTZ", sqlite: "INTEGER" },
    declared: native("timestamp", "instant", 6, true),
    sqlite: number("integer", "epoch-ms", "instant"),
    hostile: [],
  },
  {
    name: "seconds",
    types: BIGINT,
    declared: number("integer", "epoch-s", "instant", { blanks: ["0"] }),
    hostile: [0, -62135596801, 253402300800],
  },
  {
    name: "seconds and a fraction",
    types: DOUBLE,
    declared: number("float", "epoch-s", "local"),
    hostile: [1.001, 1709164799.9995, 1e18, -1e18],
  },
  {
    name: "milliseconds and a fraction",
    types: DOUBLE,
    declared: number("float", "epoch-ms", "local"),
    hostile: [0.5, -0.5, 1709164799999.5, 1e18],
  },
  {
    name: "milliseconds as day",
    types: BIGINT,
    declared: number("integer", "epoch-ms", "date", { sentinels: ["1970-01-01"] }),
    hostile: [0, 1, 86_399_999, -1],
  },
  {
    name: "microseconds",
    types: BIGINT,
    declared: number("integer", "epoch-us", "instant"),
    hostile: [1709164799999999n, -1n, 253402300799999999n, 253402300800000000n],
  },
  {
    name: "serial",
    types: DOUBLE,
    declared: number("float", "serial-1900", "local"),
    hostile: [0, 0.5, 1, 45292.75, 45292.7499999999, 45292.99999999999, -1, 2958466],
  },
  {
    name: "serial without time",
    types: BIGINT,
    declared: number("integer", "serial-1900", "local"),
    hostile: [0, 1, 45292],
  },
  {
    name: "serial day",
    types: BIGINT,
    declared: number("integer", "serial-1904", "date"),
    hostile: [0, 1, 43890, -1, 5_000_000],
  },
  {
    name: "compact",
    types: VARCHAR,
    declared: text("yyyyMMdd", "date", { ...BLANKS, sentinels: ["9999-12-31", "2024-03"] }),
    hostile: [...NEARLY, "20210231", "20240229", "2024022", " 20240229", "20240229 ", "00010101"],
  },
  {
    name: "slashed",
    types: VARCHAR,
    declared: text("dd/MM/yyyy", "date", { ...BLANKS, sentinels: ["2024-02-29"] }),
    hostile: [...NEARLY, "29/02/2024", "29/02/2023", "1/2/2024", "31/11/2024", "01/03/2024 "],
  },
  {
    name: "clocked",
    types: VARCHAR,
    declared: text("dd.MM.yyyy HH:mm", "local", { blanks: ["01.03.2024 00:00"] }),
    hostile: [
      ...NEARLY,
      "01.03.2024 00:00",
      "01.03.2024 24:00",
      "01.03.2024 23:60",
      "01a03a2024 00:00",
    ],
  },
  {
    name: "iso",
    types: VARCHAR,
    declared: text("yyyy-MM-dd'T'HH:mm:ss", "instant", { zone: "UTC" }),
    hostile: [...NEARLY, "2024-02-29t00:00:00", "2024-02-29T00:00:00\n", "2100-02-29T00:00:00"],
  },
  {
    name: "offset",
    types: VARCHAR,
    declared: text("yyyy-MM-dd'T'HH:mm:ss.SSSXXX", "instant", BLANKS),
    hostile: [
      ...NEARLY,
      "2024-03-01T05:29:59.999+05:30",
      "2024-03-01T05:30:00.000+05:30",
      "2024-02-28T20:00:00.000-04:00",
      "2024-02-28T00:00:00.000-23:59",
      "2024-03-01T23:59:00.000+23:59",
      "2024-02-29T00:00:00.000+00:00",
      "2024-02-29T00:00:00.000-00:00",
      "2024-02-29T00:00:00.000+24:00",
      "2024-02-29T00:00:00.000+01:60",
      "2024-02-29T00:00:00.000z",
      "2024-02-29T00:00:00.000Z ",
      "2024-02-29T00:00:00.000+0100",
      "2024-02-29T00:00:00.000",
      "2023-02-29T00:00:00.000Z",
      "0001-01-01T00:00:00.000+01:00",
      "9999-12-31T23:59:59.999-01:00",
    ],
  },
  {
    name: "offset as day",
    types: VARCHAR,
    declared: text("dd/MM/yyyy HH:mmxx", "date", { ...BLANKS, zone: "UTC" }),
    hostile: [
      ...NEARLY,
      "29/02/2024 00:30+0100",
      "28/02/2024 23:30-0100",
      "29/02/2024 00:00+0000",
      "29/02/2024 00:00-0000",
      "29/02/2024 00:00Z",
      "29/02/2023 00:00+0000",
    ],
  },
  {
    name: "digits",
    types: BIGINT,
    declared: digits("yyyyMMdd", "date", { blanks: ["0", "99999999"] }),
    hostile: [0, 20240229, 20230229, 20240230, 20241301, 2024022, 202402290, -20240229, 99999999],
  },
  {
    name: "digits with a time",
    types: BIGINT,
    declared: digits("yyyyMMddHHmmss", "local", { sentinels: ["9999-12-31"] }),
    tick: 1_000,
    hostile: [0, 20240229235959, 20240229240000, 20240229236000, 20240229],
  },
];

const PLAIN: readonly Encoded[] = [
  {
    name: "task",
    types: VARCHAR,
    declared: { holding: { type: "text" }, type: { type: "text" } },
    hostile: [],
  },
  {
    name: "note",
    types: VARCHAR,
    declared: { holding: { type: "text" }, type: { type: "text" } },
    hostile: [],
  },
  {
    name: "count",
    types: BIGINT,
    declared: { holding: { type: "integer" }, type: { type: "integer" } },
    hostile: [],
  },
  {
    name: "cost",
    types: { mariadb: "DECIMAL(38,12)", postgresql: "NUMERIC", sqlite: "NUMERIC" },
    declared: { holding: { type: "decimal" }, type: { type: "decimal" } },
    hostile: [],
  },
  {
    name: "done",
    types: { mariadb: "BOOLEAN", postgresql: "BOOLEAN", sqlite: "INTEGER" },
    declared: { holding: { type: "boolean" }, type: { type: "boolean" } },
    hostile: [],
  },
  {
    name: "paid",
    types: { mariadb: "TINYINT", postgresql: "BOOLEAN", sqlite: "INTEGER" },
    declared: { holding: { type: "boolean" }, type: { type: "boolean" } },
    hostile: [],
    loose: [2, -1],
  },
];

const ALL = [...ENCODED, ...PLAIN];
/** Plain characters only: letters beyond them are made small in each database's own way. */
export const PLAIN_TEXTS = TEXTS.filter((each) => /^[ -~\t\u00a0]*$/.test(each));

/** The columns as one database declares them. */
export function columnsIn(
  database: Database,
  all: readonly Encoded[] = ALL,
): StoredTable<AttachedColumn> {
  const columns = all.map(({ name, declared, sqlite }): [string, AttachedColumn] => {
    const of = database === "sqlite" ? (sqlite ?? declared) : declared;
    const attached = attachedColumn(name, { value: name, ...of });
    if (!attached.ok)
      throw new Error(`${name} cannot be queried: ${JSON.stringify(attached.faults)}`);
    return [name, attached.value];
  });
  return { table: "encoded", key: "id", columns: new Map(columns) };
}

/** The columns as somebody declares them who has a filter translated. */
export function declaredIn(database: Database): Readonly<Record<string, TranslatedColumn>> {
  return Object.fromEntries([
    ["id", { type: { type: "integer" } }],
    ...ALL.map(({ name, declared, sqlite }) => [
      name,
      database === "sqlite" ? (sqlite ?? declared) : declared,
    ]),
  ]) as Readonly<Record<string, TranslatedColumn>>;
}

/** A value of a column: mostly a moment as the column writes it, else a hostile one. */
function rawOf(encoded: Encoded, database: Database): fc.Arbitrary<Raw> {
  const { name, types, declared, hostile, written: patterns, loose = [], tick = 1 } = encoded;
  const { holding, type } = declared;
  const column = columnsIn(database, [encoded]).columns.get(name);
  if (column?.cells.type === "date") {
    const { reading, dates } = column.cells;
    const writers = patterns?.map((pattern) => {
      const of =
        type.type === "date" ? type.reading : { kind: dates.kind, encoding: "text" as const };
      const compiled = compileReading({ ...of, patterns: [pattern] });
      if (!compiled.ok) throw new Error(`${pattern} is no pattern`);
      return compiled.value;
    }) ?? [reading];
    const written = fc.tuple(moment, fc.constantFrom(...writers)).map(([ms, writer]): Raw => {
      const day = Math.floor(ms / 86_400_000) * 86_400_000;
      const raw = writer.write(dates.kind === "date" ? day : Math.floor(ms / tick) * tick);
      if (holding.type === "integer") return BigInt(Math.floor(Number(raw)));
      if (typeof raw === "string") return types[database] === "DATE" ? raw.slice(0, 10) : raw;
      if (name.includes("fraction") || name === "serial") return raw;
      return BigInt(Math.floor(raw));
    });
    // The year before the first is none of the years of one database.
    const held =
      database === "postgresql"
        ? written.filter((raw) => !String(raw).startsWith("0000"))
        : written;
    const odd = [...hostile, ...(database === "mariadb" ? loose : [])];
    return fc.oneof(
      { weight: 8, arbitrary: held },
      { weight: 1, arbitrary: fc.constant(null) },
      ...(odd.length === 0 ? [] : [{ weight: 3, arbitrary: fc.constantFrom<Raw>(...odd) }]),
    );
  }
  if (column?.cells.type === "boolean") {
    const odd = database === "mariadb" ? loose : [];
    return fc.constantFrom<Raw>(0, 1, null, ...odd);
  }
  const isText = column?.cells.type === "text";
  const whole = NUMBERS.filter((each) => name !== "count" || !each.includes("."));
  return fc.oneof(
    { weight: 8, arbitrary: fc.constantFrom<Raw>(...(isText ? PLAIN_TEXTS : whole)) },
    { weight: 1, arbitrary: fc.constant(null) },
  );
}

/** Records as they are stored in a database. */
export function rawRows(
  database: Database,
  count: number,
  seed: number,
  all: readonly Encoded[] = ALL,
): readonly Raw[][] {
  return fc.sample(fc.tuple(...all.map((each) => rawOf(each, database))), {
    numRuns: count,
    seed,
  });
}

/** A record as its readings have it. */
export function rowOf(raw: readonly Raw[], { columns }: StoredTable<AttachedColumn>): Row {
  const cells = [...columns.values()].map(({ column, cells: of }, index): [string, Row[string]] => {
    const value = raw[index] ?? null;
    if (of.type === "date") {
      const read = of.reading.read(typeof value === "bigint" ? plain(value) : value);
      return [column.name, read];
    }
    if (of.type === "boolean" && value !== null) {
      return [column.name, { state: "filled", value: String(value !== 0) }];
    }
    const isBlank = value === null || (of.type === "text" && isBlankText(String(value)));
    const cell: Row[string] = isBlank
      ? { state: "blank" }
      : { state: "filled", value: String(value) };
    return [column.name, cell];
  });
  return Object.fromEntries(cells);
}

function plain(value: bigint): string | number {
  return Number.isSafeInteger(Number(value)) ? Number(value) : String(value);
}

export const CATALOGUE: ReadonlyMap<string, Column> = new Map(
  [...columnsIn("mariadb").columns].map(([name, { column }]) => [name, column]),
);

/** A database with the table in it. */
export interface Running {
  readonly dialect: Dialect;
  read(statement: Statement): Promise<readonly (readonly (string | number | null)[])[]>;
  end(): Promise<void>;
}

function declaration(database: Database, quote: string, all: readonly Encoded[]): string {
  const fields = all.map(({ name, types }) => `${quote}${name}${quote} ${types[database]}`);
  return `CREATE TABLE encoded (id INTEGER PRIMARY KEY, ${fields.join(", ")})`;
}

type Start = (rows: readonly Raw[][], all?: readonly Encoded[]) => Promise<Running>;

export const START: Readonly<Record<Database, Start>> = {
  async mariadb(rows, all = ALL) {
    const connection = await mysql.createConnection({
      ...(await freshDatabase()),
      timezone: "Z",
      charset: "utf8mb4",
      supportBigNumbers: true,
    });
    // As a table may have been filled before modes were strict.
    await connection.query("SET sql_mode = 'ALLOW_INVALID_DATES', time_zone = '+00:00'");
    await connection.query(declaration("mariadb", "`", all));
    const marks = `(?${", ?".repeat(all.length)})`;
    for (const [index, row] of rows.entries()) {
      await connection.execute(`INSERT INTO encoded VALUES ${marks}`, [
        index + 1,
        ...row.map(bound),
      ]);
    }
    await connection.query(
      "SET sql_mode = 'STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO'",
    );
    return {
      dialect: MARIADB,
      async read({ text: sql, values }) {
        const [found] = await connection.execute<mysql.RowDataPacket[][]>(
          { sql, rowsAsArray: true, dateStrings: true },
          [...values],
        );
        return found as unknown as (string | number | null)[][];
      },
      end: () => connection.end(),
    };
  },
  async postgresql(rows, all = ALL) {
    const database = await PGlite.create();
    await database.exec("SET TIME ZONE 'UTC'");
    await database.exec(declaration("postgresql", '"', all));
    const marks = Array.from({ length: all.length + 1 }, (_, index) => `$${index + 1}`).join(", ");
    for (const [index, row] of rows.entries()) {
      // Its yes and no are no numbers.
      const values = row.map((value, at) =>
        all[at]?.types.postgresql === "BOOLEAN" && value !== null ? value !== 0 : value,
      );
      await database.query(`INSERT INTO encoded VALUES (${marks})`, [index + 1, ...values]);
    }
    return {
      dialect: POSTGRESQL,
      async read({ text: sql, values }) {
        const found = await database.query<Raw[]>(sql, [...values], {
          rowMode: "array",
          // Dates as the database writes them.
          parsers: Object.fromEntries([1082, 1114, 1184].map((type) => [type, asText])),
        });
        return found.rows.map((row) =>
          row.map((value) => (typeof value === "bigint" ? plain(value) : value)),
        );
      },
      end: () => database.close(),
    };
  },
  async sqlite(rows, all = ALL) {
    const { Database } = await initSqlJs();
    const database = new Database();
    database.run(declaration("sqlite", '"', all));
    const marks = `(?${", ?".repeat(all.length)})`;
    for (const [index, row] of rows.entries()) {
      database.run(`INSERT INTO encoded VALUES ${marks}`, [index + 1, ...row] as never);
    }
    return {
      dialect: SQLITE,
      read({ text: sql, values }) {
        const statement = database.prepare(sql, [...values] as never);
        const found: (string | number | null)[][] = [];
        while (statement.step()) {
          const row = (statement as WithBigints).get(null, { useBigInt: true });
          found.push(row.map((value) => (typeof value === "bigint" ? plain(value) : value)));
        }
        statement.free();
        return Promise.resolve(found);
      },
      end: () => {
        database.close();
        return Promise.resolve();
      },
    };
  },
};

/** Without the zone, which is UTC: as a connection that is pinned to it shows a point in time. */
function asText(value: string): string {
  return value.replace(/\+00$/, "");
}

function bound(value: Raw): string | number | null {
  return typeof value === "bigint" ? String(value) : value;
}

/** A parameter that the published types omit. */
interface WithBigints {
  get(values: null, options: { readonly useBigInt: boolean }): Raw[];
}
