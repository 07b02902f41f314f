import {
  flattened,
  notice,
  recordsOf,
  type CountQuery,
  type Envelope,
  type Filter,
  type Notice,
  type RecordsMeta,
  type TotalAnswer,
} from "@orisma/core/internal";
import type { PreparedRequest } from "./prepared.js";
import { COUNT_LIMIT_S, countOf } from "./read.js";
import type { ServedListing } from "../listings/index.js";

/** Records that are counted by default, where the listing declares no other bound. */
const COUNTED_BY_DEFAULT = 10_000;

const NOT_COUNTED: TotalAnswer = { total: null, totalExact: false };

/** The number at which a count stops; null for none. */
function boundOf({ total }: Envelope, { declaration }: ServedListing): number | null {
  return total === "exact" ? null : (declaration.total?.upTo ?? COUNTED_BY_DEFAULT);
}

/** The counts that a page comes with: its total, and that of all that its listing has. */
export function countsOf(
  envelope: Envelope,
  listing: ServedListing,
  filter: Filter,
  fixed: Filter,
): readonly CountQuery[] {
  const { total, extras } = envelope;
  const cap = boundOf(envelope, listing);
  return [
    ...(total === "none" ? [] : [{ filter, cap }]),
    ...(extras.includes("unfiltered") ? [{ filter: fixed, cap }] : []),
  ];
}

/** The totals of a page: one beyond its bound is the bound, and not exact. */
export function totalsOf(
  { query, envelope }: Pick<PreparedRequest, "query" | "envelope">,
  counts: readonly (number | null)[],
): TotalAnswer & Pick<RecordsMeta, "unfiltered"> & { readonly notices?: readonly Notice[] } {
  const answers = query.counts.map((count, index) =>
    totalAnswer(counts[index] ?? undefined, count.cap),
  );
  const total = envelope.total === "none" ? NOT_COUNTED : (answers.shift() ?? NOT_COUNTED);
  const [unfiltered] = answers;
  const isLate = counts.some((each) => each === null);
  return {
    ...total,
    ...(unfiltered === undefined ? {} : { unfiltered }),
    ...(isLate ? { notices: [notice("total.notInTime", { seconds: COUNT_LIMIT_S })] } : {}),
  };
}

/** Of a source with values inside both counts: one is the total, the other is made. */
export async function insideTotals(
  { table, query, envelope, listing, gateway }: PreparedRequest,
  total: TotalAnswer,
): Promise<Pick<RecordsMeta, "unnested">> {
  if (envelope.rows === null || envelope.total === "none") return {};
  const cap = boundOf(envelope, listing);
  const isPerValue = envelope.rows === "values";
  const another = isPerValue ? recordsOf(table) : flattened(table);
  const count = await countOf({ filter: query.filter, cap }, another, gateway);
  const [known, derivedColumns] = [
    { total: total.total, totalExact: total.totalExact },
    totalAnswer(count, cap),
  ];
  return {
    unnested: isPerValue
      ? { records: derivedColumns, values: known }
      : { records: known, values: derivedColumns },
  };
}

function totalAnswer(counted: number | undefined, cap: number | null): TotalAnswer {
  if (counted === undefined) return NOT_COUNTED;
  return cap !== null && counted > cap
    ? { total: cap, totalExact: false }
    : { total: counted, totalExact: true };
}
