import {
  EXTENT,
  MAX_BUCKETS,
  MS_PER_DAY,
  appliedDates,
  bucketEdges,
  dateText,
  dayOf,
  epochMs,
  isEnd,
  isoDay,
  isStart,
  notice,
  takesDates,
  wallAt,
  wallMs,
  type DateParameter,
  type Filter,
  type Notice,
  type RecordsMeta,
} from "@orisma/core/internal";
import { dateColumn, extentOf, groups, and, partsOf } from "./parts.js";
import type { PreparedRequest } from "./prepared.js";
import { placeOf, spanOf, windowOf } from "./span.js";

/** On request the first and the last of the main date in what was found, and how many days it has. */
export async function mainDateOf(
  prepared: PreparedRequest,
): Promise<Pick<RecordsMeta, "extent" | "days"> & { readonly notices?: readonly Notice[] }> {
  const { mainDate } = prepared.listing.declaration;
  const { extras } = prepared.envelope;
  const column = dateColumn(mainDate, prepared.listing);
  if (column === null) return {};
  const text = (ms: number | undefined) => (ms === undefined ? null : dateText(ms, column.kind));
  const found = extras.includes("extent") ? await extentOf(mainDate, prepared) : null;
  const days = extras.includes("days") ? await daysOf(prepared, mainDate) : null;
  return {
    ...(extras.includes("extent")
      ? { extent: { first: text(found?.first), last: text(found?.last) } }
      : {}),
    ...(days === null ? {} : { days }),
    ...(days?.present === null
      ? { notices: [notice("days.notCounted", { most: MAX_BUCKETS })] }
      : {}),
  };
}

/** The days of the listing's zone that have records; null where there are too many to report. */
async function daysOf(
  prepared: PreparedRequest,
  name: string,
): Promise<NonNullable<RecordsMeta["days"]>> {
  const column = dateColumn(name, prepared.listing);
  const interval =
    column === null ? null : await spanOf(prepared, column, windowOf(prepared, name));
  if (column === null || interval === null) return { present: 0, absent: 0 };
  const { zone, calendar } = prepared.listing;
  const [first, last] = [interval.first, interval.last].map((wall) =>
    Math.floor(wall / MS_PER_DAY),
  );
  const all = (last ?? 0) - (first ?? 0) + 1;
  const isDays = column.kind === "date";
  const edges = isDays
    ? null
    : bucketEdges(wallMs(interval.first), wallMs(interval.last), "day", { zone, calendar });
  if (!isDays && edges === null) return { present: null, absent: null };
  const present = new Set<string | number>();
  for (const part of await partsOf(prepared)) {
    const shared = part.cells[name];
    if (shared !== undefined) {
      if (shared.state === "dated") {
        present.add(edges === null ? shared.ms : placeOf(shared.ms, edges, column));
      }
      continue;
    }
    const dated: Filter = { kind: "state", column: name, state: "dated" };
    const rows = await groups(part, {
      filter: and(part.filter, [dated]),
      keys: [
        edges === null
          ? { kind: "values", column: name }
          : { kind: "buckets", column: name, edges },
      ],
      measures: [],
      limit: null,
    });
    for (const [day = null] of rows) if (day !== null) present.add(day);
  }
  return { present: present.size, absent: all - present.size };
}

/**
 * What a person is shown in the parameters whose default is the extent of the data, and which are
 * not given: the first and the last date inside what the listing fixes. It is no condition.
 */
export async function shownExtents(prepared: PreparedRequest): Promise<Pick<RecordsMeta, "shown">> {
  const { listing, planned } = prepared;
  const given = new Set(appliedDates(planned).map(({ parameter }) => parameter));
  const waiting = listing.declaration.parameters.filter(
    (each): each is DateParameter =>
      takesDates(each) && each.default === EXTENT && !given.has(each.name),
  );
  if (waiting.length === 0) return {};
  const shown: Record<string, string> = {};
  const extents = new Map<string, Awaited<ReturnType<typeof extentOf>>>();
  const everything = {
    ...prepared,
    tables: prepared.everyTable.map((each) => ({ ...each, filter: prepared.fixed })),
    query: { ...prepared.query, filter: prepared.fixed },
  };
  for (const { name, column, comparison, type } of waiting) {
    const found = extents.get(column) ?? (await extentOf(column, everything));
    extents.set(column, found);
    const known = dateColumn(column, listing);
    if (found === null || known === null) continue;
    const text = (ms: number) => {
      if (type === "datetime") return dateText(ms, known.kind);
      const wall = known.kind === "instant" ? wallAt(listing.zone, epochMs(ms)) : wallMs(ms);
      return isoDay(dayOf(wall));
    };
    const [first, last] = [text(found.first), text(found.last)];
    shown[name] = isStart(comparison) ? first : isEnd(comparison) ? last : `${first}/${last}`;
  }
  return { shown };
}
