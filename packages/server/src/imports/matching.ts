import { type StoredColumnDeclaration } from "../sources/index.js";
import type { ColumnDeclaration, ImportMode } from "@orisma/contract";
import { fault, formInWords, withLocation, type Fault } from "@orisma/core/internal";
import { mixedRemark, statedType, type FileRow, type FileTable } from "./files/index.js";
import { problemOf } from "../http/index.js";

/** Some columns; those that are not known are text. */
export function only(
  columns: ReadonlyMap<string, ColumnDeclaration>,
  names: readonly string[],
): ReadonlyMap<string, ColumnDeclaration> {
  return new Map(
    names.map((name): [string, ColumnDeclaration] => [name, columns.get(name) ?? { type: "text" }]),
  );
}

/**
 * The columns of a fresh table: as they are declared, else with the type that the file states of
 * their cells, else text. A key is text: ids are compared as such.
 */
export function statedColumns(
  declared: ReadonlyMap<string, StoredColumnDeclaration>,
  { headings, stated }: Pick<FileTable, "headings" | "stated">,
  key: string | null,
): ReadonlyMap<string, StoredColumnDeclaration> {
  const cells = stated();
  return new Map(
    headings.map((name): [string, StoredColumnDeclaration] => {
      const found = name === key ? undefined : cells.get(name);
      const type = found === undefined ? null : statedType(found);
      const otherwise =
        type === null ? ({ type: "text" } as const) : { type, isStated: true as const };
      return [name, declared.get(name) ?? otherwise];
    }),
  );
}

/** The columns that a person declared; the others have the type that their file stated. */
export function withoutStated(
  columns: ReadonlyMap<string, StoredColumnDeclaration>,
): ReadonlyMap<string, StoredColumnDeclaration> {
  return new Map([...columns].filter(([, { isStated }]) => isStated !== true));
}

/** What is to be said of columns that are held as text although the file has typed values in them. */
export function mixedRemarks(
  columns: ReadonlyMap<string, StoredColumnDeclaration>,
  { stated }: Pick<FileTable, "stated">,
): readonly string[] {
  return [...stated()].flatMap(([name, cells]) => {
    const remark = columns.get(name)?.type === "text" ? mixedRemark(name, cells) : null;
    return remark === null ? [] : [remark];
  });
}

/** Only some columns of a file. */
export function chosenColumns(file: FileTable, names: readonly string[]): FileTable {
  if (names.length === 0) return file;
  const { headings } = file;
  const faults = names
    .filter((name) => !headings.includes(name))
    .map((name) =>
      fault("column.unknown", { name, known: headings }, { parameter: "columns", value: name }),
    );
  if (faults.length > 0) throw problemOf(faults);
  const places = headings.flatMap((heading, index) => (names.includes(heading) ? [index] : []));
  return {
    ...file,
    headings: places.map((index) => headings[index] ?? ""),
    rows: picked(file.rows, places),
  };
}

async function* picked(
  batches: FileTable["rows"],
  places: readonly number[],
): AsyncGenerator<readonly FileRow[]> {
  for await (const rows of batches) {
    yield rows.map((row) =>
      row.refused === undefined
        ? { ...row, cells: places.map((index) => row.cells[index] ?? null) }
        : row,
    );
  }
}

/** Columns that the file lacks or should not have, and headings that a source cannot have. */
export function columnFaults(
  headings: readonly string[],
  declared: ReadonlyMap<string, ColumnDeclaration>,
  key: string | null,
  mode: ImportMode,
): readonly Fault[] {
  // With all records replaced, a column of text may come and go with the file.
  const typed = [...declared].flatMap(([name, { type }]) => (type === "text" ? [] : [name]));
  const wanted = { replace: typed, append: [...declared.keys()], update: [] }[mode];
  const missing = (key === null ? wanted : [...new Set([key, ...wanted])])
    .filter((name) => !headings.includes(name))
    .map((name) =>
      fault("column.unknown", { name, known: headings }, { path: "columns", value: name }),
    );
  const known = [...declared.keys()];
  const strange = mode === "replace" ? [] : headings.filter((heading) => !declared.has(heading));
  const extra = strange.map((name) =>
    withLocation(fault("column.unknown", { name, known }), { path: "headings", value: name }),
  );
  const clash = headings.find((heading) => heading === "id" && key !== "id");
  if (clash === undefined) return [...missing, ...extra];
  const reason = "a column named id must be the key, because a record's id is its key";
  return [
    ...missing,
    ...extra,
    fault("file.headings", { reason }, { path: "headings", value: clash }),
  ];
}

/** Wants the numbers of a workbook's dates in the columns that are declared to hold them. */
export function wantNumbers(
  file: FileTable,
  columns: ReadonlyMap<string, ColumnDeclaration>,
): void {
  const names = [...columns].flatMap(([name, column]) => {
    const isNumber = column.type === "integer" || column.type === "decimal";
    const isSerial = column.type === "date" && column.reading.encoding.startsWith("serial");
    return isNumber || isSerial ? [name] : [];
  });
  file.asNumbers?.(new Set(names));
}

/** Date cells whose days are counted otherwise than the reading of their column says. */
export function checkDateSystems(
  file: FileTable,
  columns: ReadonlyMap<string, ColumnDeclaration>,
): void {
  const faults = [...file.dateCells()].flatMap(([name, { encoding }]) => {
    const column = columns.get(name);
    if (column?.type !== "date" || column.reading.encoding === encoding) return [];
    const said = column.reading.encoding;
    if (!said.startsWith("serial") || encoding === "text") return [];
    const reason = `the workbook stores the dates of “${name}” as ${encoding}, and its reading says ${said}`;
    return [fault("file.headings", { reason }, { path: `columns.${name}.reading`, value: said })];
  });
  if (faults.length > 0) throw problemOf(faults);
}

/** Cells that a file states to be numbers, in a column whose numbers are declared to be written otherwise. */
export function checkNumberForms(
  { stated }: Pick<FileTable, "stated">,
  columns: ReadonlyMap<string, ColumnDeclaration>,
): void {
  const faults = [...stated()].flatMap(([name, { whole, decimal, long }]) => {
    const column = columns.get(name);
    const numbers = whole + decimal + long;
    const isNumeric = column?.type === "integer" || column?.type === "decimal";
    if (!isNumeric || column.written === undefined || numbers === 0) return [];
    const example = formInWords(column.written, column.type);
    const cells = numbers === 1 ? "one cell" : `${numbers} cells`;
    const are = numbers === 1 ? "is a number" : "are numbers";
    const reason = `${cells} of “${name}” ${are} in the file itself, and not written as ${example}: declare the column without that form`;
    return [fault("file.headings", { reason }, { path: `columns.${name}.written` })];
  });
  if (faults.length > 0) throw problemOf(faults);
}
