import type { ListingDetails, View } from "@orisma/client";
import { useQuery, type UseQueryResult } from "@tanstack/react-query";
import { useEffect } from "react";
import { service } from "../../service/service.js";
import { useWho } from "../../service/session.js";
import { searchOf, sentOf, type PageState } from "../state.js";

/** One's own views of a listing. */
export function useViews(listing: string): UseQueryResult<readonly View[]> {
  return useQuery({
    queryKey: ["views", listing],
    queryFn: () => service.views(listing),
    // The records wait for the view that they open with: not for one that cannot be found out.
    retry: false,
  });
}

/** What a view of a page is made of: its conditions, order and columns, and not its place. */
export function viewedOf(listing: ListingDetails, state: PageState): Record<string, string[]> {
  const { columns } = state;
  return { ...sentOf(listing, state), ...(columns === undefined ? {} : { columns: [...columns] }) };
}

/** The address of a view within a listing's page. */
export function searchOfView({ parameters }: Pick<View, "parameters">): string {
  return searchOf(parameters).toString();
}

/** The view that a page shows now; undefined where it shows none as it was kept. */
export function viewShown(
  views: readonly View[] | undefined,
  listing: ListingDetails,
  state: PageState,
): View | undefined {
  const now = sortedSearch(viewedOf(listing, state));
  return views?.find(({ parameters }) => sortedSearch(parameters) === now);
}

function sortedSearch(state: PageState): string {
  const search = searchOf(state);
  search.sort();
  return search.toString();
}

/** Something that was looked at before: its address, and the conditions in words. */
export interface Recent {
  readonly search: string;
  readonly words: string;
}

/** How many are remembered of each listing. */
const MAX_RECENT = 5;

function keyOf(who: string, listing: string): string {
  return `orisma-recent ${who} ${listing}`;
}

/** What was looked at in a listing lately, in this browser, the last first. */
export function recentOf(who: string, listing: string): readonly Recent[] {
  try {
    const held: unknown = JSON.parse(localStorage.getItem(keyOf(who, listing)) ?? "[]");
    return Array.isArray(held) ? held.filter(isRecent) : [];
  } catch {
    // What another program wrote there is none of ours.
    return [];
  }
}

function isRecent(value: unknown): value is Recent {
  if (typeof value !== "object" || value === null) return false;
  const { search, words } = value as Partial<Recent>;
  return typeof search === "string" && typeof words === "string";
}

/** Whether all that an address says is said by another too. */
function isStep(search: string, next: string): boolean {
  const all = new URLSearchParams(next);
  return [...new URLSearchParams(search)].every(([name, value]) => all.has(name, value));
}

/** Remembers what is looked at, in this browser; a step on the way to what is narrower gives way to it. */
export function useRecent(listing: ListingDetails, state: PageState, words: string | null): void {
  const who = useWho();
  const search = searchOf(viewedOf(listing, state)).toString();
  const { name } = listing;
  useEffect(() => {
    if (who === undefined || words === null || words === "" || search === "") return;
    const others = recentOf(who, name).filter((each) => !isStep(each.search, search));
    const kept = [{ search, words }, ...others].slice(0, MAX_RECENT);
    localStorage.setItem(keyOf(who, name), JSON.stringify(kept));
  }, [who, name, search, words]);
}
