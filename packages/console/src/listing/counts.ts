import type { ListingDetails } from "@orisma/client";
import type { RecordsMeta, TotalAnswer } from "@orisma/core";
import { useQuery, type UseQueryResult } from "@tanstack/react-query";
import { service } from "../service.js";
import { searchOf, withParameters, type PageState } from "./state.js";

/** How many records a page would hold; nothing is asked for where there is no such page. */
export function useCount(
  listing: ListingDetails,
  state: PageState | null,
): UseQueryResult<TotalAnswer> {
  const asked = state === null ? null : withParameters(state, { order: [], size: "1" });
  return useQuery({
    meta: { doing: "Counting records" },
    queryKey: ["count", listing.name, listing.version, asked && searchOf(asked).toString()],
    queryFn: async ({ signal }) => {
      const { meta } = await service.records(listing.name, asked ?? {}, signal);
      return { total: meta.total, totalIs: meta.totalIs };
    },
    enabled: asked !== null,
    staleTime: 30_000,
  });
}

const NUMBER = new Intl.NumberFormat();

export function numberText(count: number): string {
  return NUMBER.format(count);
}

export function totalText({ total, totalIs }: TotalAnswer): string {
  if (total === null) return "not counted";
  return totalIs === "atLeast" ? `more than ${numberText(total)}` : numberText(total);
}

/** "3 of 10 records", of exactly what is shown. */
export function countText({ total, totalIs, unfiltered }: RecordsMeta): string {
  const matched = totalText({ total, totalIs });
  return unfiltered === undefined
    ? `${matched} records`
    : `${matched} of ${totalText(unfiltered)} records`;
}
