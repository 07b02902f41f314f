import {
  MS_PER_DAY,
  isoDay,
  isoInstant,
  isoWall,
  dayOf,
  wallMs,
  type Interval,
} from "../calendar/index.js";
import {
  COMPARISON_WORDS,
  intervalOf,
  type BlankPolicy,
  type DateComparison,
} from "../filters/index.js";
import type { WrittenDate } from "../reading/index.js";
import type { RecordOrder } from "../sql/index.js";
import { dateInWords, endInWords, startInWords } from "../windows/index.js";
import type { ListingDeclaration } from "./declaration.js";
import type { EffectiveCondition, PlannedRequest } from "./request.js";

/** An interval with both faces of its edges, as it is sent; an open end is null. */
export interface IntervalText {
  readonly start: string | null;
  readonly end: string | null;
  readonly startLocal: string | null;
  readonly endLocal: string | null;
}

/** What one parameter came to, as it is sent. */
export interface WindowText extends IntervalText {
  /** The date that took effect, in its canonical spelling. */
  readonly value: string;
  /** The window that it stands for. */
  readonly canonical: string;
}

const BLANK_WORDS: Record<BlankPolicy, string> = {
  leave: "blank and unreadable dates left out",
  keep: "blanks kept, unreadable dates left out",
  only: "blanks only",
};

/**
 * What a listing shows for a request, in a sentence: the column, both ends and whether they
 * are in, the zone, the blanks, the order.
 */
export function sentenceOf(listing: ListingDeclaration, planned: PlannedRequest): string {
  const conditions = planned.conditions.map((each) => conditionInWords(each, listing.zone));
  const what = conditions.length === 0 ? "every record, dated or not" : conditions.join("; and ");
  return `${listing.title}: ${what}; ${orderInWords(listing, planned.order)}.`;
}

function conditionInWords({ parameters, condition }: EffectiveCondition, zone: string): string {
  const { column, blanks } = condition;
  if (blanks === "only") return `${column} blank`;
  const ends = parameters.map(({ declaration, written }) =>
    comparisonInWords(declaration.comparison, written),
  );
  return `${column} ${ends.join(" ")}, ${zone}, ${BLANK_WORDS[blanks]}`;
}

function comparisonInWords(comparison: DateComparison, written: WrittenDate): string {
  switch (comparison) {
    case "from":
      return `from ${startInWords(written)}`;
    case "to":
      return `to ${endInWords(written)}`;
    case "on":
    case "notOn":
    case "after":
    case "before":
      return `${COMPARISON_WORDS[comparison]} ${dateInWords(written)}`;
  }
}

function orderInWords(listing: ListingDeclaration, { column, descending }: RecordOrder): string {
  if (column === listing.mainDate) return descending ? "newest first" : "oldest first";
  return `by ${column ?? "key"}, ${descending ? "descending" : "ascending"}`;
}

/** What each parameter came to, by name. */
export function windowTexts(planned: PlannedRequest): Readonly<Record<string, WindowText>> {
  return Object.fromEntries(
    planned.conditions.flatMap(({ parameters }) =>
      parameters.map(({ declaration: { name, comparison }, written, resolved }) => [
        name,
        {
          value: written.canonical,
          canonical: canonicalWindow(comparison, written),
          ...intervalText(intervalOf(comparison, resolved.span)),
        },
      ]),
    ),
  );
}

/** Both faces of an interval's edges: RFC 3339 in UTC, and the wall clock without offset. */
export function intervalText({ start, end }: Interval): IntervalText {
  return {
    start: start === null ? null : isoInstant(start.instant),
    end: end === null ? null : isoInstant(end.instant),
    startLocal: start === null ? null : isoWall(start.wall),
    endLocal: end === null ? null : isoWall(end.wall),
  };
}

/** The window notation (DESIGN section 4) of a comparison with a written date. */
function canonicalWindow(comparison: DateComparison, written: WrittenDate): string {
  switch (comparison) {
    case "on":
      return written.canonical;
    case "from":
      return `${written.canonical}/..`;
    case "to":
      return `../${written.canonical}`;
    case "after":
      return `${firstAfter(written)}/..`;
    case "before":
      return `../${lastBefore(written)}`;
    case "notOn":
      return `../${lastBefore(written)}|${firstAfter(written)}/..`;
  }
}

function firstAfter({ end, offset, canonical }: WrittenDate): string {
  const isDay = end % MS_PER_DAY === 0 && offset === null;
  return isDay ? isoDay(dayOf(end)) : isoWall(end) + offsetOf(canonical, offset);
}

function lastBefore({ start, offset, canonical }: WrittenDate): string {
  const isDay = start % MS_PER_DAY === 0 && offset === null;
  if (isDay) return isoDay(dayOf(start) - 1);
  return isoWall(wallMs(start - 1)) + offsetOf(canonical, offset);
}

function offsetOf(canonical: string, offset: number | null): string {
  return offset === null ? "" : (/(?:Z|[+-]\d\d:\d\d)$/.exec(canonical)?.[0] ?? "");
}
