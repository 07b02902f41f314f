import type { ListingDetails } from "@orisma/client";
import {
  meantBy,
  readWindow,
  resolveWindow,
  windowInWords,
  type PhraseContext,
} from "@orisma/core/internal";
import { withoutZone } from "../dates/words.js";
import { onlyAmong } from "./cell-offers.js";
import { narrowable, withWindow } from "./narrowing.js";
import { placeOfRecord } from "./record-place.js";
import type { PageState } from "./state.js";

/** What a typed text would do on a listing's page: other conditions, or a place of the page. */
export interface Suggestion {
  readonly name: string;
  readonly to: { readonly state: PageState } | { readonly place: string };
}

/**
 * What a text can mean on a listing's page: a window of its main date (`last month`), a value of a column behind its
 * name (`priority high, medium`), or the id of a record. What has several meanings is suggested with each.
 */
export function suggestionsFor(
  text: string,
  listing: ListingDetails,
  state: PageState,
  context: PhraseContext,
): readonly Suggestion[] {
  return [
    ...windowsIn(text, listing, state, context),
    ...valuesIn(text, listing, state),
    ...(listing.key !== null && /^\S*\d\S*$/.test(text)
      ? [{ name: `Record ${text}`, to: { place: placeOfRecord(text) } }]
      : []),
  ];
}

function windowsIn(
  text: string,
  listing: ListingDetails,
  state: PageState,
  context: PhraseContext,
): readonly Suggestion[] {
  const { mainDate, labels = {} } = listing;
  const windows = readWindow(text).ok ? [text] : meantBy(text, "window", context);
  return windows.flatMap((window) => {
    const read = readWindow(window);
    const resolved = read.ok ? resolveWindow(read.value.window, context) : read;
    const narrowed = withWindow(state, listing, mainDate, window);
    if (!read.ok || !resolved.ok || narrowed === null) return [];
    const words = withoutZone(windowInWords(read.value.window, resolved.value, context.zone));
    return [{ name: `${labels[mainDate] ?? mainDate}: ${words}`, to: { state: narrowed } }];
  });
}

/** `priority high, medium`: the name of a column of strings, and a value of it, or several. */
function valuesIn(text: string, listing: ListingDetails, state: PageState): readonly Suggestion[] {
  const { labels = {} } = listing;
  return narrowable(listing).flatMap((column) => {
    const label = labels[column.name] ?? column.name;
    const isOf = text.toLowerCase().startsWith(`${label.toLowerCase()} `);
    const value = text.slice(label.length).trim();
    if (column.type !== "text" || !isOf || value === "") return [];
    const several = value.split(/\s*,\s*|\s+or\s+/).filter((each) => each !== "");
    // A value may have a comma of its own.
    return [...(several.length > 1 ? [several] : []), [value]].flatMap((values) => {
      const only = onlyAmong({ listing, state, column }, values);
      return only === null ? [] : [{ name: `${label}: ${only.words}`, to: { state: only.state } }];
    });
  });
}
