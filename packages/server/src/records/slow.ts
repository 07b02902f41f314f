import { filterInWords, namingOf, type Filter } from "@orisma/core/internal";
import { Problem } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { hasIndexFor, indexFor } from "./indexable.js";
import type { PreparedRequest } from "./prepared.js";
import { conditionsOf } from "./why.js";

/** Seconds after which a caller may try again: the same will take as long. */
const RETRY_AFTER_S = 30;

/**
 * The answer to a request that took longer than its limit: which of its conditions no index serves, so that
 * it is known what to change.
 */
export function tooSlow({ filter, listing }: PreparedRequest): Problem {
  const conditions = conditionsOf(filter);
  const slow = conditions.filter((each) => each.kind !== "all" && !hasIndexFor(each, listing));
  const naming = namingOf(listing.declaration);
  const words = slow.map((each) => `“${filterInWords(each, naming)}”`).join(" and ");
  const detail =
    slow.length === 0
      ? "The database took longer than the limit: request a shorter window or fewer figures"
      : `The database took longer than the limit: no index serves ${words}, so each record that the other ` +
        `conditions leave is looked at. ${adviceFor(slow, listing)}`;
  return new Problem("too-slow", detail, [], { "Retry-After": String(RETRY_AFTER_S) });
}

function adviceFor(slow: readonly Filter[], listing: ServedListing): string {
  const shorter = "Request a shorter window, or a whole value in place of a part of one";
  const found = slow.flatMap((each) => {
    const columns = indexFor(each, listing);
    return columns === null
      ? []
      : [`orisma sources index ${listing.source.name} ${columns.join(" ")}`];
  });
  const [first] = found;
  return first === undefined ? shorter : `An index serves it, which this makes: ${first}`;
}
