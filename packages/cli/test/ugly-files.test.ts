import { once } from "node:events";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { changed, ods, xlsx, type CellSpec } from "../../../test/workbooks.js";
import { orismaText, type Surroundings } from "./process.js";

let running: TestService;
const scratch = mkdtempSync(join(tmpdir(), "orisma-ugly-"));

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 2, 14) });
});
afterAll(async () => {
  rmSync(scratch, { recursive: true, force: true });
  await running.end();
});

async function orisma(words: readonly string[], more: Partial<Surroundings> = {}) {
  const ran = await orismaText(words, { state: running.state, cwd: scratch, ...more });
  expect(ran).toMatchObject({ code: 0 });
  return ran.text;
}

/** A file, the options of its import, and a request whose records must be some and not others. */
interface UglyFile {
  readonly content: string | Uint8Array | Promise<Uint8Array>;
  readonly options?: readonly string[];
  readonly mainDate: string;
  readonly request: Readonly<Record<string, string>>;
  readonly ids: readonly unknown[];
}

const TOLLS = {
  page: { number: 1, of: 1 },
  tolls: [
    { id: 1, paid: "2025-02-01", lock: { name: "Weir" }, amount: "1.234,56 €" },
    { id: 2, paid: "2025-02-14", lock: { name: "Vale Foot" }, amount: "12,50 €" },
    { id: 3, paid: "2025-03-01", lock: null, amount: "0,75 €" },
  ],
};

/** For a file of 151 columns. */
const WIDE = Array.from({ length: 149 }, (_, index) => index);

/** 1 February 2025, as a workbook counts its days. */
const FEBRUARY = 45_689;
const shown = (serial: number, more = {}) => ({ serial, format: "dd/mm/yyyy", ...more });
/** A log of inspections from 31 January 2025 on, a day a record. */
const log = (day: (index: number) => CellSpec): CellSpec[][] => [
  ["id", "inspected", "lock"],
  ...Array.from({ length: 30 }, (_, index) => [index + 1, day(index - 1), "Weir"]),
];
const IN_FEBRUARY = Array.from({ length: 28 }, (_, index) => String(29 - index));

/** A workbook that counts its days from 1904, with an extension that names elements as it does. */
async function from1904(): Promise<Uint8Array> {
  const rows = log((index) => shown(FEBRUARY - 1_462 + index));
  const plain = await xlsx([{ name: "Log", rows }], { is1904: true });
  return changed(plain, "xl/workbook.xml", (text) =>
    text.replace(
      "</workbook>",
      '<extLst><ext xmlns:b="urn:brindle:extension" uri="{0}"><b:workbookPr chart="1"/></ext></extLst></workbook>',
    ),
  );
}

const FILES: Readonly<Record<string, UglyFile>> = {
  "tolls in an object.json": {
    content: JSON.stringify(TOLLS),
    options: ["--flatten"],
    mainDate: "paid",
    request: { paid: "2025-02", filter: "amount >= 12.5 AND \"lock.name\" = 'Weir'" },
    ids: ["1"],
  },
  "packed.json.gz": {
    content: gzipSync(JSON.stringify(TOLLS, null, 2)),
    mainDate: "paid",
    request: { paid: "2025-02" },
    ids: ["2", "1"],
  },
  "three layouts.csv": {
    content: 'work,raised\nW-1,3 Feb 25\nW-2,2025-02-04\nW-3,"February 27, 2025"\nW-4,12 Mar 25\n',
    options: ["--key", "work"],
    mainDate: "raised",
    request: { raised: "2025-02" },
    ids: ["W-3", "W-2", "W-1"],
  },
  "commas.csv": {
    content:
      "work;raised;cost;phone;postcode\nW-1;1.2.2025;1.234,56;0161 496 0000;BV1 2AA\nW-2;13.2.2025;-3,5;020 7946 0958;BV12 3AB\n",
    options: ["--key", "work", "--date", "raised=d.M.yyyy"],
    mainDate: "raised",
    request: { filter: "cost < 0 OR phone = '0161'" },
    ids: ["W-2"],
  },
  "calendar.csv": {
    content: "uid,begins\n1,20250201T100000Z\n2,20250301T100000Z\n",
    options: ["--key", "uid"],
    mainDate: "begins",
    request: { begins: "2025-02" },
    ids: ["1"],
  },
  "twice.csv": {
    content: "work,raised,raised\nW-1,2025-02-01,weir\nW-2,2025-03-01,gate\n",
    options: ["--key", "work", "--duplicates", "number"],
    mainDate: "raised",
    request: { raised: "2025-02", filter: "\"raised 2\" = 'weir'" },
    ids: ["W-1"],
  },
  "wide.csv": {
    content: Buffer.from(
      `work,raised,${WIDE.map((each) => `c${each}`).join(",")}\nW-1,2025-02-01,${WIDE.join(",")}\nW-2,2025-03-01,${WIDE.join(",")}\n`,
      "utf16le",
    ),
    options: ["--key", "work", "--encoding", "utf-16le"],
    mainDate: "raised",
    request: { raised: "2025-02" },
    ids: ["W-1"],
  },
  "films.json": {
    content: JSON.stringify({
      films: [
        { id: 1, released: "1977" },
        { id: 2, released: "2010-12" },
        { id: 3, released: "1977-05-04" },
      ],
    }),
    options: ["--date", "released", "--partial", "start"],
    mainDate: "released",
    request: { released: "1977" },
    ids: ["3", "1"],
  },
  // Numbers that the sheet does not show as dates are none: there the third record of February has one.
  "plain and dated.xlsx": {
    content: xlsx([
      { name: "Log", rows: log((at) => (at === 2 ? FEBRUARY + at : shown(FEBRUARY + at))) },
    ]),
    mainDate: "inspected",
    request: { inspected: "2025-02" },
    ids: IN_FEBRUARY.filter((id) => id !== "4"),
  },
  "counted from 1904.xlsx": {
    content: from1904(),
    mainDate: "inspected",
    request: { inspected: "2025-02" },
    ids: IN_FEBRUARY,
  },
  "midnights.ods": {
    content: ods([{ name: "Log", rows: log((at) => shown(FEBRUARY + at, { zone: "Z" })) }]),
    options: ["--date", "inspected"],
    mainDate: "inspected",
    request: { inspected: "2025-02" },
    ids: IN_FEBRUARY,
  },
  "notes below.xlsx": {
    content: xlsx([
      { name: "Log", rows: [...log((at) => shown(FEBRUARY + at)), [], ["Signed by the engineer"]] },
    ]),
    mainDate: "inspected",
    request: { inspected: "2025-02" },
    ids: IN_FEBRUARY,
  },
  "two sheets.xlsx": {
    content: xlsx([
      {
        name: "Locks",
        rows: [
          ["id", "lock"],
          [1, "Weir"],
        ],
      },
      { name: "Log", rows: log((at) => shown(FEBRUARY + at)) },
    ]),
    options: ["--sheet", "Log"],
    mainDate: "inspected",
    request: { inspected: "2025-02" },
    ids: IN_FEBRUARY,
  },
  "two spaces.csv": {
    content:
      'mail,sent\nM-1,"Sat,  1 Feb 2025 10:00:00 +0000"\nM-2,"Sat,  1 Mar 2025 10:00:00 +0000"\n',
    options: ["--key", "mail"],
    mainDate: "sent",
    request: { sent: "2025-02" },
    ids: ["M-1"],
  },
};

describe("from an ugly file to an endpoint", () => {
  test.each(Object.entries(FILES))("%s takes three commands", async (file, ugly) => {
    writeFileSync(join(scratch, file), await ugly.content);
    const source = file
      .replace(/\.gz$/, "")
      .replace(/\.[a-z]+$/, "")
      .replaceAll(" ", "-");
    await orisma(["import", file, "--certain", ...(ugly.options ?? [])]);
    const declaration = await orisma(["listings", "new", source, "--main-date", ugly.mainDate]);
    writeFileSync(join(scratch, "new.yaml"), `${declaration}filter: { columns: all }\n`);
    await orisma(["listings", "declare", "new.yaml"]);
    const { records } = await running.client.records(source, ugly.request);
    expect(records.map(({ id }) => id)).toEqual(ugly.ids);
  });
});

describe("orisma import", () => {
  test("takes a file from standard input, which needs a name", async () => {
    const input = gzipSync("id,raised\n1,2025-02-01\n");
    const text = await orisma(["import", "-", "--name", "piped", "--certain"], { input });
    expect(text).toContain("piped: 1 record");
    expect(text).toContain("raised is read as yyyy-MM-dd");
    const unnamed = await orismaText(["import", "-"], { state: running.state, input });
    expect(unnamed).toMatchObject({ code: 2, text: expect.stringContaining("--name") });
  });

  test("takes a file from an address, named by its path, and leaves nothing where there is none", async () => {
    const server = createServer((request, response) => {
      if (request.url === "/files/fetched.csv?year=2025") response.end("id,raised\n1,2025-02-01\n");
      else response.writeHead(404).end();
    });
    server.listen(0, "127.0.0.1");
    await once(server, "listening");
    const place = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const missing = await orismaText(["import", `${place}/fetched.csv`], { state: running.state });
    expect(missing).toEqual({ code: 1, text: `orisma: ${place}/fetched.csv answered with 404\n` });
    expect((await running.client.sources()).map(({ name }) => name)).not.toContain("fetched");
    const text = await orisma(["import", `${place}/files/fetched.csv?year=2025`, "--certain"]);
    expect(text).toContain("fetched: 1 record");
    expect(text).toContain("raised is read as yyyy-MM-dd");
    server.close();
    server.closeAllConnections();
    const away = await orismaText(["import", `${place}/other.csv`], { state: running.state });
    expect(away).toMatchObject({ code: 1, text: expect.stringContaining("does not answer") });
  });

  test("takes forms by example, words for yes and no, and several patterns of a column", async () => {
    const lines = ["W-1;1.234,56 €;1 200;ja;2025-02-01", "W-2;(3,50 €);7;nein;02/03/2025"];
    writeFileSync(
      join(scratch, "forms.csv"),
      `work;cost;visits;paid;raised\n${lines.join("\n")}\n`,
    );
    const options = [
      ...[
        "--decimal",
        "cost=(1.234,56 €)",
        "--integer",
        "visits=1 234",
        "--boolean",
        "paid=ja/nein",
      ],
      ...["--date", "raised", "--date", "raised=dd/MM/yyyy"],
    ];
    const text = await orisma(["import", "forms.csv", "--key", "work", ...options]);
    expect(text.match(/^(?:cost|visits|paid|raised) +2 +0 +0$/gm)).toHaveLength(4);
    const profile = await orisma(["sources", "profile", "forms"]);
    expect(profile).toMatch(/cost +decimal .*1\.234,56 € or \(1\.234,56 €\)/);
    expect(profile).toMatch(/visits +integer .*1 234/);
    const { columns } = await running.client.source("forms");
    expect(columns.find(({ name }) => name === "raised")).toMatchObject({
      reading: { patterns: ["iso8601", "dd/MM/yyyy"] },
    });
  });

  test.each([
    [["--decimal", "cost=1.234"], /--decimal cost=1\.234: .*does not say/],
    [["--integer", "cost=many"], /--integer cost=many/],
    [["--boolean", "paid=ja/ja"], /“ja” cannot mean both/],
    [["--boolean", "paid=ja"], /each require a word/],
  ])("%s is refused before anything is sent", async (options, words) => {
    const ran = await orismaText(["import", "forms.csv", "--name", "never", ...options], {
      ...{ state: running.state, cwd: scratch },
    });
    expect(ran).toMatchObject({ code: 2, text: expect.stringMatching(words) });
  });
});
