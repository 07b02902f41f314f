import type { ListingDetails } from "@orisma/client";
import type { CountedAnswer, RecordsMeta, TotalAnswer } from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { service } from "../service/service.js";
import { searchOf, withParameters, type PageState } from "./state.js";

/** How many records pages would hold. */
export interface Counts {
  /** That of a page; undefined where it is not known. */
  readonly of: (state: PageState) => CountedAnswer | undefined;
  /** Whether those that are not known are on their way: counting may have failed. */
  readonly isComing: boolean;
}

/** How many records each of several pages would hold; all are requested at once. */
export function useCounts(listing: ListingDetails, states: readonly PageState[]): Counts {
  const pages = new Map(
    states.map((state) => {
      const page = withParameters(state, { order: [], size: [] });
      return [searchOf(page).toString(), page];
    }),
  );
  const { data, isFetching } = useQuery({
    meta: { doing: "Counting records" },
    queryKey: ["counts", listing.name, listing.version, ...pages.keys()],
    queryFn: async ({ signal }) => {
      const found = await service.counts(listing.name, [...pages.values()], signal);
      return new Map([...pages.keys()].map((key, index) => [key, found[index]]));
    },
    enabled: pages.size > 0,
    staleTime: 30_000,
  });
  return {
    of: (state) => data?.get(searchOf(withParameters(state, { order: [], size: [] })).toString()),
    isComing: isFetching,
  };
}

const NUMBER = new Intl.NumberFormat();

export function numberText(count: number): string {
  return NUMBER.format(count);
}

export function totalText({ total, totalExact }: TotalAnswer): string {
  if (total === null) return "not counted";
  return totalExact ? numberText(total) : `more than ${numberText(total)}`;
}

/** "3 of 10 records", of exactly what is shown. */
export function countText({ total, totalExact, unfiltered }: RecordsMeta): string {
  const matched = totalText({ total, totalExact });
  return unfiltered === undefined
    ? `${matched} records`
    : `${matched} of ${totalText(unfiltered)} records`;
}
