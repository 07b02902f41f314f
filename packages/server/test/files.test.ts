import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  type FileBody,
  type FileOptions,
  type ImportReport,
  type ImportOptions,
} from "@orisma/client";
import { request } from "node:http";
import { gzipSync } from "node:zlib";
import mysql from "mysql2/promise";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { until } from "../../../test/until.js";
import { changed, ods, xlsx, zip, type SheetSpec } from "../../../test/workbooks.js";

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
});
afterAll(() => running.end());

let count = 0;

/** Imports a file as a source of its own, and gives what came of it and the records as stored. */
async function taken(
  file: TestFile,
  options: ImportOptions = {},
): Promise<{ readonly report: ImportReport; readonly rows: readonly (readonly unknown[])[] }> {
  const name = `file${++count}`;
  await running.client.createSource({ name });
  const report = await running.client.importFile(name, body(file), options);
  const connection = await mysql.createConnection({ ...running.login, rowsAsArray: true });
  const [found] = await connection.query("SELECT id, imports FROM sources WHERE name = ?", [name]);
  const [[id, load] = []] = found as [number, number][];
  const [all, fields] = await connection.query(`SELECT * FROM records_${id}_${load} ORDER BY id`);
  await connection.end();
  const rows = all as unknown[][];
  // Each cell as it came: neither the surrogate nor the folded strings.
  const names = fields.map(({ name: field }) => field);
  const cells = names
    .filter((field) => /^c\d/.test(field))
    .map((field) => Math.max(names.indexOf(field), names.indexOf(field.replace("c", "t"))));
  return { report, rows: rows.map((row) => cells.map((index) => row[index])) };
}

/** The columns of a source with their types. */
async function typesOf(source: string): Promise<Readonly<Record<string, string>>> {
  const { columns } = await running.client.source(source);
  return Object.fromEntries(columns.map(({ name, type }) => [name, type]));
}

type TestFile = string | Buffer;

function body(file: TestFile): FileBody {
  return typeof file === "string" ? file : new Uint8Array(file);
}

function look(file: TestFile, options?: FileOptions) {
  return running.client.inspectFile(body(file), options);
}

function encoded(text: string, encoding: "utf16le" | "utf16be" | "latin1", mark = true): Buffer {
  const bytes = Buffer.from(
    (mark && encoding !== "latin1" ? "\uFEFF" : "") + text,
    encoding === "latin1" ? "latin1" : "utf16le",
  );
  return encoding === "utf16be" ? bytes.swap16() : bytes;
}

describe("delimited text", () => {
  test.each([
    [",", "a,b\n1,2\n"],
    [";", "a;b\n1,5;2,5\n3,5;4,5\n"],
    ["\t", "a\tb\n1,2\t3\n"],
    ["|", "a|b\n1;2|3\n"],
    [",", "a\n1\n"],
    [";", "sep=;\na;b\n1;2\n"],
    [",", 'a,b\n"1;2;3","x;y;z"\n'],
  ])("finds %j in %j", async (delimiter, file) => {
    const found = await look(file);
    expect(found).toMatchObject({ format: "delimited", delimiter });
    expect(found.headings).toEqual(file.includes("b") ? ["a", "b"] : ["a"]);
  });

  test("takes a delimiter that is named, and refuses one that is none", async () => {
    expect((await look("a^b\n1^2\n", { delimiter: "^" })).sample[0]?.cells).toEqual(["1", "2"]);
    expect((await look("a b\n1 2\n", { delimiter: "space" })).headings).toEqual(["a", "b"]);
    expect(await refusal(look("a\n", { delimiter: "ab" }))).toMatchObject({ status: 422 });
  });

  test.each([
    ["with a mark", Buffer.from("\uFEFFa,b\né,ü\n"), "utf-8"],
    ["UTF-16LE", encoded("a,b\né,ü\n", "utf16le"), "utf-16le"],
    ["UTF-16BE", encoded("a,b\né,ü\n", "utf16be"), "utf-16be"],
    ["UTF-16LE without a mark", encoded("a,b\né,ü\n", "utf16le", false), "utf-16le"],
    ["Windows-1252", encoded("a,b\né,ü\n", "latin1"), "windows-1252"],
  ])("reads text %s", async (_, file, encoding) => {
    const found = await look(file);
    expect(found.encoding).toBe(encoding);
    expect(found.headings).toEqual(["a", "b"]);
    expect(found.sample).toEqual([{ line: 2, cells: ["é", "ü"] }]);
  });

  test("says that it took a file for Windows-1252, and refuses what is not even that", async () => {
    expect((await look(encoded("a\nx\né\n", "latin1"))).remarks).toEqual([
      "line 3 is not UTF-8; the file was read as windows-1252",
    ]);
    const found = await refusal(look(Buffer.from([97, 10, 0x81, 0xe9, 10])));
    expect(found?.faults[0]).toMatchObject({ code: "file.encoding" });
    expect(found?.detail).toContain("line 2 is neither UTF-8 nor windows-1252");
    expect(
      (await look(Buffer.from([97, 10, 0xa4, 10]), { encoding: "iso-8859-15" })).sample,
    ).toEqual([{ line: 2, cells: ["€"] }]);
  });

  test("reads headings in no row, one or two, and leaves lines above them out", async () => {
    expect((await look("1,2\n3,4\n", { headings: 0 })).headings).toEqual(["column1", "column2"]);
    expect(await look("1,2\n3,4\n", { headings: 0 })).toMatchObject({ headingRows: 0, records: 2 });
    const two = await look("Lock,,Gate\nname,built,seen\nTansy,1790,x\n", { headings: 2 });
    expect(two.headings).toEqual(["Lock name", "Lock built", "Gate seen"]);
    const skipped = await look("Locks of the trust\nas of today\na,b\n1,2\n", { skip: 2 });
    expect(skipped).toMatchObject({ headings: ["a", "b"], headingLine: 3, sample: [{ line: 4 }] });
    expect(skipped.above).toEqual(["Locks of the trust", "as of today"]);
    const upTo = await look("a,b\n1,2\n3,4\nsum,6\n", { lastRow: 3 });
    expect(upTo).toMatchObject({ records: 2, sample: [{ line: 2 }, { line: 3 }] });
    expect(upTo.remarks).toContain("1 record behind row 3, the last that is wanted, is omitted");
  });

  test("keeps quotes, line breaks and spaces in cells, and counts lines by them", async () => {
    const { report, rows } = await taken(
      'a,b\r\n1,"x ""y"", z"\r\n2,"two\r\nlines"\r\n3, c \r\n4\r\n',
    );
    expect(rows).toEqual([
      ["1", 'x "y", z'],
      ["2", "two\nlines"],
      ["3", " c "],
    ]);
    expect(report.refused).toBe(1);
    expect(await running.client.refusedRows(report.source, 1)).toEqual([
      { line: 6, reason: "1 cell where there are 2 headings", cells: ["4"] },
    ]);
  });

  test("refuses ragged rows one by one, unless short ones are blank at their end", async () => {
    const file = "a,b,c\n1,2\n1,2,3\n1,2,3,4\n1,2,3,,\n";
    const strict = await taken(file);
    expect(strict.rows).toEqual([
      ["1", "2", "3"],
      ["1", "2", "3"],
    ]);
    expect(strict.report.refused).toBe(2);
    const lenient = await taken(file, { shortRows: "blank" });
    expect(lenient.rows[0]).toEqual(["1", "2", null]);
    expect(lenient.report.refused).toBe(1);
  });

  test("refuses rows whose quotes are not in pairs, and goes on behind them", async () => {
    const { report, rows } = await taken('a,b\n"1"x,2\n"3",4\n5,6\n');
    expect(report.refused).toBe(1);
    expect(rows.at(-1)).toEqual(["5", "6"]);
    const [row] = await running.client.refusedRows(report.source, 1);
    expect(row?.line).toBe(2);
    expect(row?.reason).toContain("quotes are not in pairs");
  });

  test("the refused rows come as a file that can be taken once it is repaired", async () => {
    const { report } = await taken('a,b\n1,"x, y"\n2\n"3,3"\n');
    const csv = await running.client.refusedCsv(report.source, 1);
    expect(csv).toBe(
      "refused_line,refused_because,a,b\n" +
        "3,1 cell where there are 2 headings,2\n" +
        '4,1 cell where there are 2 headings,"3,3"\n',
    );
    const repaired = csv.replace(",2\n", ",2,two\n").replace('"3,3"\n', "3,three\n");
    expect(
      await running.client.importFile(report.source, repaired, { mode: "append" }),
    ).toMatchObject({
      records: 3,
      added: 2,
      refused: 0,
    });
  });
});

describe("JSON", () => {
  const RECORDS = [
    { at: "2025-01-01", n: 1, note: "a" },
    { at: null, n: 12345678901234567890n, more: { depth: [1, 2.5] } },
    { at: "", ok: true },
  ];
  const lines = RECORDS.map((record) =>
    JSON.stringify(record, (_, value: unknown) =>
      typeof value === "bigint" ? "@" : value,
    ).replace('"@"', "12345678901234567890"),
  );
  const ROWS = [
    ["2025-01-01", "1", "a", null, null],
    [null, "12345678901234567890", null, '{"depth":[1,2.5]}', null],
    ["", null, null, null, "true"],
  ];

  test.each([
    ["one a line", `${lines.join("\n")}\n`, "ndjson"],
    ["in an array", `[${lines.join(",")}]`, "json"],
    ["in an array over many lines", `\n[\n${lines.join(",\n")}\n]\n`, "json"],
  ])("takes objects %s: every name, every digit, parts as text", async (_, file, format) => {
    const { report, rows } = await taken(file);
    expect(report.file).toMatchObject({ format, headings: ["at", "n", "note", "more", "ok"] });
    expect(rows).toEqual(ROWS);
  });

  test("keeps the types that the file states, and says where it states several", async () => {
    const { report } = await taken(
      '{"id_":7,"cost":1,"open":true,"note":"a","any":1,"odd":1e400,"due":""}\n' +
        '{"id_":8,"cost":2.5,"open":null,"note":null,"any":"two","odd":1,"due":null}\n',
    );
    expect(await typesOf(report.source)).toEqual({
      id_: "integer",
      cost: "decimal",
      open: "boolean",
      note: "text",
      any: "text",
      odd: "text",
      due: "text",
    });
    expect(report.file?.remarks).toEqual([
      "The column “any” holds 1 number and 1 other value: it is held as text.",
      expect.stringContaining("1 of the numbers with more digits than a column of numbers holds"),
    ]);
    // The next file may state something else; what a person declared stays.
    const { source } = report;
    await running.client.setReadings(source, { id_: { type: "text" } });
    await running.client.importFile(source, '{"id_":9,"cost":"free","open":1}\n');
    expect(await typesOf(source)).toEqual({ id_: "text", cost: "text", open: "integer" });
    await running.client.importFile(source, '{"id_":9,"cost":"x","open":"no number"}\n', {
      mode: "append",
    });
    const [added] = (await running.client.imports(source)).imports;
    expect(added?.state).toBe("done");
  });

  test("a listing of three lines compares numbers as numbers", async () => {
    const months = Array.from({ length: 24 }, (_, index) => ({
      on: `2025-01-${String(index + 1).padStart(2, "0")}`,
      month: (index % 12) + 1,
    }));
    const { report } = await taken(JSON.stringify(months));
    const { source } = report;
    await running.client.setReadings(source, {
      on: { type: "date", reading: { kind: "date", encoding: "text" } },
    });
    await running.client.declareListing("months", { source, mainDate: "on" });
    const { meta } = await running.client.records("months", { month: "1" });
    expect(meta.total).toBe(2);
    await running.client.deleteListing("months");
  });

  test("an element that is no object costs that element alone, with its line", async () => {
    const { report } = await taken('[{"a":1},\n7,\n{"a":}, {"a":"]},{"},\n["x"],{"a":4}\n]');
    expect(report).toMatchObject({ records: 3, refused: 3 });
    const refused = await running.client.refusedRows(report.source, 1);
    expect(refused.map(({ line, cells }) => [line, cells])).toEqual([
      [2, ["7"]],
      [3, ['{"a":}']],
      [4, ['["x"]']],
    ]);
    const broken = await taken('{"a":1}\n{"a":2\n\n{"a":3}\n');
    expect(broken.report).toMatchObject({ records: 2, refused: 1 });
  });

  test.each([
    ['[{"a":1},{"a":2}', "the file ends inside its array"],
    ['[{"a":1}] x', "behind the end of the array"],
    ["[]", "no object with a name"],
    ['{"":1}', "column 1 has no heading"],
    ['{"a":1,"A":2}', "stands twice"],
  ])("refuses %j", async (file, message) => {
    expect((await refusal(look(file)))?.detail).toContain(message);
  });
});

describe("headings that may be a record", () => {
  test.each([
    ["2025-01-31,Heron\n2025-02-28,Otter\n", "“2025-01-31” stands over “2025-02-28”"],
    ["W-1,high\nW-2,low\n", "“W-1” stands over “W-2”"],
    ["Heron,high\nOtter,low\nHeron,low\n", "“Heron” stands below it too"],
    ["day,2024,2025\nMO,5,6\n", "“2024” stands over “5”"],
  ])("%j is doubted", async (file, why) => {
    const { remarks, headings } = await look(file);
    expect(remarks.join()).toContain(why);
    expect(remarks.join()).toContain("headings=0");
    // They are taken as the headings all the same: nothing is guessed.
    expect(headings).toEqual(file.split("\n")[0]?.split(","));
  });

  test.each([
    "day,boat\n2025-01-31,Heron\n",
    "Q1,Q2\nhigh,low\n",
    "day,lock 1\n2025-01-31,Heron\n",
  ])("%j is not", async (file) => {
    expect((await look(file)).remarks).toEqual([]);
  });

  test("nor are those that were declared, of a file or of a sheet", async () => {
    const file = "2025-01-31,Heron\n2025-02-28,Otter\n";
    expect((await look(file, { headings: 1 })).remarks).toEqual([]);
    const rows = [
      ["Heron", "high"],
      ["Otter", "low"],
      ["Heron", "low"],
    ];
    const sheet = await xlsx([{ name: "Log", rows }]);
    expect((await look(sheet)).remarks.join()).toContain("“Heron” stands below it too");
    expect((await look(sheet, { headings: 1 })).remarks).toEqual([]);
  });
});

describe("notes in several cells right below a table", () => {
  const ROWS = [
    ["day", "boat", "lock", "wait"],
    ["2025-02-26", "Heron", "Tansy", "4"],
    ["2025-02-27", "Otter", "Tansy", "12"],
    ["2025-02-28", "Swan", "Hollin", "0"],
  ];
  const csvOf = (rows: readonly (readonly string[])[]) =>
    rows.map((row) => row.join(",")).join("\n");

  test("are omitted, and listed with why", async () => {
    const notes = [
      ["", "Taken by", "the lock keeper", ""],
      ["", "Seen by", "the board", ""],
    ];
    for (const file of [
      csvOf([...ROWS, ...notes]),
      await xlsx([{ name: "Log", rows: [...ROWS, ...notes] }]),
    ]) {
      const { report } = await taken(file);
      expect(report).toMatchObject({ records: 3, refused: 2 });
      const refused = await running.client.refusedRows(report.source, 1);
      expect(refused.map(({ line, reason }) => [line, reason])).toEqual([
        [5, expect.stringContaining("a note, not a record")],
        [6, expect.stringContaining("a note, not a record")],
      ]);
    }
  });

  test("a record with few cells is none: with a figure, in the middle, or half as full", async () => {
    for (const row of [
      ["2025-03-01", "Tern", "", ""],
      ["tbc", "Tern", "Hollin", ""],
      ["", "Tern", "", ""],
    ]) {
      expect((await taken(csvOf([...ROWS, row]))).report).toMatchObject({ records: 4, refused: 0 });
    }
    const middle = [...ROWS, ["", "Tern", "Tansy", ""], ["2025-03-02", "Teal", "Hollin", "1"]];
    expect((await taken(csvOf(middle))).report).toMatchObject({ records: 5, refused: 0 });
  });

  test("where nothing has figures they are taken, and doubted", async () => {
    const rows = [
      ["boat", "lock", "keeper", "task"],
      ["Heron", "Tansy", "first", "dredge"],
      ["Otter", "Hollin", "second", "paint"],
      ["Swan", "Marsh", "third", "mend"],
      ["Seen by", "the board", "", ""],
    ];
    const { report } = await taken(csvOf(rows));
    expect(report).toMatchObject({ records: 4, refused: 0 });
    expect(report.file?.remarks.join()).toContain(
      "row 5, the last, has fewer cells than all others",
    );
  });
});

describe("workbooks", () => {
  const LOG: SheetSpec = {
    name: "Log",
    rows: [
      ["Inspections of the Brindle Vale Navigation"],
      ["as of", { serial: 45_300, format: "dd/mm/yyyy" }],
      [],
      [null, "lock", "inspected", "hours", "note", "open"],
      [null, "Tansy", { serial: 45_292.75, format: "dd/mm/yyyy hh:mm" }, 1.5, "ok", true],
      [null, "Hollin", { serial: 45_293, format: "dd/mm/yyyy" }, 0.1, null, false],
      [],
      [null, "Marsh", "tbc", 2, "#N/A"],
      [],
      [null, "Signed by the engineer"],
    ],
  };

  test.each([
    ["XLSX", xlsx, "xlsx", ["2024-01-01T18:00:00", "2024-01-02"]],
    ["ODS", ods, "ods", ["2024-01-01T18:00:00", "2024-01-02"]],
  ] as const)(
    "takes a sheet of %s between a banner and a note",
    async (_, write, format, dates) => {
      const file = await write([LOG]);
      expect(await look(file)).toMatchObject({ headingRows: 1, records: 4, refused: 1 });
      const { report, rows } = await taken(file);
      expect(report.file).toMatchObject({
        format,
        sheet: "Log",
        headingLine: 4,
        headings: ["lock", "inspected", "hours", "note", "open"],
      });
      expect(rows).toEqual([
        ["Tansy", dates[0], "1.5", "ok", "true"],
        ["Hollin", dates[1], "0.1", null, "false"],
        ["Marsh", "tbc", "2", "#N/A", null],
      ]);
      expect(report.dateCells).toMatchObject({ inspected: { count: 2 } });
      expect(await running.client.refusedRows(report.source, 1)).toMatchObject([
        { line: 10, cells: ["Signed by the engineer", null, null, null, null] },
      ]);
    },
  );

  test("counts days from 1904 where the workbook does, and says when a reading does not", async () => {
    const sheet: SheetSpec = {
      name: "Log",
      rows: [
        ["lock", "inspected"],
        ["Tansy", { serial: 43_830, format: "dd/mm/yyyy" }],
      ],
    };
    const file = await xlsx([sheet], { is1904: true });
    await running.client.createSource({ name: "from1904" });
    await running.client.importFile("from1904", body(file));
    const [, inspected] = (await running.client.profile("from1904")).columns;
    expect(inspected).toMatchObject({
      dateCells: { count: 1, encoding: "text" },
      recognition: { verdict: "certain", candidates: [{ earliest: "2024-01-01" }] },
    });
    const reading = { kind: "date", encoding: "serial-1900" } as const;
    await running.client.setReadings("from1904", { inspected: { type: "date", reading } });
    const found = await refusal(running.client.importFile("from1904", body(file), { again: true }));
    expect(found?.detail).toContain("as serial-1904, and its reading says serial-1900");
  });

  test("only cells that the sheet shows as dates are dates, also when they are read again", async () => {
    const day = (serial: number) => ({ serial, format: "dd/mm/yyyy" });
    const file = await xlsx([
      {
        name: "Log",
        rows: [
          ["lock", "inspected"],
          ...[1, 2, 3, 4, 5, 6].map((index) => [`Lock ${index}`, day(45_300 + index)]),
          ["Tansy", day(45_292)],
          ["Hollin", 45_293],
          ["Marsh", day(45_294)],
          // A time of day alone, and a day that programs show as another.
          ["Weir", { serial: 0.75, format: "hh:mm" }],
          ["Alder", day(31)],
        ],
      },
    ]);
    const { client } = running;
    await client.createSource({ name: "shown" });
    await client.importFile("shown", body(file));
    const [, inspected] = (await client.profile("shown")).columns;
    expect(inspected?.recognition).toMatchObject({ verdict: "certain", candidates: [{ fits: 8 }] });
    const text = { kind: "local", encoding: "text" } as const;
    for (const blanks of [[], ["31"]]) {
      const reading = { ...text, blanks };
      const set = await client.setReadings("shown", { inspected: { type: "date", reading } });
      const blank = blanks.length;
      expect(set.columns.inspected).toMatchObject({ read: 8, blank, unreadable: 3 - blank });
    }
    // Where the numbers are declared to be dates, all of them are.
    await client.createSource({
      name: "numbered",
      columns: {
        inspected: { type: "date", reading: { kind: "local", encoding: "serial-1900" } },
      },
    });
    const report = await client.importFile("numbered", body(file));
    expect(report.columns.inspected).toMatchObject({ read: 10, unreadable: 1 });
    expect(report.dateCells).toEqual({ inspected: { count: 9, encoding: "serial-1900" } });
  });

  test("days among times are read with them, each as its beginning", async () => {
    const cell = (serial: number, format: string) => ({ serial, format });
    const rows = [
      ["lock", "inspected"],
      ["Tansy", cell(45_292.75, "dd/mm/yyyy hh:mm")],
      ["Hollin", cell(45_293, "dd/mm/yyyy")],
      ["Marsh", cell(45_294.5, "dd/mm/yyyy")],
    ];
    await running.client.createSource({ name: "both" });
    await running.client.importFile("both", body(await xlsx([{ name: "Log", rows }])));
    const [, inspected] = (await running.client.profile("both")).columns;
    expect(inspected?.recognition.verdict).toBe("certain");
    expect(inspected?.recognition.candidates[0]).toMatchObject({
      fits: 3,
      reading: { kind: "local", encoding: "text" },
    });
  });

  test("midnight is a time like any other where the sheet shows times", async () => {
    const time = (serial: number) => ({ serial, format: "dd/mm/yyyy hh:mm" });
    const rows = [
      ["lock", "inspected"],
      ["Tansy", time(45_292.75)],
      ["Hollin", time(45_293)],
    ];
    const { rows: records } = await taken(await xlsx([{ name: "Log", rows }]));
    expect(records.map(([, at]) => at)).toEqual(["2024-01-01T18:00:00", "2024-01-02T00:00:00"]);
  });

  test("an extension with the names of the workbook's own elements changes nothing", async () => {
    const day = { serial: 43_830, format: "dd/mm/yyyy" };
    const amount = { serial: 43_830, format: "0.00" };
    const rows = [
      ["lock", "inspected", "fee"],
      ["Tansy", day, amount],
    ];
    const plain = await xlsx([{ name: "Log", rows }], { is1904: true });
    const workbook = await changed(plain, "xl/workbook.xml", (text) =>
      text.replace(
        "</workbook>",
        '<extLst><ext xmlns:b="urn:brindle:extension" uri="{0}"><b:workbookPr chart="1"/>' +
          '<b:sheets><b:sheet name="Ghost"/></b:sheets></ext></extLst></workbook>',
      ),
    );
    // A format for what is conditional has a number of its own, which may be that of a style.
    const file = await changed(workbook, "xl/styles.xml", (text) =>
      text.replace(
        /<\/cellXfs>/,
        '</cellXfs><dxfs><dxf><numFmt numFmtId="2" formatCode="dd/mm/yyyy"/></dxf></dxfs>',
      ),
    );
    expect((await look(file)).sheets.map(({ name }) => name)).toEqual(["Log"]);
    const { report } = await taken(file);
    expect(report.dateCells).toEqual({ inspected: { count: 1, encoding: "text" } });
  });

  test("a date of OpenDocument is what the sheet shows, whatever zone is stored beside it", async () => {
    const cell = (serial: number, zone?: string) => ({
      serial,
      format: "",
      ...(zone === undefined ? {} : { zone }),
    });
    const rows = [
      ["lock", "inspected"],
      ["Tansy", cell(45_292, "Z")],
      ["Hollin", cell(45_293, "+00:00")],
      ["Marsh", cell(45_294.75, "Z")],
      ["Reed", cell(45_295)],
    ];
    const found = await taken(await ods([{ name: "Log", rows }]));
    expect(found.rows.map(([, inspected]) => inspected)).toEqual([
      "2024-01-01",
      "2024-01-02",
      "2024-01-03T18:00:00",
      "2024-01-04",
    ]);
    const { source } = found.report;
    const [, inspected] = (await running.client.profile(source)).columns;
    expect(inspected?.dateCells).toEqual({ count: 4, encoding: "text", zoned: 3 });
    expect(inspected?.recognition.verdict).not.toBe("certain");
    expect(inspected?.recognition.evidence).toContain("3 cells are stored with a time zone");
    expect(inspected?.reading?.kind).not.toBe("instant");
  });

  test.each([
    ["XLSX", xlsx],
    ["ODS", ods],
  ] as const)(
    "keeps the types of the cells of %s, also where a late cell differs",
    async (_, write) => {
      const rows = [
        ["lock", "fee", "open", "code", "depth"],
        ...Array.from({ length: 300 }, (__, index) => [
          `L-${index}`,
          index,
          index % 2 === 0,
          index === 290 ? "B-7" : index,
          index < 250 ? null : index / 4,
        ]),
      ];
      const { report, rows: cells } = await taken(await write([{ name: "Log", rows }]));
      expect(report).toMatchObject({ records: 300, refused: 0, columns: { fee: { read: 300 } } });
      expect(await typesOf(report.source)).toEqual({
        lock: "text",
        fee: "integer",
        open: "boolean",
        code: "text",
        depth: "decimal",
      });
      expect(cells[290]?.slice(0, 4)).toEqual(["L-290", "290", "true", "B-7"]);
      expect(report.file?.remarks).toEqual([
        "The column “code” holds 299 numbers and 1 other value: it is held as text.",
      ]);
    },
  );

  test("a table of a link to another document is no sheet", async () => {
    const rows = [["lock"], ["Tansy"]];
    const file = await changed(await ods([{ name: "Log", rows }]), "content.xml", (text) =>
      text.replace(
        "</office:spreadsheet>",
        '<table:dde-links><table:dde-link><table:table table:name="Linked"><table:table-row>' +
          '<table:table-cell office:value-type="string"><text:p>x</text:p></table:table-cell>' +
          "</table:table-row></table:table></table:dde-link></table:dde-links></office:spreadsheet>",
      ),
    );
    expect((await look(file)).sheets.map(({ name }) => name)).toEqual(["Log"]);
    expect((await taken(file)).rows).toEqual([["Tansy"]]);
  });

  test("takes the one sheet that has records, and of several asks for one", async () => {
    const notes: SheetSpec = { name: "Notes", rows: [["only a text"]] };
    const other: SheetSpec = { name: "Other", rows: [["x"], [7]] };
    expect((await look(await xlsx([notes, LOG]))).sheet).toBe("Log");
    const both = await xlsx([other, LOG]);
    const found = await refusal(taken(both));
    expect(found?.faults[0]).toMatchObject({ code: "file.sheet", accepted: "Other, Log" });
    expect((await taken(both, { sheet: "log" })).rows).toHaveLength(3);
    expect((await taken(both, { sheet: "1" })).rows).toEqual([["7"]]);
    expect((await refusal(taken(both, { sheet: "Logs" })))?.detail).toContain("no sheet “Logs”");
    expect((await look(both)).sheets.map(({ name, reason }) => [name, reason])).toEqual([
      ["Other", null],
      ["Log", null],
    ]);
  });

  test("says in words why a sheet has no headings, and takes it when they are given", async () => {
    const numbers = await xlsx([
      {
        name: "Plain",
        rows: [
          ["Tansy", 1],
          ["Hollin", 2],
        ],
      },
    ]);
    expect((await refusal(taken(numbers)))?.detail).toBe(
      "sheet “Plain”: row 1 cannot be the headings: B1 is not text; " +
        "name the rows above the headings with skip, and the rows of headings with headings",
    );
    expect((await taken(numbers, { headings: 0 })).rows).toEqual([
      ["Tansy", "1"],
      ["Hollin", "2"],
    ]);
    const totals = [
      ["a", "b"],
      ["1", "2"],
      ["3", "4"],
      ["sum", "6"],
      ["mean", "3"],
    ];
    const upTo = await look(await xlsx([{ name: "S", rows: totals }]), { lastRow: 3 });
    expect(upTo).toMatchObject({ records: 2, sample: [{ line: 2 }, { line: 3 }] });
    expect(upTo.remarks).toContain("2 records behind row 3, the last that is wanted, are omitted");
    const two = await xlsx([
      {
        name: "Two",
        rows: [
          ["Lock", null, "Gate"],
          ["name", "built", "seen"],
          ["Tansy", 1790, "x"],
        ],
      },
    ]);
    expect((await look(two, { headings: 2 })).headings).toEqual([
      "Lock name",
      "Lock built",
      "Gate seen",
    ]);
    const bare = await xlsx([
      {
        name: "Bare",
        rows: [
          ["a", "b"],
          ["x", "y", "z"],
        ],
      },
    ]);
    expect((await refusal(taken(bare)))?.detail).toContain("column C is used below it");
  });
});

describe("a file that is compressed with gzip", () => {
  test("is the same file", async () => {
    const text = "a,b\n1,2\n3,4\n";
    const { rows, report } = await taken(gzipSync(text));
    expect(rows).toEqual([
      ["1", "2"],
      ["3", "4"],
    ]);
    expect(report.records).toBe(2);
    const packed = await look(gzipSync(text));
    expect(packed).toMatchObject({ bytes: text.length, sha256: (await look(text)).sha256 });
    expect((await look(gzipSync(await xlsx([{ name: "S", rows: [["a"], ["x"]] }])))).format).toBe(
      "xlsx",
    );
  });

  test("is refused where it is cut off, damaged, or comes to far more than it is", async () => {
    const whole = gzipSync(Buffer.from("a,b\n" + "1,2\n".repeat(2_000)));
    expect((await refusal(look(whole.subarray(0, whole.length - 9))))?.detail).toMatch(
      /damaged or not whole/,
    );
    const damaged = Buffer.from(whole);
    damaged[12] = (damaged[12] ?? 0) ^ 0xff;
    expect((await refusal(look(damaged)))?.detail).toMatch(/damaged or not whole/);
    const bomb = gzipSync(Buffer.alloc(400 * 1024 ** 2, "a"));
    expect(await refusal(look(bomb))).toMatchObject({
      faults: [{ code: "file.limit", accepted: expect.stringContaining("200 times") }],
    });
  });
});

test("a compressed file that does not arrive whole changes nothing, and the next one is taken", async () => {
  const { client, service } = running;
  await client.createSource({ name: "cut-off", key: "a" });
  const lines = Array.from({ length: 50_000 }, (_, index) => `${index},${Math.random()}`);
  const packed = gzipSync(`a,b\n${lines.join("\n")}\n`);
  await new Promise<void>((resolve) => {
    const upload = request(`${service.url}/v1/sources/cut-off/records`, {
      method: "PUT",
      headers: {
        Authorization: `Bearer ${service.key}`,
        "Content-Type": "application/gzip",
        "Content-Length": packed.length,
      },
    });
    upload.on("error", () => resolve());
    upload.write(packed.subarray(0, packed.length / 2), () => upload.destroy());
  });
  // Nothing of it is left, and its place is given back.
  const isFree = async () => {
    const failed = client.importFile("cut-off", "a,b,c\n1,2,3\n", { columns: ["a", "z"] });
    return (await refusal(failed))?.status === 422;
  };
  await until(isFree);
  expect(await client.source("cut-off")).toMatchObject({ records: 0, importedAt: null });
  expect((await client.importFile("cut-off", new Uint8Array(packed))).records).toBe(50_000);
});

describe("records inside a JSON document", () => {
  const items = [
    { id: "W-1", raised: "1977", lock: { name: "Weir", at: { km: 1.5 } } },
    { id: "W-2", raised: "2010-12", lock: null },
  ];

  test.each([
    ["in one line", JSON.stringify({ total: 2, items })],
    ["in many lines", JSON.stringify({ total: 2, data: { rows: items, note: "[{" } }, null, 2)],
    ["with other lists", JSON.stringify({ tags: ["a", "b"], items, pages: [1, [{ no: 1 }]] })],
    ["with names that are escaped", '{"a\\"[b":{"items":' + JSON.stringify(items) + "}}"],
    ["first of all", JSON.stringify({ items, more: { deep: { er: null } } })],
  ])("are found %s", async (_, file) => {
    const { headings, records, sample, format, remarks } = await look(file);
    expect({ headings, records, format }).toEqual({
      ...{ headings: ["id", "raised", "lock"], records: 2, format: "json" },
    });
    expect(sample[0]?.cells).toEqual(["W-1", "1977", '{"name":"Weir","at":{"km":1.5}}']);
    expect(remarks.join()).toMatch(/The records were found at \$/);
  });

  test("have the parts of objects as columns where that is asked for", async () => {
    const { headings, sample } = await look(JSON.stringify({ items }), { flatten: true });
    expect(headings).toEqual(["id", "raised", "lock.name", "lock.at.km"]);
    expect(sample.map(({ cells }) => cells)).toEqual([
      ["W-1", "1977", "Weir", "1.5"],
      ["W-2", "2010-12", null, null],
    ]);
  });

  test("lose nothing where a name is that of a part too, and an empty column stays one", async () => {
    const clash = JSON.stringify([{ "lock.name": "Weir", lock: { name: "Vale Foot" } }]);
    expect((await refusal(look(clash, { flatten: true })))?.detail).toMatch(
      /“lock.name” is a name/,
    );
    expect((await look(clash)).headings).toEqual(["lock.name", "lock"]);
    const empty = JSON.stringify([{ lock: null, "lock.name": "Weir" }]);
    expect((await look(empty)).headings).toEqual(["lock", "lock.name"]);
    const odd = '[{"a":{"__proto__":1,"b":2},"__proto__":3}]';
    const { headings, sample } = await look(odd, { flatten: true });
    expect([headings, sample[0]?.cells]).toEqual([
      ["a.__proto__", "a.b", "__proto__"],
      ["1", "2", "3"],
    ]);
  });

  test("of one object are a record where that is said", async () => {
    const file = JSON.stringify({ id: 1, stops: [{ lock: "Weir" }] });
    const found = await look(file);
    expect(found.headings).toEqual(["lock"]);
    expect(found.remarks.join()).toMatch(/found at \$\.stops; with the format ndjson/);
    expect((await look(file, { format: "ndjson" })).headings).toEqual(["id", "stops"]);
  });

  test("are those of the list that is named, and several are never chosen from", async () => {
    const file = JSON.stringify({ works: items, errors: [{ code: 1 }] });
    const problem = await refusal(look(file));
    expect(problem?.faults).toMatchObject([{ parameter: "records", code: "file.broken" }]);
    expect(problem?.detail).toContain("$.works (2 objects), $.errors (1 object)");
    expect((await look(file, { records: "$.errors" })).records).toBe(1);
    expect((await look(file, { records: "$['works']" })).records).toBe(2);
    for (const records of ["$.none", "$.works[0]", "works"]) {
      expect(await refusal(look(file, { records }))).toMatchObject({
        faults: [{ parameter: "records" }],
      });
    }
    // One object a line is what it was.
    const lines = items.map((each) => JSON.stringify(each)).join("\n");
    expect(await look(lines)).toMatchObject({ format: "ndjson", records: 2 });
  });

  test.each([
    ["without a list", '{"total": 2}\n', /no list of objects|row/],
    ["that ends early", JSON.stringify({ items }).slice(0, -1), /ends before its document/],
    ["that ends in a record", JSON.stringify({ items }).slice(0, 60), /ends/],
    ["with something behind it", `${JSON.stringify({ items }, null, 1)} x`, /behind/],
    ["whose brackets do not match", '{\n"items": [{"a": 1}}', /brackets|ends/],
  ])("a document %s is refused, or its rows are", async (_, file, words) => {
    const found = await look(file, { format: "json" }).catch((error: unknown) => error);
    expect(found).toMatchObject({ message: expect.stringMatching(words) });
  });

  test("come whole from a document far larger than its head", async () => {
    const many = Array.from({ length: 20_000 }, (_, index) => ({
      id: index,
      note: "x".repeat(40),
    }));
    const file = JSON.stringify({ page: 1, items: many, total: many.length });
    expect(await look(file)).toMatchObject({ records: 20_000, refused: 0, format: "json" });
    // Objects one a line, of which the first alone is longer.
    const long = { id: 1, notes: Array.from({ length: 400 }, () => "x".repeat(1_000)) };
    const lines = `${JSON.stringify(long)}\n${JSON.stringify({ id: 2 })}\n`;
    expect(await look(lines)).toMatchObject({ records: 2, refused: 0, format: "ndjson" });
  });
});

describe("headings that repeat", () => {
  test("are refused with the way out, and numbered where that is wanted", async () => {
    const file = "work,raised,Raised,raised 2,raised\nW-1,a,b,c,d\n";
    const problem = await refusal(look(file));
    expect(problem?.faults[0]).toMatchObject({
      ...{ code: "file.headings", accepted: expect.stringContaining("duplicates=number") },
    });
    const { headings, remarks } = await look(file, { duplicates: "number" });
    expect(headings).toEqual(["work", "raised", "Raised 3", "raised 2", "raised 4"]);
    expect(remarks.slice(0, 2)).toEqual([
      "The heading “Raised” of column 3 stands before: it is “Raised 3”.",
      "The heading “raised” of column 5 stands before: it is “raised 4”.",
    ]);
    const { rows } = await taken(file, { duplicates: "number" });
    expect(rows).toEqual([["W-1", "a", "b", "c", "d"]]);
    const rowsOf = [
      ["day", "day"],
      [{ serial: 45_000, format: "yyyy-mm-dd" }, "x"],
    ];
    const sheet = await xlsx([{ name: "S", rows: rowsOf }]);
    const { report } = await taken(sheet, { duplicates: "number", headings: 1 });
    expect(report.file?.headings).toEqual(["day", "day 2"]);
    expect(Object.keys(report.dateCells ?? {})).toEqual(["day"]);
  });
});

describe("a column named id", () => {
  test("becomes the key where its values are different, which is said", async () => {
    const { client } = running;
    await client.createSource({ name: "with-id" });
    const report = await client.importFile("with-id", "id,a\nx,1\ny,2\n");
    expect(report.file?.remarks).toEqual([
      "The column “id” is the key: its values are all different.",
    ]);
    expect((await client.source("with-id")).key).toBe("id");
    // It stays the key, by which records are updated.
    await client.importFile("with-id", "id,a\ny,3\n", { mode: "update" });
    expect((await client.inspectRecord("with-id", "y")).cells[1]).toMatchObject({ raw: "3" });
  });

  test.each([
    ["repeat", "id,a\nx,1\nx,2\n", /the key “x” is that of another record/],
    ["are blank", "id,a\nx,1\n,2\n", /it has no id/],
  ])("is refused as a whole where its values %s, and nothing is kept", async (how, file, words) => {
    const name = `bad-${how.replace(" ", "-")}`;
    await running.client.createSource({ name });
    const problem = await refusal(running.client.importFile(name, file));
    expect(problem?.detail).toMatch(words);
    expect(problem?.faults).toMatchObject([{ path: "headings", value: "id" }]);
    expect(await running.client.source(name)).toMatchObject({ key: null, records: 0 });
  });
});

describe("what is no table", () => {
  test.each([
    ["a PDF", Buffer.from("%PDF-1.7 …"), "a PDF document"],
    ["an image", Buffer.from("89504e470d0a1a0a", "hex"), "a PNG image"],
    ["gzip within gzip", gzipSync(gzipSync("a,b\n1,2\n")), "compressed with gzip twice"],
    ["an old workbook", Buffer.from("d0cf11e0a1b11ae1", "hex"), "save it as .xlsx"],
    ["a page", Buffer.from("<!DOCTYPE html><p>Sign in"), "a page of markup"],
    [
      "rubbish",
      Buffer.from(Array.from({ length: 4_000 }, (_, index) => (index * 7) % 32)),
      "binary data",
    ],
    ["nothing", Buffer.alloc(0), "empty"],
    ["blanks", Buffer.from(" \n\n"), "empty"],
  ])("refuses %s in words", async (_, file, found) => {
    const problem = await refusal(look(file));
    expect(problem).toMatchObject({ status: 422, faults: [{ code: "file.type" }] });
    expect(problem?.detail).toContain(found);
  });

  test("refuses an archive that is no workbook, and one that is cut off", async () => {
    expect((await refusal(look(await zip({ "a.txt": "x" }))))?.detail).toContain("no workbook");
    const whole = await xlsx([{ name: "A", rows: [["a"], ["x"]] }]);
    const cut = whole.subarray(0, whole.length / 2);
    expect((await refusal(look(cut)))?.detail).toContain("damaged or not whole");
    const broken = await zip({
      "[Content_Types].xml": "<Types/>",
      "xl/workbook.xml": "<workbook>",
    });
    expect((await refusal(look(broken)))?.detail).toContain("not well-formed");
  });

  test("does not unpack a workbook that is a trap", async () => {
    const sheet = `<worksheet><sheetData>${" ".repeat(70_000_000)}</sheetData></worksheet>`;
    const bomb = await zip({
      "[Content_Types].xml": "<Types/>",
      "_rels/.rels": "<Relationships/>",
      "xl/workbook.xml": '<workbook><sheets><sheet name="A" id="r1"/></sheets></workbook>',
      "xl/_rels/workbook.xml.rels":
        '<Relationships><Relationship Id="r1" Type="x/worksheet" Target="sheet.xml"/></Relationships>',
      "xl/sheet.xml": sheet,
    });
    expect(bomb.length).toBeLessThan(1_000_000);
    const found = await refusal(look(bomb));
    expect(found).toMatchObject({ status: 413, faults: [{ code: "file.limit" }] });
    expect(found?.detail).toContain("would unpack to 700000");
  });

  test("ends at a line without end, in CSV and in NDJSON", async () => {
    const long = "x".repeat(9_000_000);
    for (const file of [`a,b\n1,"${long}`, `{"a":"${long}`, `[{"a":"${long}`]) {
      const found = await refusal(look(file));
      expect(found?.faults[0]).toMatchObject({ code: "file.limit" });
      expect(found?.detail).toContain("longer than 1000000 characters");
    }
  });

  test.each([
    ["a,a\n1,2\n", "the heading “a” stands twice, over columns 1 and 2"],
    ["a,,c\n1,2,3\n", "column 2 has no heading"],
    [`${"h".repeat(200)},b\n1,2\n`, "longer than 128 characters"],
  ])("refuses the headings of %j", async (file, message) => {
    expect((await refusal(look(file)))?.detail).toContain(message);
  });

  test("refuses more columns than a table can hold, and takes some of them", async () => {
    const names = Array.from({ length: 2_000 }, (_, index) => `c${index}`);
    const file = `${names.join(",")}\n${names.map(() => "1").join(",")}\n`;
    const found = await refusal(taken(file));
    expect(found).toMatchObject({ status: 413, faults: [{ parameter: "columns" }] });
    expect(found?.detail).toContain("2000 columns are more than one table");
    const { report, rows } = await taken(file, { columns: ["c0", "c1999"] });
    expect(report.file?.headings).toEqual(["c0", "c1999"]);
    expect(rows).toEqual([["1", "1"]]);
    const more = `${[...names, "last"].join(",")}\n`;
    expect((await refusal(look(more)))?.detail).toContain("2001 columns");
  });

  test("refuses parameters that it does not know, and values that are none of theirs", async () => {
    const address = (query: string) => `${running.service.url}/v1/files/inspect?${query}`;
    const send = async (query: string, type = "text/csv") => {
      const headers = { Authorization: `Bearer ${running.service.key}`, "Content-Type": type };
      const response = await fetch(address(query), { method: "POST", headers, body: "a\n1\n" });
      return { status: response.status, text: await response.text() };
    };
    expect((await send("delimitr=;")).text).toContain('"nearest":["delimiter"]');
    expect(await send("skip=-1")).toMatchObject({ status: 422 });
    expect(await send("skip=1&skip=2")).toMatchObject({ status: 422 });
    expect(await send("", "multipart/form-data")).toMatchObject({ status: 415 });
    expect(await send("")).toMatchObject({ status: 200 });
  });
});

describe("a look at a file", () => {
  test("says what its columns would be, what is in doubt, and what could be the key", async () => {
    const file = [
      "order;reported;cost;visits;code;note",
      "W-1;3 Feb 25;1.234,56 €;1.200;0012,5;weir",
      "W-2;2025-02-04;12,50 €;2.300;0013,5;gate",
      "W-3;soon;0,75 €;3.400;0014,5;weir",
    ].join("\n");
    const { columns, key, looked } = await look(file);
    expect({ key, looked }).toEqual({ key: "order", looked: 3 });
    const found = columns.map(({ name, type, written, isCertain, misses }) => [
      ...[name, type, written, isCertain, misses],
    ]);
    expect(found).toEqual([
      ["order", "text", null, false, 0],
      ["reported", "date", "yyyy-MM-dd or d MMM yy from 1970 on", true, 1],
      ["cost", "decimal", "1.234,56 €", true, 0],
      ["visits", "text", "1234.56", false, 0],
      ["code", "text", "1234,56", false, 0],
      ["note", "text", null, false, 0],
    ]);
    expect(columns[3]?.evidence).toMatch(/would be other numbers/);
    const json = JSON.stringify([
      { id: 1, lock: 2, open: true },
      { id: 2, lock: 2, open: null },
    ]);
    const typed = await look(json);
    expect(typed.key).toBe("id");
    expect(typed.columns.map(({ type }) => type)).toEqual(["text", "integer", "boolean"]);
    expect((await look("a,b\nx,1\nx,\n")).key).toBeNull();
  });
});
