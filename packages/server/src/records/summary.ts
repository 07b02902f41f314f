import {
  BUCKET_UNITS,
  MEASURES,
  epochMs,
  fault,
  isoWall,
  wallMs,
  type BucketUnit,
  type Column,
  type DateColumn,
  type Edge,
  type GroupKey,
  type Measure,
  type MeasuredColumn,
  type RecordValue,
  type SentParameters,
  type SummaryAnswer,
  type SummaryGroup,
} from "@orisma/core";
import type { ResultRow } from "../database/index.js";
import { problemOf, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { groups, numberOf, ofSource, partsOf, valueOf, without, together } from "./parts.js";
import type { Records } from "./service.js";
import { edgesOf, stretchOf, windowOf } from "./timeline.js";

/** Where there is no date to begin with. */
const EPOCH: Edge = { instant: epochMs(0), wall: wallMs(0) };
/** Groups of a summary at most. */
const MOST_GROUPS = 10_000;

/** Records grouped by up to two columns or units of time, with measures, and totals that add up. */
export async function summary(
  records: Records,
  listing: ServedListing,
  sent: SentParameters,
  caller: Caller,
): Promise<SummaryAnswer> {
  const by = (sent.get("by") ?? []).filter((each) => each !== "");
  const measured = (sent.get("measure") ?? []).filter((each) => each !== "");
  const faults = [
    ...(by.length === 0 || by.length > 2
      ? [
          fault(
            "parameter.value",
            { accepted: "one or two of them" },
            { parameter: "by", value: by.join(", ") },
          ),
        ]
      : []),
  ];
  const dimensions = by.flatMap((text) => dimensionOf(text, listing, faults) ?? []);
  const measures = measured.flatMap((text) => measureOf(text, listing, faults) ?? []);
  if (faults.length > 0) throw problemOf(faults);
  const whole = await records.prepare(listing, without(sent, ["by", "measure"]), caller);
  return together(whole, async (prepared) => {
    const [part, another] = await partsOf(prepared);
    if (another !== undefined || (prepared.members !== null && part === undefined)) {
      const facts = {
        name: listing.declaration.source,
        reason: "records of several tables are not summarised",
      };
      throw problemOf([fault("parameter.unused", facts, { parameter: "by" })]);
    }
    if (part === undefined) throw new Error("the request has no table");
    const keys: (GroupKey & { readonly edges?: readonly Edge[] })[] = [];
    for (const { column, unit } of dimensions) {
      if (unit === null) {
        keys.push({ kind: "values", column: column.name });
        continue;
      }
      const dates = column as DateColumn;
      const stretch = await stretchOf(prepared, dates, windowOf(prepared, column.name));
      const edges = stretch === null ? [EPOCH] : edgesOf(stretch, unit, prepared.listing);
      keys.push({ kind: "buckets", column: column.name, edges });
    }
    const read = async (wanted: readonly GroupKey[]): Promise<readonly SummaryGroup[]> => {
      const query = {
        filter: part.filter,
        keys: wanted,
        measures,
        limit: wanted.length === 0 ? null : MOST_GROUPS + 1,
      };
      const rows = await groups(part, query);
      if (rows.length > MOST_GROUPS) {
        const place = { parameter: "by", value: by.join(", ") };
        throw problemOf([
          fault(
            "parameter.value",
            { accepted: `what comes to ${MOST_GROUPS} groups at most` },
            place,
          ),
        ]);
      }
      return rows.map((row) => groupOf(row, wanted, measures, listing));
    };
    const cells = await read(keys);
    const totals = keys.length === 2 ? await Promise.all(keys.map((key) => read([key]))) : [];
    const [grand] = await read([]);
    if (grand === undefined) throw new Error("a count has a row");
    return { by, groups: inOrder(cells), totals: totals.map(inOrder), grand };
  });
}
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
  listing: ServedListing,
  faults: ReturnType<typeof fault>[],
): Dimension | null {
  const at = text.lastIndexOf(":");
  const [name, unitText] = at < 0 ? [text, null] : [text.slice(0, at), text.slice(at + 1)];
  const place = { parameter: "by", value: text };
  const column = listing.shown.includes(name) ? listing.columns.get(name) : undefined;
  if (column === undefined) {
    faults.push(fault("column.unknown", { name, known: ofSource(listing) }, place));
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
  listing: ServedListing,
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
  const column = listing.shown.includes(name) ? listing.columns.get(name) : undefined;
  if (column === undefined) {
    faults.push(fault("column.unknown", { name, known: ofSource(listing) }, place));
    return null;
  }
  if (column.type === "integer" || column.type === "decimal") return { measure, column: name };
  faults.push(fault("column.notNumber", { name, type: column.type }, place));
  return null;
}

function groupOf(
  row: ResultRow,
  keys: readonly GroupKey[],
  measures: readonly MeasuredColumn[],
  listing: ServedListing,
): SummaryGroup {
  const of = keys.map((key, index): RecordValue => {
    const value = row[index] ?? null;
    const column = listing.columns.get(key.column);
    if (value === null || column === undefined) return null;
    if (key.kind === "values") return valueOf(value, column, listing);
    const edge = key.edges[Number(value) - 1];
    return edge === undefined ? null : isoWall(edge.wall).replace(/T00:00:00$/, "");
  });
  const told = measures.map(({ measure, column }, index) => {
    const value = row[keys.length + 1 + index] ?? null;
    const scale = listing.declaration.units?.[column]?.scale ?? 0;
    return [
      `${measure}:${column}`,
      value === null ? null : numberOf(String(value), scale),
    ] as const;
  });
  return { of, records: Number(row[keys.length] ?? 0), measures: Object.fromEntries(told) };
}
