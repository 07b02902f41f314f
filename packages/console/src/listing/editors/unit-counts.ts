import type { ListingDetails } from "@orisma/client";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { service } from "../../service/service.js";
import { withWindow } from "../narrowing.js";
import { searchOf, withParameters, type PageState } from "../state.js";

/**
 * The records of each day or month of a window under the other conditions, by the text with which
 * the unit begins; undefined until they are here, and where the column takes no window.
 */
export function useUnitCounts(
  listing: ListingDetails,
  column: string,
  state: PageState,
  window: string,
  unit: "day" | "month",
): ((unit: string) => number) | undefined {
  const narrowed = withWindow(state, listing, column, window);
  const requested = narrowed === null ? null : withParameters(narrowed, { order: [], size: [] });
  const { data } = useQuery({
    meta: { doing: `Counting the ${unit}s` },
    queryKey: [
      "units",
      listing.name,
      listing.version,
      column,
      unit,
      requested && searchOf(requested).toString(),
    ],
    queryFn: async ({ signal }) => {
      const by = `${column}:${unit}`;
      const { groups } = await service.summary(listing.name, { ...requested, by }, signal);
      const length = unit === "day" ? 10 : 7;
      return new Map(
        groups.map(({ of: [begins], records }) => [String(begins).slice(0, length), records]),
      );
    },
    enabled: requested !== null,
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });
  return data === undefined ? undefined : (text) => data.get(text) ?? 0;
}
