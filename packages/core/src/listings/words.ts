import { MS_PER_DAY, isoDay, isoWall, dayOf, wallMs, type Span } from "../calendar/index.js";
import {
  COMPARISON_WORDS,
  filterInWords,
  type BlankPolicy,
  type DateComparison,
  type RecurringStretch,
} from "../filters/index.js";
import type { WrittenDate } from "../reading/index.js";
import {
  dateInWords,
  edgeInWords,
  endInWords,
  intervalInWords,
  intervalText,
  partText,
  recurringText,
  startInWords,
  stretchesInWords,
  unitLength,
  type IntervalText,
  type Part,
} from "../windows/index.js";
import { orderInWords } from "./order.js";
import type { ListingDeclaration } from "./declaration.js";
import { movement, stretchesOf, valueText, type EffectiveParameter } from "./effective.js";
import type { EffectiveCondition } from "./dates.js";
import type { PlannedRequest } from "./request.js";

/** What one parameter came to, as it is sent. */
export interface WindowText extends IntervalText {
  /** The date that took effect, in its canonical spelling. */
  readonly value: string;
  /** The window that it stands for. */
  readonly canonical: string;
  /** The stretches, where there are more than one; `start` and `end` are then those of all. */
  readonly intervals?: readonly IntervalText[];
  /** Parts that recur in a stretch that is open on a side. */
  readonly recurring?: readonly RecurringText[];
}

/** Parts that recur within a stretch, as they are sent. */
export interface RecurringText extends IntervalText {
  readonly parts: readonly string[];
}

const BLANK_WORDS: Record<BlankPolicy, string> = {
  leave: "blank and unreadable dates left out",
  keep: "blanks kept, unreadable dates left out",
  only: "blanks only",
};

/** What a blank policy does, for an explanation. */
export const BLANKS_EXPLAINED: Readonly<Record<BlankPolicy, string>> = {
  leave: "blank and unreadable dates are left out",
  keep: "blank dates are kept, unreadable ones left out",
  only: "only blank dates are kept",
};

/**
 * What a listing shows for a request, in a sentence: the column, both ends and whether they
 * are in, the zone, the blanks, the order.
 */
export function sentenceOf(listing: ListingDeclaration, planned: PlannedRequest): string {
  const conditions = planned.conditions.map((each) => conditionInWords(each, listing.zone));
  conditions.push(...planned.values.map(({ filter }) => filterInWords(filter)));
  if (planned.compound !== null) conditions.push(filterInWords(planned.compound.filter));
  const what = conditions.length === 0 ? "every record, dated or not" : conditions.join("; and ");
  return `${listing.title}: ${what}; ${orderInWords(listing, planned.order)}.`;
}

function conditionInWords(each: EffectiveCondition, zone: string): string {
  const { column, blanks } = each.condition;
  if (blanks === "only") return `${column} blank`;
  return `${column} ${endsInWords(each)}, ${zone}, ${BLANK_WORDS[blanks]}`;
}

/** What is asked of a column of dates, without its name and zone. */
export function endsInWords({ parameters, condition }: EffectiveCondition): string {
  return condition.blanks === "only" ? "blank" : parameters.map(parameterInWords).join(" ");
}

/** What is to be said of blanks where they are not left out, as is usual. */
export function blanksInWords({ condition }: EffectiveCondition): string {
  return condition.blanks === "keep" ? ", or blank" : "";
}

/** What a parameter asks for; of one that moves, the dates of today and how it was written. */
function parameterInWords(parameter: EffectiveParameter): string {
  const { declaration, value } = parameter;
  const { comparison } = declaration;
  if (value.kind === "window") {
    const recurring = value.recurring.map(({ interval, rules }) => ({
      interval,
      recurring: rules,
    }));
    const stretches = stretchesInWords({ intervals: value.intervals, recurring });
    const words = comparison === "notOn" ? `not ${stretches}` : stretches;
    return movement(value, false) === "never" ? words : `${words} (${valueText(value)})`;
  }
  const { part, span } = value;
  if (part.base.kind === "written" && part.shifts.length === 0) {
    return comparisonInWords(comparison, part.base.written);
  }
  const text = valueText(value);
  if (span === null) return `${COMPARISON_WORDS[comparison]} ${text}, which is nothing`;
  if (part.base.kind === "now" && part.shifts.length === 0) {
    return `${COMPARISON_WORDS[comparison]} now`;
  }
  return `${spanInWords(comparison, span)} (${text})`;
}

function spanInWords(comparison: DateComparison, span: Span): string {
  const { start, end } = span;
  switch (comparison) {
    case "on":
      return intervalInWords(span);
    case "notOn":
      return `not ${intervalInWords(span)}`;
    case "from":
    case "before":
      return `${comparison} ${edgeInWords(start.wall, "start")}`;
    case "to":
    case "after":
      return `${comparison} ${edgeInWords(end.wall, "end")}`;
  }
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

/** What each parameter came to, by name. */
export function windowTexts(planned: PlannedRequest): Readonly<Record<string, WindowText>> {
  return Object.fromEntries(
    planned.conditions.flatMap(({ parameters }) =>
      parameters.map((parameter) => [parameter.declaration.name, windowOf(parameter)]),
    ),
  );
}

function windowOf(parameter: EffectiveParameter): WindowText {
  const { declaration, value } = parameter;
  const intervals = stretchesOf(parameter);
  const recurring = value.kind === "window" ? value.recurring : [];
  const [first, last] = [intervals[0], intervals.at(-1)];
  return {
    value: valueText(value),
    canonical:
      value.kind === "window"
        ? valueText(value)
        : canonicalWindow(declaration.comparison, value.part),
    ...intervalText({ start: first?.start ?? null, end: last?.end ?? null }),
    ...(intervals.length === 1 || (intervals.length === 0 && recurring.length > 0)
      ? {}
      : { intervals: intervals.map(intervalText) }),
    ...(recurring.length === 0 ? {} : { recurring: recurring.map(recurringStretchText) }),
  };
}

/** A stretch in which parts recur, as it is sent. */
export function recurringStretchText({ interval, rules }: RecurringStretch): RecurringText {
  return { ...intervalText(interval), parts: rules.map(recurringText) };
}

/** The window notation (DESIGN section 4) of a comparison with one part. */
function canonicalWindow(comparison: DateComparison, part: Part): string {
  const text = partText(part.base, part.shifts);
  switch (comparison) {
    case "on":
      return text;
    case "from":
      return `${text}/..`;
    case "to":
      return `../${text}`;
    case "after":
      return `${next(part)}/..`;
    case "before":
      return `../${previous(part)}`;
    case "notOn":
      return `../${previous(part)}|${next(part)}/..`;
  }
}

/** The part that begins where another ends. */
function next(part: Part): string {
  const { base, shifts } = part;
  if (base.kind === "written" && shifts.length === 0) return firstAfter(base.written);
  return neighbour(part, 1);
}

/** The part that ends where another begins. */
function previous(part: Part): string {
  const { base, shifts } = part;
  if (base.kind === "written" && shifts.length === 0) return lastBefore(base.written);
  return neighbour(part, -1);
}

/** A part of a unit is followed by the same of the next unit; what has no length by itself. */
function neighbour(part: Part, sign: 1 | -1): string {
  const { base, shifts } = part;
  const duration = unitLength(part);
  if (duration === null) return partText(base, shifts);
  if (base.kind === "unit" && base.nth === null && base.unit !== "workday" && shifts.length === 0) {
    return partText({ ...base, offset: base.offset + sign }, []);
  }
  return partText(base, [...shifts, { sign, duration }]);
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
