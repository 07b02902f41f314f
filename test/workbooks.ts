import { text as textOf } from "node:stream/consumers";
import ExcelJS from "exceljs";
import { fromBufferPromise as openBuffer } from "yauzl";
import { ZipFile } from "yazl";

/** A cell of a test's sheet: a serial with its number format is a date. */
export type CellSpec =
  | string
  | number
  | boolean
  | null
  | {
      readonly serial: number;
      readonly format: string;
      /** For OpenDocument: what stands behind the date and time, such as a zone. */
      readonly zone?: string;
    };

export interface SheetSpec {
  readonly name: string;
  readonly rows: readonly (readonly CellSpec[])[];
}

/** A workbook of Office Open XML, written by a library that others use too. */
export async function xlsx(
  sheets: readonly SheetSpec[],
  { is1904 = false }: { readonly is1904?: boolean } = {},
): Promise<Buffer> {
  const workbook = new ExcelJS.Workbook();
  workbook.properties.date1904 = is1904;
  for (const { name, rows } of sheets) {
    const sheet = workbook.addWorksheet(name);
    rows.forEach((cells, row) => {
      cells.forEach((spec, column) => {
        if (spec === null) return;
        const cell = sheet.getCell(row + 1, column + 1);
        if (typeof spec !== "object") cell.value = spec;
        else {
          cell.value = spec.serial;
          cell.numFmt = spec.format;
        }
      });
    });
  }
  return Buffer.from(await workbook.xlsx.writeBuffer());
}

/** A workbook with a part changed, as another program may have written it. */
export async function changed(
  file: Buffer,
  part: string,
  change: (text: string) => string,
): Promise<Buffer> {
  const archive = await openBuffer(file, { lazyEntries: true });
  const parts: Record<string, string> = {};
  for await (const entry of archive.eachEntry()) {
    if (entry.fileName.endsWith("/")) continue;
    const text = await textOf(await archive.openReadStreamPromise(entry));
    parts[entry.fileName] = entry.fileName === part ? change(text) : text;
  }
  if (parts[part] === undefined) throw new Error(`the workbook has no ${part}`);
  return zip(parts);
}

/** A spreadsheet of OpenDocument, as its programs write one: empty cells and rows repeated. */
export function ods(sheets: readonly SheetSpec[]): Promise<Buffer> {
  const tables = sheets.map(({ name, rows }) => {
    const lines = rows.map(
      (cells) =>
        `<table:table-row>${cells.map(odsCell).join("")}` +
        `<table:table-cell table:number-columns-repeated="16000"/></table:table-row>`,
    );
    const rest =
      '<table:table-row table:number-rows-repeated="1048000">' +
      '<table:table-cell table:number-columns-repeated="16384"/></table:table-row>';
    return `<table:table table:name="${name}">${lines.join("")}${rest}</table:table>`;
  });
  const spaces = ["office", "table", "text"]
    .map((space) => `xmlns:${space}="urn:oasis:names:tc:opendocument:xmlns:${space}:1.0"`)
    .join(" ");
  return zip({
    mimetype: "application/vnd.oasis.opendocument.spreadsheet",
    "content.xml":
      `<?xml version="1.0"?><office:document-content ${spaces}><office:body>` +
      `<office:spreadsheet>${tables.join("")}</office:spreadsheet></office:body>` +
      "</office:document-content>",
  });
}

function odsCell(spec: CellSpec): string {
  const cell = (type: string, value: string, text: string) =>
    `<table:table-cell office:value-type="${type}" ${value}><text:p>${text}</text:p>` +
    "</table:table-cell>";
  if (spec === null) return "<table:table-cell/>";
  if (typeof spec === "string") return cell("string", "", spec);
  if (typeof spec === "number") return cell("float", `office:value="${spec}"`, String(spec));
  if (typeof spec === "boolean") {
    return cell("boolean", `office:boolean-value="${spec}"`, String(spec).toUpperCase());
  }
  const iso = new Date(Date.UTC(1899, 11, 30) + spec.serial * 86_400_000).toISOString();
  const { zone = "" } = spec;
  const isDay = Number.isInteger(spec.serial) && zone === "";
  const value = isDay ? iso.slice(0, 10) : `${iso.slice(0, 19)}${zone}`;
  return cell("date", `office:date-value="${value}"`, "as it is shown");
}

/** An archive of some parts. */
export function zip(parts: Readonly<Record<string, string>>): Promise<Buffer> {
  const archive = new ZipFile();
  for (const [name, text] of Object.entries(parts)) archive.addBuffer(Buffer.from(text), name);
  archive.end();
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    archive.outputStream.on("data", (chunk: Buffer) => chunks.push(chunk));
    archive.outputStream.once("end", () => resolve(Buffer.concat(chunks)));
    archive.outputStream.once("error", reject);
  });
}
