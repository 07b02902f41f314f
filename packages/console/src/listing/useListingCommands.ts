import type { ListingDetails, View } from "@orisma/client";
import type { RecordsAnswer } from "@orisma/core/internal";
import { useCommands, type Command } from "../frame/commands.js";
import { DENSITY_WORDS, applyDensity } from "../frame/theme.js";
import { narrowable } from "./narrowing.js";
import type { Opened } from "./Sentence.js";

/** What can be done on a listing's page, by name and by key. */
export function useListingCommands(props: {
  readonly listing: ListingDetails;
  readonly answer: RecordsAnswer | undefined;
  readonly mayExplain: boolean;
  readonly onOpen: (opened: Opened) => void;
  readonly onClear: () => void;
  readonly onPage: (link: string) => void;
  readonly onGoTo: (place: string) => void;
  readonly views: readonly View[];
  readonly onView: (view: View) => void;
  /** What the page makes of a typed text. */
  readonly suggest: (text: string) => readonly Command[];
}): void {
  const { listing, answer, mayExplain, onOpen, onClear, onPage, onGoTo, suggest } = props;
  const { views, onView } = props;
  const mainLabel = listing.labels?.[listing.mainDate] ?? listing.mainDate;
  useCommands(
    [
      { name: "Add a condition", key: "/", run: () => onOpen({ kind: "add" }) },
      {
        name: `Change the dates: ${mainLabel}`,
        key: "d",
        run: () => onOpen({ kind: "column", column: listing.mainDate }),
      },
      { name: "Columns shown", key: "c", run: () => onOpen({ kind: "columns" }) },
      { name: "Change the sort order", key: "o", run: () => onOpen({ kind: "order" }) },
      { name: "Reset filters", key: "b", run: onClear },
      ...narrowable(listing).map(({ name: column }) => ({
        name: `Narrow by ${listing.labels?.[column] ?? column}`,
        run: () => onOpen({ kind: "column", column }),
      })),
      ...pageCommands(answer, onPage),
      ...views.map((view) => ({ name: `View: ${view.name}`, run: () => onView(view) })),
      ...(["compact", "roomy"] as const).map((density) => ({
        name: DENSITY_WORDS[density],
        run: () => applyDensity(density),
      })),
      { name: "Keep this view", run: () => onGoTo("#views") },
      { name: "Summarise", run: () => onGoTo("#summary") },
      { name: "Why a record is included or excluded", run: () => onGoTo("#record") },
      ...(mayExplain
        ? [
            { name: "Save this view as a listing", run: () => onGoTo("#save") },
            { name: "Explain", run: () => onGoTo("#explain") },
          ]
        : []),
    ],
    suggest,
  );
}

function pageCommands(
  answer: RecordsAnswer | undefined,
  onPage: (link: string) => void,
): readonly Command[] {
  const { next, previous } = answer?.links ?? {};
  return [
    ...(next === undefined
      ? []
      : [{ name: "The next page of records", key: "n", run: () => onPage(next) }]),
    ...(previous === undefined
      ? []
      : [{ name: "The page of records before", key: "p", run: () => onPage(previous) }]),
  ];
}
