import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import { OWN_NAMES } from "./names.generated.js";

/** A language of which the names of months and days are known, as in BCP 47: `de`. */
export type Locale = string;

/** The names of a language: every spelling of each, the usual one first. */
interface LocaleNames {
  /** From January. */
  readonly months: Spellings;
  readonly abbreviatedMonths: Spellings;
  /** From Monday. */
  readonly weekdays: Spellings;
  readonly abbreviatedWeekdays: Spellings;
  /** Before and after noon. */
  readonly halves: Spellings;
  /** Words between the parts of a date, or behind them: “de”, “г”. */
  readonly joining: readonly string[];
}

type Spellings = readonly (readonly string[])[];

/** The names of each language as JSON, which is read at first need. */
const known = new Map<Locale, string>(Object.entries(OWN_NAMES));

/**
 * Adds the names of further languages, as JSON by language, for as long as the process runs; those
 * of `@orisma/core/names` are all that the CLDR has. Without them the languages of phrases are known.
 */
export function addNames(names: Readonly<Record<string, string>>): void {
  for (const [locale, json] of Object.entries(names)) known.set(locale, json);
}

/** The languages whose names of months and days are known. */
export function knownLocales(): readonly Locale[] {
  return [...known.keys()];
}

/** The names of one part of a date in the locales of a reading, in normal form. */
export interface NameTable {
  /** From a name to its number: months and weekdays from 1, halves of the day 0 and 1. */
  readonly numbers: ReadonlyMap<string, number>;
  /** The first spelling of each, as it is written. */
  readonly written: readonly string[];
  /** Every spelling in normal form, with its dots and spaces. */
  readonly normals: readonly string[];
}

/** The parts of a date that can be names. */
export interface DateNames {
  readonly wideMonths: NameTable;
  readonly abbreviatedMonths: NameTable;
  readonly wideWeekdays: NameTable;
  readonly abbreviatedWeekdays: NameTable;
  readonly halves: NameTable;
  /** Words that stand between the parts of a date, or behind them, in normal form without dots. */
  readonly joining: ReadonlySet<string>;
}

const TABLES = new Map<string, DateNames>();

/**
 * The names of the locales that a reading lists, the first one's for writing.
 *
 * A spelling that means different months in two of the locales is omitted: it would be a
 * guess. Fails with `locale.unknown`; without a locale it is English.
 */
export function namesOf(locales: readonly string[]): Result<DateNames> {
  const faults: Fault[] = [];
  const found: Locale[] = [];
  for (const locale of locales.length === 0 ? ["en"] : locales) {
    const language = locale.toLowerCase().split(/[-_]/, 1)[0] ?? "";
    if (known.has(language)) found.push(language);
    else {
      const facts = { locale, known: knownLocales() };
      faults.push(fault("locale.unknown", facts, { value: locale }));
    }
  }
  if (faults.length > 0) return failure(...faults);
  const key = found.join();
  const held = TABLES.get(key) ?? tablesOf(found);
  TABLES.set(key, held);
  return success(held);
}

/** The names that are used where no locale is listed. */
export const ENGLISH: DateNames = tablesOf(["en"]);

/**
 * A text in the form in which names are compared: lower case as in the locale (a Turkish İ is
 * an i), every white space a plain space, apostrophes as typed, accents composed, marks of direction
 * omitted, digits of every script as 0 to 9.
 */
export function normalText(text: string, locale: string): string {
  const isPlain = /^[\x20-\x7e]*$/.test(text);
  const plain = isPlain
    ? text
    : text
        .normalize("NFC")
        .replace(/[\u00a0\u202f\u2007\u2009\u3000\t]/g, " ")
        .replace(/[\u2019\u02bc]/g, "'")
        .replace(/[\u061c\u200e\u200f]/g, "")
        .replace(/(?![0-9])\p{Nd}/gu, digitOf);
  return plain.toLocaleLowerCase(locale);
}

/** The value of a digit of any script: Unicode has them in runs of ten, from zero on. */
function digitOf(digit: string): string {
  const point = digit.codePointAt(0) ?? 0;
  let zero = point;
  while (/^\p{Nd}$/u.test(String.fromCodePoint(zero - 1))) zero--;
  return String((point - zero) % 10);
}

function tablesOf(locales: readonly Locale[]): DateNames {
  const names = locales.map(
    (locale) => [locale, JSON.parse(known.get(locale) ?? "") as LocaleNames] as const,
  );
  const table = (part: Exclude<keyof LocaleNames, "joining">, first: number) =>
    nameTable(
      names.map(([locale, parts]) => [locale, parts[part]] as const),
      first,
    );
  return {
    wideMonths: table("months", 1),
    abbreviatedMonths: table("abbreviatedMonths", 1),
    wideWeekdays: table("weekdays", 1),
    abbreviatedWeekdays: table("abbreviatedWeekdays", 1),
    halves: table("halves", 0),
    joining: new Set(
      names.flatMap(([locale, { joining }]) =>
        joining.map((word) => bareName(normalText(word, locale))),
      ),
    ),
  };
}

function nameTable(locales: readonly (readonly [Locale, Spellings])[], first: number): NameTable {
  const numbers = new Map<string, number>();
  const ambiguous = new Set<string>();
  const normals = new Set<string>();
  for (const [locale, names] of locales) {
    names.forEach((spellings, index) => {
      for (const spelling of spellings) {
        const normal = normalText(spelling, locale);
        normals.add(normal);
        const bare = bareName(normal);
        const before = numbers.get(bare);
        if (before !== undefined && before !== index + first) ambiguous.add(bare);
        numbers.set(bare, index + first);
      }
    });
  }
  for (const name of ambiguous) numbers.delete(name);
  const written = (locales[0]?.[1] ?? []).map((spellings) => spellings[0] ?? "");
  return { numbers, written, normals: [...normals] };
}

/** A name without the dots of its abbreviation, and without the spaces between them. */
export function bareName(name: string): string {
  return name.replace(/[. ]/g, "");
}

/** A text as a regular expression finds it, character by character. */
export function escaped(text: string): string {
  return text.replace(/[\\^$.*+?()[\]{}|/]/g, "\\$&");
}
