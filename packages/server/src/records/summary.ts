import {
  BUCKET_UNITS,
  MEASURES,
  PARTIALS,
  addDecimals,
  compareDecimals,
  computedColumns,
  derivedNumbers,
  divideDecimal,
  epochMs,
  fault,
  isoWall,
  listFault,
  wallMs,
  withComputed,
  type BucketUnit,
  type Column,
  type DateColumn,
  type Decimal,
  type Edge,
  type GroupKey,
  type Measure,
  type MeasuredColumn,
  type PartialColumn,
  type PartialMeasure,
  type RecordValue,
  type SentParameters,
  type SummaryAnswer,
  type SummaryGroup,
} from "@orisma/core/internal";
import type { ResultRow } from "../database/index.js";
import { problemOf, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import {
  groups,
  numberOf,
  partsOf,
  inSnapshot,
  valueOf,
  omitParameters,
  type Part,
} from "./parts.js";
import type { RunningRequest } from "./prepared.js";
import type { Records } from "./service.js";
import { edgesOf, spanOf, windowOf } from "./span.js";

/** Where there is no date to begin with. */
const EPOCH: Edge = { instant: epochMs(0), wall: wallMs(0) };
/** Groups of a summary at most. */
const MAX_GROUPS = 10_000;

/**
 * Records grouped by up to two columns or units of time, with measures, and totals that add up; by
 * none it is the total alone.
 */
export async function summary(
  records: Records,
  listing: ServedListing,
  sent: SentParameters,
  caller: Caller,
): Promise<SummaryAnswer> {
  const by = (sent.get("by") ?? []).filter((each) => each !== "");
  const measured = (sent.get("measure") ?? []).filter((each) => each !== "");
  const faults = [
    ...(by.length > 2
      ? [
          fault(
            "parameter.value",
            { accepted: "two of them at most" },
            { parameter: "by", value: by.join(", ") },
          ),
        ]
      : []),
  ];
  const columns = columnsOf(listing);
  const dimensions = by.flatMap((text) => dimensionOf(text, columns, faults) ?? []);
  const measures = measured.flatMap((text) => measureOf(text, columns, faults) ?? []);
  if (faults.length > 0) throw problemOf(faults);
  const whole = await records.prepare(listing, omitParameters(sent, ["by", "measure"]), caller);
  return inSnapshot(whole, async (prepared) => {
    const [part, another] = await partsWithDerived(prepared);
    if (another !== undefined || (prepared.isSeveral && part === undefined)) {
      const facts = {
        name: listing.declaration.source,
        reason: "records of several tables are not summarised",
      };
      throw problemOf([fault("parameter.unused", facts, { parameter: "by" })]);
    }
    if (part === undefined) throw new Error("the request has no table");
    const keys: SummaryKey[] = [];
    for (const { column, unit } of dimensions) {
      if (unit === null) {
        keys.push({ kind: "values", column: column.name });
        continue;
      }
      const dates = column as DateColumn;
      const interval = await spanOf(prepared, dates, windowOf(prepared, column.name));
      const edges = interval === null ? [EPOCH] : edgesOf(interval, unit, prepared.listing);
      keys.push({ kind: "buckets", column: column.name, edges });
    }
    const partials = partialsOf(measures);
    const rows = await groups(part, {
      filter: part.filter,
      keys,
      measures: partials,
      limit: MAX_GROUPS + 1,
    });
    if (rows.length > MAX_GROUPS) {
      const place = { parameter: "by", value: by.join(", ") };
      const accepted = `what comes to ${MAX_GROUPS} groups at most`;
      throw problemOf([fault("parameter.value", { accepted }, place)]);
    }
    // Larger groups are made of the smallest, so that they add up, and the table is read once.
    const cells = rows.map((row) => cellOf(row, keys, partials, { columns, listing }));
    const returned = (found: readonly Cell[]) =>
      inOrder(found.map((cell) => groupOf(cell, measures, listing)));
    const totals = keys.length === 2 ? keys.map((_, at) => returned(gathered(cells, [at]))) : [];
    const [grand = groupOf(NO_RECORDS, measures, listing)] = returned(gathered(cells, []));
    return { by, groups: keys.length === 0 ? [] : returned(cells), totals, grand };
  });
}

/** The tables of a request with the columns of the listing that are worked out of others. */
async function partsWithDerived(prepared: RunningRequest): Promise<readonly Part[]> {
  const { listing, derivedAt: asOf } = prepared;
  const { columns, zone, declaration } = listing;
  const computed = computedColumns(declaration.derived ?? {}, { columns, asOf, zone });
  const parts = await partsOf(prepared);
  return parts.map((part) => ({ ...part, table: withComputed(part.table, computed) }));
}

/** The columns that callers may see and that the database has, or works out as numbers, by name. */
function columnsOf({ shown, columns, declaration }: ServedListing): ReadonlyMap<string, Column> {
  const all = new Map([...columns, ...derivedNumbers(declaration.derived ?? {}, columns)]);
  return new Map([...all].filter(([name]) => shown.includes(name)));
}

/** The smallest group that there is: its records, and what is known of their numbers. */
interface Cell {
  readonly of: readonly RecordValue[];
  readonly records: number;
  /** By partial and column; null where no cell has a number. */
  readonly numbers: ReadonlyMap<string, Decimal | null>;
}

const NO_RECORDS: Cell = { of: [], records: 0, numbers: new Map() };
/** As many decimals of an average as show one record among a million. */
const AVERAGE_DECIMALS = 6;

/** What measures are made of: an average of a sum and a count. */
function partialsOf(measures: readonly MeasuredColumn[]): readonly PartialColumn[] {
  const needed = measures.flatMap(({ measure, column }): readonly PartialColumn[] =>
    measure === "average"
      ? [
          { partial: "sum", column },
          { partial: "values", column },
        ]
      : [{ partial: measure, column }],
  );
  const seen = new Set<string>();
  return needed.filter((each) => {
    const key = partialKey(each);
    const isNew = !seen.has(key);
    seen.add(key);
    return isNew;
  });
}

function partialKey({ partial, column }: PartialColumn): string {
  return `${partial}:${column}`;
}

/** Cells that are alike in some of their dimensions, put together. */
function gathered(cells: readonly Cell[], dimensions: readonly number[]): readonly Cell[] {
  const found = new Map<string, Cell>();
  for (const cell of cells) {
    const of = dimensions.map((at) => cell.of[at] ?? null);
    const key = JSON.stringify(of);
    const before = found.get(key) ?? { ...NO_RECORDS, of };
    found.set(key, joined(before, cell));
  }
  return [...found.values()];
}

function joined(a: Cell, b: Cell): Cell {
  const numbers = new Map(a.numbers);
  for (const [key, value] of b.numbers) {
    const before = numbers.get(key) ?? null;
    numbers.set(
      key,
      before === null ? value : value === null ? before : COMBINED[partialOf(key)](before, value),
    );
  }
  return { of: a.of, records: a.records + b.records, numbers };
}

function partialOf(key: string): PartialMeasure {
  return PARTIALS.find((each) => key.startsWith(`${each}:`)) ?? "sum";
}

const COMBINED: Readonly<Record<PartialMeasure, (a: Decimal, b: Decimal) => Decimal>> = {
  sum: addDecimals,
  values: addDecimals,
  min: (a, b) => (compareDecimals(a, b) <= 0 ? a : b),
  max: (a, b) => (compareDecimals(a, b) >= 0 ? a : b),
};

function inOrder(found: readonly SummaryGroup[]): readonly SummaryGroup[] {
  const compare = (a: RecordValue = null, b: RecordValue = null): number => {
    if (a === b) return 0;
    // Blanks last.
    if (a === null || b === null) return a === null ? 1 : -1;
    if (typeof a === "number" && typeof b === "number") return a - b;
    return String(a) < String(b) ? -1 : 1;
  };
  return [...found].sort((a, b) => compare(a.of[0], b.of[0]) || compare(a.of[1], b.of[1]));
}

interface Dimension {
  readonly column: Column;
  readonly unit: BucketUnit | null;
}

/** `priority`, or `raised:month` for a column of dates. */
function dimensionOf(
  text: string,
  columns: ReadonlyMap<string, Column>,
  faults: ReturnType<typeof fault>[],
): Dimension | null {
  const at = text.lastIndexOf(":");
  const [name, unitText] = at < 0 ? [text, null] : [text.slice(0, at), text.slice(at + 1)];
  const place = { parameter: "by", value: text };
  const column = columns.get(name);
  if (column === undefined) {
    const list = listFault("by", text, (each) => dimensionOf(each, columns, []) !== null);
    faults.push(list ?? fault("column.unknown", { name, known: [...columns.keys()] }, place));
    return null;
  }
  const unit = BUCKET_UNITS.find((each) => each === unitText) ?? null;
  if ((column.type === "date") === (unit !== null)) return { column, unit };
  const accepted =
    column.type === "date"
      ? BUCKET_UNITS.map((each) => `${name}:${each}`).join(", ")
      : `${name} alone`;
  faults.push(fault("parameter.value", { accepted }, place));
  return null;
}

/** `sum:cost`. */
function measureOf(
  text: string,
  columns: ReadonlyMap<string, Column>,
  faults: ReturnType<typeof fault>[],
): MeasuredColumn | null {
  const at = text.indexOf(":");
  const [word, name] = [text.slice(0, at), text.slice(at + 1)];
  const measure: Measure | undefined = MEASURES.find((each) => each === word);
  const place = { parameter: "measure", value: text };
  if (measure === undefined) {
    const accepted = `${MEASURES.join(", ")}, then : and a column of numbers`;
    faults.push(fault("parameter.value", { accepted }, place));
    return null;
  }
  const list = listFault("measure", text, (each) => measureOf(each, columns, []) !== null);
  if (list !== null) {
    faults.push(list);
    return null;
  }
  const column = columns.get(name);
  if (column === undefined) {
    faults.push(fault("column.unknown", { name, known: [...columns.keys()] }, place));
    return null;
  }
  if (column.type === "integer" || column.type === "decimal") return { measure, column: name };
  faults.push(fault("column.notNumber", { name, type: column.type }, place));
  return null;
}

/** Figures are by values, or by units of time. */
type SummaryKey = Exclude<GroupKey, { readonly kind: "days" }>;

function cellOf(
  row: ResultRow,
  keys: readonly SummaryKey[],
  partials: readonly PartialColumn[],
  {
    columns,
    listing,
  }: {
    readonly columns: ReadonlyMap<string, Column>;
    readonly listing: ServedListing;
  },
): Cell {
  const of = keys.map((key, index): RecordValue => {
    const value = row[index] ?? null;
    const column = columns.get(key.column);
    if (value === null || column === undefined) return null;
    if (key.kind === "values") return valueOf(value, column, listing);
    const edge = key.edges[Number(value) - 1];
    return edge === undefined ? null : isoWall(edge.wall).replace(/T00:00:00$/, "");
  });
  const numbers = partials.map((partial, index) => {
    const value = row[keys.length + 1 + index] ?? null;
    return [partialKey(partial), value === null ? null : String(value)] as const;
  });
  return { of, records: Number(row[keys.length] ?? 0), numbers: new Map(numbers) };
}

function groupOf(
  { of, records, numbers }: Cell,
  measures: readonly MeasuredColumn[],
  listing: ServedListing,
): SummaryGroup {
  const number = (partial: PartialMeasure, column: string) =>
    numbers.get(partialKey({ partial, column })) ?? null;
  const returned = measures.map(({ measure, column }) => {
    const scale = listing.declaration.units?.[column]?.scale ?? 0;
    const found = number(measure === "average" ? "sum" : measure, column);
    const count = measure === "average" ? Number(number("values", column) ?? 0) : 1;
    const value =
      found === null || count === 0
        ? null
        : measure === "average"
          ? divideDecimal(found, count, AVERAGE_DECIMALS)
          : found;
    return [`${measure}:${column}`, value === null ? null : numberOf(value, scale)] as const;
  });
  return { of, records, measures: Object.fromEntries(returned) };
}
