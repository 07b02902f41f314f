import {
  MARIADB,
  countNumbers,
  dateQuality,
  distinctStatement,
  readValues,
  recogniseColumn,
  unreadableStatement,
  type Column,
  type ColumnProfile,
  type ColumnSample,
  type DateQuality,
  type Reading,
  type SourceProfile,
  type StoredTable,
  type ValueCount,
} from "@orisma/core";
import { TooSlow, type Gateway } from "../database/index.js";
import { readingOf } from "../dates/index.js";
import type { DateCells } from "../files/index.js";
import { cellReader } from "./cells.js";
import { asRead, tableOf, type KnownSource } from "./columns.js";
import type { NewColumn } from "./schema.js";

/** Distinct texts of a column that are looked at; a column with more says so. */
const MOST_DISTINCT = 100_000;
/** Records that are looked at where a whole column takes too long. */
const SOME_RECORDS = 100_000;
const MOST_SAMPLES = 12;
const MOST_UNREADABLE = 50;
/** Seconds that the database may take over one column. */
const COLUMN_LIMIT_S = 30;

/** What a look reads by. */
type Reader = Pick<Gateway, "read">;

/** Looks at the stored texts of every column; throws a problem for a source without records. */
export async function profileSource(
  source: KnownSource,
  declared: ReadonlyMap<string, NewColumn>,
  dateCells: Readonly<Record<string, DateCells>>,
  gateway: Reader,
  today: number,
): Promise<SourceProfile> {
  const table = tableOf(source);
  const columns: ColumnProfile[] = [];
  // One after the other: a look must not take all of the database's connections.
  for (const column of source.columns) {
    const { values, complete } = await distinctValues(column.name, table, gateway);
    const cells = dateCells[column.name];
    const recognition = recogniseColumn(values, cells);
    const known = declared.get(column.name);
    const reading = readingFor(
      known === undefined ? undefined : asRead(known, source),
      recognition.verdict === "numbers" ? undefined : recognition.candidates[0]?.reading,
    );
    columns.push({
      name: column.name,
      type: column.type,
      distinct: values.length,
      complete,
      recognition,
      numbers: countNumbers(values),
      ...(cells === undefined ? {} : { dateCells: cells }),
      reading,
      quality: reading === null ? null : qualityOf(values, reading, today),
      samples: samplesOf(values, reading),
      unreadable: await unreadableCells(column, table, gateway),
    });
  }
  const records = columns[0]?.recognition.cells ?? 0;
  return { source: source.name, records, columns };
}

/** What a column comes to as it is settled now, and as it would be. */
export interface ColumnPreview {
  readonly type: NewColumn["type"];
  readonly complete: boolean;
  readonly dated: number;
  readonly blank: number;
  readonly unreadable: number;
  /** For dates. */
  readonly quality: DateQuality | null;
  readonly samples: readonly ColumnSample[];
}

/** What columns would come to under other readings, from their distinct texts. */
export async function previewColumns(
  source: KnownSource,
  columns: Readonly<Record<string, NewColumn>>,
  gateway: Reader,
  today: number,
): Promise<Readonly<Record<string, ColumnPreview>>> {
  const table = tableOf(source);
  const previews: Record<string, ColumnPreview> = {};
  for (const [name, sent] of Object.entries(columns)) {
    const column = asRead(sent, source);
    const { values, complete } = await distinctValues(name, table, gateway);
    const reading = readingFor(column, undefined);
    const counts = { dated: 0, blank: 0, unreadable: 0 };
    if (column.type === "text") counts.dated = values.reduce((sum, { count }) => sum + count, 0);
    else {
      const read = cellReader(column);
      for (const { value, count } of values) {
        counts[read(value === null ? null : String(value)).state] += count;
      }
    }
    previews[name] = {
      type: column.type,
      complete,
      ...counts,
      quality: reading === null ? null : qualityOf(values, reading, today),
      samples: samplesOf(values, reading),
    };
  }
  return previews;
}

/** The distinct texts of a column; where all of it takes too long, those of some of its records. */
async function distinctValues(name: string, table: StoredTable, gateway: Reader) {
  const read = (among: number | null) =>
    gateway.read(
      distinctStatement(name, MOST_DISTINCT + 1, table, MARIADB, { among }),
      COLUMN_LIMIT_S,
    );
  const whole = await inTime(() => read(null));
  const rows = whole ?? (await read(SOME_RECORDS));
  const values = rows
    .slice(0, MOST_DISTINCT)
    .map(([value = null, count]): ValueCount => ({ value, count: Number(count) }));
  return { values, complete: whole !== null && rows.length <= MOST_DISTINCT };
}

async function unreadableCells(column: Column, table: StoredTable, gateway: Reader) {
  const statement = unreadableStatement(column.name, MOST_UNREADABLE, table, MARIADB);
  if (statement === null) return [];
  const rows = (await inTime(() => gateway.read(statement, COLUMN_LIMIT_S))) ?? [];
  return rows.map(([id, value]) => ({ id: id ?? "", value: String(value ?? "") }));
}

/** What the database answers within its time; null where it does not. */
async function inTime<T>(work: () => Promise<T>): Promise<T | null> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof TooSlow) return null;
    throw error;
  }
}

/** The reading that a column has, else the one that it most likely should have. */
function readingFor(column: NewColumn | undefined, likely: Reading | undefined): Reading | null {
  if (column?.type === "date") return readingOf(column.reading);
  return column === undefined || column.type === "text" ? (likely ?? null) : null;
}

function qualityOf(values: readonly ValueCount[], reading: Reading, today: number) {
  const found = dateQuality(values, reading, today);
  return found.ok ? found.value : null;
}

/** The most frequent texts, each with what it is under the reading. */
function samplesOf(
  values: readonly ValueCount[],
  reading: Reading | null,
): readonly ColumnSample[] {
  const first = values.slice(0, MOST_SAMPLES);
  const texts = first.map(({ value }) => (value === null ? null : String(value)));
  const read = reading === null ? null : readValues(texts, reading);
  return first.map(({ count }, index) => {
    const answer = read?.ok === true ? read.value[index] : undefined;
    return { count, ...(answer ?? { value: texts[index] ?? null }) };
  });
}
