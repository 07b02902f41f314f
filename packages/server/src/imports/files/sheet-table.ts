import type { FileOptions, DateCells } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import { problemOf } from "../../http/index.js";
import {
  LAYOUT_ROWS,
  filled,
  findLayout,
  letters,
  layoutView,
  type SheetLayout,
} from "./layout.js";
import { headingDoubt } from "./headings.js";
import { withoutNotes, type HeldRow } from "./notes.js";
import { StatedTypes } from "./stated-types.js";
import {
  distinctHeadings,
  headingFaults,
  omittedRemark,
  type FileRow,
  type FileTable,
} from "./table.js";
import type { SheetRow, Workbook } from "./workbook.js";

/** A sheet, looked at. */
export interface SheetInspection {
  readonly name: string;
  readonly hidden: boolean;
  readonly headings: readonly string[];
  /** Why it cannot be imported as it is, or null. */
  readonly reason: string | null;
}

/** Looks at every sheet of a workbook. */
export async function inspectSheets(
  workbook: Workbook,
  options: FileOptions,
): Promise<readonly SheetInspection[]> {
  const looks: SheetInspection[] = [];
  for (const [index, { name, isHidden }] of workbook.sheets.entries()) {
    const rows = workbook.rows(index);
    const layout = layoutOf(await firstRows(rows), options);
    await rows.return(undefined);
    const [headings, reason] =
      "reason" in layout
        ? [[], layout.reason]
        : [layout.columns.map(({ heading }) => heading), null];
    looks.push({ name, hidden: isHidden, headings, reason });
  }
  return looks;
}

/**
 * Opens one sheet as a table. Without a name it is the one visible sheet that has headings; of
 * several none is guessed at.
 */
export async function openSheet(workbook: Workbook, options: FileOptions): Promise<FileTable> {
  const sheet = await chosenSheet(workbook, options);
  const counts = new Map<string, DateCounts>();
  let numbers: ReadonlySet<string> = new Set();
  // Of the first rows until all of them are read.
  let stated = new StatedTypes();
  let share = 0;
  const batches = workbook.rows(sheet, (read) => (share = read));
  const first = await firstRows(batches);
  const found = layoutOf(first, options);
  const { name = "" } = workbook.sheets[sheet] ?? {};
  if ("reason" in found) throw noHeadings(`sheet “${name}”: ${found.reason}`);
  const remarks: string[] = [];
  const written = found.columns.map(({ heading }) => heading);
  const headings = distinctHeadings(written, options, remarks);
  const columns = found.columns.map((column, index) => ({
    ...column,
    heading: headings[index] ?? column.heading,
  }));
  const layout = { ...found, columns };
  const faults = headingFaults(headings);
  if (faults.length > 0) throw problemOf(faults);
  const isReported = options.skip !== undefined || options.headings !== undefined;
  if (!isReported && layout.headingRow > 0) {
    const below = first.filter(({ number }) => number > layout.headingRow);
    const cells = below.map((row) => cellsOf(row, layout.columns, numbers));
    const doubt = headingDoubt(headings, cells, layout.headingRow, FIRST_TEXTS);
    if (doubt !== null) remarks.push(doubt);
  }
  for (const row of first) {
    if (row.number > layout.headingRow) countStated(row, layout.columns, stated);
  }
  return {
    description: {
      format: workbook.format,
      sheet: name,
      headingRows: layout.headingRow === 0 ? 0 : (options.headings ?? 1),
      headingLine: layout.headingRow,
      above: layout.above,
      remarks,
    },
    headings,
    rows: records(
      chained(first, batches, () => workbook.close()),
      layout,
      {
        begin: () => (stated = new StatedTypes()),
        add: (row) => {
          countDates(row, layout.columns, counts);
          countStated(row, layout.columns, stated);
        },
      },
      (remark) => remarks.push(remark),
      options.lastRow ?? Infinity,
      () => numbers,
    ),
    stated: () => stated.cells,
    progress: () => share,
    asNumbers: (names) => (numbers = names),
    dateCells: () => {
      return new Map(
        [...counts].map(([heading, { count, zoned }]): [string, DateCells] => {
          const encoding = numbers.has(heading) ? workbook.dates : "text";
          return [heading, { count, encoding, ...(zoned === 0 ? {} : { zoned }) }];
        }),
      );
    },
  };
}

/** What the headings of a sheet are where nobody says which. */
const FIRST_TEXTS = "the first row of nothing but strings over every column";

async function chosenSheet(workbook: Workbook, options: FileOptions): Promise<number> {
  const { sheets } = workbook;
  const names = sheets.map(({ name }) => name);
  if (options.sheet !== undefined) {
    const named = names.findIndex((name) => name.toLowerCase() === options.sheet?.toLowerCase());
    if (named >= 0) return named;
    const number = /^\d+$/.test(options.sheet) ? Number(options.sheet) : 0;
    if (number >= 1 && number <= sheets.length) return number - 1;
    const reason = `there is no sheet “${options.sheet}”`;
    throw problemOf([fault("file.sheet", { reason, sheets: names }, { parameter: "sheet" })]);
  }
  if (sheets.length === 1) return 0;
  const looks = await inspectSheets(workbook, options);
  const tables = looks.flatMap(({ hidden, reason }, index) =>
    hidden || reason !== null ? [] : [index],
  );
  const [only] = tables;
  if (tables.length === 1 && only !== undefined) return only;
  const reason =
    tables.length > 1
      ? `${tables.length} sheets have records: name one with sheet`
      : looks
          .map(({ name, reason: why }) => `sheet “${name}”: ${why ?? "it is hidden"}`)
          .join("; ");
  throw problemOf([fault("file.sheet", { reason, sheets: names }, { parameter: "sheet" })]);
}

function noHeadings(reason: string) {
  return problemOf([fault("file.headings", { reason })]);
}

function layoutOf(rows: readonly SheetRow[], { skip, headings }: FileOptions) {
  return skip === undefined && headings === undefined
    ? findLayout(rows)
    : layoutView(rows, skip ?? 0, headings ?? 1);
}

async function firstRows(
  batches: AsyncGenerator<readonly SheetRow[]>,
): Promise<readonly SheetRow[]> {
  const rows: SheetRow[] = [];
  while (rows.length < LAYOUT_ROWS) {
    const next = await batches.next();
    if (next.done === true) break;
    rows.push(...next.value);
  }
  return rows;
}

async function* chained(
  first: readonly SheetRow[],
  batches: AsyncIterable<readonly SheetRow[]>,
  end: () => void,
): AsyncGenerator<readonly SheetRow[]> {
  try {
    yield first;
    yield* batches;
  } finally {
    end();
  }
}

interface DateCounts {
  readonly count: number;
  readonly zoned: number;
}

/** Called with the rows of a sheet that are records. */
interface RowCounter {
  begin(): void;
  add(row: SheetRow): void;
}

/** The records of a sheet below its headings, without the notes below them. */
async function* records(
  batches: AsyncIterable<readonly SheetRow[]>,
  layout: SheetLayout,
  counter: RowCounter,
  doubt: (remark: string) => void,
  lastRow: number,
  numbers: () => ReadonlySet<string>,
): AsyncGenerator<readonly FileRow[]> {
  counter.begin();
  let omitted = 0;
  const omit = (rows: number) => (omitted += rows);
  const wanted = rowsBelow(batches, layout, { lastRow, numbers }, omit);
  for await (const held of withoutNotes(wanted, doubt)) {
    for (const { row, of } of held) {
      if (row.refused === undefined) counter.add(of);
    }
    yield held.map(({ row }) => row);
  }
  if (omitted > 0) doubt(omittedRemark(omitted, lastRow));
}

async function* rowsBelow(
  batches: AsyncIterable<readonly SheetRow[]>,
  { columns, headingRow }: SheetLayout,
  { lastRow, numbers }: { readonly lastRow: number; readonly numbers: () => ReadonlySet<string> },
  omit: (rows: number) => void,
): AsyncGenerator<readonly HeldRow<SheetRow>[]> {
  const own = new Set(columns.map(({ index }) => index));
  let before = headingRow;
  let isBelow = false;
  for await (const batch of batches) {
    const rows: HeldRow<SheetRow>[] = [];
    for (const row of batch) {
      if (row.number <= headingRow) continue;
      const used = filled(row);
      if (used.length === 0) continue;
      if (row.number > lastRow) {
        omit(1);
        continue;
      }
      // After an empty row, a text by itself is no record of a table with several columns.
      const hasGap = row.number > before + 1;
      const isLone =
        used.length === 1 && columns.length > 1 && row.cells[used[0] ?? 0]?.type === "text";
      isBelow = isLone && (isBelow || hasGap);
      before = row.number;
      const cells = cellsOf(row, columns, numbers());
      rows.push({ row: recordOf(row, cells, own, isBelow), of: row });
    }
    yield rows;
  }
}

/** The cells of a row: dates as the sheet shows them, but for columns whose numbers are wanted. */
function cellsOf(
  { cells }: SheetRow,
  columns: SheetLayout["columns"],
  numbers: ReadonlySet<string>,
): FileRow["cells"] {
  return columns.map(({ index, heading }) => {
    const cell = cells[index];
    if (cell?.shown !== undefined && !numbers.has(heading)) return cell.shown;
    return cell?.text ?? null;
  });
}

function recordOf(
  row: SheetRow,
  cells: FileRow["cells"],
  own: ReadonlySet<number>,
  isBelow: boolean,
): FileRow {
  const line = row.number;
  if (isBelow) {
    const reason = "a text by itself below an empty row: a note, not a record";
    return { cells, line, refused: fault("row.place", { reason }) };
  }
  const outside = filled(row).find((index) => !own.has(index));
  if (outside === undefined) return { cells, line };
  const reason = `a value stands in column ${letters(outside)}, which has no heading`;
  const all = [...cells, row.cells[outside]?.text ?? null];
  return { cells: all, line, refused: fault("row.place", { reason }) };
}

function countStated(
  { cells }: SheetRow,
  columns: SheetLayout["columns"],
  stated: StatedTypes,
): void {
  for (const { index, heading } of columns) {
    const cell = cells[index];
    if (cell === undefined) continue;
    const { type, text } = cell;
    stated.add(heading, type === "number" || type === "boolean" ? type : "other", text);
  }
}

function countDates(
  { cells }: SheetRow,
  columns: SheetLayout["columns"],
  counts: Map<string, DateCounts>,
): void {
  for (const { index, heading } of columns) {
    const cell = cells[index];
    if (cell?.type !== "date") continue;
    const { count, zoned } = counts.get(heading) ?? { count: 0, zoned: 0 };
    counts.set(heading, { count: count + 1, zoned: zoned + (cell.isZoned === true ? 1 : 0) });
  }
}
