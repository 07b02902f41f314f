import { describe, expect, test } from "@jest/globals";
import { readFileSync } from "node:fs";
import mysql from "mysql2/promise";
import { freshDatabase } from "../../../test/service.js";
import { makeDataSource } from "../src/service/index.js";
import { FilterColumns1764800000000 } from "../src/database/migrations/filter-columns.js";
import { Imports1765000000000 } from "../src/database/migrations/imports.js";
import { MIGRATIONS } from "../src/database/migrations/index.js";
import { PlainWords1764900000000 } from "../src/database/migrations/plain-words.js";
import { FileImport, RefusedRow, Source } from "../src/sources/index.js";
import { Gateway, TooSlow } from "../src/database/index.js";

describe("the migrations", () => {
  test("make just the tables that the entities describe, and can be run again", async () => {
    const dataSource = await makeDataSource(await freshDatabase()).initialize();
    await dataSource.runMigrations();
    expect(await dataSource.runMigrations()).toEqual([]);
    const { upQueries } = await dataSource.driver.createSchemaBuilder().log();
    expect(upQueries.map(({ query }) => query)).toEqual([]);
    await dataSource.destroy();
  });
});

describe("declarations of before", () => {
  test("an empty list of columns to filter by, which meant all, says so from then on", async () => {
    const dataSource = await makeDataSource(await freshDatabase()).initialize();
    await dataSource.runMigrations();
    const declarations = [
      { filter: { columns: [] }, columns: [] },
      { filter: { columns: ["raised"] }, columns: [] },
      { columns: [] },
    ];
    for (const [index, declaration] of declarations.entries()) {
      await dataSource.query("INSERT INTO listing_versions VALUES (?, 1, ?, 0, '')", [
        `listing-${index}`,
        JSON.stringify(declaration),
      ]);
    }
    await new FilterColumns1764800000000().up(dataSource.createQueryRunner());
    const rows = await dataSource.query<{ declaration: unknown }[]>(
      "SELECT declaration FROM listing_versions ORDER BY name",
    );
    const answer = rows.map(({ declaration: each }) =>
      typeof each === "string" ? (JSON.parse(each) as unknown) : each,
    );
    expect(answer).toEqual([
      { ...declarations[0], filter: { columns: "all" } },
      ...declarations.slice(1),
    ]);
    await dataSource.destroy();
  });

  test("old names and words become the new ones, and nothing else changes", async () => {
    const dataSource = await makeDataSource(await freshDatabase()).initialize();
    await dataSource.runMigrations();
    const old = {
      ...{ name: "works", title: "finyear report, most of it", columns: ["fixed", "finyear"] },
      fixed: "inWindow(raised, 'finyear-1') AND note <> 'finyear' AND finyear IS NOT NULL",
      freshness: { current: "PT1M" },
      origins: ["https://vale.example"],
      permits: { asOf: "maker", zone: "nobody" },
      unknown: "refuse",
      reversed: "refuse",
      order: { allowed: ["ties"], default: "ties", ties: ["-cost"] },
      page: { size: 5, most: 50 },
      calendar: { finYearStart: "04-06" },
      choices: { status: { late: false, barred: ["late"] } },
      parameters: [
        { name: "since", type: "moment", column: "at", comparison: "after", blanks: "leave" },
        {
          ...{ name: "in", type: "window", column: "finyear", comparison: "on" },
          ...{ default: "finyear-1", limits: { earliest: "finyear-9" }, label: "the finyear" },
        },
        { name: "of", type: "window", column: "at", comparison: "on", default: "financial-year" },
        { name: "task", type: "text", column: "task", comparison: "is", letterCase: "exact" },
        { name: "keep", type: "text", column: "task", comparison: "is", blanks: "keep" },
      ],
    };
    const insert = "INSERT INTO listing_versions VALUES ('works', 1, ?, 0, '')";
    await dataSource.query(insert, [JSON.stringify(old)]);
    await dataSource.query("INSERT INTO named_windows VALUES ('last', 'Last', 'finquarter-1')");
    const rungs = ["financial-year", { name: "finyear", window: "../finyear-1" }];
    await dataSource.query("INSERT INTO ladders VALUES ('due', 'Due', 'UTC', ?, ?)", [
      JSON.stringify({ finYearStart: "04-06" }),
      JSON.stringify(rungs),
    ]);
    await dataSource.query(
      "INSERT INTO access_keys (name, role, hash, createdAt) VALUES ('k', 'maker', ?, 0)",
      ["0".repeat(64)],
    );
    const read = async (sql: string) => {
      const [row] = await dataSource.query<{ readonly value: unknown }[]>(sql);
      const { value } = row ?? {};
      return typeof value === "string" && /^[{[]/.test(value)
        ? (JSON.parse(value) as unknown)
        : value;
    };
    // Broken off and run again it does no harm.
    for (let run = 0; run < 2; run++) {
      await new PlainWords1764900000000().up(dataSource.createQueryRunner());
      expect(await read("SELECT declaration AS value FROM listing_versions")).toEqual({
        ...{ name: "works", title: "finyear report, most of it", columns: ["fixed", "finyear"] },
        fixedFilter:
          "inWindow(raised, 'fiscalyear-1') AND note <> 'finyear' AND finyear IS NOT NULL",
        cacheFor: { current: "PT1M" },
        allowedOrigins: ["https://vale.example"],
        allow: { asOf: "author", zone: "nobody" },
        unknownParameters: "reject",
        reversed: "reject",
        order: { allowed: ["ties"], default: "ties", tieBreakers: ["-cost"] },
        page: { size: 5, max: 50 },
        calendar: { fiscalYearStart: "04-06" },
        choices: { status: { recent: false, disabled: ["late"] } },
        parameters: [
          { name: "since", type: "datetime", column: "at", comparison: "after", blanks: "exclude" },
          {
            ...{ name: "in", type: "window", column: "finyear", comparison: "on" },
            ...{ default: "fiscalyear-1", limits: { earliest: "fiscalyear-9" } },
            label: "the finyear",
          },
          { name: "of", type: "window", column: "at", comparison: "on", default: "fiscal-year" },
          { name: "task", type: "text", column: "task", comparison: "is", caseSensitive: true },
          { name: "keep", type: "text", column: "task", comparison: "is", blanks: "include" },
        ],
      });
      expect(await read("SELECT `window` AS value FROM named_windows")).toBe("fiscalquarter-1");
      expect(await read("SELECT rungs AS value FROM ladders")).toEqual([
        "fiscal-year",
        { name: "finyear", window: "../fiscalyear-1" },
      ]);
      expect(await read("SELECT calendar AS value FROM ladders")).toEqual({
        fiscalYearStart: "04-06",
      });
      expect(await read("SELECT role AS value FROM access_keys")).toBe("author");
    }
    await dataSource.destroy();
  });
});

describe("sources and imports of before", () => {
  test("keep their numbers, what can be restored and what was refused", async () => {
    const dataSource = await makeDataSource(await freshDatabase()).initialize();
    const runner = dataSource.createQueryRunner();
    const before = MIGRATIONS.slice(0, MIGRATIONS.indexOf(Imports1765000000000));
    for (const Migration of before) await new Migration().up(runner);
    const state = { recordsTable: "records_1_1", records: 2, loadedAt: 5, load: 1, columns: [] };
    await runner.query(
      "INSERT INTO sources (name, loads, loadedAt, `load`, `before`, inside) VALUES ('w', 2, 9, 2, ?, ?)",
      [JSON.stringify(state), JSON.stringify({ source: "v" })],
    );
    await runner.query(
      `INSERT INTO loads (number, mode, state, bytes, sha256, startedAt, report, sourceId)
        VALUES (2, 'replace', 'done', 1, '', 1, ?, 1)`,
      [JSON.stringify({ source: "w", load: 2, records: 3 })],
    );
    await runner.query(
      "INSERT INTO refused_rows (line, reason, cells, loadId) VALUES (4, 'why', '[]', 1)",
    );
    // Broken off and run again it does no harm.
    for (let run = 0; run < 2; run++) await new Imports1765000000000().up(runner);
    for (const Migration of MIGRATIONS.slice(before.length + 1)) await new Migration().up(runner);
    const [source] = await dataSource.getRepository(Source).find();
    expect(source).toMatchObject({
      ...{ imports: 2, importedAt: 9, importNumber: 2, combine: null, unnest: { source: "v" } },
      before: { recordsTable: "records_1_1", records: 2, importedAt: 5, importNumber: 1 },
    });
    expect(source?.before).not.toHaveProperty("load");
    const [done] = await dataSource.getRepository(FileImport).find({ relations: { source: true } });
    expect(done).toMatchObject({ number: 2, source: { name: "w" } });
    expect(done?.report).toEqual({ source: "w", importNumber: 2, records: 3 });
    const where = { fileImport: { id: done?.id ?? 0 } };
    expect(await dataSource.getRepository(RefusedRow).findBy(where)).toHaveLength(1);
    await dataSource.getRepository(Source).delete({ name: "w" });
    expect(await dataSource.getRepository(RefusedRow).count()).toBe(0);
    const { upQueries } = await dataSource.driver.createSchemaBuilder().log();
    expect(upQueries.map(({ query }) => query)).toEqual([]);
    await dataSource.destroy();
  });
});

describe("the private database", () => {
  test("lets nobody in over TCP without a password, and does not run as root", async () => {
    const login = await freshDatabase();
    for (const user of ["root", "mysql", "", "orisma"]) {
      const { host, port } = login;
      await expect(mysql.createConnection({ host, port, user, password: "" })).rejects.toThrow(
        /denied/,
      );
    }
    const connection = await mysql.createConnection({ ...login });
    const [rows] = await connection.query<mysql.RowDataPacket[]>(
      "SELECT @@pid_file AS file, @@bind_address AS address",
    );
    await connection.end();
    expect(rows[0]).toMatchObject({ address: "127.0.0.1" });
    const pid = readFileSync(String(rows[0]?.file), "utf8").trim();
    expect(readFileSync(`/proc/${pid}/status`, "utf8")).not.toMatch(/^Uid:\s+0\s/m);
  });
});

describe("the gateway", () => {
  test("pins modes and zone, binds values as they are, and stops what takes too long", async () => {
    const dataSource = await makeDataSource(await freshDatabase()).initialize();
    const gateway = new Gateway(dataSource);
    const one = async (text: string, ...values: (string | number | bigint | null)[]) =>
      (await gateway.read({ text, values }, 1))[0];
    expect(await one("SELECT @@time_zone, @@sql_mode LIKE '%NO_ZERO_DATE%'")).toEqual([
      "+00:00",
      1,
    ]);
    const hostile = "\\' OR '1'='1";
    expect(await one("SELECT ?, ?, ?, ?", hostile, 7, 9_007_199_254_740_993n, null)).toEqual([
      hostile,
      7,
      "9007199254740993",
      null,
    ]);
    expect(await one("SELECT TIMESTAMP'2025-03-05 14:30:05.250'")).toEqual([
      "2025-03-05 14:30:05.250",
    ]);
    await expect(one("SELECT SLEEP(5)")).rejects.toThrow(TooSlow);
    for (const value of [{ toString: () => "1" }, [1, 2], undefined, Number.NaN, true]) {
      await expect(one("SELECT ?", value as never)).rejects.toThrow(TypeError);
    }
    await dataSource.destroy();
  });
});
