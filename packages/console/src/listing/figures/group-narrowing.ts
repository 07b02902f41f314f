import type { ListingDetails } from "@orisma/client";
import type { RecordValue } from "@orisma/core/internal";
import { cellOffers } from "../cell-offers.js";
import { withWindow } from "../narrowing.js";
import type { PageState } from "../state.js";

const MS_PER_DAY = 86_400_000;

/** The page with the records of one group alone; null where the listing has no way to request them. */
export function narrowedTo(
  value: RecordValue,
  by: string,
  listing: ListingDetails,
  state: PageState,
): PageState | null {
  const [, name = by, unit] = /^(.*):([a-z]+)$/.exec(by) ?? [];
  const column = listing.shown.find((each) => each.name === name);
  if (column === undefined) return null;
  if (unit !== undefined && value !== null) {
    const window = windowOfUnit(String(value), unit);
    return window === null ? null : withWindow(state, listing, name, window);
  }
  const [plainest] = cellOffers({ listing, state, column, value, unreadable: undefined });
  return plainest?.state ?? null;
}

/** A unit of time from its beginning, as a window. */
function windowOfUnit(start: string, unit: string): string | null {
  const day = start.slice(0, 10);
  switch (unit) {
    case "year":
      return day.slice(0, 4);
    case "quarter":
      return `${day.slice(0, 4)}-Q${Math.ceil(Number(day.slice(5, 7)) / 3)}`;
    case "month":
      return day.slice(0, 7);
    case "week": {
      const end = new Date(Date.parse(`${day}T00:00:00Z`) + 6 * MS_PER_DAY);
      return Number.isNaN(end.getTime()) ? null : `${day}/${end.toISOString().slice(0, 10)}`;
    }
    default:
      return day;
  }
}
