import type { DateCells, ColumnDeclaration, ColumnPreview } from "@orisma/contract";
import {
  EVERYTHING,
  MARIADB,
  countNumbers,
  countStatement,
  dateQuality,
  distinctStatement,
  readValues,
  recogniseColumn,
  recogniseNumbers,
  unreadableStatement,
  type Column,
  type ColumnProfile,
  type ColumnSample,
  type DateQuality,
  type DistinctOptions,
  type Reading,
  type Recognition,
  type RecordSample,
  type SourceProfile,
  type StoredTable,
  type ValueCount,
} from "@orisma/core/internal";
import { TooSlow, type Gateway } from "../database/index.js";
import { cellReader } from "./cells.js";
import { asRead, tableOf, writtenOf, type KnownSource } from "./columns.js";

/** Distinct strings of a column that are looked at; of one with more some records are drawn. */
const MAX_DISTINCT = 100_000;
/** Records that are drawn evenly, at about; some fewer than strings are looked at. */
const DRAWN_RECORDS = 90_000;
/** Records that are looked at where a whole column takes too long. */
const FIRST_RECORDS = 100_000;
const MAX_SAMPLES = 12;
const MAX_UNREADABLE = 50;
/** Seconds that the database may take over one column. */
const COLUMN_LIMIT_S = 30;

/** Verdicts under which a column is not taken for one of dates. */
const UNLIKELY: ReadonlySet<Recognition["verdict"]> = new Set(["numbers", "few"]);

/** What a look reads by. */
type Reader = Pick<Gateway, "read">;

/** Looks at the stored strings of every column; throws a problem for a source without records. */
export async function profileSource(
  source: KnownSource,
  declared: ReadonlyMap<string, ColumnDeclaration>,
  dateCells: Readonly<Record<string, DateCells>>,
  gateway: Reader,
  today: number,
): Promise<SourceProfile> {
  const table = tableOf(source);
  const columns: ColumnProfile[] = [];
  const strings = new DistinctTexts(table, gateway);
  // One after the other: a look must not take all of the database's connections.
  for (const column of source.columns) {
    const { values, sample } = await strings.of(column.name);
    const cells = dateCells[column.name];
    const known = declared.get(column.name);
    const form = known === undefined ? null : writtenOf(known);
    const blanks = known?.type === "date" ? known.reading.blanks : [];
    const recognition = recogniseColumn(values, cells, blanks);
    const reading = readingFor(
      known === undefined ? undefined : asRead(known, source),
      UNLIKELY.has(recognition.verdict) ? undefined : recognition.candidates[0]?.reading,
    );
    columns.push({
      name: column.name,
      type: column.type,
      distinct: values.length,
      sample,
      recognition,
      numbers: countNumbers(values, form),
      ...(form === null ? {} : { form }),
      written: recogniseNumbers(values),
      ...(cells === undefined ? {} : { dateCells: cells }),
      reading,
      quality: reading === null ? null : qualityOf(values, reading, today, sample),
      samples: samplesOf(values, reading),
      unreadable: await unreadableCells(column, table, gateway),
    });
  }
  const whole = columns.find(({ sample }) => sample === null)?.recognition.cells;
  return { source: source.name, records: whole ?? (await strings.records()) ?? 0, columns };
}

/** What columns would come to under other readings, from their distinct strings. */
export async function previewColumns(
  source: KnownSource,
  columns: Readonly<Record<string, ColumnDeclaration>>,
  gateway: Reader,
  today: number,
): Promise<Readonly<Record<string, ColumnPreview>>> {
  const strings = new DistinctTexts(tableOf(source), gateway);
  const previews: Record<string, ColumnPreview> = {};
  for (const [name, sent] of Object.entries(columns)) {
    const column = asRead(sent, source);
    const { values, sample } = await strings.of(name);
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
      sample,
      ...counts,
      quality: reading === null ? null : qualityOf(values, reading, today, sample),
      samples: samplesOf(values, reading),
    };
  }
  return previews;
}

/** The distinct strings of columns: of all records, or of some where they are too many or too slow. */
class DistinctTexts {
  #records: Promise<number | null> | null = null;

  constructor(
    private readonly table: StoredTable,
    private readonly gateway: Reader,
  ) {}

  /** All records of the table; null where the database cannot count them in time. */
  records(): Promise<number | null> {
    this.#records ??= inTime(async () => {
      const statement = countStatement({ filter: EVERYTHING, cap: null }, this.table, MARIADB);
      const [row] = await this.gateway.read(statement, COLUMN_LIMIT_S);
      return Number(row?.[0] ?? 0);
    });
    return this.#records;
  }

  async of(name: string): Promise<{
    readonly values: readonly ValueCount[];
    readonly sample: RecordSample | null;
  }> {
    const whole = await inTime(() => this.#read(name, {}));
    if (whole !== null && whole.length <= MAX_DISTINCT) return { values: whole, sample: null };
    const all = await this.records();
    const sampled = (values: readonly ValueCount[], drawn: RecordSample["drawn"]) => {
      const records = values.reduce((sum, { count }) => sum + count, 0);
      return { values, sample: { records, of: all, drawn } };
    };
    if (whole !== null && all !== null) {
      const every = Math.ceil(all / DRAWN_RECORDS);
      const drawn = await inTime(() => this.#read(name, { every }));
      if (drawn !== null) return sampled(drawn, "evenly");
    }
    return sampled(await this.#read(name, { among: FIRST_RECORDS }), "first");
  }

  async #read(name: string, options: DistinctOptions): Promise<readonly ValueCount[]> {
    const limit = MAX_DISTINCT + 1;
    const statement = distinctStatement(name, limit, this.table, MARIADB, options);
    const rows = await this.gateway.read(statement, COLUMN_LIMIT_S);
    return rows.map(([value = null, count]) => ({ value, count: Number(count) }));
  }
}

async function unreadableCells(column: Column, table: StoredTable, gateway: Reader) {
  const statement = unreadableStatement(column.name, MAX_UNREADABLE, table, MARIADB);
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
function readingFor(
  column: ColumnDeclaration | undefined,
  likely: Reading | undefined,
): Reading | null {
  if (column?.type === "date") return column.reading;
  return column === undefined || column.type === "text" ? (likely ?? null) : null;
}

function qualityOf(
  values: readonly ValueCount[],
  reading: Reading,
  today: number,
  sample: RecordSample | null,
): DateQuality | null {
  const found = dateQuality(values, reading, today);
  if (!found.ok) return null;
  // Between the records that were drawn there may be others.
  return sample === null ? found.value : { ...found.value, gaps: [] };
}

/** The most frequent strings, each with what it is under the reading. */
function samplesOf(
  values: readonly ValueCount[],
  reading: Reading | null,
): readonly ColumnSample[] {
  const first = values.slice(0, MAX_SAMPLES);
  const strings = first.map(({ value }) => (value === null ? null : String(value)));
  const read = reading === null ? null : readValues(strings, reading);
  return first.map(({ count }, index) => {
    const answer = read?.ok === true ? read.value[index] : undefined;
    return { count, ...(answer ?? { value: strings[index] ?? null }) };
  });
}
