import type { FileFormat, FileInspection, FileOptions } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import { Archive } from "./archive.js";
import { openDelimited } from "./delimited.js";
import { findEncoding, headText } from "./encoding.js";
import { ColumnLook } from "./column-look.js";
import { SeveralDocuments } from "./json-lists.js";
import { openJson } from "./json.js";
import { checkText, kindOf } from "./kind.js";
import { openOds } from "./ods.js";
import { inspectSheets, openSheet } from "./sheet-table.js";
import { HEAD_BYTES, type SpooledFile } from "./spool.js";
import { upToRow, type FileTable } from "./table.js";
import type { Workbook } from "./workbook.js";
import { openXlsx } from "./xlsx.js";

const SAMPLE_ROWS = 20;
/** Rows that are counted in a look; more would keep people waiting. */
const MAX_COUNTED = 200_000;

/**
 * Opens a file for its records, whatever it is: recognised by its content and not by its name, and
 * refused in words where it is none of the forms that are read.
 */
export async function openFile(file: SpooledFile, options: FileOptions): Promise<FileTable> {
  const { lastRow } = options;
  const isSheet = kindOf(file) === "zip";
  const table = await openWhole(file, options);
  return lastRow === undefined || isSheet ? table : upToRow(table, lastRow);
}

async function openWhole(file: SpooledFile, options: FileOptions): Promise<FileTable> {
  if (kindOf(file) === "zip") {
    const workbook = await openWorkbook(file, options);
    try {
      return await openSheet(workbook, options);
    } catch (error) {
      workbook.close();
      throw error;
    }
  }
  const { encoding, remark } = await findEncoding(file, options.encoding);
  const head = headText(file, encoding);
  checkText(head);
  const isWhole = file.bytes <= HEAD_BYTES;
  const format = options.format ?? textFormat(head, isWhole, options.records !== undefined);
  const remarks = remark === null ? [] : [remark];
  switch (format) {
    case "delimited":
      return openDelimited(file, encoding, remarks, options);
    case "json":
    case "ndjson":
      try {
        return await openJson(file, format, encoding, remarks, options);
      } catch (error) {
        const isStated = options.format !== undefined || options.records !== undefined;
        if (isStated || !(error instanceof SeveralDocuments)) throw error;
        // The first of several objects was longer than what was looked at.
        return openJson(file, "ndjson", encoding, remarks, options);
      }
    case "xlsx":
    case "ods":
      throw notThat("text", format);
  }
}

/** Looks at a file: what it is, its sheets, its headings, its first records. */
export async function inspectFile(
  file: SpooledFile,
  options: FileOptions,
): Promise<FileInspection> {
  const { bytes, sha256 } = file;
  if (kindOf(file) === "zip") {
    const workbook = await openWorkbook(file, options);
    try {
      const sheets = await inspectSheets(workbook, options);
      const first = sheets.findIndex(({ hidden, reason }) => !hidden && reason === null);
      if (options.sheet === undefined && first < 0) {
        const none = { headings: [], headingRows: 0, headingLine: 0, above: [], remarks: [] };
        const { format } = workbook;
        const empty = { records: 0, refused: 0, sample: [], looked: 0, key: null, columns: [] };
        return { ...none, ...empty, format, bytes, sha256, sheets };
      }
      const sheet = options.sheet ?? sheets[first]?.name ?? "";
      return {
        bytes,
        sha256,
        sheets,
        ...(await sampled(await openSheet(workbook, { ...options, sheet }))),
      };
    } finally {
      workbook.close();
    }
  }
  return { bytes, sha256, sheets: [], ...(await sampled(await openFile(file, options))) };
}

async function sampled(file: FileTable) {
  const { description, headings, rows } = file;
  const sample: FileInspection["sample"][number][] = [];
  const columns = new ColumnLook(headings);
  let [records, refused] = [0, 0];
  for await (const batch of rows) {
    for (const row of batch) {
      records++;
      if (row.refused === undefined) columns.add(row.cells);
      else refused++;
      if (sample.length < SAMPLE_ROWS) sample.push({ line: row.line, cells: row.cells });
    }
    if (records > MAX_COUNTED) {
      const found = await columns.found(file);
      return { ...description, headings, records: null, refused: null, sample, ...found };
    }
  }
  const found = await columns.found(file);
  return { ...description, headings, records, refused, sample, ...found };
}

async function openWorkbook(file: SpooledFile, { format }: FileOptions): Promise<Workbook> {
  const archive = await Archive.open(file.path);
  const found = archive.has("content.xml")
    ? "ods"
    : archive.has("[Content_Types].xml")
      ? "xlsx"
      : null;
  if (found === null) {
    archive.close();
    throw problemOf([
      fault("file.type", { found: "an archive, and no workbook: unpack it first" }),
    ]);
  }
  if (format !== undefined && format !== found) {
    archive.close();
    throw notThat(found, format);
  }
  try {
    return await (found === "ods" ? openOds(archive) : openXlsx(archive));
  } catch (error) {
    archive.close();
    throw error;
  }
}

function notThat(found: string, wanted: FileFormat) {
  return problemOf([fault("file.type", { found: `${found} and not ${wanted}` })]);
}

/** JSON by its first character: one object a line, an array of objects, or one object with a list of them inside. */
function textFormat(head: string, isWhole: boolean, namesList: boolean): FileFormat {
  const start = head.trimStart();
  if (/^\[\s*(?:\{|\]|$)/.test(start)) return "json";
  if (!/^\{\s*(?:"|\})/.test(start)) return "delimited";
  if (namesList) return "json";
  const lines = start.split("\n").filter((line) => line.trim() !== "");
  // The last one may go on behind the head.
  const whole = (isWhole ? lines : lines.slice(0, -1)).slice(0, 2);
  const [first, second] = whole.map(objectOf);
  if (second != null) return "ndjson";
  if (first == null) return "json";
  const isOnly = whole.length === 1 && isWhole;
  return isOnly && Object.values(first).some(holdsList) ? "json" : "ndjson";
}

function objectOf(line: string): object | null {
  try {
    const value = JSON.parse(line) as unknown;
    return typeof value === "object" && !Array.isArray(value) ? value : null;
  } catch {
    return null;
  }
}

/** Whether a value is a list of objects, or an object with one inside. */
function holdsList(value: unknown): boolean {
  if (Array.isArray(value)) {
    return value.some((each) => typeof each === "object" && each !== null && !Array.isArray(each));
  }
  return typeof value === "object" && value !== null && Object.values(value).some(holdsList);
}
