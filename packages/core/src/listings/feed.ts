import { fault, type Fault } from "../faults/index.js";
import { dateColumnFault, type Catalogue, type Column } from "../filters/index.js";
import type { FeedDeclaration, ListingDeclaration } from "./declaration.js";

/** The columns that a title names in braces. */
export function titleColumns(title: string): readonly string[] {
  return [...title.matchAll(/\{([^{}]+)\}/g)].map(([, name = ""]) => name);
}

/** A title with the values of its columns; one that is blank leaves nothing. */
export function titleOf(title: string, valueOf: (column: string) => string): string {
  return title.replace(/\{([^{}]+)\}/g, (_, name: string) => valueOf(name)).trim();
}

/** How records are shown where a listing does not say: by their ids, at its main date. */
export function feedOf({
  feed,
  mainDate,
}: ListingDeclaration): FeedDeclaration & { start: string } {
  return { title: "", ...feed, start: feed?.start ?? mainDate };
}

/** The columns that a feed shows. */
export function feedColumns(feed: FeedDeclaration): readonly string[] {
  const { title, start, end, description = [], location, planned } = feed;
  const named = [start, end, location, planned?.column].filter((name) => name !== undefined);
  return [...new Set([...titleColumns(title), ...named, ...description])];
}

/** The faults of a feed: columns that readers do not see, and others than dates. */
export function feedFaults(
  { feed, columns: shown }: ListingDeclaration,
  columns: Catalogue,
  showable: ReadonlyMap<string, Column>,
): readonly Fault[] {
  if (feed === undefined) return [];
  const known = shown.length > 0 ? shown : [...showable.keys()];
  const unknown = feedColumns(feed).flatMap((name) =>
    known.includes(name)
      ? []
      : [fault("column.unknown", { name, known }, { path: "feed", value: name })],
  );
  const dates = (["start", "end"] as const).flatMap((place) => {
    const name = feed[place];
    const found = name === undefined ? null : dateColumnFault(name, columns);
    return found === null ? [] : [{ ...found, path: `feed.${place}` }];
  });
  return unknown.length > 0 ? unknown : dates;
}
