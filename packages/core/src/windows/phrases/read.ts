import {
  MS_PER_DAY,
  civilDay,
  dayNumber,
  digits,
  isoDay,
  isoMonth,
  wallAt,
} from "../../calendar/index.js";
import {
  failure,
  fault,
  success,
  withLocation,
  type Failure,
  type Fault,
  type Result,
} from "../../faults/index.js";
import { answerWindow, type WindowAnswer } from "../answer.js";
import { windowPeriodInWords } from "../describe.js";
import { NAMED_WINDOWS, type NamedWindow } from "../named.js";
import { DAY_WORDS } from "../notation.js";
import { readWindow } from "../read.js";
import { resolveWindow, type WindowContext } from "../resolve.js";
import { windowText } from "../write.js";
import { readDate, type Direction } from "./dates.js";
import { PHRASE_LOCALES, inEnglish, type PhraseLocale } from "./languages.js";
import { COUNT, UNIT, countOf, plainPhrase, unitOf, type PhraseUnit } from "./words.js";

/** What a phrase is read against. */
export interface PhraseContext extends WindowContext {
  /** The language of phrases, beside English, such as `de` (BCP 47); of {@link PHRASE_LOCALES}. */
  readonly locale?: string;
  /** Windows that can be named too, by their names or labels. */
  readonly named?: readonly NamedWindow[];
}

/** Characters of a phrase at most: what is longer is no phrase. */
const LONGEST = 200;

/**
 * Reads a date or a window as people write it, in English and in the language of the context, and gives the windows
 * that it can mean in the notation: one, or all of several, of which none is chosen. The notation itself is read as
 * what it says.
 *
 * `last`, `previous` and `next` so many units are whole units beside the current one; `past` is a length that ends
 * now. `until` and `to` include their end, `before` does not. A weekday or a date without a year lies before today
 * after `since`, after it behind `until`, and is either of two where nothing says which.
 *
 * Fails with `phrase.unknown`, `phrase.weekday`, `phrase.nothing`, and the faults of {@link readWindow} where a date
 * cannot be, and for one word that is nothing; with `phrase.locale` for a language whose phrases are not known.
 */
export function readPhrase(text: string, context: PhraseContext): Result<readonly string[]> {
  const read = readWindow(text.trim());
  if (read.ok) return success([windowText(read.value.window)]);
  const locale = phraseLocale(context.locale);
  if (!locale.ok) return locale;
  const reader = new Phrases(context);
  const found =
    text.length > LONGEST
      ? null
      : ((locale.value === "en"
          ? null
          : reader.windows(plainPhrase(inEnglish(text, locale.value)))) ??
        (reader.fault === null ? reader.windows(plainPhrase(text)) : null));
  if (reader.fault !== null) return failure(reader.fault);
  // What has no words beside each other was meant for the notation, whose faults say where it goes wrong.
  if (found === null && !/[^\s/|;]\s+[^\s/|;]/.test(text.trim())) return read;
  if (found === null) {
    const known = [...NAMED_WINDOWS, ...(context.named ?? [])].map(({ label }) => label);
    return failure(fault("phrase.unknown", { text, known }, { value: text }));
  }
  const canonical: string[] = [];
  for (const window of found) {
    const checked = readWindow(window);
    if (!checked.ok) return checked;
    canonical.push(windowText(checked.value.window));
  }
  return success([...new Set(canonical)]);
}

/**
 * Reads a phrase and resolves what it means, as {@link answerWindow} does. Fails as {@link readPhrase} and that do,
 * and with `phrase.ambiguous`, which lists the windows, where it has several meanings.
 */
export function answerPhrase(text: string, context: PhraseContext): Result<WindowAnswer> {
  const read = readOnePhrase(text, context);
  if (!read.ok) return read;
  const answer = answerWindow(read.value, context);
  return answer.ok ? success({ ...answer.value, window: text }) : answer;
}

/** Reads a phrase that may mean one window only. Fails as {@link readPhrase} does, and with `phrase.ambiguous`. */
export function readOnePhrase(text: string, context: PhraseContext): Result<string> {
  const read = readPhrase(text, context);
  if (!read.ok) return read;
  const [window = "", ...others] = read.value;
  if (others.length === 0) return success(window);
  const readings = read.value.map((each) => ({ window: each, sentence: wordsOf(each, context) }));
  return failure(fault("phrase.ambiguous", { text, readings }, { value: text }));
}

/**
 * The one window that a text means as a phrase, which was refused as a date or window. Fails as it was refused, and
 * with the faults of a phrase where it is one.
 */
export function meaningOf(text: string, refused: Failure, context: PhraseContext): Result<string> {
  const read = readOnePhrase(text, context);
  if (read.ok) return read;
  const isPhrase = read.faults.every(({ code }) => !/^window\.|^phrase\.unknown$/.test(code));
  return isPhrase ? read : refused;
}

/** What phrases are read against where they are taken: in English, or in a language that is named too. */
export function phrasesIn(
  window: WindowContext,
  phrases: boolean | string | undefined,
): PhraseContext | undefined {
  if (phrases === undefined || phrases === false) return undefined;
  return phrases === true ? window : { ...window, locale: phrases };
}

/**
 * The windows in the notation that a text, which is no date or window itself, means as a phrase: one, each of several,
 * or none. Where one date is wanted, only those that are one.
 */
export function meantBy(
  text: string,
  wanted: "date" | "window",
  context: PhraseContext,
): readonly string[] {
  const read = readPhrase(text, context);
  const meant = read.ok ? read.value.filter((each) => each !== text.trim()) : [];
  return wanted === "window" ? meant : meant.filter((each) => !/[/|;]/.test(each));
}

/** Adds what a text means as a phrase to its refusals as a date or window: see {@link meantBy}. */
export function withMeant(
  faults: readonly Fault[],
  text: string,
  wanted: "date" | "window",
  context: PhraseContext,
): readonly Fault[] {
  const meant = meantBy(text, wanted, context);
  if (meant.length === 0) return faults;
  return faults.map((each) =>
    /^(?:window|date)\./.test(each.code) ? withLocation(each, { meant }) : each,
  );
}

/** Adds to each refusal of a date or a window what its value means as a phrase: see {@link meantBy}. */
export function withMeantValues(
  faults: readonly Fault[],
  context: PhraseContext,
): readonly Fault[] {
  return faults.flatMap((each) => {
    const wanted = each.code.startsWith("window.") ? "window" : "date";
    return withMeant([each], each.value ?? "", wanted, context);
  });
}

function wordsOf(window: string, context: WindowContext): string {
  const read = readWindow(window);
  if (!read.ok) return window;
  const resolved = resolveWindow(read.value.window, context);
  return resolved.ok ? windowPeriodInWords(read.value.window, resolved.value) : window;
}

/** The language of phrases of a locale such as `de-AT`; fails with `phrase.locale` for one that is not known. */
export function phraseLocale(locale = "en"): Result<PhraseLocale | "en"> {
  const language = locale.toLowerCase().split(/[-_]/, 1)[0];
  const known = ["en" as const, ...PHRASE_LOCALES];
  const found = known.find((each) => each === language);
  if (found !== undefined) return success(found);
  return failure(fault("phrase.locale", { locale, known }, { value: locale }));
}

/** The windows that a phrase can mean; null where it is none. */
type Windows = readonly string[] | null;

const NEIGHBOURS = new RegExp(`^(?<which>last|previous|past|next|coming|this|current) ${UNIT}$`);
const SEVERAL = new RegExp(`^(?<which>last|previous|past|next|coming) ${COUNT} ${UNIT}$`);
const AGO = new RegExp(`^${COUNT} ${UNIT} (?<way>ago|before|back|hence|from now|later)$`);
const AHEAD = new RegExp(`^in ${COUNT} ${UNIT}$`);
const AGE =
  /^(?:(?<way>older|newer|younger) than (?<size>.+)|(?<length>more|less) than (?<since>.+) ago)$/;
/** Words before a span that say no more than that it is meant. */
const WITHIN =
  /^(?:in|over|during|within|for) (?=(?:last|previous|past|next|coming|this|current) )/;

type Bound = "since" | "after" | "until" | "before";

/** How a bound is said before its date, or behind it. */
const BOUNDS: readonly (readonly [Bound, RegExp])[] = [
  ["since", /^(?:on or after|not? earlier than|not before) (?<rest>.+)$/],
  ["until", /^(?:on or before|not? later than|not after) (?<rest>.+)$/],
  ["since", /^(?<rest>.+) (?:or|and) (?:later|after|newer|onwards?)$/],
  ["since", /^(?:from )?(?<rest>.+) onwards?$/],
  ["since", /^from (?<rest>.+) on$/],
  ["until", /^(?<rest>.+) (?:or|and) (?:earlier|before|older)$/],
  ["since", /^(?:since|from|starting(?: from)?) (?<rest>.+)$/],
  ["after", /^(?:after|later than) (?<rest>.+)$/],
  ["until", /^(?:until|till|up to|to|through|by) (?<rest>.+)$/],
  ["before", /^(?:before|earlier than) (?<rest>.+)$/],
];

const SO_FAR = new RegExp(`^(?:(?:this|current) )?${UNIT} (?:to date|so far)$`);

class Phrases {
  fault: Fault | null = null;
  readonly #today: number;
  readonly #named: ReadonlyMap<string, string>;

  constructor({ asOf, zone, named = [] }: PhraseContext) {
    this.#today = Math.floor(wallAt(zone, asOf) / MS_PER_DAY);
    this.#named = new Map(
      [...NAMED_WINDOWS, ...named].flatMap(({ name, label, window }) => [
        [plainPhrase(name), window],
        [plainPhrase(label), window],
      ]),
    );
  }

  windows(text: string): Windows {
    const named = this.#named.get(text);
    if (named !== undefined) return [named];
    return (
      FIXED.get(text) ??
      this.#several(text.replace(WITHIN, "")) ??
      this.#age(text) ??
      this.#between(apart(text)) ??
      this.#bounded(text) ??
      this.#part(text.replace(WITHIN, ""), null)
    );
  }

  /** `older than 30 days`, `less than 3 days ago`. */
  #age(text: string): Windows {
    const groups = AGE.exec(text)?.groups;
    if (groups === undefined) return null;
    const since = this.#away(`${groups.size ?? groups.since ?? ""} ago`);
    const isOlder = groups.way === "older" || groups.length === "more";
    return mapped(since, (part) => (isOlder ? `../${beside(part, -1)}` : `${beside(part, 1)}/now`));
  }

  /** `last 3 months`, `year to date`. */
  #several(text: string): Windows {
    const soFar = SO_FAR.exec(text)?.groups;
    const current = soFar === undefined ? null : unitOf(soFar.unit ?? "");
    if (current !== null) return [`${current.unit}/now`];
    const groups = SEVERAL.exec(text)?.groups;
    const unit = unitOf(groups?.unit ?? "");
    if (groups === undefined || unit === null) return null;
    const { which = "", count: written = "" } = groups;
    const count = countOf(written);
    if (count === 0) return this.#nothing(text);
    if (which === "past" && unit.length !== null) return [`${unit.length(count)}/now`];
    const isAhead = which === "next" || which === "coming";
    if (count === 1) return [`${unit.unit}${isAhead ? "+1" : "-1"}`];
    if (isAhead) return [`${unit.unit}+1/${unit.unit}+${count}`];
    return [`${unit.unit}-${count}/${unit.unit}-1`];
  }

  #nothing(text: string): null {
    this.fault = fault("phrase.nothing", { text }, { value: text });
    return null;
  }

  /** `between A and B`, `A to B`, where A may leave to B what both share: `3 to 5 April 2025`. */
  #between(text: string): Windows {
    const found =
      /^(?:between (?<a>.+?) and|(?:from )?(?<b>.+?) (?:to|until|till|through|-)) (?<end>.+)$/.exec(
        text,
      )?.groups;
    if (found === undefined) return null;
    const [start = "", end = ""] = [found.a ?? found.b, found.end];
    const to = this.#part(end, null);
    if (to === null) return null;
    const from = this.#shared(start, end) ?? this.#part(start, null);
    if (from === null) return null;
    return from.flatMap((first) => to.map((last) => `${first}/${last}`));
  }

  /** The start of a range, with what its end has and it has not: the year, or month and year. */
  #shared(start: string, end: string): Windows {
    const words = end.split(" ");
    if (!/^\d{4}$/.test(words.at(-1) ?? "")) return null;
    if (/\d{4}/.test(start)) return null;
    for (const tail of [words.slice(-1), words.slice(-2)]) {
      const found = readDate(`${start} ${tail.join(" ")}`, this.#today, null);
      if (found !== null && "parts" in found) return found.parts;
    }
    return null;
  }

  /** `since`, `after`, `until`, `before`, `on`, and what means the same before or behind a date. */
  #bounded(text: string): Windows {
    for (const [word, form] of BOUNDS) {
      const rest = form.exec(text)?.groups?.rest;
      if (rest !== undefined) return this.#bound(word, rest);
    }
    const rest = /^(?:on|during|in) (.+)$/.exec(text)?.[1];
    return rest === undefined ? null : (this.#away(text) ?? this.#part(rest, null));
  }

  #bound(word: Bound, rest: string): Windows {
    switch (word) {
      case "since":
        return mapped(this.#part(rest, "past"), (part) => `${part}/..`);
      case "after":
        return mapped(this.#part(rest, "past"), (part) => `${beside(part, 1)}/..`);
      case "until":
        return mapped(this.#part(rest, "future"), (part) => `../${part}`);
      case "before":
        return mapped(this.#part(rest, "future"), (part) => `../${beside(part, -1)}`);
    }
  }

  /** A single part of a window. */
  #part(text: string, direction: Direction): Windows {
    const fixed = PARTS.get(text);
    if (fixed !== undefined) return [fixed];
    const written = /^\d{4}-\d\d(?:-\d\d)?$/.test(text) ? [text] : null;
    const read = written ?? this.#neighbour(text) ?? this.#away(text);
    if (read !== null || this.fault !== null) return read;
    const found = readDate(text, this.#today, direction);
    if (found === null) return null;
    if ("parts" in found) return found.parts;
    this.fault = found.fault;
    return null;
  }

  /** `last month`, `this week`, `next year`. */
  #neighbour(text: string): Windows {
    const groups = NEIGHBOURS.exec(text)?.groups;
    const unit = unitOf(groups?.unit ?? "");
    if (groups === undefined || unit === null) return null;
    const { which = "" } = groups;
    if (which === "this" || which === "current") return [unit.unit];
    return [`${unit.unit}${which === "next" || which === "coming" ? "+1" : "-1"}`];
  }

  /** `3 days ago`, `in 2 weeks`: a day, or an hour or minute. */
  #away(text: string): Windows {
    const groups = (AGO.exec(text) ?? AHEAD.exec(text))?.groups;
    const unit = unitOf(groups?.unit ?? "");
    if (groups === undefined || unit === null) return null;
    const count = countOf(groups.count ?? "");
    const isBack = groups.way === "ago" || groups.way === "before" || groups.way === "back";
    return [partAway(unit, isBack ? -count : count)];
  }
}

function partAway({ unit, length }: PhraseUnit, count: number): string {
  const sign = count < 0 ? "-" : "+";
  const size = Math.abs(count);
  const isOwnUnit = unit === "minute" || unit === "hour" || unit === "day" || length === null;
  return isOwnUnit ? `${unit}${sign}${size}` : `today${sign}${length(size)}`;
}

/** Two numbers of one month, or two dates, that a hyphen joins without spaces. */
function apart(text: string): string {
  return text
    .replace(/^(\d{1,2})-(?=\d{1,2} [a-z])/, "$1 - ")
    .replace(/^(\d{8})-(?=\d{8}$)/, "$1 - ")
    .replace(
      /^((?:from )?(?<month>[a-z]+) \d{1,2} (?:to|until|till|through|-)) (?=\d{1,2} \d{4}$)/,
      "$1 $<month> ",
    );
}

function mapped(windows: Windows, change: (part: string) => string): Windows {
  return windows === null ? null : windows.map(change);
}

/** The part right after another, or right before it. */
function beside(part: string, step: 1 | -1): string {
  const word = DAY_WORDS.get(part);
  if (word !== undefined) return `day${offset(word + step)}`;
  const [, unit, count = "0"] = /^([a-z]+)([+-]\d+)?$/.exec(part) ?? [];
  if (unit !== undefined && unit !== "now") return `${unit}${offset(Number(count) + step)}`;
  const [, year = "", month, day] = /^(\d{4})(?:-(\d\d))?(?:-(\d\d))?$/.exec(part) ?? [];
  if (day !== undefined) {
    return isoDay(dayNumber(Number(year), Number(month), Number(day)) + step);
  }
  if (month !== undefined) {
    const moved = civilDay(dayNumber(Number(year), Number(month) + step, 1));
    return isoMonth(moved.year, moved.month);
  }
  if (year !== "") return digits(Number(year) + step, 4);
  // A quarter moves by its length; a day that is so far away by one.
  return `${part}${step > 0 ? "+" : "-"}${part.includes("-Q") ? "P3M" : "P1D"}`;
}

function offset(count: number): string {
  if (count === 0) return "";
  return count < 0 ? String(count) : `+${count}`;
}

const PARTS: ReadonlyMap<string, string> = new Map([
  ["now", "now"],
  ...[...DAY_WORDS.keys()].map((word) => [word, word] as const),
  ["day before yesterday", "day-2"],
  ["day after tomorrow", "day+2"],
]);

const FIXED: ReadonlyMap<string, Windows & object> = new Map([
  ["ytd", ["year/now"]],
  ["qtd", ["quarter/now"]],
  ["mtd", ["month/now"]],
  ["wtd", ["week/now"]],
  ["any time", ["../.."]],
  ["anytime", ["../.."]],
  ["all time", ["../.."]],
  ["all", ["../.."]],
]);
