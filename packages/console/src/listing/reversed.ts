import type { ListingDetails } from "@orisma/client";
import type { RecordsMeta } from "@orisma/core/internal";
import { useEffect, useEffectEvent, useState } from "react";
import { capitalised } from "../dates/words.js";
import { searchOf, withParameters, type PageState } from "./state.js";

/** A page whose two ends of a range were sent in reverse order, with them in their order, and what is to be said of it. */
export interface PutRight {
  readonly state: PageState;
  readonly message: string;
}

/** What puts a reversed range right in the address; null where none is, or it is not clear which of several is meant. */
export function putRight(
  state: PageState,
  { parameters }: ListingDetails,
  { notices, values = {} }: Pick<RecordsMeta, "notices" | "values">,
): PutRight | null {
  const swapped = notices.filter(
    ({ code }) => code === "range.swapped" || code === "window.swapped",
  );
  const [notice, another] = swapped;
  if (notice === undefined || another !== undefined) return null;
  const pairs = new Map<string, string[]>();
  for (const { name, pair } of parameters) {
    if (pair === undefined || state[name]?.length !== 1) continue;
    pairs.set(pair, [...(pairs.get(pair) ?? []), name]);
  }
  // Of a range in one parameter, what was applied says both ends in their order.
  const whole = parameters.flatMap(({ name }): Readonly<Record<string, readonly string[]>>[] => {
    const [sent = "", more] = state[name] ?? [];
    const [applied = ""] = values[name] ?? [];
    const isReversed = applied !== sent && applied === sent.split("/").reverse().join("/");
    return more === undefined && isReversed ? [{ [name]: [applied] }] : [];
  });
  const ofPairs = [...pairs.values()]
    .filter((names) => names.length === 2)
    .map(([first = "", second = ""]) => ({
      [first]: state[second] ?? [],
      [second]: state[first] ?? [],
    }));
  // Of a pair it is not said that it was the one.
  const [changed, other] = whole.length > 0 ? whole : ofPairs;
  if (changed === undefined || other !== undefined) return null;
  return { state: withParameters(state, changed), message: notice.message };
}

/** Puts a reversed range right in the address, once; what is to be said of it for as long as the page shows it so. */
export function usePutRight(
  listing: ListingDetails,
  state: PageState,
  meta: Pick<RecordsMeta, "notices" | "values"> | null,
  onGo: (state: PageState) => unknown,
): string | null {
  const [put, setPut] = useState<{ readonly search: string; readonly message: string } | null>(
    null,
  );
  const search = searchOf(state).toString();
  const isDone = put?.search === search;
  const right = isDone || meta === null ? null : putRight(state, listing, meta);
  const next = right === null ? "" : searchOf(right.state).toString();
  const go = useEffectEvent(() => {
    if (right === null) return;
    setPut({ search: next, message: right.message });
    onGo(right.state);
  });
  useEffect(() => {
    if (next !== "") go();
  }, [next]);
  return isDone ? capitalised(put.message) : null;
}
