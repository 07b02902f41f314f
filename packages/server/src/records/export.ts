import { EXPORT_MEDIA } from "@orisma/contract";
import { once } from "node:events";
import type { Writable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { Response } from "express";
import {
  csvText,
  MARIADB,
  dateTextMs,
  epochMs,
  pageParts,
  pageStatement,
  wallAt,
  type DateKind,
  type Format,
  type PageQuery,
  type RecordAnswer,
  type RecordValue,
  type Zone,
} from "@orisma/core/internal";
import { noteForAudit } from "../audit/index.js";
import { ClientDisconnected } from "../database/index.js";
import { endWhenStalled } from "../http/index.js";
import { shownColumn, type ServedListing } from "../listings/index.js";
import { PageReader } from "./answer.js";
import { mustFitFeed } from "./feed.js";
import type { Unreadables } from "./derived-columns.js";
import { formattersOf, sheetDateFormat, sheetNumberFormat } from "./display.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo } from "./read.js";
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

/** A record with the strings of its cells that could not be read. */
interface ExportedRecord {
  readonly record: RecordAnswer;
  readonly unreadable: Readonly<Record<string, string>>;
}

export const MEDIA_TYPES: Readonly<Record<Format, string>> = {
  json: "application/json",
  csv: `${EXPORT_MEDIA.csv}; charset=utf-8; header=present`,
  ndjson: EXPORT_MEDIA.ndjson,
  xlsx: EXPORT_MEDIA.xlsx,
  ics: `${EXPORT_MEDIA.ics}; charset=utf-8`,
  atom: `${EXPORT_MEDIA.atom}; charset=utf-8`,
};

/** The formats of a file: any number of records, as they come. */
export type FileFormat = Exclude<Format, "json" | "ics" | "atom">;

/** All records of a request, for a calendar or a feed; throws a problem for more than those have. */
export async function feedRecords(
  prepared: PreparedRequest,
  records: Records,
): Promise<readonly RecordAnswer[]> {
  const found: RecordAnswer[] = [];
  for await (const { record } of exported(prepared, records)) {
    found.push(record);
    mustFitFeed(found.length);
  }
  return found;
}

/** Records beyond which an export of a size that was requested ends. */
function limitOf({ envelope }: PreparedRequest): number {
  return envelope.isSized ? envelope.size : ALL;
}

/** All records of a request, in its order, as they come from the database. */
async function* exported(
  prepared: PreparedRequest,
  records: Records,
): AsyncGenerator<ExportedRecord, void, undefined> {
  const limit = limitOf(prepared);
  if (prepared.isSeveral) {
    yield* exportedOver(prepared, records, limit);
    return;
  }
  const { table, gateway, listing } = prepared;
  const filter = await narrowedTo(prepared.query.filter, table, gateway);
  const query: PageQuery = { ...prepared.query, filter, counts: [], limit };
  const statements = pageParts(query, table).map((part) => pageStatement(part, table, MARIADB));
  const [first] = statements;
  if (first === undefined) return;
  const { units } = listing.declaration;
  const reader = new PageReader(query.columns, table, first.fields, units);
  let batch: RecordAnswer[] = [];
  let unreadable: Unreadables = {};
  const finished = async () => {
    const derivedColumns = await records.made(prepared, batch, unreadable);
    const returned = derivedColumns.map((record) => ({
      record,
      unreadable: unreadable[String(record.id)] ?? {},
    }));
    [batch, unreadable] = [[], {}];
    return returned;
  };
  let remaining = limit;
  for await (const row of gateway.stream(statements, EXPORT_LIMIT_S)) {
    if (remaining-- <= 0) break;
    batch.push(reader.read(row, unreadable));
    if (batch.length === BATCH) yield* await finished();
  }
  if (batch.length > 0) yield* await finished();
}

/** Of several tables page by page: they are put in one order here. */
async function* exportedOver(
  prepared: PreparedRequest,
  records: Records,
  limit: number,
): AsyncGenerator<ExportedRecord, void, undefined> {
  const size = Math.min(PAGE, limit);
  const envelope = { ...prepared.envelope, size, total: "none" as const };
  let requested = {
    ...prepared,
    envelope,
    query: { ...prepared.query, counts: [], limit: size + 1 },
  };
  for (let remaining = limit; ;) {
    const page = await records.run(requested);
    for (const record of page.records) {
      if (remaining-- <= 0) return;
      yield { record, unreadable: page.meta.unreadable[String(record.id)] ?? {} };
    }
    if (page.next === null || remaining <= 0) return;
    requested = { ...requested, cursor: records.cursor(page.next) };
  }
}

/** Milliseconds after which an export of which nobody has read anything is ended. */
const STALLED_MS = 15_000;

/** Sends all records of a request in a format; ends the query when the caller goes. */
export async function sendExport(
  response: Response,
  format: FileFormat,
  prepared: PreparedRequest,
  records: Records,
): Promise<void> {
  const watched = endWhenStalled(response, STALLED_MS);
  try {
    const { name } = prepared.listing.declaration;
    await writeExport(response, format, prepared, records, {
      onBegin: () => {
        response.status(200);
        response.set("Content-Type", MEDIA_TYPES[format]);
        response.set("Content-Disposition", `attachment; filename="${name}.${format}"`);
        response.set("Cache-Control", "private, no-store");
      },
      onCount: (count) => noteForAudit(response, { format, records: count }),
    });
  } catch (error) {
    if (!isDisconnected(error)) throw error;
    // Nobody is there to be answered, whether anything was sent or not.
    response.destroy();
  } finally {
    watched.stop();
  }
}

/** Whether an answer ended since its client has gone, or did not read it. */
function isDisconnected(error: unknown): boolean {
  if (error instanceof ClientDisconnected) return true;
  return error instanceof Error && "code" in error && error.code === "ERR_STREAM_PREMATURE_CLOSE";
}

/**
 * Writes all records of a request in a format, and ends what they are written to. What fails before the first record
 * fails before anything is written.
 */
export async function writeExport(
  into: Writable,
  format: FileFormat,
  prepared: PreparedRequest,
  records: Records,
  {
    onBegin = () => undefined,
    onCount,
  }: {
    readonly onBegin?: () => void;
    /** Called with the number of records when the last was taken, or the export is ended. */
    readonly onCount: (count: number) => void;
  },
): Promise<void> {
  const { listing, envelope } = prepared;
  const { labels = {} } = listing.declaration;
  const columns = prepared.shown;
  const headings = columns.map((column) => labels[column] ?? column);
  // What fails before the first record is reported as a problem, and not as a file that is cut.
  const source = counted(await begun(exported(prepared, records)), onCount);
  onBegin();
  const cell = (found: ExportedRecord, column: string): RecordValue =>
    // What could not be read goes out as it came in: an empty cell would be a loss.
    found.unreadable[column] ?? found.record[column] ?? null;
  switch (format) {
    case "csv": {
      const isEscaped = envelope.extras.includes("escaped");
      // Values as they are, unless they are requested as people see them: a format may omit the
      // time of day.
      const isDisplayed = envelope.extras.includes("display");
      const shows = columns.map((column) =>
        isDisplayed ? formattersOf(listing).get(column) : undefined,
      );
      const text = (found: ExportedRecord, column: string, index: number) => {
        const value = cell(found, column);
        const isRead = value !== null && found.unreadable[column] === undefined;
        const shown = isRead ? (shows[index]?.(value) ?? value) : value;
        // A number is none, whatever it begins with.
        return valueText(shown, isEscaped && typeof value === "string");
      };
      await pipeline(
        written(source, csvText([headings.map((each) => valueText(each, isEscaped))]), (batch) =>
          csvText(batch.map((found) => columns.map((column, index) => text(found, column, index)))),
        ),
        into,
      );
      return;
    }
    case "ndjson":
      await pipeline(
        written(source, "", (batch) =>
          batch.map(({ record }) => `${JSON.stringify(record)}\n`).join(""),
        ),
        into,
      );
      return;
    case "xlsx": {
      const kinds = columns.map((column) => {
        const found = shownColumn(column, listing);
        return found.type === "date" ? found.kind : null;
      });
      // A sheet has no zones: instants are shown on the listing's clocks, and their heading says so.
      const zoned = headings.map((heading, index) =>
        kinds[index] === "instant" ? `${heading} (${listing.zone.id})` : heading,
      );
      const formats = columns.map((column) => sheetFormat(column, listing));
      await writeSheets(
        into,
        listing.declaration.title,
        { headings: zoned, formats },
        source,
        (found) =>
          columns.map((column, index) =>
            sheetValue(cell(found, column), kinds[index] ?? null, listing.zone),
          ),
      );
    }
  }
}

function valueText(value: RecordValue, isEscaped: boolean): string {
  const text = value === null ? "" : String(value);
  // A spreadsheet would take the text for a formula.
  return isEscaped && /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
}

/** The same records, whose number is reported when the last was taken, or the export is ended. */
async function* counted<T>(
  source: AsyncGenerator<T, void, undefined>,
  report: (count: number) => void,
): AsyncGenerator<T, void, undefined> {
  let count = 0;
  try {
    for await (const each of source) {
      count++;
      yield each;
    }
  } finally {
    report(count);
  }
}

/** The same records, of which the first has been read; it is here that reading fails, if it does. */
async function begun<T>(
  source: AsyncGenerator<T, void, undefined>,
): Promise<AsyncGenerator<T, void, undefined>> {
  const first = await source.next();
  return (async function* () {
    // Ending early ends the source.
    try {
      if (first.done === true) return;
      yield first.value;
      yield* source;
    } finally {
      await source.return();
    }
  })();
}

/** Records as strings, so many at once. */
async function* written(
  source: AsyncGenerator<ExportedRecord, void, undefined>,
  first: string,
  write: (batch: readonly ExportedRecord[]) => string,
): AsyncGenerator<string, void, undefined> {
  let batch: ExportedRecord[] = [];
  if (first !== "") yield first;
  for await (const found of source) {
    batch.push(found);
    if (batch.length < BATCH) continue;
    yield write(batch);
    batch = [];
  }
  if (batch.length > 0) yield write(batch);
}

/** Waits until there is room for more; at once for a caller who has gone. */
async function room(into: Writable): Promise<void> {
  if (into.destroyed || !into.writableNeedDrain) return;
  const waiting = new AbortController();
  const { signal } = waiting;
  try {
    await Promise.race([once(into, "drain", { signal }), once(into, "close", { signal })]);
  } finally {
    // Who waits for the other would stand on the list of the answer for ever.
    waiting.abort();
  }
}

/** The format of a column's cells, where one is declared that sheets have too. */
function sheetFormat(name: string, listing: ServedListing): string | null {
  const format = listing.declaration.formats?.[name];
  if (format === undefined) return null;
  const { type } = shownColumn(name, listing);
  if (type === "date") return sheetDateFormat(format.pattern ?? "yyyy-MM-dd");
  return type === "integer" || type === "decimal" ? sheetNumberFormat(format) : null;
}

/** The first day that every program for sheets shows alike. */
const FIRST_SHEET_DAY = "1900-03-01";

/** A value as a cell: dates as dates, where sheets have them. */
function sheetValue(
  value: RecordValue,
  kind: DateKind | null,
  zone: Zone,
): string | number | boolean | Date | null {
  if (kind === null || typeof value !== "string" || value < FIRST_SHEET_DAY) return value;
  const time = dateTextMs(value);
  if (Number.isNaN(time)) return value;
  return new Date(kind === "instant" ? wallAt(zone, epochMs(time)) : time);
}

async function writeSheets(
  into: Writable,
  title: string,
  {
    headings,
    formats,
  }: { readonly headings: readonly string[]; readonly formats: readonly (string | null)[] },
  source: AsyncGenerator<ExportedRecord, void, undefined>,
  cells: (found: ExportedRecord) => (string | number | boolean | Date | null)[],
): Promise<void> {
  // It loads hundreds of files, and is wanted by few who start the service.
  const { default: ExcelJS } = await import("exceljs");
  const workbook = new ExcelJS.stream.xlsx.WorkbookWriter({ stream: into, useStyles: true });
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
    if (into.destroyed) return;
    if (rows === SHEET_ROWS) {
      sheet.commit();
      sheet = fresh();
      rows = 1;
    }
    const row = sheet.addRow(cells(found));
    row.eachCell((cell, number) => {
      const format = formats[number - 1] ?? null;
      if (typeof cell.value === "number" && format !== null) cell.numFmt = format;
      if (!(cell.value instanceof Date)) return;
      const isDay = cell.value.getTime() % 86_400_000 === 0;
      cell.numFmt = format ?? (isDay ? "yyyy-mm-dd" : "yyyy-mm-dd hh:mm:ss");
    });
    row.commit();
    rows++;
    await room(into);
  }
  sheet.commit();
  await workbook.commit();
}
