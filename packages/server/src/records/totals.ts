import {
  flattened,
  recordsOf,
  type CountQuery,
  type Envelope,
  type Filter,
  type RecordsMeta,
  type TotalAnswer,
} from "@orisma/core/internal";
import type { PreparedRequest } from "./prepared.js";
import { countOf } from "./read.js";

/** A capped total stops here and says "more than". */
const COUNT_CAP = 10_000;

const NOT_COUNTED: TotalAnswer = { total: null, totalIs: "notCounted" };

/** The counts that a page comes with: its total, and that of all that its listing has. */
export function countsOf(
  { count, extras }: Envelope,
  filter: Filter,
  fixed: Filter,
): readonly CountQuery[] {
  const cap = count === "exact" ? null : COUNT_CAP;
  return [
    ...(count === "none" ? [] : [{ filter, cap }]),
    ...(extras.includes("unfiltered") ? [{ filter: fixed, cap }] : []),
  ];
}

/** What was counted, told: a total that goes beyond its cap is "at least". */
export function totalsOf(
  { query, envelope }: Pick<PreparedRequest, "query" | "envelope">,
  counts: readonly (number | null)[],
): TotalAnswer & Pick<RecordsMeta, "unfiltered"> {
  const answers = query.counts.map((count, index) =>
    totalAnswer(counts[index] ?? undefined, count.cap),
  );
  const total = envelope.count === "none" ? NOT_COUNTED : (answers.shift() ?? NOT_COUNTED);
  const [unfiltered] = answers;
  return { ...total, ...(unfiltered === undefined ? {} : { unfiltered }) };
}

/** Of a source with values inside both counts: one is the total, the other is made. */
export async function insideTotals(
  { table, query, envelope, gateway }: PreparedRequest,
  total: TotalAnswer,
): Promise<Pick<RecordsMeta, "inside">> {
  if (envelope.rows === null || envelope.count === "none") return {};
  const cap = envelope.count === "exact" ? null : COUNT_CAP;
  const isPerValue = envelope.rows === "values";
  const another = isPerValue ? recordsOf(table) : flattened(table);
  const count = await countOf({ filter: query.filter, cap }, another, gateway);
  const [known, made] = [{ total: total.total, totalIs: total.totalIs }, totalAnswer(count, cap)];
  return {
    inside: isPerValue ? { records: made, values: known } : { records: known, values: made },
  };
}

function totalAnswer(counted: number | undefined, cap: number | null): TotalAnswer {
  if (counted === undefined) return NOT_COUNTED;
  return cap !== null && counted > cap
    ? { total: cap, totalIs: "atLeast" }
    : { total: counted, totalIs: "exact" };
}
