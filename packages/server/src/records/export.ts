import { once } from "node:events";
import type { Response } from "express";
import {
  MARIADB,
  pageFields,
  pageParts,
  pageStatement,
  type PageQuery,
  type RecordAnswer,
  type RecordValue,
} from "@orisma/core";
import { stringify } from "csv-stringify/sync";
import ExcelJS from "exceljs";
import { PageReader } from "./answer.js";
import type { Format } from "./envelope.js";
import type { PreparedRequest } from "./prepared.js";
import type { Records } from "./service.js";

/** Seconds that one export may take. */
const EXPORT_LIMIT_S = 3_600;
/** Records that are written at once. */
const BATCH = 500;
/** Records of all pages of an export over several tables. */
const PAGE = 2_000;
/** More than any table has, since the database wants some limit. */
const ALL = Number.MAX_SAFE_INTEGER;
/** Rows of a sheet, its heading included (ECMA-376; the limit of the common programs). */
export const SHEET_ROWS = 1_048_576;

/** A record with the texts of its cells that could not be read. */
interface ExportedRecord {
  readonly record: RecordAnswer;
  readonly unreadable: Readonly<Record<string, string>>;
}

export const MEDIA_TYPES: Readonly<Record<Format, string>> = {
  json: "application/json",
  csv: "text/csv; charset=utf-8; header=present",
  ndjson: "application/x-ndjson",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
};

/** Records beyond which an export of a size that was asked for ends. */
function limitOf({ envelope }: PreparedRequest): number {
  return envelope.isSized ? envelope.size : ALL;
}

/** All records of a request, in its order, as they come from the database. */
async function* exported(
  prepared: PreparedRequest,
  records: Records,
): AsyncGenerator<ExportedRecord, void, undefined> {
  const limit = limitOf(prepared);
  if (prepared.members !== null) {
    yield* exportedOver(prepared, records, limit);
    return;
  }
  const { table, gateway, listing } = prepared;
  const query: PageQuery = { ...prepared.query, counts: [], limit };
  const reader = new PageReader(
    query.columns,
    table,
    pageFields(query, table),
    listing.declaration.units,
  );
  const statements = pageParts(query, table).map((part) => pageStatement(part, table, MARIADB));
  let left = limit;
  for await (const row of gateway.stream(statements, EXPORT_LIMIT_S)) {
    if (left-- <= 0) return;
    const unreadable: Record<string, Record<string, string>> = {};
    const record = reader.read(row, unreadable);
    yield { record, unreadable: unreadable[String(record.id)] ?? {} };
  }
}

/** Of several tables page by page: they are put in one order here. */
async function* exportedOver(
  prepared: PreparedRequest,
  records: Records,
  limit: number,
): AsyncGenerator<ExportedRecord, void, undefined> {
  const size = Math.min(PAGE, limit);
  const envelope = { ...prepared.envelope, size, count: "none" as const };
  let asked = { ...prepared, envelope, query: { ...prepared.query, counts: [], limit: size + 1 } };
  for (let left = limit; ;) {
    const page = await records.run(asked);
    for (const record of page.records) {
      if (left-- <= 0) return;
      yield { record, unreadable: page.meta.unreadable[String(record.id)] ?? {} };
    }
    if (page.next === null || left <= 0) return;
    asked = { ...asked, cursor: records.cursor(page.next) };
  }
}

/** Sends all records of a request in a format; ends the query when the caller goes. */
export async function sendExport(
  response: Response,
  format: Exclude<Format, "json">,
  prepared: PreparedRequest,
  records: Records,
): Promise<void> {
  const { listing, query, envelope } = prepared;
  const { name, labels = {} } = listing.declaration;
  const columns = query.columns;
  const headings = columns.map((column) => labels[column] ?? column);
  response.status(200);
  response.set("Content-Type", MEDIA_TYPES[format]);
  response.set("Content-Disposition", `attachment; filename="${name}.${format}"`);
  response.set("Cache-Control", "private, no-store");
  const source = exported(prepared, records);
  const cell = (found: ExportedRecord, column: string): RecordValue =>
    // What could not be read goes out as it came in: an empty cell would be a loss.
    found.unreadable[column] ?? found.record[column] ?? null;
  switch (format) {
    case "csv": {
      const isEscaped = envelope.extras.includes("escaped");
      const text = (value: RecordValue) => csvText(value, isEscaped);
      await written(response, source, stringify([headings]), (batch) =>
        stringify(batch.map((found) => columns.map((column) => text(cell(found, column))))),
      );
      return;
    }
    case "ndjson":
      await written(response, source, "", (batch) =>
        batch.map(({ record }) => `${JSON.stringify(record)}\n`).join(""),
      );
      return;
    case "xlsx": {
      const dates = columns.map((column) => listing.columns.get(column)?.type === "date");
      await writeSheets(response, listing.declaration.title, headings, source, (found) =>
        columns.map((column, index) => sheetValue(cell(found, column), dates[index] === true)),
      );
    }
  }
}

function csvText(value: RecordValue, isEscaped: boolean): string {
  const text = value === null ? "" : String(value);
  // A spreadsheet would take the text for a formula.
  return isEscaped && typeof value === "string" && /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
}

async function written(
  response: Response,
  source: AsyncGenerator<ExportedRecord, void, undefined>,
  first: string,
  write: (batch: readonly ExportedRecord[]) => string,
): Promise<void> {
  let batch: ExportedRecord[] = [];
  if (first !== "") response.write(first);
  for await (const found of source) {
    batch.push(found);
    if (batch.length < BATCH) continue;
    const isReady = response.write(write(batch));
    batch = [];
    if (response.closed || response.destroyed) return;
    if (!isReady) await Promise.race([once(response, "drain"), once(response, "close")]);
  }
  if (batch.length > 0) response.write(write(batch));
  response.end();
}

/** The first day that every program for sheets shows alike. */
const FIRST_SHEET_DAY = "1900-03-01";

/** A value as a cell: dates as dates, where sheets have them. */
function sheetValue(value: RecordValue, isDate: boolean): string | number | boolean | Date | null {
  if (!isDate || typeof value !== "string" || value < FIRST_SHEET_DAY) return value;
  const time = Date.parse(value.length === 10 || value.endsWith("Z") ? value : `${value}Z`);
  return Number.isNaN(time) ? value : new Date(time);
}

async function writeSheets(
  response: Response,
  title: string,
  headings: readonly string[],
  source: AsyncGenerator<ExportedRecord, void, undefined>,
  cells: (found: ExportedRecord) => (string | number | boolean | Date | null)[],
): Promise<void> {
  const workbook = new ExcelJS.stream.xlsx.WorkbookWriter({ stream: response, useStyles: true });
  const name =
    title
      .replace(/[\\/?*[\]:]/g, " ")
      .slice(0, 25)
      .trim() || "records";
  let sheets = 0;
  const fresh = () => {
    sheets++;
    const sheet = workbook.addWorksheet(sheets === 1 ? name : `${name} ${sheets}`, {
      views: [{ state: "frozen", ySplit: 1 }],
    });
    const row = sheet.addRow([...headings]);
    row.font = { bold: true };
    row.commit();
    return sheet;
  };
  let sheet = fresh();
  let rows = 1;
  for await (const found of source) {
    if (response.destroyed) return;
    if (rows === SHEET_ROWS) {
      sheet.commit();
      sheet = fresh();
      rows = 1;
    }
    const row = sheet.addRow(cells(found));
    row.eachCell((cell) => {
      if (!(cell.value instanceof Date)) return;
      const isDay = cell.value.getTime() % 86_400_000 === 0;
      cell.numFmt = isDay ? "yyyy-mm-dd" : "yyyy-mm-dd hh:mm:ss";
    });
    row.commit();
    rows++;
    if (response.writableNeedDrain) {
      await Promise.race([once(response, "drain"), once(response, "close")]);
    }
  }
  sheet.commit();
  await workbook.commit();
}
