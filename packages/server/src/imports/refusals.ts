import { type FileImport, RefusedRow } from "../sources/index.js";
import { csvText, fault, renderFault } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import { REFUSED_HEADINGS, type FileCell, type FileRow } from "./files/index.js";
import { problemOf } from "../http/index.js";

/** Rows of one file that may be refused before the file itself is. */
const MAX_REFUSED = 100_000;
const ROWS_AT_ONCE = 500;
const LONGEST_REASON = 512;

/** Keeps the rows of a file that cannot be imported. */
export class Refusals {
  #count = 0;
  #first = "";
  #waiting: RefusedRow[] = [];

  constructor(
    private readonly dataSource: DataSource,
    private readonly fileImport: FileImport,
  ) {}

  get count(): number {
    return this.#count;
  }

  /** The first of them in words. */
  get first(): string {
    return this.#first;
  }

  async add({ line, cells, refused }: FileRow): Promise<void> {
    this.#count++;
    if (this.#count > MAX_REFUSED) {
      const reason = `more than ${MAX_REFUSED} rows of the file cannot be imported, the last on line ${line}`;
      throw problemOf([fault("file.limit", { reason, most: `${MAX_REFUSED} refused rows` })]);
    }
    const reason = refused === undefined ? "" : renderFault(refused).message;
    if (this.#count === 1) this.#first = `line ${line}: ${reason}`;
    this.#waiting.push(
      Object.assign(new RefusedRow(), {
        fileImport: { id: this.fileImport.id },
        line,
        reason: reason.slice(0, LONGEST_REASON),
        cells: JSON.stringify(cells),
      }),
    );
    if (this.#waiting.length >= ROWS_AT_ONCE) await this.flush();
  }

  async flush(): Promise<void> {
    const rows = this.#waiting;
    this.#waiting = [];
    if (rows.length > 0) await this.dataSource.getRepository(RefusedRow).insert(rows);
  }
}

/** A row that could not be imported, as it is returned. */
export interface RefusedDescription {
  readonly line: number;
  readonly reason: string;
  readonly cells: readonly FileCell[];
}

/** The refused rows of an import, by line. */
export async function refusedRows(
  dataSource: DataSource,
  fileImport: FileImport,
): Promise<readonly RefusedDescription[]> {
  const rows = await dataSource
    .getRepository(RefusedRow)
    .find({ where: { fileImport: { id: fileImport.id } }, order: { line: "ASC", id: "ASC" } });
  return rows.map(({ line, reason, cells }) => ({
    line,
    reason,
    cells: JSON.parse(cells) as FileCell[],
  }));
}

/**
 * Refused rows as a CSV file with the headings of their own: once repaired it can be taken again
 * as it is, since the first two columns are omitted then.
 */
export function refusedCsv(
  headings: readonly string[],
  rows: readonly RefusedDescription[],
): string {
  return csvText([
    [...REFUSED_HEADINGS, ...headings],
    ...rows.map(({ line, reason, cells }) => [
      String(line),
      reason,
      ...cells.map((cell) => cell ?? ""),
    ]),
  ]);
}
