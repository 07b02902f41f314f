import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import mysql from "mysql2/promise";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { LISTINGS, SMALL, SMALL_CSV, importWorks } from "../../../test/works.js";

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

async function recordTables(): Promise<readonly string[]> {
  const connection = await mysql.createConnection({ ...running.login });
  const [rows] = await connection.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records%'");
  await connection.end();
  return rows.map((row) => String(Object.values(row)[0]));
}

describe("taking a file", () => {
  test("reports what was made of each column, and each unreadable cell with its line", async () => {
    const report = await running.client.importFile("works", SMALL_CSV);
    expect(report).toMatchObject({
      source: "works",
      records: 10,
      columns: {
        raised: {
          read: 6,
          blank: 3,
          unreadable: 1,
          examples: [{ line: 11, value: "31/02/2025", code: "date.impossible" }],
        },
        passed: { read: 7, blank: 2, unreadable: 1, examples: [{ line: 11, value: "soon" }] },
        cost: {
          read: 8,
          blank: 1,
          unreadable: 1,
          examples: [{ line: 10, value: "x9", code: "number.form" }],
        },
      },
    });
  });

  test("reads a byte order mark, Windows line ends, quotes and line breaks in cells", async () => {
    await running.client.createSource({ name: "quoted", key: "id" });
    const report = await running.client.importFile(
      "quoted",
      '\uFEFFid,note\r\n1,"a ""b"", c"\r\n2,"two\r\nlines"\r\n',
    );
    expect(report.records).toBe(2);
    await running.client.deleteSource("quoted");
  });

  test("takes more records than go into one statement, in flat memory and in order", async () => {
    await running.client.createSource({
      name: "many",
      key: "n",
      columns: {
        n: { type: "integer" },
        day: { type: "date", reading: { kind: "date", encoding: "text" } },
      },
    });
    const rows = Array.from(
      { length: 5_003 },
      (_, index) =>
        `${String(index).padStart(5, "0")},2025-01-${String((index % 31) + 1).padStart(2, "0")}\n`,
    );
    expect((await running.client.importFile("many", `n,day\n${rows.join("")}`)).records).toBe(
      5_003,
    );
    await running.client.declareListing("many", {
      source: "many",
      mainDate: "day",
      parameters: [{ name: "on", type: "date", column: "day", comparison: "on" }],
    });
    const { meta } = await running.client.records("many", { on: "2025-01-31" });
    expect(meta.total).toBe(161);
    expect(await refusal(running.client.deleteSource("many"))).toMatchObject({ status: 409 });
    await running.client.deleteListing("many");
    await running.client.deleteSource("many");
  });

  test.each([
    ["", "the file is empty"],
    ["order,raised\nW-1\n", "unknown column “passed”"],
    ['order,raised,passed,cost\nW-1,"open,2,3\n', "line 2: the file ends inside quotes"],
    ["order,raised,passed,cost\n,,,1\n", "line 2: it has no order, which is the key"],
    ["order,rased,passed,cost\nW-1,,,1\n", "unknown column “raised”"],
    ["order,order,raised,passed,cost\nW-1,,,,1\n", "the heading “order” stands twice"],
    ["order,raised,passed,cost,\nW-1,,,1,\n", "column 5 has no heading"],
    ["order,raised,passed,cost,id\nW-1,,,1,7\n", "a column named id must be the key"],
  ])("refuses %j, and the records before stay", async (file, message) => {
    const before = await recordTables();
    const found = await refusal(running.client.importFile("works", file));
    expect(found).toMatchObject({ status: 422 });
    expect(found?.detail).toContain(message);
    expect((await running.client.records("works-raised", { total: "exact" })).meta.total).toBe(10);
    expect(await recordTables()).toEqual(before);
  });

  test("a new file replaces the old one at once, and an open page goes on behind its last record", async () => {
    const { records: first, links } = await running.client.records("works-raised");
    const before = await recordTables();
    await running.client.importFile("works", SMALL_CSV.replace("W-06", "W-66"));
    expect(
      (await running.client.records("works-raised", { from: "2025-03" })).records.map(
        ({ id }) => id,
      ),
    ).toEqual(["W-66"]);
    const onward = await running.client.follow(links.next ?? "");
    const whole = await running.client.records("works-raised", { size: "100" });
    const ids = [...first, ...onward.records].map(({ id }) => id);
    expect(whole.records.slice(0, 6).map(({ id }) => id)).toEqual(ids);
    const after = await recordTables();
    // The fresh ones, and those that can be restored.
    expect(after).toHaveLength(2);
    expect(after.filter((table) => before.includes(table))).toHaveLength(1);
    await running.client.importFile("works", SMALL_CSV);
  });
});

describe("looking at a column of very many strings", () => {
  const RECORDS = 120_000;
  const dayAt = (index: number) =>
    new Date(Date.UTC(1900, 0, 1) + index * 86_400_000).toISOString().slice(0, 10);

  test("speaks of records drawn evenly from all, and says of how many", async () => {
    // The last strings in their order, one in ten, are days behind a letter.
    const lines = Array.from({ length: RECORDS }, (_, index) => {
      const text = index % 10 === 0 ? `z${dayAt(index / 10)}` : `a${index}`;
      return `R${index},${text},${dayAt(index % 40_000)}`;
    });
    await running.client.createSource({ name: "wide" });
    await running.client.importFile("wide", `name,text,day\n${lines.join("\n")}\n`);
    const { records, columns } = await running.client.profile("wide");
    expect(records).toBe(RECORDS);
    const [, text, day] = columns;
    const { sample = null } = text ?? {};
    expect(sample).toMatchObject({ of: RECORDS, drawn: "evenly" });
    const drawn = sample?.records ?? 0;
    expect(drawn).toBeGreaterThan(RECORDS / 4);
    expect(text?.recognition.cells).toBe(drawn);
    const reading = { kind: "date", encoding: "text", patterns: ["'z'yyyy-MM-dd"] } as const;
    const { columns: preview } = await running.client.previewReadings("wide", {
      text: { type: "date", reading },
    });
    const dated = preview.text?.dated ?? 0;
    expect([dated > drawn * 0.08, dated < drawn * 0.12]).toEqual([true, true]);
    expect(preview.text).toMatchObject({ sample, quality: { gaps: [] } });
    // A column of fewer strings is looked at whole.
    expect(day).toMatchObject({ distinct: 40_000, sample: null, recognition: { cells: RECORDS } });
    await running.client.deleteSource("wide");
  });
});

describe("looking", () => {
  test("shows how each column is written, from its strings as they came", async () => {
    const { records, columns } = await running.client.profile("works");
    expect(records).toBe(10);
    const byName = new Map(columns.map((column) => [column.name, column]));
    const raised = byName.get("raised");
    expect(raised).toMatchObject({ type: "date", distinct: 9, sample: null });
    expect(raised?.recognition).toMatchObject({
      verdict: "certain",
      blank: 3,
      candidates: [
        {
          reading: { patterns: ["dd/MM/yyyy"], blanks: ["N/A", "tbc"] },
          fits: 6,
          misses: 1,
          examples: ["31/02/2025"],
        },
        { reading: { patterns: ["MM/dd/yyyy"] }, fits: 2, misses: 5 },
      ],
      rivals: [{ reading: { patterns: ["MM/dd/yyyy"] }, onlyBest: 4, wouldChange: 2 }],
    });
    expect(raised?.unreadable).toEqual([{ id: "W-10", value: "31/02/2025" }]);
    expect(raised?.samples[0]).toMatchObject({ value: "28/02/2025", count: 2, date: "2025-02-28" });
    expect(byName.get("note")?.recognition.verdict).toBe("none");
    expect(byName.get("passed")?.recognition.candidates[0]?.reading.kind).toBe("instant");
  });

  test("distinguishes strings that differ in case or spaces only", async () => {
    await running.client.createSource({ name: "cases" });
    await running.client.importFile("cases", 'a\nx\nX\n"x "\né\ne\n');
    expect((await running.client.profile("cases")).columns[0]?.distinct).toBe(5);
    await running.client.deleteSource("cases");
  });
});

describe("setting readings", () => {
  const DAY_FIRST = SMALL.columns?.raised;

  test("reads every cell again from its text as it came, there and back, and keeps the ids", async () => {
    if (DAY_FIRST?.type !== "date") throw new Error("raised is a date");
    const monthFirst = {
      ...DAY_FIRST,
      reading: { ...DAY_FIRST.reading, patterns: ["MM/dd/yyyy"] },
    };
    const before = await running.client.records("works-raised", { size: "100" });
    const tables = await recordTables();
    const report = await running.client.setReadings("works", { raised: monthFirst });
    expect(report).toMatchObject({
      records: 10,
      columns: { raised: { read: 2, blank: 3, unreadable: 5 }, cost: { read: 8, unreadable: 1 } },
    });
    expect(report.columns.raised?.examples[0]).toMatchObject({
      record: "W-01",
      value: "31/01/2025",
    });
    const march = await running.client.records("works-raised", {
      from: "2025-01-02",
      to: "2025-01-02",
    });
    expect(march.records.map(({ id }) => id)).toEqual(["W-02"]);
    await running.client.setReadings("works", { raised: DAY_FIRST });
    expect((await running.client.records("works-raised", { size: "100" })).records).toEqual(
      before.records,
    );
    expect(await recordTables()).toHaveLength(tables.length);
  });

  test("keeps the ids of records that have no key of their own, over many pages", async () => {
    await running.client.createSource({ name: "keyless" });
    const lines = Array.from(
      { length: 4_500 },
      (_, index) => `${index + 1},0${(index % 9) + 1}/03/2025\n`,
    );
    await running.client.importFile("keyless", `n,day\n${lines.join("")}`);
    const reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] } as const;
    const report = await running.client.setReadings("keyless", {
      day: { type: "date", reading },
      n: { type: "integer" },
    });
    expect(report.columns.day).toMatchObject({ read: 4_500, unreadable: 0 });
    await running.client.declareListing("keyless", {
      source: "keyless",
      mainDate: "day",
      order: { allowed: ["n"], default: "n" },
      page: { size: 5_000, max: 5_000 },
    });
    const { records } = await running.client.records("keyless");
    expect(records.every(({ id, n }) => id === n)).toBe(true);
    expect(records[0]).toEqual({ id: 1, n: 1, day: "2025-03-01" });
    await running.client.deleteListing("keyless");
    await running.client.deleteSource("keyless");
  });

  test("refuses an unknown column and a reading with a fault, and changes nothing", async () => {
    const reading = { kind: "date", encoding: "text", patterns: ["dd/MM"] } as const;
    const found = await refusal(
      running.client.setReadings("works", {
        rased: { type: "text" },
        note: { type: "date", reading },
      }),
    );
    expect(found?.faults.map(({ code, nearest }) => [code, nearest])).toEqual([
      ["column.unknown", ["raised"]],
      ["reading.pattern", undefined],
    ]);
    expect(await refusal(running.client.setReadings("works", {}))).toMatchObject({ status: 422 });
  });
});

describe("declaring", () => {
  test("a source: names, readings and columns are checked, all at once", async () => {
    const found = await refusal(
      running.client.createSource({
        name: "WORKS",
        columns: {
          day: {
            type: "date",
            reading: { kind: "date", encoding: "text", patterns: ["dd/MM"], zone: "Mars/Olympus" },
          },
        },
      }),
    );
    expect(found?.faults.map(({ code }) => code)).toEqual([
      "reading.pattern",
      "zone.unknown",
      "name.taken",
    ]);
    expect(await refusal(running.client.createSource({ ...SMALL, name: "9" }))).toMatchObject({
      faults: [{ path: "name" }],
    });
    const unknown = await refusal(
      running.client.createSource({ ...SMALL, name: "x", kye: "order" } as never),
    );
    expect(unknown).toMatchObject({ status: 422 });
    expect(unknown?.detail).toContain("kye");
  });

  test("a listing: the same again changes nothing, another is a new version", async () => {
    const [name, listing] = Object.entries(LISTINGS)[0] ?? ["", { source: "", mainDate: "" }];
    expect((await running.client.declareListing(name, listing)).version).toBe(1);
    expect(
      (await running.client.declareListing(name, { ...listing, title: "Other" })).version,
    ).toBe(2);
    expect((await running.client.declareListing(name, listing)).version).toBe(3);
  });

  test("a listing with faults is refused, and the last good one goes on serving", async () => {
    const broken = { source: "works", mainDate: "rased", zone: "Mars/Olympus" };
    const found = await refusal(running.client.declareListing("works-raised", broken));
    expect(found?.faults.map(({ path, code }) => [path, code])).toEqual([
      ["zone", "zone.unknown"],
      ["mainDate", "column.unknown"],
    ]);
    expect((await running.client.records("works-raised")).meta.total).toBe(10);
    expect(
      await refusal(running.client.declareListing("x", { source: "wroks", mainDate: "raised" })),
    ).toMatchObject({
      status: 422,
      faults: [{ path: "source", nearest: ["works"] }],
    });
  });

  test("a listing whose source lost a column says so, and never comes out empty", async () => {
    await running.client.declareListing("noted", {
      source: "works",
      mainDate: "raised",
      parameters: [],
      columns: ["order", "note"],
    });
    const force = true;
    await running.client.importFile("works", SMALL_CSV.replace("note", "remark"), { force });
    expect(await refusal(running.client.records("noted"))).toMatchObject({
      status: 503,
      faults: [{ code: "column.unknown", path: "columns.1", value: "note" }],
    });
    await running.client.importFile("works", SMALL_CSV);
    expect((await running.client.records("noted")).meta.total).toBe(10);
    await running.client.importFile("works", SMALL_CSV.replace("note", "remark"), { force });
    await running.client.deleteListing("noted");
    await running.client.importFile("works", SMALL_CSV);
    expect((await running.client.listings()).map(({ name }) => name)).not.toContain("noted");
  });

  test("a listing of a source without a file says what is missing", async () => {
    await running.client.createSource({ ...SMALL, name: "empty" });
    await running.client.declareListing("empty", { source: "empty", mainDate: "raised" });
    expect((await refusal(running.client.records("empty")))?.detail).toContain("import a file");
  });
});
