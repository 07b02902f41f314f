import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import { readXml, type Archive, type Namespaces } from "./archive.js";
import {
  LONGEST_CELL,
  MAX_SHEET_COLUMNS,
  type Sheet,
  type SheetCell,
  type SheetRow,
  type Workbook,
} from "./workbook.js";

const CONTENT = "content.xml";

/** The namespaces of what is read of a spreadsheet (ISO/IEC 26300-1, 1.4). */
const OPEN_DOCUMENT: Namespaces = new Set(
  ["office", "table", "text"].map((name) => `urn:oasis:names:tc:opendocument:xmlns:${name}:1.0`),
);

/** Opens a spreadsheet of OpenDocument 1.2 and later (ISO/IEC 26300). Its dates are ISO 8601. */
export async function openOds(archive: Archive): Promise<Workbook> {
  const sheets: Sheet[] = [];
  const names = readXml(archive, CONTENT, OPEN_DOCUMENT, {
    open(name, { name: sheet = "", display }, parent) {
      if (isSheet(name, parent)) sheets.push({ name: sheet, isHidden: display === "false" });
    },
  });
  while ((await names.next()).done !== true);
  return {
    format: "ods",
    dates: "text",
    sheets,
    rows: (sheet, onShare) => tableRows(archive, sheet, onShare),
    close: () => archive.close(),
  };
}

/** A table inside another, or of a link to another document, is no sheet. */
function isSheet(name: string, parent: string): boolean {
  return name === "table" && parent === "spreadsheet";
}

/** Empty rows and cells are repeated up to the edge of a sheet; full ones hardly ever are. */
const MAX_REPEATS = 10_000;
/** Filled rows of a sheet that are repeated at most: few bytes of a file would come to any number. */
const MAX_REPEATED_ROWS = 100_000;

function tooManyRepeats() {
  const reason = "the sheet repeats filled rows too often";
  return problemOf([fault("file.limit", { reason, most: `${MAX_REPEATED_ROWS} repeated rows` })]);
}

async function* tableRows(
  archive: Archive,
  wanted: number,
  onShare?: (share: number) => void,
): AsyncGenerator<readonly SheetRow[]> {
  let rows: SheetRow[] = [];
  let table = -1;
  let isInside = false;
  let number = 0;
  let repeats = 1;
  let cells: (SheetCell | undefined)[] = [];
  let column = 0;
  let cell: { type: string; value: string; repeats: number } | null = null;
  let paragraphs: string[] = [];
  let notes = 0;
  let repeated = 0;
  const endRow = () => {
    if (cells.some((each) => each !== undefined)) {
      const copies = Math.min(repeats, MAX_REPEATS);
      repeated += copies - 1;
      if (repeated > MAX_REPEATED_ROWS) throw tooManyRepeats();
      for (let copy = 1; copy <= copies; copy++) rows.push({ number: number + copy, cells });
    }
    number += repeats;
  };
  const endCell = () => {
    if (cell === null) return;
    const read = readCell(cell.type, cell.value, paragraphs.join("\n"));
    const copies = read === undefined ? 0 : Math.min(cell.repeats, MAX_SHEET_COLUMNS - column);
    for (let copy = 0; copy < copies; copy++) cells[column + copy] = read;
    column += cell.repeats;
    cell = null;
  };
  const pieces = readXml(
    archive,
    CONTENT,
    OPEN_DOCUMENT,
    {
      open(name, attributes, parent) {
        if (isSheet(name, parent)) isInside = ++table === wanted;
        if (!isInside) return;
        switch (name) {
          case "table-row":
            repeats = Number(attributes["number-rows-repeated"] ?? 1);
            cells = [];
            column = 0;
            break;
          case "table-cell":
          case "covered-table-cell":
            cell = {
              type: attributes["value-type"] ?? "",
              value: valueIn(attributes),
              repeats: Number(attributes["number-columns-repeated"] ?? 1),
            };
            paragraphs = [];
            break;
          case "annotation":
            notes++;
            break;
          case "p":
            if (notes === 0) paragraphs.push("");
            break;
          case "s":
            if (notes === 0)
              addText(paragraphs, " ".repeat(Math.min(Number(attributes.c ?? 1), 100)));
            break;
        }
      },
      text(piece) {
        if (isInside && cell !== null && notes === 0) addText(paragraphs, piece);
      },
      close(name, parent) {
        if (isSheet(name, parent)) isInside = false;
        if (!isInside) return;
        if (name === "annotation") notes--;
        else if (name === "table-cell" || name === "covered-table-cell") endCell();
        else if (name === "table-row") endRow();
      },
    },
    onShare,
  );
  for await (const _ of pieces) {
    if (rows.length > 0) yield rows;
    rows = [];
    // A later sheet need not be read.
    if (table > wanted) return;
  }
}

function addText(paragraphs: string[], piece: string): void {
  const last = paragraphs.length - 1;
  const before = paragraphs[last];
  if (before !== undefined && before.length < LONGEST_CELL) paragraphs[last] = before + piece;
}

function valueIn(attributes: Readonly<Record<string, string>>): string {
  return (
    attributes["date-value"] ??
    attributes.value ??
    attributes["boolean-value"] ??
    attributes["string-value"] ??
    ""
  );
}

/** A cell by its value type (OpenDocument 1.2, 19.385); none where it is empty. */
function readCell(type: string, value: string, text: string): SheetCell | undefined {
  switch (type) {
    case "date":
      return dateCell(value);
    case "float":
    case "percentage":
    case "currency":
      return { text: value, type: "number" };
    case "boolean":
      return { text: value, type: "boolean" };
    default: {
      const shown = value === "" ? text : value;
      return shown === "" ? undefined : { text: shown, type: "text" };
    }
  }
}

/**
 * A date as the sheet shows it: a day, or a time on some clock. A zone that a program wrote beside it
 * is none of what anybody saw, and midnight alone is the day.
 */
function dateCell(value: string): SheetCell {
  const text = value.replace(/(T[\d:.,]+)(?:Z|[+-]\d{2}(?::?\d{2})?)$/i, "$1");
  const isZoned = text !== value;
  if (!isZoned) return { text, type: "date" };
  return { text: text.replace(/T00:00(?::00(?:[.,]0+)?)?$/, ""), type: "date", isZoned };
}
