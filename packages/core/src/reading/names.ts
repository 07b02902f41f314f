import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import { NAMES } from "./names.generated.js";

/** The languages whose names of months and days are known. */
export const LOCALES = Object.keys(NAMES) as readonly Locale[];
export type Locale = keyof typeof NAMES;

/** The names of one part of a date in the locales of a reading, in normal form. */
export interface NameTable {
  /** From a name to its number: months and weekdays from 1, halves of the day 0 and 1. */
  readonly numbers: ReadonlyMap<string, number>;
  /** The first spelling of each, as it is written. */
  readonly written: readonly string[];
}

/** The parts of a date that can be names. */
export interface DateNames {
  readonly wideMonths: NameTable;
  readonly abbreviatedMonths: NameTable;
  readonly wideWeekdays: NameTable;
  readonly abbreviatedWeekdays: NameTable;
  readonly halves: NameTable;
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
    const language = locale.toLowerCase().split(/[-_]/, 1)[0];
    const known = LOCALES.find((each) => each === language);
    if (known !== undefined) found.push(known);
    else faults.push(fault("locale.unknown", { locale, known: LOCALES }, { value: locale }));
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
 * an i), every white space a plain space, digits of other scripts as 0 to 9.
 *
 * Full-width, Arabic-Indic and Eastern Arabic-Indic digits are read.
 */
export function normalText(text: string, locale: string): string {
  return text
    .replace(/[\u00a0\u202f\u2007\u2009\u3000\t]/g, " ")
    .replace(/[\uff10-\uff19\u0660-\u0669\u06f0-\u06f9]/g, (digit) =>
      // Each of the three runs begins at a multiple of 16.
      String(digit.charCodeAt(0) & 0xf),
    )
    .toLocaleLowerCase(locale);
}

function tablesOf(locales: readonly Locale[]): DateNames {
  const table = (names: (locale: Locale) => readonly (readonly string[])[], first: number) =>
    nameTable(
      locales.map((locale) => [locale, names(locale)] as const),
      first,
    );
  return {
    wideMonths: table((locale) => NAMES[locale].months.map(({ wide }) => wide), 1),
    abbreviatedMonths: table(
      (locale) => NAMES[locale].months.map(({ abbreviated }) => abbreviated),
      1,
    ),
    wideWeekdays: table((locale) => NAMES[locale].weekdays.map(({ wide }) => wide), 1),
    abbreviatedWeekdays: table(
      (locale) => NAMES[locale].weekdays.map(({ abbreviated }) => abbreviated),
      1,
    ),
    halves: table((locale) => NAMES[locale].halves, 0),
  };
}

function nameTable(
  locales: readonly (readonly [Locale, readonly (readonly string[])[]])[],
  first: number,
): NameTable {
  const numbers = new Map<string, number>();
  const ambiguous = new Set<string>();
  for (const [locale, names] of locales) {
    names.forEach((spellings, index) => {
      for (const spelling of spellings) {
        const normal = bareName(normalText(spelling, locale));
        const before = numbers.get(normal);
        if (before !== undefined && before !== index + first) ambiguous.add(normal);
        numbers.set(normal, index + first);
      }
    });
  }
  for (const name of ambiguous) numbers.delete(name);
  const written = (locales[0]?.[1] ?? []).map((spellings) => spellings[0] ?? "");
  return { numbers, written };
}

/** A name without the dots of its abbreviation, and without the spaces between them. */
export function bareName(name: string): string {
  return name.replace(/[. ]/g, "");
}
