import { MS_PER_DAY, dayNumber } from "../calendar/index.js";
import { dateText } from "./answers.js";
import {
  NOTHING,
  samplesOf,
  filledAndBlank,
  spread,
  textOf,
  type Filled,
  type ValueCount,
} from "./column-values.js";
import { likelyLocales } from "./locale-words.js";
import type { Locale } from "./names.js";
import { numberOf } from "./numbers.js";
import { compileReading, type DateEncoding, type Reading } from "./reading.js";
import { readInternetDate } from "./rfc5322.js";
import { loosest, patternsLike } from "./shapes.js";

/** A reading that a column could have, with the evidence for it; counts are of cells. */
export interface ReadingCandidate {
  readonly reading: Reading;
  readonly fits: number;
  /** Neither dates under this reading nor blank. */
  readonly misses: number;
  /** Some of the values that it does not fit. */
  readonly examples: readonly string[];
  /** In the standard form of the reading's kind. */
  readonly earliest: string;
  readonly latest: string;
}

/** How the best candidate stands to another one that fits much of the column as well. */
export interface ReadingRival {
  readonly reading: Reading;
  /** Cells that only the best candidate fits, and only this rival. */
  readonly onlyBest: number;
  readonly onlyRival: number;
  /** Cells that both fit, and that would be other dates under the rival. */
  readonly wouldChange: number;
}

/** What a file says itself of cells that it shows as dates. */
export interface ShownDates {
  /** The cells that it shows as dates. */
  readonly count: number;
  readonly encoding: DateEncoding;
  /** Those of them that are stored with a zone, which the program that shows them omits. */
  readonly zoned?: number;
}

/** What a column of values most likely is. */
export interface Recognition {
  readonly cells: number;
  readonly distinct: number;
  readonly blank: number;
  /**
   * `certain`: one reading, and nothing speaks for another; `ambiguous`: another fits as well
   * and gives other dates; `mixed`: two layouts that cannot be read together, each with values that
   * only it fits; `few`: dates are less than half of the values; `numbers`: bare numbers, which are
   * dates only where a person or the file says so; `none`: the column holds no dates.
   */
  readonly verdict: "certain" | "ambiguous" | "mixed" | "few" | "numbers" | "none";
  /** The likeliest first. */
  readonly candidates: readonly ReadingCandidate[];
  readonly rivals: readonly ReadingRival[];
  /** Dates that often stand for "no date", with the number of their cells. */
  readonly suspects: readonly { readonly date: string; readonly count: number }[];
  /** The evidence in a sentence. */
  readonly evidence: string;
}

/** Days that often stand for "no date". */
const SUSPECTS: ReadonlyMap<number, string> = new Map(
  ["0001-01-01", "1899-12-30", "1899-12-31", "1900-01-01", "1970-01-01", "9999-12-31"].map(
    (day) => [Date.parse(day) / MS_PER_DAY, day],
  ),
);
const LAST_SUSPECT = Math.max(...SUSPECTS.keys());
/** Patterns that are tried at most. */
const MAX_PATTERNS = 40;
/** A column holds dates if this share of what is not blank fits. */
const LEAST_SHARE = 0.5;
/** A reading is offered if it fits this share. */
const OFFERED_SHARE = 0.05;
/** Bare numbers are dates if nearly all mean plausible years: amounts fall in them by chance. */
const LEAST_PLAUSIBLE = 0.95;
/** A rival fits at least this share of what the best candidate fits. */
const RIVAL_SHARE = 0.25;
const MAX_EXAMPLES = 5;

/**
 * Recognises how a column's values are written as dates, from all of its distinct values.
 *
 * Nothing in doubt is confirmed: where another reading fits every value as well and gives other
 * dates, the verdict is `ambiguous` and says how many cells would change. Seconds, milliseconds
 * and day numbers are distinguished by the years that they would mean.
 *
 * Bare numbers are never confirmed by themselves: order numbers and amounts lie among day numbers.
 * `dateCells` is what a sheet says itself: where it shows all of them as dates they are, counted as
 * it counts days. `confirmed` are spellings of “no date” that a person has confirmed already.
 *
 * @example
 * recogniseColumn([{ value: "03/04/2024", count: 2 }]).verdict // "ambiguous"
 */
export function recogniseColumn(
  values: readonly ValueCount[],
  dateCells?: ShownDates,
  confirmed: readonly string[] = [],
): Recognition {
  const { cells, blank, blanks, filled } = filledAndBlank(values, confirmed);
  const returned = dateCells?.encoding.startsWith("serial") === true ? dateCells.encoding : null;
  const tried = withCombined(withIso(tryAll(filled, blanks, returned), filled), filled);
  const fitting = tried
    .filter(({ fits }) => fits > 0 && fits >= (cells - blank) * OFFERED_SHARE)
    .sort((a, b) => b.fits - a.fits || weightOf(b.reading) - weightOf(a.reading));
  const base = { cells, distinct: values.length, blank };
  const found =
    judgedBest(fitting, tried, filled, dateCells, cells - blank) ??
    // Bare numbers so few are none at all, and no reason to be silent about the others.
    judgedBest(
      fitting.filter(({ reading }) => isMoreThanDigits(reading)),
      tried,
      filled,
      dateCells,
      cells - blank,
    );
  if (found !== null) return { ...base, ...found };
  const evidence = cells === blank ? "every cell is blank" : "the values have the form of no date";
  return { ...base, verdict: "none", candidates: [], rivals: [], suspects: [], evidence };
}

/** What is said of the best of some readings; null for none, and for bare numbers that are few. */
function judgedBest(
  fitting: readonly Tried[],
  tried: readonly Tried[],
  filled: readonly Filled[],
  shown: ShownDates | undefined,
  count: number,
): Omit<Recognition, "cells" | "distinct" | "blank"> | null {
  const [best] = fitting;
  if (best === undefined) return null;
  const rivals = tried
    .filter((each) => each !== best && each.fits >= best.fits * RIVAL_SHARE)
    .map((each) => rivalOf(best, each, filled))
    .filter(({ wouldChange, onlyRival }) => wouldChange > 0 || onlyRival > 0);
  const judgement = judged(best, rivals, filled, shown);
  const isFew = best.fits < count * LEAST_SHARE;
  if (isFew && judgement.verdict === "numbers") return null;
  return {
    ...judgement,
    ...(isFew ? { verdict: "few" as const } : {}),
    candidates: fitting.map(candidateOf),
    rivals,
    suspects: suspectsOf(best, filled),
  };
}

/** The patterns that are ISO 8601 in its extended form, without an offset. */
const ISO_FORM = /^yyyy-MM-dd(?:(?:'T'| )HH:mm(?::ss(?:\.S+)?)?)?$/;

/**
 * The readings that were tried, with ISO 8601 as wall-clock times where some values are days and others have a time: a
 * day is its beginning.
 */
function withIso(tried: readonly Tried[], filled: readonly Filled[]): readonly Tried[] {
  const iso = tried.filter(
    ({ reading, fits }) =>
      fits > 0 &&
      reading.encoding === "text" &&
      reading.zone === undefined &&
      patternsIn(reading).every((pattern) => ISO_FORM.test(pattern)),
  );
  const times = iso.find(({ reading }) => reading.kind === "local");
  if (times === undefined || !iso.some(({ reading }) => reading.kind === "date")) return tried;
  const dates = times.dates.slice();
  for (const { dates: more } of iso) {
    more.forEach((date, index) => {
      if (Number.isNaN(dates[index])) dates[index] = date;
    });
  }
  const { patterns: _, ...reading } = times.reading;
  return [...tried, counted(reading, dates, filled)];
}

/** Patterns that are read together at most. */
const MAX_TOGETHER = 6;

/**
 * The readings that were tried, with one of several patterns where no pattern alone fits every value: each adds values
 * that those before it do not fit, and none gives a value another date than they do.
 */
function withCombined(tried: readonly Tried[], filled: readonly Filled[]): readonly Tried[] {
  const written = tried.filter(({ reading, fits }) => reading.encoding === "text" && fits > 0);
  const [first, ...others] = [...written].sort(
    (a, b) => b.fits - a.fits || weightOf(b.reading) - weightOf(a.reading),
  );
  if (first === undefined || first.misses === 0 || isDoubtful(first, written)) return tried;
  const dates = first.dates.slice();
  const patterns = [...patternsIn(first.reading)];
  const counts = [first.fits];
  const taken = [first.reading];
  for (const other of others) {
    if (patterns.length === MAX_TOGETHER || !isLike(first.reading, other.reading)) continue;
    if (isDoubtful(other, written)) continue;
    let [added, isOther] = [0, false];
    for (let index = 0; index < filled.length; index++) {
      const [known = NaN, date = NaN] = [dates[index], other.dates[index]];
      if (Number.isNaN(date)) continue;
      if (Number.isNaN(known)) added += (filled[index] ?? NOTHING).count;
      else if (known !== date) isOther = true;
    }
    if (added === 0 || isOther || taken.some((each) => canDiffer(each, other.reading))) continue;
    taken.push(other.reading);
    other.dates.forEach((date, index) => {
      if (Number.isNaN(dates[index])) dates[index] = date;
    });
    patterns.push(...patternsIn(other.reading));
    counts.push(added);
  }
  if (counts.length === 1) return tried;
  const { twoDigitYearFrom } =
    written.find(({ reading }) => patterns.some((each) => isTwoDigits(each, reading)))?.reading ??
    {};
  const century = twoDigitYearFrom === undefined ? {} : { twoDigitYearFrom };
  // Every value is read already: the first pattern that fits it gives its date.
  const combined = counted({ ...first.reading, ...century, patterns }, dates, filled);
  return [
    ...tried,
    { ...combined, parts: patterns.map((name, index) => ({ name, count: counts[index] ?? 0 })) },
  ];
}

/** Whether all that a reading fits has other dates under another, for which as much speaks. */
function isDoubtful(one: Tried, tried: readonly Tried[]): boolean {
  return tried.some((other) => {
    let differs = false;
    for (let index = 0; index < one.dates.length; index++) {
      const [date = NaN, rival = NaN] = [one.dates[index], other.dates[index]];
      if (Number.isNaN(date)) continue;
      if (Number.isNaN(rival)) return false;
      differs ||= date !== rival;
    }
    return differs;
  });
}

/** A moment whose day, month and short year are all different, and each could be another. */
const PROBE_MS = dayNumber(2003, 4, 5) * MS_PER_DAY + 6 * 3_600_000 + 7 * 60_000;

/** Whether a text can be read by both of two readings, as two dates: `dd/MM` beside `MM/dd`. */
function canDiffer(one: Reading, two: Reading): boolean {
  const [first, second] = [compileReading(one), compileReading(two)];
  if (!first.ok || !second.ok) return true;
  return [
    [first.value, second.value],
    [second.value, first.value],
  ].some(([writer, reader]) => {
    const text = writer?.write(PROBE_MS) ?? "";
    const [meant, read] = [writer?.dateOf(text), reader?.dateOf(text)];
    return read !== undefined && !Number.isNaN(read) && read !== meant;
  });
}

function patternsIn({ patterns }: Reading): readonly string[] {
  return patterns ?? ["iso8601"];
}

/** Whether two readings differ in their patterns alone, and in what two digits of a year mean. */
function isLike(
  { patterns: _, twoDigitYearFrom: from, ...one }: Reading,
  { patterns: __, twoDigitYearFrom: other, ...two }: Reading,
): boolean {
  const isSameCentury = from === undefined || other === undefined || from === other;
  return isSameCentury && JSON.stringify(one) === JSON.stringify(two);
}

function isTwoDigits(pattern: string, { patterns, twoDigitYearFrom }: Reading): boolean {
  return twoDigitYearFrom !== undefined && patterns?.includes(pattern) === true;
}

/** The verdict, and the evidence for it in a sentence. */
function judged(
  best: Tried,
  rivals: readonly ReadingRival[],
  filled: readonly Filled[],
  shown: ShownDates | undefined,
): Pick<Recognition, "verdict" | "evidence"> {
  const evidence = evidenceOf(best, rivals);
  // What is written with more than digits is no bare number, and those are among the misses.
  const mayBeNumbers = best.misses >= best.fits || !isMoreThanDigits(best.reading);
  const numbers = mayBeNumbers
    ? filled.reduce((sum, { value, count }) => sum + (Number.isNaN(numberOf(value)) ? 0 : count), 0)
    : 0;
  const isShown = shown?.encoding.startsWith("serial") === true && shown.count >= numbers;
  // Where all that fits is a bare number, chance may have made it fit.
  if (numbers >= best.fits && !isShown) {
    const name = nameOf(best.reading);
    const { earliest, latest } = candidateOf(best);
    return {
      verdict: "numbers",
      evidence:
        `${numbers} cells are bare numbers, which are dates only where you say so: ` +
        `as ${name} ${best.fits} would lie from ${earliest} to ${latest}`,
    };
  }
  const { zoned = 0 } = shown ?? {};
  if (zoned === 0) return { verdict: verdictOf(rivals), evidence };
  const verdict = verdictOf(rivals);
  return {
    verdict: verdict === "certain" ? "ambiguous" : verdict,
    evidence:
      `${evidence}; ${zoned} cells are stored with a time zone, which the sheet does not show: ` +
      "they are read as it shows them, as days or wall-clock times",
  };
}

/** Whether strings that fit a reading have characters which bare numbers never have. */
function isMoreThanDigits({ encoding, patterns = [] }: Reading): boolean {
  return encoding === "text" && patterns.every((pattern) => /[/:' -]|MMM|E/.test(pattern));
}

/** Whether a column that is held as text can only be dates in one way. */
export function isCertain(column: {
  readonly type: string;
  readonly recognition: Pick<Recognition, "verdict">;
}): boolean {
  return column.type === "text" && column.recognition.verdict === "certain";
}

interface Tried {
  readonly reading: Reading;
  /** The date of each distinct value, NaN where it is none. */
  readonly dates: Float64Array;
  readonly fits: number;
  readonly misses: number;
  readonly earliest: number;
  readonly latest: number;
  readonly examples: readonly string[];
  /** Of several patterns: the cells that each of them adds. */
  readonly parts?: readonly { readonly name: string; readonly count: number }[];
}

/**
 * Tries the readings that a part of the values suggests, then those that the values suggest
 * which none of them fits: so every value is looked at, and most of them no more often than
 * they are read.
 */
function tryAll(
  filled: readonly Filled[],
  blanks: readonly string[],
  returned: DateEncoding | null,
): readonly Tried[] {
  const tried = new Map<string, Tried>();
  const tryNew = (samples: readonly Filled[]) => {
    for (const reading of textReadings(samples, blanks)) {
      const name = JSON.stringify(reading);
      if (!tried.has(name)) tried.set(name, tryReading(reading, filled));
    }
  };
  tryNew(samplesOf(spread(filled, FIRST_LOOK)));
  const soFar = [...tried.values()];
  if (soFar.every(({ misses }) => misses > 0)) {
    const isUnread = (_: Filled, index: number) =>
      soFar.every(({ dates }) => Number.isNaN(dates[index]));
    tryNew(samplesOf(filled.filter(isUnread)));
  }
  const shared = blanks.length === 0 ? {} : { blanks };
  const numeric = numericReadings(filled, returned).map((reading) => ({ ...reading, ...shared }));
  return [...tried.values(), ...numeric.map((reading) => tryReading(reading, filled))];
}

/** Values that are looked at first, from all over a column. */
const FIRST_LOOK = 2_000;

function textReadings(samples: readonly Filled[], blanks: readonly string[]): readonly Reading[] {
  const shared = blanks.length === 0 ? {} : { blanks };
  const strings = samples.map(textOf);
  const hasNames = strings.some((text) => /\p{L}/u.test(text));
  const locales = hasNames ? likelyLocales(strings) : ["en"];
  return [
    ...locales.flatMap((locale) => readingsIn(locale, samples, strings, shared)),
    ...(strings.some((text) => readInternetDate(text).kind === "fits")
      ? [{ kind: "instant", encoding: "text", patterns: ["rfc5322"], ...shared } as const]
      : []),
    ...basicKinds(strings).map(
      (kind) => ({ kind, encoding: "text", patterns: ["iso8601"], ...shared }) as const,
    ),
  ];
}

/** The readings that some values suggest, with the names of a language. */
function readingsIn(
  locale: Locale,
  samples: readonly Filled[],
  strings: readonly string[],
  shared: Pick<Reading, "blanks">,
): readonly Reading[] {
  const patterns = new Map<string, number>();
  for (const [index, { count }] of samples.entries()) {
    for (const pattern of patternsLike(strings[index] ?? "", locale)) {
      patterns.set(pattern, (patterns.get(pattern) ?? 0) + count);
    }
  }
  const likely = [...loosest(patterns)].sort((a, b) => b[1] - a[1]).slice(0, MAX_PATTERNS);
  return likely.flatMap(([pattern]): readonly Reading[] => {
    const letters = pattern.replace(/'[^']*'/g, "");
    const hasTime = /H|h/.test(letters);
    const locales = locale === "en" || !/MMM|E/.test(letters) ? {} : { locales: [locale] };
    const kind = !hasTime ? "date" : pattern.endsWith("X") ? "instant" : "local";
    const reading = { kind, encoding: "text", patterns: [pattern], ...locales, ...shared } as const;
    // Which century is meant cannot be seen: years between the two are in doubt.
    return /(?:^|[^y])yy(?:[^y]|$)/.test(pattern)
      ? PIVOTS.map((twoDigitYearFrom) => ({ ...reading, twoDigitYearFrom }))
      : [reading];
  });
}

/** The kinds of dates with times in the basic form of ISO 8601, as calendars have them: `20110312T200000Z`. */
function basicKinds(strings: readonly string[]): readonly ("instant" | "local")[] {
  const found = strings.flatMap((text) => /^\d{8}T\d{4}(?:\d{2})?(Z|[+-]\d{4})?$/.exec(text) ?? []);
  if (found.length === 0) return [];
  return found.some((each) => /^(?:Z|[+-]\d{4})$/.test(each)) ? ["instant"] : ["local"];
}

/** The first of the hundred years that two digits are commonly taken to mean. */
const PIVOTS = [1970, 1930] as const;

/**
 * The years in which a bare number is taken for a date. A count since 1970 begins later: below,
 * it would be any small number.
 */
const PLAUSIBLE_FROM = { serial: yearStart(1950), epoch: yearStart(1985) };
const PLAUSIBLE_TO = yearStart(2100);

function yearStart(year: number): number {
  return dayNumber(year, 1, 1) * MS_PER_DAY;
}

function numericReadings(
  filled: readonly Filled[],
  returned: DateEncoding | null,
): readonly Reading[] {
  // Where hardly any of some values is a number, half of all cannot be.
  const some = numbersIn(spread(filled, FIRST_LOOK));
  if (
    returned === null &&
    some.length < FIRST_LOOK * LEAST_SHARE * LEAST_SHARE &&
    filled.length > FIRST_LOOK
  ) {
    return [];
  }
  const numbers = numbersIn(filled);
  if (returned !== null) {
    const hasTimes = numbers.some((number) => !Number.isInteger(number));
    return [{ kind: hasTimes ? "local" : "date", encoding: returned }];
  }
  if (numbers.length < filled.length * LEAST_SHARE) return [];
  const encodings: readonly DateEncoding[] = ["serial-1900", "epoch-s", "epoch-ms", "epoch-us"];
  return encodings.flatMap((encoding): readonly Reading[] => {
    const instants = compileReading({ kind: "instant", encoding });
    if (!instants.ok) return [];
    const from = encoding === "serial-1900" ? PLAUSIBLE_FROM.serial : PLAUSIBLE_FROM.epoch;
    const isPlausible = (number: number) => {
      const ms = instants.value.dateOf(number);
      return ms >= from && ms < PLAUSIBLE_TO;
    };
    // Where few of some numbers are plausible, nearly all cannot be.
    const isFew = some.filter(isPlausible).length < some.length * LEAST_SHARE;
    if (isFew && filled.length > FIRST_LOOK) return [];
    const plausible = numbers.filter(isPlausible);
    if (plausible.length < numbers.length * LEAST_PLAUSIBLE) return [];
    const hasTimes = plausible.some((number) => !Number.isInteger(number));
    const kind = encoding !== "serial-1900" ? "instant" : hasTimes ? "local" : "date";
    return [{ kind, encoding }];
  });
}

function numbersIn(filled: readonly Filled[]): readonly number[] {
  const numbers: number[] = [];
  for (const { value } of filled) {
    const number = numberOf(value);
    if (!Number.isNaN(number)) numbers.push(number);
  }
  return numbers;
}

function tryReading(reading: Reading, filled: readonly Filled[]): Tried {
  const compiled = compileReading(reading);
  const dates = new Float64Array(filled.length);
  if (!compiled.ok) return counted(reading, dates.fill(NaN), []);
  const ready = compiled.value;
  for (let index = 0; index < filled.length; index++) {
    dates[index] = ready.dateOf((filled[index] ?? NOTHING).value);
  }
  return counted(reading, dates, filled);
}

/** What some values come to, by the date of each. */
function counted(reading: Reading, dates: Float64Array, filled: readonly Filled[]): Tried {
  let [earliest, latest, fits, misses] = [Infinity, -Infinity, 0, 0];
  const examples: string[] = [];
  for (let index = 0; index < filled.length; index++) {
    const { value, count } = filled[index] ?? NOTHING;
    const date = dates[index] ?? NaN;
    if (!Number.isNaN(date)) {
      fits += count;
      if (date < earliest) earliest = date;
      if (date > latest) latest = date;
    } else {
      misses += count;
      if (examples.length < MAX_EXAMPLES) examples.push(String(value).trim());
    }
  }
  return { reading, dates, fits, misses, earliest, latest, examples };
}

/**
 * Of two readings that fit as much, a standard's own form, else the stricter one: exact widths
 * before one or two digits.
 */
function weightOf({ patterns, encoding }: Reading): number {
  const [pattern = ""] = encoding === "text" ? (patterns ?? []) : [];
  return pattern === "rfc5322" ? Infinity : pattern.length;
}

function rivalOf(best: Tried, rival: Tried, filled: readonly Filled[]): ReadingRival {
  const counts = { onlyBest: 0, onlyRival: 0, wouldChange: 0 };
  for (let index = 0; index < filled.length; index++) {
    const { count } = filled[index] ?? NOTHING;
    const one = best.dates[index] ?? NaN;
    const other = rival.dates[index] ?? NaN;
    if (Number.isNaN(one)) counts.onlyRival += Number.isNaN(other) ? 0 : count;
    else if (Number.isNaN(other)) counts.onlyBest += count;
    else if (one !== other) counts.wouldChange += count;
  }
  return { reading: rival.reading, ...counts };
}

function verdictOf(rivals: readonly ReadingRival[]): Recognition["verdict"] {
  if (rivals.some(({ onlyRival }) => onlyRival > 0)) return "mixed";
  return rivals.some(({ onlyBest, wouldChange }) => onlyBest === 0 && wouldChange > 0)
    ? "ambiguous"
    : "certain";
}

function candidateOf(tried: Tried): ReadingCandidate {
  const { reading, fits, misses, examples } = tried;
  return {
    reading,
    fits,
    misses,
    examples,
    earliest: dateText(tried.earliest, reading.kind),
    latest: dateText(tried.latest, reading.kind),
  };
}

function suspectsOf({ dates }: Tried, filled: readonly Filled[]) {
  const counts = new Map<string, number>();
  for (let index = 0; index < filled.length; index++) {
    const day = Math.floor((dates[index] ?? NaN) / MS_PER_DAY);
    // Nearly every date lies between the last but one of them and the last.
    if (Number.isNaN(day) || (day > 0 && day < LAST_SUSPECT)) continue;
    const suspect = SUSPECTS.get(day);
    if (suspect === undefined) continue;
    counts.set(suspect, (counts.get(suspect) ?? 0) + (filled[index] ?? NOTHING).count);
  }
  return [...counts].map(([date, count]) => ({ date, count }));
}

function evidenceOf(best: Tried, rivals: readonly ReadingRival[]): string {
  const parts = best.parts?.map(({ name, count }) => `${name} ${count}`).join(", ");
  const fits =
    `${best.fits === 1 ? "1 cell fits" : `${best.fits} cells fit`} ${nameOf(best.reading)}` +
    (parts === undefined ? "" : ` (${parts})`);
  const others = rivals.map(({ reading, onlyBest, onlyRival, wouldChange }) =>
    [
      `under ${nameOf(reading)} ${wouldChange} of them would be other dates`,
      onlyBest > 0 ? `${onlyBest} can only be ${nameOf(best.reading)}` : null,
      onlyRival > 0 ? `${onlyRival} others fit only ${nameOf(reading)}` : null,
    ]
      .filter((part) => part !== null)
      .join(", "),
  );
  return [fits, ...others, best.misses === 1 ? "1 does not fit" : `${best.misses} do not fit`].join(
    "; ",
  );
}

/** A reading in a word or two: its pattern and the language of its names, or its encoding. */
export function nameOf({ encoding, patterns, twoDigitYearFrom, locales = [] }: Reading): string {
  if (encoding !== "text") return encoding;
  return [
    patterns?.join(" or ") ?? "ISO 8601",
    ...(twoDigitYearFrom === undefined ? [] : [`from ${twoDigitYearFrom} on`]),
    ...(locales.length === 0 ? [] : [`in ${locales.join(" or ")}`]),
  ].join(" ");
}
