import { MS_PER_DAY } from "../calendar/index.js";
import { failure, fault, success, type Result } from "../faults/index.js";
import {
  compileReading,
  textLayoutsOf,
  type CompiledReading,
  type PlacedPart,
  type Reading,
  type TextLayout,
} from "../reading/index.js";
import type { EncodedDates } from "./attached-cells.js";
import type { LastDays } from "./cells.js";
import { joined, sql, valueOf, type Fragment } from "./fragment.js";
import { clockOf, momentOf, type Clock, type LayoutMoment } from "./layout-moment.js";
import { NOWHERE, nearbyNumbers, nearbyOf, nearbyYears, type Nearby } from "./nearby.js";
import { MAX_LISTED } from "./ranges.js";
import { clockZone } from "./zoned.js";

type Field = PlacedPart["field"];

/**
 * Dates as strings whose parts stand where the one before them ends: names of months, `d` of one or two digits,
 * several patterns, ISO 8601 of whatever precision. A date is worked out of each string, which no index serves;
 * days are looked up one by one, and where every string begins with its day an index finds what lies near.
 *
 * Fails with `storage.reading` where a pattern has more forms than a statement has room for.
 */
export function formEncoding(
  name: string,
  column: FormColumn,
  reading: Reading,
  compiled: CompiledReading,
): Result<EncodedDates> {
  const { patterns = ["iso8601"], zone } = reading;
  const refused = (pattern: string, reason: string, instead: string) =>
    failure(fault("storage.reading", { column: name, reason, instead }, { value: pattern }));
  const layouts: TextLayout[] = [];
  for (const pattern of patterns) {
    const found = textLayoutsOf(pattern, reading);
    if (typeof found === "string") {
      const instead = "a pattern of a day with the names of months, or numbers";
      return refused(pattern, `the pattern ${pattern}, as ${found}`, instead);
    }
    if (found.some(({ offset }) => offset !== null) && !isMoment(compiled, zone)) {
      const reason = "offsets, and no zone in which a day or a time would be meant";
      return refused(pattern, reason, "the kind instant, or the zone UTC");
    }
    layouts.push(...found);
  }
  const read = layouts.filter((each) => canBeRead(each, compiled, reading));
  if (column.isNumber && read.some((layout) => !isOfDigits(layout))) {
    const instead = "digits, such as yyyyMMdd, ddMMyyyy or yyyyMM";
    return refused(
      patterns.join(", "),
      `the pattern ${patterns.join(", ")} of whole numbers`,
      instead,
    );
  }
  return success(formStrings(read, { ...column, reading, compiled }));
}

function isMoment({ kind }: CompiledReading, zone: string | undefined): boolean {
  return kind === "instant" || zone !== undefined;
}

/** The patterns of ISO 8601 that a column may have, as far as its kind has a meaning for them. */
export function isoPatterns({ kind, zone, partial }: Reading): readonly string[] {
  // In the order in which they are written: to the second, and finer or coarser only where it is stored so.
  const times = ["HH:mm:ss", "HH:mm:ss.SSS", "HH:mm"];
  const withTimes = ["'T'", " "].flatMap((between) =>
    times.map((time) => `yyyy-MM-dd${between}${time}`),
  );
  const hasPlain = kind !== "instant" || zone !== undefined;
  const hasOffset = kind === "instant" || zone !== undefined;
  return [
    ...(kind === "date" ? ["yyyy-MM-dd"] : []),
    ...(hasOffset ? withTimes.flatMap((each) => [`${each}XXX`, `${each}xxx`]) : []),
    ...(hasPlain ? withTimes : []),
    ...(hasPlain && kind !== "date" ? ["yyyy-MM-dd"] : []),
    ...(partial === undefined ? [] : ["yyyy-MM", "yyyy"]),
  ];
}

/** The patterns of a mail or HTTP header's date, as they are written. */
export const INTERNET_PATTERNS = [
  "EEE, dd MMM yyyy HH:mm:ss OOOO",
  "EEE, dd MMM yyyy HH:mm:ss Z",
  "EEE, d MMM yyyy HH:mm:ss Z",
];

/** A column whose values are read as strings. */
export interface FormColumn {
  /** The plain column. */
  readonly column: Fragment;
  /** Its value as a text, compared character by character. */
  readonly text: Fragment;
  /** Whether the column holds whole numbers, whose digits are the text. */
  readonly isNumber: boolean;
  /** The column with which every text begins, where it is made up of several: that of the year, if a pattern says so. */
  readonly year?: Fragment;
  readonly isWhite: Fragment | null;
  spelled(blanks: readonly string[]): Fragment | null;
}

interface Column extends FormColumn {
  readonly reading: Reading;
  readonly compiled: CompiledReading;
}

/** Whether a text of a form can be a date: as an instant it needs an offset, or a zone. */
function canBeRead({ offset }: TextLayout, { kind }: CompiledReading, { zone }: Reading): boolean {
  return offset !== null || kind !== "instant" || zone !== undefined;
}

function isOfDigits({ characters, parts }: TextLayout): boolean {
  const isPlain = [...parts.values()].every(
    ({ field, names }) => names === undefined && field !== "offset",
  );
  return isPlain && characters.every((each) => each === null || /^[0-9]$/.test(each));
}

function formStrings(layouts: readonly TextLayout[], of: Column): EncodedDates {
  const { column, text, isNumber, reading, compiled } = of;
  const { kind } = compiled;
  const forms = distinct(layouts).map((layout) => ({
    layout,
    ...momentOf(layout, text, reading),
  }));
  const moment = momentAmong(forms, reading);
  // A day of a zone begins at some hour of the days that would be listed.
  const isOfZone = kind === "instant" && clockZone(reading) !== null;
  const isDays = !isOfZone && layouts.every((layout) => isDayForm(layout));
  const { patterns = [] } = reading;
  const spelled = spellerOf(of);
  const valueOfText = (found: string) => valueOf(isNumber ? Number(found) : found);
  const near = isNumber && isOfZone ? NOWHERE : nearIn(layouts, of);
  const compared = (found: Fragment | null, test: Fragment) =>
    found === null ? test : sql`(${found} AND ${test})`;
  const isBeyond = isOfZone && (reading.sentinels ?? []).length > 0;
  const last = firstOf(forms.flatMap((form) => (form.last === null ? [] : [form.last])));
  return {
    kind,
    column,
    valid: sql`${moment} IS NOT NULL`,
    isWorkedOut: true,
    from: (ms) => compared(near.from(ms), sql`${moment} >= ${valueOf(ms)}`),
    before: (ms) => compared(near.before(ms), sql`${moment} < ${valueOf(ms)}`),
    ...(isBeyond ? { beyond: boundsOf(momentAmong(forms, reading, true)) } : {}),
    onDays: (days) => {
      if (!isDays) return null;
      const found = days.flatMap((day) => spelled(day * MS_PER_DAY));
      return found.length === 0
        ? sql`1 = 0`
        : sql`${column} IN (${joined(found.map(valueOfText), sql`, `)})`;
    },
    listsExactly: false,
    listsUpTo: isDays ? Math.floor(MAX_LISTED / Math.max(1, patterns.length)) : 0,
    closed: { from: null, before: null },
    order: moment,
    scale: null,
    millis: moment,
    msOf: Number,
    keepsOrder: false,
    isFiner: true,
    orderKey: null,
    isWhite: of.isWhite,
    spelled: (blanks) => of.spelled(blanks),
    ...(reading.partial === undefined || reading.partial === "start"
      ? {}
      : { last: lastDays(last) }),
  };
}

/** The date of a text in the first form that it has. Forms of one clock have it once: it takes long to write. */
function momentAmong(
  forms: readonly (LayoutMoment & { readonly layout: TextLayout })[],
  reading: Reading,
  goesBeyond = false,
): Fragment {
  const runs: { readonly clock: Clock | null; readonly moments: Fragment[] }[] = [];
  for (const { layout, moment } of forms) {
    const last = runs.at(-1);
    const clock = clockOf(layout, reading);
    if (last !== undefined && last.clock?.makes === clock?.makes) last.moments.push(moment);
    else runs.push({ clock, moments: [moment] });
  }
  return firstOf(
    runs.map(({ clock, moments }) => {
      const moment = firstOf(moments);
      return clock === null ? moment : clock.of(moment, goesBeyond);
    }),
  );
}

function boundsOf(moment: Fragment): NonNullable<EncodedDates["beyond"]> {
  return {
    valid: sql`${moment} IS NOT NULL`,
    from: (ms) => sql`${moment} >= ${valueOf(ms)}`,
    before: (ms) => sql`${moment} < ${valueOf(ms)}`,
  };
}

function nearIn(layouts: readonly TextLayout[], { column, year, isNumber }: FormColumn): Nearby {
  if (year !== undefined) return nearbyYears(layouts, year);
  return isNumber ? nearbyNumbers(layouts, column) : nearbyOf(layouts, column);
}

function lastDays(last: Fragment): LastDays {
  return {
    isNone: sql`${last} IS NULL`,
    isThere: sql`${last} IS NOT NULL`,
    from: (ms) => sql`${last} >= ${valueOf(ms)}`,
    before: (ms) => sql`${last} < ${valueOf(ms)}`,
  };
}

/** Each form once: several patterns may have it. */
function distinct(layouts: readonly TextLayout[]): readonly TextLayout[] {
  const byForm = new Map<string, TextLayout>();
  for (const layout of layouts) {
    const { characters, parts, offset, months } = layout;
    const key = JSON.stringify([characters, [...parts], offset, months]);
    if (byForm.get(key)?.takesZeroOffset !== true) byForm.set(key, layout);
  }
  return [...byForm.values()];
}

function firstOf(values: readonly Fragment[]): Fragment {
  const [only, another] = values;
  if (only === undefined) return sql`NULL`;
  return another === undefined ? only : sql`COALESCE(${joined(values, sql`, `)})`;
}

/** Whether the strings of a form are of whole days, so that each day has its own. */
function isDayForm({ parts }: TextLayout): boolean {
  return !["hour", "hour12", "offset"].some((field) => parts.has(field as Field));
}

/** Gives the strings that name a day, in each pattern of a column. */
function spellerOf({ reading, compiled }: Column): (ms: number) => readonly string[] {
  const { patterns = [] } = reading;
  const writers = patterns.flatMap((pattern) => {
    const writer = compileReading({ ...reading, patterns: [pattern] });
    return writer.ok ? [writer.value] : [];
  });
  return (ms) => {
    const found = new Set(writers.map((writer) => String(writer.write(ms))));
    // A month is written for all of its days, and is its first; what is a blank is no day.
    return [...found].filter((text) => compiled.dateOf(text) === ms);
  };
}
