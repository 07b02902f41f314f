import { createHash } from "node:crypto";
import { ZipFile } from "yazl";

/** An input that was made to cost as much as it can, and the call that takes it. */
export interface WorstInput {
  readonly name: string;
  readonly method: string;
  readonly path: string;
  readonly type: string;
  readonly body: Buffer | string;
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
const file = (name: string, type: string, body: Buffer | string): WorstInput => ({
  name,
  method: "POST",
  path: "/v1/files/inspect",
  type,
  body,
});

/** Inputs that take the most from each reader of what callers send. */
export async function worstInputs(listing: string): Promise<readonly WorstInput[]> {
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
    ),
    file("text of many encodings", "text/csv", Buffer.from(noise(4_000_000), "latin1")),
    {
      name: "nested YAML",
      method: "PUT",
      path: "/v1/listings/worst",
      type: "application/yaml",
      body: repeat("[", 60_000),
    },
    {
      name: "YAML of nested lists",
      method: "PUT",
      path: "/v1/listings/worst",
      type: "application/yaml",
      body: repeat("- ", 30_000),
    },
    {
      name: "YAML of very many keys",
      method: "PUT",
      path: "/v1/listings/worst",
      type: "application/yaml",
      body: Array.from({ length: 4_000 }, (_, index) => `key${index}: 1`).join("\n"),
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
    },
    {
      name: "JSON of very many keys",
      method: "PUT",
      path: "/v1/listings/worst",
      type: json,
      body: JSON.stringify(
        Object.fromEntries(Array.from({ length: 60_000 }, (_, index) => [`key${index}`, 1])),
      ),
    },
    {
      name: "very many unknown parameters",
      method: "GET",
      path: `/v1/listings/${listing}/records?${Array.from({ length: 1_800 }, (_, n) => `p${n}=1`).join("&")}`,
      type: json,
      body: "",
    },
    {
      name: "nested JSON",
      method: "PUT",
      path: "/v1/listings/worst",
      type: json,
      body: repeat('{"a":', 150_000),
    },
    {
      name: "a filter of nested brackets",
      method: "POST",
      path: `/v1/listings/${listing}/records/query`,
      type: json,
      body: JSON.stringify({ filter: `${repeat("(", 120_000)}cost > 1${repeat(")", 120_000)}` }),
    },
    {
      name: "a filter of very many conditions",
      method: "POST",
      path: `/v1/listings/${listing}/records/query`,
      type: json,
      body: JSON.stringify({
        filter: Array.from({ length: 12_000 }, (_, n) => `cost <> ${n}`).join(" AND "),
      }),
    },
    {
      name: "a filter of very many values",
      method: "POST",
      path: `/v1/listings/${listing}/records/query`,
      type: json,
      body: JSON.stringify({
        filter: `cost IN (${Array.from({ length: 40_000 }, (_, n) => n).join(",")})`,
      }),
    },
    {
      name: "a filter of very many windows",
      method: "POST",
      path: `/v1/listings/${listing}/records/query`,
      type: json,
      body: JSON.stringify({
        filter: Array.from({ length: 5_000 }, (_, n) => `inWindow(raised,'day-${n}/now')`).join(
          " OR ",
        ),
      }),
    },
    {
      name: "very many windows in a list",
      method: "POST",
      path: `/v1/listings/${listing}/records/query`,
      type: json,
      body: JSON.stringify({
        filter: `inWindow(raised,'${Array.from({ length: 20_000 }, (_, n) => `day-${n}`).join(",")}')`,
      }),
    },
    {
      name: "a recurring window of every second",
      method: "POST",
      path: "/v1/windows/resolve",
      type: json,
      body: JSON.stringify({
        windows: [
          `0001/9999;BYMONTH=1..12;BYMONTHDAY=1..31;BYDAY=MO,TU,WE,TH,FR,SA,SU;BYHOUR=0..23`,
        ],
      }),
    },
    {
      name: "very many windows",
      method: "POST",
      path: "/v1/windows/resolve",
      type: json,
      body: JSON.stringify({
        windows: Array.from({ length: 20_000 }, (_, n) => `workday-${n}/now`),
      }),
    },
    {
      name: "dates of very many patterns",
      method: "POST",
      path: "/v1/dates/read",
      type: json,
      body: JSON.stringify({
        values: Array.from({ length: 10_000 }, (_, n) => `${n % 31}. March ${1900 + (n % 200)}`),
      }),
    },
    {
      name: "a filter to translate",
      method: "POST",
      path: "/v1/filters/translate",
      type: json,
      body: JSON.stringify({ filter: repeat("NOT ", 200_000), columns: {} }),
    },
    {
      name: "a calendar of recurring events",
      method: "PUT",
      path: "/v1/holidays/worst",
      type: "text/calendar",
      body: `BEGIN:VCALENDAR\n${repeat(
        "BEGIN:VEVENT\nDTSTART;VALUE=DATE:19000101\nRRULE:FREQ=DAILY;BYDAY=MO,TU,WE;BYMONTHDAY=31;BYMONTH=2\nEND:VEVENT\n",
        50,
      )}END:VCALENDAR\n`,
    },
    {
      name: "a calendar of nested components",
      method: "PUT",
      path: "/v1/holidays/worst",
      type: "text/calendar",
      body: `BEGIN:VCALENDAR\n${repeat("BEGIN:VEVENT\n", 60_000)}`,
    },
  ];
}
