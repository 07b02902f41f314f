import { createHash } from "node:crypto";
import { ZipFile } from "yazl";

/** An input that was made to cost as much as it can, and the call that takes it. */
export interface WorstInput {
  readonly name: string;
  readonly method: string;
  readonly path: string;
  readonly type: string;
  readonly body: Buffer | string;
  /** The status of its answer: any other says that it never came to the reader it is made for. */
  readonly status: number;
}

async function zipped(parts: Readonly<Record<string, string | Buffer>>): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, text] of Object.entries(parts))
    zip.addBuffer(Buffer.from(text as string), name);
  zip.end();
  const pieces: Buffer[] = [];
  for await (const piece of zip.outputStream) pieces.push(piece as Buffer);
  return Buffer.concat(pieces);
}

const MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
const RELATIONS = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";

/** A workbook whose one sheet is this text. */
function workbook(sheet: string, more: Readonly<Record<string, string>> = {}): Promise<Buffer> {
  return zipped({
    "[Content_Types].xml": "<Types/>",
    "_rels/.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${RELATIONS}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    "xl/workbook.xml": `<workbook xmlns="${MAIN}" xmlns:r="${RELATIONS}"><sheets><sheet name="Works" r:id="r1"/></sheets></workbook>`,
    "xl/_rels/workbook.xml.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${RELATIONS}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="r2" Type="${RELATIONS}/sharedStrings" Target="sharedStrings.xml"/></Relationships>`,
    "xl/sharedStrings.xml": `<sst xmlns="${MAIN}"/>`,
    "xl/worksheets/sheet1.xml": sheet,
    ...more,
  });
}

const sheetOf = (content: string) =>
  `<worksheet xmlns="${MAIN}"><sheetData>${content}</sheetData></worksheet>`;

const OFFICE = "urn:oasis:names:tc:opendocument:xmlns";
function document(content: string): Promise<Buffer> {
  return zipped({
    mimetype: "application/vnd.oasis.opendocument.spreadsheet",
    "content.xml": `<office:document-content xmlns:office="${OFFICE}:office:1.0" xmlns:table="${OFFICE}:table:1.0" xmlns:text="${OFFICE}:text:1.0"><office:body><office:spreadsheet><table:table table:name="Works">${content}</table:table></office:spreadsheet></office:body></office:document-content>`,
  });
}

/** Text that no compression makes small. */
function noise(bytes: number): string {
  let text = "";
  for (let count = 0; text.length < bytes; count++) {
    text += createHash("sha256").update(String(count)).digest("base64");
  }
  return text.slice(0, bytes);
}

const repeat = (text: string, times: number) => text.repeat(times);
const json = "application/json";
const file = (name: string, type: string, body: Buffer | string, status = 413): WorstInput => ({
  name,
  method: "POST",
  path: "/v1/files/inspect",
  type,
  body,
  status,
});
/** A document that a call takes as JSON. */
const posted = (name: string, path: string, document: unknown, status: number): WorstInput => ({
  name,
  method: "POST",
  path,
  type: json,
  body: JSON.stringify(document),
  status,
});

/** A calendar of fifty events that recur by one rule. */
function calendarOf(start: string, rule: string): string {
  const event = `BEGIN:VEVENT\nDTSTART;VALUE=DATE:${start}\nRRULE:${rule}\nEND:VEVENT\n`;
  return `BEGIN:VCALENDAR\n${repeat(event, 50)}END:VCALENDAR\n`;
}

/** Inputs that take the most from each reader of what callers send. */
export async function worstInputs(listing: string): Promise<readonly WorstInput[]> {
  const filtered = (name: string, filter: string, status = 422) =>
    posted(name, `/v1/listings/${listing}/records/query`, { filter }, status);
  const xml = "application/octet-stream";
  const header = `<row r="1"><c t="inlineStr"><is><t>id</t></is></c></row>`;
  return [
    file(
      "a sheet of nested elements",
      xml,
      await workbook(sheetOf(header + repeat("<a>", 900_000))),
    ),
    file(
      "a sheet of nested elements, each with a namespace",
      xml,
      await workbook(sheetOf(header + repeat('<p:a xmlns:p="u">', 300_000))),
    ),
    file(
      "a sheet whose element has very many attributes",
      xml,
      await workbook(
        sheetOf(
          `${header}<row ${Array.from({ length: 300_000 }, (_, index) => `a${index}="1"`).join(" ")}/>`,
        ),
      ),
    ),
    file(
      "a sheet of one cell without an end",
      xml,
      await workbook(sheetOf(`${header}<row><c><v>${noise(5_000_000)}`)),
      422,
    ),
    file(
      "a sheet of very many empty rows",
      xml,
      await workbook(sheetOf(header + repeat("<row/>", 5_000_000))),
    ),
    file(
      "shared strings of very many pieces",
      xml,
      await workbook(sheetOf(header), {
        "xl/sharedStrings.xml": `<sst xmlns="${MAIN}"><si>${repeat("<t>a</t>", 3_000_000)}</si></sst>`,
      }),
    ),
    file(
      "a document of rows and cells that are repeated",
      xml,
      await document(
        `<table:table-row><table:table-cell office:value-type="string"><text:p>id</text:p></table:table-cell></table:table-row>${repeat(
          '<table:table-row table:number-rows-repeated="10000"><table:table-cell table:number-columns-repeated="1000" office:value-type="float" office:value="1"/></table:table-row>',
          20_000,
        )}`,
      ),
    ),
    file("nested arrays of JSON", json, `[${repeat("[", 3_900_000)}`),
    file(
      "a record of nested objects",
      json,
      `[{"a":${repeat('{"a":', 700_000)}1${repeat("}", 700_000)}}]`,
    ),
    file(
      "a record of very many names",
      json,
      `[{${Array.from({ length: 200_000 }, (_, index) => `"n${index}":1`).join(",")}}]`,
    ),
    file("one line of very many cells", "text/csv", `${repeat("a,", 1_900_000)}\n1\n`),
    file("quotes without an end", "text/csv", `id,note\n1,"${repeat('""', 1_900_000)}\n`),
    file(
      "very many short lines of quotes",
      "text/csv",
      `id;note\n${repeat('"";"""a"""\n', 800_000)}`,
      200,
    ),
    file("text of many encodings", "text/csv", Buffer.from(noise(4_000_000), "latin1")),
    {
      name: "nested YAML",
      method: "PUT",
      path: "/v1/listings/worst",
      type: "application/yaml",
      body: repeat("[", 60_000),
      status: 400,
    },
    {
      name: "YAML of nested lists",
      method: "PUT",
      path: "/v1/listings/worst",
      type: "application/yaml",
      body: repeat("- ", 30_000),
      status: 400,
    },
    {
      name: "YAML of very many keys",
      method: "PUT",
      path: "/v1/listings/worst",
      type: "application/yaml",
      body: Array.from({ length: 990 }, (_, index) => `key${index}: 1`).join("\n"),
      status: 422,
    },
    {
      name: "a declaration of very many parameters",
      method: "PUT",
      path: "/v1/listings/worst",
      type: json,
      body: JSON.stringify({
        source: "works",
        mainDate: "raised",
        parameters: Array.from({ length: 9_000 }, (_, index) => ({
          name: `p${index}`,
          column: "raised",
          comparison: "from",
          type: "date",
        })),
      }),
      status: 422,
    },
    {
      name: "JSON of very many keys",
      method: "PUT",
      path: "/v1/listings/worst",
      type: json,
      body: JSON.stringify(
        Object.fromEntries(Array.from({ length: 60_000 }, (_, index) => [`key${index}`, 1])),
      ),
      status: 422,
    },
    {
      name: "very many unknown parameters",
      method: "GET",
      path: `/v1/listings/${listing}/records?${Array.from({ length: 1_800 }, (_, n) => `p${n}=1`).join("&")}`,
      type: json,
      body: "",
      status: 422,
    },
    {
      name: "nested JSON",
      method: "PUT",
      path: "/v1/listings/worst",
      type: json,
      body: repeat('{"a":', 150_000),
      status: 400,
    },
    filtered(
      "a filter of nested brackets",
      `${repeat("(", 120_000)}cost > 1${repeat(")", 120_000)}`,
    ),
    filtered(
      "a filter of very many conditions",
      Array.from({ length: 12_000 }, (_, n) => `cost <> ${n}`).join(" AND "),
    ),
    filtered(
      "as many conditions as a filter may have",
      Array.from({ length: 490 }, (_, n) => `cost<>${n}`).join(" AND "),
      200,
    ),
    filtered(
      "as many values as a filter may have",
      `cost IN (${Array.from({ length: 990 }, (_, n) => n).join(",")})`,
      200,
    ),
    filtered(
      "as many windows as a filter may have",
      Array.from({ length: 490 }, (_, n) => `inWindow(raised,'day-${n}/now')`).join(" OR "),
      200,
    ),
    filtered(
      "recurring windows in a filter",
      Array.from(
        { length: 20 },
        (_, n) =>
          `inWindow(passed,'P${99 - (n % 9)}Y/day;BYDAY=MO,WE;BYMONTHDAY=1..${1 + (n % 20)}')`,
      ).join(" OR "),
      200,
    ),
    filtered(
      "a window of very many alternatives in a filter",
      `inWindow(raised,'${Array.from({ length: 2_800 }, (_, n) => `day-${n}`).join("|")}')`,
    ),
    posted(
      "a recurring window of every hour",
      "/v1/windows/resolve",
      {
        window:
          "0001/9999;BYMONTH=1..12;BYMONTHDAY=1..31;BYDAY=MO,TU,WE,TH,FR,SA,SU;BYHOUR=0..22,23",
        zone: "Europe/London",
      },
      200,
    ),
    posted(
      "a recurring window whose parts never meet",
      "/v1/windows/resolve",
      { window: "0001/9999;BYMONTH=2;BYMONTHDAY=30,31;BYWEEKNO=40..45", zone: "Europe/London" },
      200,
    ),
    posted(
      "a window of very many working days",
      "/v1/windows/resolve",
      { window: "workday-199999/now", zone: "Europe/London" },
      200,
    ),
    posted(
      "a window of too many alternatives",
      "/v1/windows/resolve",
      {
        window: Array.from({ length: 15_000 }, (_, n) => `workday-${n}/now`).join("|"),
        zone: "Europe/London",
      },
      422,
    ),
    posted(
      "as many recurring alternatives as a window may have",
      "/v1/windows/resolve",
      {
        window: Array.from({ length: 80 }, (_, n) => `P${900 - n}Y/now;BYHOUR=1,3`).join("|"),
        zone: "Europe/London",
      },
      200,
    ),
    posted(
      "a window of two hours a day that grows by the day",
      "/v1/windows/resolve",
      { window: "0001/day;BYHOUR=1,3", zone: "Europe/London" },
      200,
    ),
    posted(
      "windows of all time beside one that stays as it is for long",
      "/v1/windows/resolve",
      {
        window: `${Array.from({ length: 60 }, () => "0001/day+1;BYHOUR=1,3").join("|")}|minute;BYMONTH=2;BYMONTHDAY=30`,
        zone: "Europe/London",
      },
      200,
    ),
    posted(
      "as many recurring alternatives as a window may have, of all time",
      "/v1/windows/resolve",
      {
        window: Array.from(
          { length: 60 },
          (_, n) => `../..;BYMONTHDAY=${(n % 28) + 1};BYWEEKNO=53`,
        ).join("|"),
        zone: "Europe/London",
      },
      200,
    ),
    posted(
      "dates of very many patterns",
      "/v1/dates/read",
      {
        values: Array.from({ length: 10_000 }, (_, n) => `${n % 31}. März ${1900 + (n % 200)}`),
        reading: {
          kind: "date",
          encoding: "text",
          patterns: Array.from(
            { length: 20 },
            (_, n) => `d${repeat(" ", n)}MMMM${"/".repeat(n)}yyyy`,
          ),
          locales: ["de", "fr", "es", "it", "nl", "pl", "pt", "en"],
        },
      },
      200,
    ),
    posted(
      "a filter to translate",
      "/v1/filters/translate",
      {
        database: "mariadb",
        table: "works",
        columns: { cost: { type: "integer" } },
        filter: `${repeat("NOT ", 200_000)}cost > 1`,
      },
      422,
    ),
    {
      name: "a calendar of recurring events",
      method: "PUT",
      path: "/v1/holidays/worst",
      type: "text/calendar",
      body: calendarOf("19000101", "FREQ=DAILY;BYDAY=MO,TU,WE;BYMONTHDAY=31;BYMONTH=2"),
      status: 200,
    },
    {
      name: "a calendar of rules that are counted from the year 1",
      method: "PUT",
      path: "/v1/holidays/worst",
      type: "text/calendar",
      body: calendarOf("00010101", "FREQ=DAILY;COUNT=9000;BYDAY=FR;BYMONTHDAY=13;BYWEEKNO=40"),
      status: 422,
    },
    {
      name: "a calendar of nested components",
      method: "PUT",
      path: "/v1/holidays/worst",
      type: "text/calendar",
      body: `BEGIN:VCALENDAR\n${repeat("BEGIN:VEVENT\n", 60_000)}`,
      status: 422,
    },
  ];
}
