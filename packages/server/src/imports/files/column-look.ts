import type { FileInspection } from "@orisma/contract";
import {
  formInWords,
  nameOf,
  recogniseColumn,
  recogniseNumbers,
  type ShownDates,
  type ValueCount,
} from "@orisma/core/internal";
import { Turns } from "../../http/index.js";
import { statedType } from "./stated-types.js";
import type { FileCell, FileTable } from "./table.js";

/** The first records whose columns are looked at. */
const MAX_LOOKED = 2_000;

type ColumnFound = FileInspection["columns"][number];

/** Finds out from the first records of a file what its columns would be. */
export class ColumnLook {
  #looked = 0;
  readonly #counts: readonly Map<string | null, number>[];

  constructor(private readonly headings: readonly string[]) {
    this.#counts = headings.map(() => new Map());
  }

  add(cells: readonly FileCell[]): void {
    if (this.#looked === MAX_LOOKED) return;
    this.#looked++;
    for (const [index, counts] of this.#counts.entries()) {
      const value = cells[index] ?? null;
      counts.set(value, (counts.get(value) ?? 0) + 1);
    }
  }

  /** What each column would be, and the key that suggests itself; recognising goes on in turns with other work. */
  async found({
    stated,
    dateCells,
  }: Pick<FileTable, "stated" | "dateCells">): Promise<
    Pick<FileInspection, "looked" | "key" | "columns">
  > {
    const [types, dates] = [stated(), dateCells()];
    const turns = new Turns();
    const keys = this.headings.filter((_, index) => this.#isKey(index));
    const key = keys.find((name) => name === "id") ?? keys[0] ?? null;
    const columns: ColumnFound[] = [];
    for (const [index, name] of this.headings.entries()) {
      const values = [...(this.#counts[index] ?? [])].map(([value, count]) => ({ value, count }));
      const cells = types.get(name);
      // A column named id becomes the key, and a key is text.
      const isText = cells === undefined || (name === "id" && key === name);
      const type = isText ? null : statedType(cells);
      columns.push({ name, ...columnOf(values, type, dates.get(name)) });
      await turns.pause();
    }
    return { looked: this.#looked, key, columns };
  }

  #isKey(index: number): boolean {
    const counts = this.#counts[index];
    if (counts === undefined || this.#looked === 0 || counts.size !== this.#looked) return false;
    return [...counts.keys()].every((value) => (value ?? "").trim() !== "");
  }
}

function columnOf(
  values: readonly ValueCount[],
  stated: "integer" | "decimal" | "boolean" | null,
  shown: ShownDates | undefined,
): Omit<ColumnFound, "name"> {
  const dates = recogniseColumn(values, shown);
  const [reading] = dates.candidates;
  const isBare = dates.verdict === "numbers" || dates.verdict === "few";
  if (reading !== undefined && !isBare) {
    const isCertain = dates.verdict === "certain";
    const { misses } = reading;
    const type = isCertain ? "date" : "text";
    const { evidence } = dates;
    return { type, written: nameOf(reading.reading), isCertain, misses, evidence };
  }
  if (stated !== null) return { ...PLAIN, type: stated, isCertain: true };
  const numbers = recogniseNumbers(values);
  const [form] = numbers.candidates;
  if (form !== undefined) {
    const isCertain = numbers.verdict === "certain";
    const written = formInWords(form.form, form.type);
    const type = isCertain ? form.type : "text";
    return { type, written, isCertain, misses: form.misses, evidence: numbers.evidence };
  }
  return isBare ? { ...PLAIN, evidence: dates.evidence } : PLAIN;
}

const PLAIN = { type: "text", written: null, isCertain: false, misses: 0, evidence: null } as const;
