import { posix } from "node:path";
import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import { readWholeXml, readXml, type Archive, type Namespaces } from "./archive.js";
import {
  MS_PER_DAY,
  compileReading,
  dayOf,
  isoDay,
  isoWall,
  wallMs,
  type CompiledReading,
} from "@orisma/core/internal";
import { dateFormatOf, type DateFormat } from "./number-format.js";
import { broken } from "./table.js";
import {
  LONGEST_CELL,
  MAX_SHEET_COLUMNS,
  type Sheet,
  type SheetCell,
  type SheetRow,
  type Workbook,
} from "./workbook.js";

/** Characters of the strings that cells share, at most: they are held while a sheet is read. */
const MAX_SHARED_CHARACTERS = 50_000_000;

/** The namespaces of a workbook's parts, transitional and strict (ISO/IEC 29500-1, annex A and M). */
const SPREADSHEET: Namespaces = new Set([
  "http://schemas.openxmlformats.org/spreadsheetml/2006/main",
  "http://purl.oclc.org/ooxml/spreadsheetml/main",
  "http://schemas.openxmlformats.org/officeDocument/2006/relationships",
  "http://purl.oclc.org/ooxml/officeDocument/relationships",
]);
/** That of the list of a part's relations (ISO/IEC 29500-2, annex B). */
const RELATIONS: Namespaces = new Set([
  "http://schemas.openxmlformats.org/package/2006/relationships",
]);

/** Opens a workbook of Office Open XML (ISO/IEC 29500-1), transitional or strict. */
export async function openXlsx(archive: Archive): Promise<Workbook> {
  const root = (await relations(archive, "_rels/.rels")).find(({ type }) =>
    type.endsWith("/officeDocument"),
  );
  const workbookPath = resolved("", root?.target ?? "xl/workbook.xml");
  const related = await relations(archive, relationsOf(workbookPath));
  const folder = posix.dirname(workbookPath);
  const pathOf = (end: string) => {
    const found = related.find(({ type }) => type.endsWith(end));
    return found === undefined ? null : resolved(folder, found.target);
  };
  const { sheets, is1904 } = await readWorkbook(archive, workbookPath);
  const paths = sheets.map(({ relation }) => {
    const found = related.find(({ id }) => id === relation);
    // A chart on a sheet of its own has no cells.
    if (!found?.type.endsWith("/worksheet")) return null;
    return resolved(folder, found.target);
  });
  const styles = pathOf("/styles");
  const dateStyles = styles === null ? [] : await readStyles(archive, styles);
  const stringsPath = pathOf("/sharedStrings");
  // Read when the first sheet is, and once.
  let shared: Promise<readonly string[]> | null = null;
  const dates = is1904 ? "serial-1904" : "serial-1900";
  const reading = compileReading({ kind: "local", encoding: dates });
  if (!reading.ok) throw new Error("day numbers have a reading");
  return {
    format: "xlsx",
    dates,
    sheets,
    async *rows(sheet, onShare) {
      const path = paths[sheet] ?? null;
      if (path === null) return;
      shared ??= stringsPath === null ? Promise.resolve([]) : readStrings(archive, stringsPath);
      const known = { shared: await shared, dateStyles, days: reading.value };
      yield* sheetRows(archive, path, known, onShare);
    },
    close: () => archive.close(),
  };
}

interface Relation {
  readonly id: string;
  readonly type: string;
  readonly target: string;
}

async function relations(archive: Archive, path: string): Promise<readonly Relation[]> {
  const found: Relation[] = [];
  if (!archive.has(path)) return found;
  await readWholeXml(archive, path, RELATIONS, {
    open(name, { Id: id = "", Type: type = "", Target: target = "" }) {
      if (name === "Relationship") found.push({ id, type, target });
    },
  });
  return found;
}

function relationsOf(path: string): string {
  return posix.join(posix.dirname(path), "_rels", `${posix.basename(path)}.rels`);
}

function resolved(folder: string, target: string): string {
  return target.startsWith("/") ? target.slice(1) : posix.join(folder, target);
}

async function readWorkbook(archive: Archive, path: string) {
  const sheets: (Sheet & { readonly relation: string })[] = [];
  let is1904 = false;
  await readWholeXml(archive, path, SPREADSHEET, {
    open(name, attributes, parent) {
      if (name === "workbookPr" && parent === "workbook")
        is1904 = /^(?:1|true|on)$/.test(attributes.date1904 ?? "");
      if (name !== "sheet" || parent !== "sheets") return;
      const { name: sheet = "", state = "visible", id = "" } = attributes;
      sheets.push({ name: sheet, isHidden: state !== "visible", relation: id });
    },
  });
  if (sheets.length === 0) throw broken("the workbook has no sheets");
  return { sheets, is1904 };
}

/** What each style of cells shows of numbers as dates; null for other numbers. */
async function readStyles(archive: Archive, path: string): Promise<readonly (DateFormat | null)[]> {
  const formats = new Map<number, string>();
  const styles: (DateFormat | null)[] = [];
  await readWholeXml(archive, path, SPREADSHEET, {
    open(name, { numFmtId, formatCode = "" }, parent) {
      // Differences for conditional formats have number formats too, with numbers of their own.
      if (name === "numFmt" && parent === "numFmts") formats.set(Number(numFmtId), formatCode);
      else if (name === "xf" && parent === "cellXfs") {
        const id = Number(numFmtId ?? 0);
        styles.push(dateFormatOf(id, formats.get(id)));
      }
    },
  });
  return styles;
}

async function readStrings(archive: Archive, path: string): Promise<readonly string[]> {
  const strings: string[] = [];
  const text = new CellText();
  let characters = 0;
  await readWholeXml(archive, path, SPREADSHEET, {
    open(name) {
      if (name === "si") text.begin();
      else text.open(name);
    },
    text: (piece) => text.add(piece),
    close(name) {
      text.close(name);
      if (name !== "si") return;
      const whole = text.end();
      characters += whole.length;
      if (characters > MAX_SHARED_CHARACTERS) {
        const reason = "the strings of the workbook are too long to be held together";
        throw problemOf([
          fault("file.limit", { reason, most: "50 million characters; save it as CSV" }),
        ]);
      }
      strings.push(whole);
    },
  });
  return strings;
}

/** Gathers the text of a cell: its `t` elements, without how the text is to be spoken. */
class CellText {
  #text = "";
  #isText = false;
  #isSpoken = false;

  begin(): void {
    this.#text = "";
  }

  open(name: string): void {
    if (name === "t") this.#isText = true;
    else if (name === "rPh") this.#isSpoken = true;
  }

  add(piece: string): void {
    if (this.#isText && !this.#isSpoken && this.#text.length < LONGEST_CELL) this.#text += piece;
  }

  close(name: string): void {
    if (name === "t") this.#isText = false;
    else if (name === "rPh") this.#isSpoken = false;
  }

  end(): string {
    // Characters that XML cannot hold are written as _xHHHH_ (ISO/IEC 29500-1, 22.9.2.19).
    return this.#text.includes("_x")
      ? this.#text.replace(/_x([0-9A-Fa-f]{4})_/g, (_, code: string) =>
          String.fromCharCode(parseInt(code, 16)),
        )
      : this.#text;
  }
}

async function* sheetRows(
  archive: Archive,
  path: string,
  known: CellsKnown,
  onShare?: (share: number) => void,
): AsyncGenerator<readonly SheetRow[]> {
  let rows: SheetRow[] = [];
  let number = 0;
  let cells: (SheetCell | undefined)[] = [];
  let column = -1;
  let cell = { type: "", style: 0 };
  let value = "";
  let isValue = false;
  const inline = new CellText();
  const pieces = readXml(
    archive,
    path,
    SPREADSHEET,
    {
      open(name, attributes) {
        switch (name) {
          case "row":
            number = attributes.r === undefined ? number + 1 : Number(attributes.r);
            cells = [];
            column = -1;
            break;
          case "c":
            column = attributes.r === undefined ? column + 1 : columnOf(attributes.r);
            cell = { type: attributes.t ?? "n", style: Number(attributes.s ?? 0) };
            value = "";
            inline.begin();
            break;
          case "v":
            isValue = true;
            break;
          default:
            inline.open(name);
        }
      },
      text(piece) {
        if (isValue && value.length < LONGEST_CELL) value += piece;
        else inline.add(piece);
      },
      close(name) {
        if (name === "v") isValue = false;
        else if (name === "row") {
          if (cells.some((each) => each !== undefined)) rows.push({ number, cells });
        } else if (name === "c") {
          const text = cell.type === "inlineStr" ? inline.end() : value;
          const read = readCell(cell, text, known);
          if (read !== undefined && column < MAX_SHEET_COLUMNS) cells[column] = read;
        } else inline.close(name);
      },
    },
    onShare,
  );
  for await (const _ of pieces) {
    if (rows.length > 0) yield rows;
    rows = [];
  }
}

/** What the cells of a sheet depend on. */
interface CellsKnown {
  readonly shared: readonly string[];
  readonly dateStyles: readonly (DateFormat | null)[];
  /** Reads the workbook's day numbers. */
  readonly days: CompiledReading;
}

/**
 * A number that the sheet shows as a date. A time of day alone is none, and nor are the days up to 60 of the 1900 system,
 * where programs show another day.
 */
function dateCell(text: string, format: DateFormat, days: CompiledReading): SheetCell {
  const read = days.read(text);
  if (read.state !== "dated" || read.notices !== undefined) return { text, type: "date" };
  // Midnight is a time like any other, where times are shown.
  const isDay = format === "day" && read.ms % MS_PER_DAY === 0;
  const shown = isDay ? isoDay(dayOf(wallMs(read.ms))) : isoWall(wallMs(read.ms));
  return { text, type: "date", shown };
}

/** A cell by its type (ISO/IEC 29500-1, 18.18.11); none where it is empty. */
function readCell(
  { type, style }: { readonly type: string; readonly style: number },
  text: string,
  { shared, dateStyles, days }: CellsKnown,
): SheetCell | undefined {
  switch (type) {
    case "s": {
      const found = shared[Number(text)] ?? "";
      return found === "" ? undefined : { text: found, type: "text" };
    }
    case "b":
      return { text: text === "1" || text === "true" ? "true" : "false", type: "boolean" };
    case "n":
      if (text === "") return undefined;
      return dateStyles[style] == null
        ? { text: plainNumber(text), type: "number" }
        : dateCell(plainNumber(text), dateStyles[style], days);
    case "d":
      return text === "" ? undefined : { text, type: "text" };
    case "e":
      return { text, type: "other" };
    default:
      return text === "" ? undefined : { text, type: "text" };
  }
}

/** A number without an exponent, where that loses nothing. */
function plainNumber(text: string): string {
  if (!/e/i.test(text)) return text;
  const plain = String(Number(text));
  return /e/i.test(plain) ? text : plain;
}

/** The column of a reference such as `AB12`, counted from 0. */
function columnOf(reference: string): number {
  let column = 0;
  for (let at = 0; at < reference.length; at++) {
    const letter = (reference.charCodeAt(at) | 32) - 96;
    if (letter < 1 || letter > 26) break;
    column = column * 26 + letter;
  }
  return column - 1;
}
