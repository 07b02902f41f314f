import {
  BUCKET_UNITS,
  MS_PER_DAY,
  dateText,
  edgeValue,
  fault,
  forColumn,
  intervalText,
  periodBefore,
  type DateCondition,
  type Filter,
  type GroupKey,
  type Interval,
  type SentParameters,
  type ExtentAnswer,
  type TimelineAnswer,
} from "@orisma/core/internal";
import { problemOf, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import {
  countIn,
  dateColumn,
  extentOf,
  groups,
  partsOf,
  pickParameters,
  omitParameters,
  inSnapshot,
} from "./parts.js";
import type { RunningRequest } from "./prepared.js";
import type { Records } from "./service.js";
import { edgesOf, placeOf, spanOf, unitFor, windowOf } from "./span.js";

/** The first and last dates of every date column shown, in the records requested. */
export async function extent(prepared: RunningRequest): Promise<ExtentAnswer> {
  const dates = prepared.listing.shown.flatMap((name) => dateColumn(name, prepared.listing) ?? []);
  const extent: Record<string, { first: string | null; last: string | null }> = {};
  for (const { name, kind } of dates) {
    const found = await extentOf(name, prepared);
    const text = (ms: number | undefined) => (ms === undefined ? null : dateText(ms, kind));
    extent[name] = { first: text(found?.first), last: text(found?.last) };
  }
  return { extent };
}

/** Records counted along the time of the main date, empty units included. */
export async function timeline(
  records: Records,
  declared: ServedListing,
  sent: SentParameters,
  caller: Caller,
): Promise<TimelineAnswer> {
  const { unit: requested } = pickParameters(sent, ["unit"]);
  const unit = requested === undefined ? null : BUCKET_UNITS.find((each) => each === requested);
  if (unit === undefined) {
    const place = { parameter: "unit", value: requested ?? "" };
    throw problemOf([fault("parameter.value", { accepted: BUCKET_UNITS.join(", ") }, place)]);
  }
  const whole = await records.prepare(declared, omitParameters(sent, ["unit"]), caller);
  return inSnapshot(whole, async (prepared) => {
    const { listing } = prepared;
    const name = listing.declaration.mainDate;
    const column = dateColumn(name, listing);
    if (column === null) throw new Error(`${name} holds no dates`);
    const window = windowOf(prepared, name);
    const interval = await spanOf(prepared, column, window);
    // What has no date is in no window: it is counted under the other conditions.
    const others = otherConditions(prepared, name);
    const count = (of: Filter) => countedIn(prepared, [...others, of]);
    const cells = {
      blank: await count({ kind: "state", column: name, state: "blank" }),
      unreadable: await count({ kind: "state", column: name, state: "unreadable" }),
    };
    const returned = { column: name, zone: listing.zone.id, ...cells };
    if (interval === null) {
      return { ...returned, unit: unit ?? "day", buckets: [], empty: 0, before: null };
    }
    const chosen = unit ?? unitFor(interval);
    const edges = edgesOf(interval, chosen, listing);
    const totals = new Array<number>(edges.length - 1).fill(0);
    // A date without a day that overlaps a window may begin before it: it is counted where the window begins.
    const beginsBefore = (at: number, isBefore: boolean) =>
      column.partial === "overlaps" && isBefore ? 0 : at;
    const firstEdge = edges[0] === undefined ? -Infinity : edgeValue(edges[0], column.kind);
    for (const part of await partsOf(prepared)) {
      const shared = part.cells[name];
      if (shared?.state === "dated") {
        const at = placeOf(shared.ms, edges, column);
        if (at >= 0) totals[at] = (totals[at] ?? 0) + (await countIn(part, part.filter));
        continue;
      }
      const isByDay =
        column.kind === "date" && interval.last - interval.first <= MAX_DAYS * MS_PER_DAY;
      const key: GroupKey = isByDay
        ? { kind: "days", column: name }
        : { kind: "buckets", column: name, edges };
      for (const [group = null, n = 0] of await groups(part, {
        filter: part.filter,
        keys: [key],
        measures: [],
        limit: null,
      })) {
        if (group === null) continue;
        const dayMs = Number(group) * MS_PER_DAY;
        const at = isByDay
          ? beginsBefore(placeOf(dayMs, edges, column), dayMs < firstEdge)
          : beginsBefore(Number(group) - 1, Number(group) === 0);
        if (at >= 0 && at < totals.length) totals[at] = (totals[at] ?? 0) + Number(n);
      }
    }
    const buckets = totals.map((records, index) => ({
      ...intervalText({ start: edges[index] ?? null, end: edges[index + 1] ?? null }),
      records,
    }));
    const previous = window === null ? null : periodBefore(window, "length", listing.zone);
    return {
      ...returned,
      unit: chosen,
      buckets,
      empty: totals.filter((records) => records === 0).length,
      before:
        previous === null
          ? null
          : {
              ...intervalText(previous),
              records: await countBefore(prepared, name, previous),
            },
    };
  });
}

/** Days that are counted one by one; of more the database counts the units. */
const MAX_DAYS = 40_000;

/** The same request with another window of the main date. */
async function countBefore(
  prepared: RunningRequest,
  name: string,
  interval: Interval,
): Promise<number> {
  const moved: DateCondition = {
    kind: "date",
    column: name,
    side: "inside",
    intervals: [interval],
    recurring: [],
    blanks: "exclude",
  };
  const others = otherConditions(prepared, name);
  return countedIn(prepared, [...others, forColumn(moved, prepared.listing.columns)]);
}

/** The conditions on other columns, and the fixed filter. */
function otherConditions(prepared: RunningRequest, name: string): readonly Filter[] {
  const others = conjunctsOf(prepared.filter).filter((each) => {
    const dates = each.kind === "partial" ? each.dates : each;
    return !(dates.kind === "date" && dates.column === name);
  });
  return [prepared.fixed, ...others];
}

/** Records of the tables of a request that have all of some conditions. */
async function countedIn(prepared: RunningRequest, of: readonly Filter[]): Promise<number> {
  let total = 0;
  for (const part of await partsOf(prepared, { kind: "all", of })) {
    total += await countIn(part, part.filter);
  }
  return total;
}

function conjunctsOf(filter: Filter): readonly Filter[] {
  return filter.kind === "all" ? filter.of.flatMap(conjunctsOf) : [filter];
}
