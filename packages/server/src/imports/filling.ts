import type { ColumnDeclaration, ImportProgress } from "@orisma/contract";
import { fault, renderFault, type Fault, type ImportedTable } from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import {
  copyAll,
  countMerge,
  declaredColumns,
  dictionaryBuilders,
  dictionaryValues,
  mergeByKey,
  type DictionaryBuilders,
  type StoredColumnDeclaration,
  type Source,
} from "../sources/index.js";
import type { FileRow, FileTable } from "./files/index.js";
import { fillTable, type Filled } from "./fill.js";
import {
  checkDateSystems,
  checkNumberForms,
  columnFaults,
  only,
  statedColumns,
  wantNumbers,
  withoutStated,
} from "./matching.js";
import type { Refusals } from "./refusals.js";
import { rawRows } from "./reread.js";
import { makeTable, type Staging } from "./staging.js";

/** An import that runs: how far it is, and what cancels it. */
export interface Running {
  progress: ImportProgress;
  readonly cancel: AbortController;
}

/** What a file is filled into tables with. */
export interface FillWork {
  readonly source: Source;
  readonly number: number;
  readonly file: FileTable;
  readonly refusals: Refusals;
  readonly running: Running;
  /** The names of the tables that were made so far, to be dropped where it fails. */
  readonly tables: string[];
  /** Whether the column named id is the key without anybody having said so. */
  readonly hasImpliedKey: boolean;
}

/** A table with the records that a source is to have. */
export interface FilledTable {
  readonly table: ImportedTable;
  readonly columns: ReadonlyMap<string, StoredColumnDeclaration>;
  readonly added: number;
  readonly changed: number;
  readonly tallies: Filled["tallies"];
  readonly dictionaries: DictionaryBuilders;
}

/** Fills tables with the records of files, before they come into use. */
export class Filling {
  constructor(
    private readonly gateway: Gateway,
    private readonly staging: Staging,
  ) {}

  /** Fills a table of its own with the records of a file. */
  async fresh(work: FillWork): Promise<FilledTable> {
    const { source, number, file } = work;
    const { keyColumn: key } = source;
    const declared = withoutStated(declaredColumns(source));
    const faults = columnFaults(file.headings, declared, key, "replace");
    if (faults.length > 0) throw problemOf(faults);
    wantNumbers(file, declared);
    const first = statedColumns(declared, file, key);
    const dictionaries = dictionaryBuilders(first, key);
    const table = await this.#newTable(work, number, first, dictionaries);
    const { records, tallies } = await this.#write(work, table, first, dictionaries, null);
    const columns = statedColumns(declared, file, key);
    checkDateSystems(file, columns);
    checkNumberForms(file, columns);
    const filled = { table, columns, added: records, changed: 0, tallies, dictionaries };
    if (!differs(columns, first)) return filled;
    // What the first cells of a sheet stated is not what all of them do.
    const others = dictionaryBuilders(columns, key);
    const anew = await this.#newTable(work, await this.staging.nextNumber(source), columns, others);
    const rows = rawRows(file.headings, table, this.gateway);
    const { headings } = file;
    const filling = { headings, rows, firstId: 1, columns, key, dictionaries: others };
    const again = await fillTable({ ...filling, ...REREADING }, anew, this.gateway);
    await this.staging.drop(table.table);
    return { ...filled, table: anew, tallies: again.tallies, dictionaries: others };
  }

  /** Fills a copy of the records that there are with those of a file. */
  async beside(work: FillWork, current: ImportedTable, byKey: boolean): Promise<FilledTable> {
    const { source, number, file } = work;
    const columns = declaredColumns(source);
    const mode = byKey ? "update" : "append";
    const faults = columnFaults(file.headings, columns, source.keyColumn, mode);
    if (faults.length > 0) throw problemOf(faults);
    wantNumbers(file, columns);
    const dictionaries = dictionaryBuilders(columns, source.keyColumn, dictionaryValues(current));
    const table = await this.#newTable(work, number, columns, dictionaries);
    await this.gateway.change(copyAll(current, table));
    if (!byKey) {
      const { records, tallies } = await this.#write(work, table, columns, dictionaries, table);
      checkDateSystems(file, columns);
      checkNumberForms(file, columns);
      return { table, columns, added: records, changed: 0, tallies, dictionaries };
    }
    const own = only(columns, file.headings);
    const some = new Map([...dictionaries].filter(([name]) => own.has(name)));
    const into = await this.#newTable(work, await this.staging.nextNumber(source), own, some);
    const { records, tallies } = await this.#write(work, into, columns, some, table);
    checkDateSystems(file, columns);
    checkNumberForms(file, columns);
    const [[known, changed] = []] = await this.gateway.change(countMerge(into, table));
    await this.gateway.change(mergeByKey(into, table));
    await this.staging.drop(into.table);
    const added = records - Number(known ?? 0);
    return { table, columns, added, changed: Number(changed ?? 0), tallies, dictionaries };
  }

  async #newTable(
    { source, tables }: FillWork,
    number: number,
    columns: ReadonlyMap<string, ColumnDeclaration>,
    dictionaries: DictionaryBuilders,
  ): Promise<ImportedTable> {
    const table = makeTable(source, number, columns, dictionaries);
    tables.push(table.table);
    await this.staging.create(table, source.keyColumn !== null);
    return table;
  }

  /** Writes the records of a file; numbers go on from those of a table where there is one. */
  async #write(
    { source, file, refusals, running, hasImpliedKey }: FillWork,
    into: ImportedTable,
    columns: ReadonlyMap<string, ColumnDeclaration>,
    dictionaries: DictionaryBuilders,
    goesOnFrom: ImportedTable | null,
  ): Promise<Filled> {
    const filling = {
      headings: file.headings,
      rows: file.rows,
      firstId: await this.staging.firstId(source, goesOnFrom),
      columns,
      key: source.keyColumn,
      dictionaries,
      onRecords: (records: number) => {
        checkCancelled(running);
        const share = file.progress();
        update(running, { stage: "reading", records, share, refused: refusals.count });
      },
      onRefused: (row: FileRow) => {
        checkCancelled(running);
        if (hasImpliedKey && row.refused?.code === "row.key") throw impliedKeyFault(row.refused);
        return refusals.add(row);
      },
    };
    const filled = await fillTable(filling, into, this.gateway);
    if (filled.records === 0 && refusals.count > 0) throw nothingImported(refusals);
    return filled;
  }
}

/** A column named id that cannot be the key is said at once: its rows would be refused one by one. */
function impliedKeyFault(found: Fault) {
  const { message } = renderFault(found);
  const reason = `a column named id must be the key, because a record's id is its key, and a row cannot be: ${message}`;
  return problemOf([fault("file.headings", { reason }, { path: "headings", value: "id" })]);
}

/** For records that are read again: one that was taken once can only have become too wide. */
export function refuseNone({ refused }: FileRow): Promise<never> {
  return Promise.reject(problemOf(refused === undefined ? [] : [refused]));
}

/** How records that were taken once are read again. */
export const REREADING = { onRecords: () => undefined, onRefused: refuseNone };

/** Whether some columns are of other types than others of their names. */
export function differs(
  some: ReadonlyMap<string, ColumnDeclaration>,
  others: ReadonlyMap<string, ColumnDeclaration>,
): boolean {
  return [...some].some(([name, { type }]) => type !== others.get(name)?.type);
}

export function update(running: Running, fields: Partial<ImportProgress>): void {
  running.progress = { ...running.progress, ...fields };
}

export function checkCancelled({ cancel }: Running): void {
  if (!cancel.signal.aborted) return;
  throw new Problem("cancelled", "The import was cancelled; the records are as they were");
}

/** A file that would leave nothing is the wrong file, or read in the wrong way. */
function nothingImported({ first }: Refusals): Problem {
  const reason = `no row of the file can be imported; ${first}`;
  return problemOf([fault("file.broken", { line: null, reason })]);
}
