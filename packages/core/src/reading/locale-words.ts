import {
  ENGLISH,
  bareName,
  escaped,
  knownLocales,
  namesOf,
  normalText,
  type Locale,
} from "./names.js";

/** What a name in a date stands for. */
export interface NameMeaning {
  /** The letters of a pattern. */
  readonly letters: "MMMM" | "MMM" | "EEEE" | "E";
  /** Months and weekdays from 1. */
  readonly number: number;
}

/** The words that dates are made of in a language. */
export interface LocaleWords {
  /** By name in normal form, without dots and spaces. */
  readonly meanings: ReadonlyMap<string, NameMeaning>;
  /** Whether a word stands between the parts of a date, or behind them. */
  isJoining(word: string): boolean;
  /** A date in normal form as its numbers, its names and words, and what stands between them. */
  partsIn(date: string): readonly string[];
}

const WORD = "[\\p{L}\\p{M}](?:[\\p{L}\\p{M}.]|-(?=\\p{L}))*";

/** Words that join the parts of dates in more languages than write them in the forms of the CLDR. */
const JOINING_WORDS = new Set(["de", "del", "of", "den", "年", "月", "日"]);

const WORDS = new Map<Locale, LocaleWords>();

/** The words of a language that is known. */
export function wordsOf(locale: Locale): LocaleWords {
  const held = WORDS.get(locale);
  if (held !== undefined) return held;
  const made = makeWords(locale);
  WORDS.set(locale, made);
  return made;
}

function makeWords(locale: Locale): LocaleWords {
  const found = namesOf([locale]);
  const names = found.ok ? found.value : ENGLISH;
  const meanings = new Map<string, NameMeaning>();
  // Of a name that is both, such as May, the wide one is meant.
  for (const [letters, { numbers }] of [
    ["MMMM", names.wideMonths],
    ["MMM", names.abbreviatedMonths],
    ["EEEE", names.wideWeekdays],
    ["E", names.abbreviatedWeekdays],
  ] as const) {
    for (const [name, number] of numbers) {
      if (!meanings.has(name)) meanings.set(name, { letters, number });
    }
  }
  const isJoining = (word: string) => {
    const bare = bareName(word);
    return names.joining.has(bare) || JOINING_WORDS.has(bare);
  };
  const whole = new RegExp(`^${WORD}$`, "u");
  const counted = /^\d+(.+)$/;
  const tables = [
    names.wideMonths,
    names.abbreviatedMonths,
    names.wideWeekdays,
    names.abbreviatedWeekdays,
  ];
  const others = tables
    .flatMap(({ normals }) => normals)
    .filter((name) => {
      const behind = counted.exec(name)?.[1];
      // 4月 is a number with a word behind it.
      return !whole.test(name) && !(behind !== undefined && isJoining(behind));
    })
    .sort((a, b) => b.length - a.length)
    .map((name) => escaped(name) + (/\d$/.test(name) ? "(?!\\d)" : "(?![\\p{L}\\p{M}])"));
  const parts = new RegExp(
    [...new Set(others), "\\d+", WORD, "[^\\d\\p{L}\\p{M}]+?(?=[\\d\\p{L}\\p{M}]|$)"].join("|"),
    "gu",
  );
  return { meanings, isJoining, partsIn: (date) => date.match(parts) ?? [] };
}

/** Characters of a value that are looked at; no date is written longer. */
export const LONGEST_VALUE = 80;
/** Different words that are looked up; names of months and days are fewer. */
const MAX_WORDS = 500;
/** Values by which languages are compared that know as many words. */
const COMPARED_VALUES = 200;
/** Languages that are tried beside the likeliest. */
const MAX_RIVALS = 3;

/**
 * Languages in which records are widely kept. Where one of them knows all the names, one that is
 * seldom written is not held against it: in Basaa “May” is November.
 */
const WIDELY_WRITTEN: readonly Locale[] = (
  "en de fr es it pt nl pl sv da nb nn no fi cs sk hu ro hr sr bs sl mk bg ru uk be et lv lt el tr " +
  "ar he fa ur hi bn ta te mr gu pa kn ml th vi id ms fil ja zh ko is ga cy ca gl eu sq az hy ka kk " +
  "ky uz mn km lo my ne si sw af so am"
).split(" ");

/**
 * The languages whose names of months and days are in some values, the likeliest first. There are several only
 * where another knows as many of the words and means other dates by them: “listopada” is October
 * in Croatian and November in Polish. English where no other knows more.
 */
export function likelyLocales(values: readonly string[]): readonly Locale[] {
  const counts = new Map<Locale, number>();
  for (const word of wordsIn(values, MAX_WORDS)) {
    // In Turkish and Azerbaijani an İ is made small in another way.
    const spellings = new Set([normalText(word, "en"), normalText(word, "tr")]);
    const locales = new Set([...spellings].flatMap((each) => localesWith(bareName(each))));
    for (const locale of locales) counts.set(locale, (counts.get(locale) ?? 0) + 1);
  }
  const most = Math.max(0, ...counts.values());
  if (most <= (counts.get("en") ?? 0)) return ["en"];
  const best = [...counts].flatMap(([locale, count]) => (count === most ? [locale] : []));
  const wide = WIDELY_WRITTEN.filter((locale) => best.includes(locale));
  const compared = values.slice(0, COMPARED_VALUES);
  const different = new Map<string, Locale>();
  for (const locale of wide.length > 0 ? wide : best) {
    const meant = meaningsIn(compared, locale);
    if (!different.has(meant)) different.set(meant, locale);
  }
  return [...different.values()].slice(0, 1 + MAX_RIVALS);
}

function wordsIn(values: readonly string[], most: number): ReadonlySet<string> {
  const words = new Set<string>();
  const word = new RegExp(WORD, "gu");
  for (const value of values) {
    for (const [each] of value.slice(0, LONGEST_VALUE).matchAll(word)) {
      if (words.size >= most) return words;
      words.add(each);
    }
  }
  return words;
}

/** What the names in some values stand for in a language, as one text that can be compared. */
function meaningsIn(values: readonly string[], locale: Locale): string {
  const words = wordsOf(locale);
  return values
    .flatMap((value) => words.partsIn(normalText(value.slice(0, LONGEST_VALUE), locale)))
    .map((part) => {
      const meaning = words.meanings.get(bareName(part));
      return meaning === undefined ? "" : meaning.letters.slice(0, 1) + String(meaning.number);
    })
    .join();
}

/** The languages that have a word in their dates, by word. */
let localesOfWords: {
  readonly of: number;
  readonly locales: ReadonlyMap<string, readonly Locale[]>;
} = {
  of: 0,
  locales: new Map(),
};

function localesWith(word: string): readonly Locale[] {
  const known = knownLocales();
  if (localesOfWords.of !== known.length) {
    const locales = new Map<string, Locale[]>();
    for (const locale of known) {
      for (const name of wordsOfNames(locale)) {
        const others = locales.get(name);
        if (others === undefined) locales.set(name, [locale]);
        else others.push(locale);
      }
    }
    localesOfWords = { of: known.length, locales };
  }
  return localesOfWords.locales.get(word) ?? [];
}

/** Every word of the names of a language, and those that join the parts of its dates. */
function wordsOfNames(locale: Locale): ReadonlySet<string> {
  const found = namesOf([locale]);
  if (!found.ok) return new Set();
  const { wideMonths, abbreviatedMonths, wideWeekdays, abbreviatedWeekdays, joining } = found.value;
  const tables = [wideMonths, abbreviatedMonths, wideWeekdays, abbreviatedWeekdays];
  const names = [...tables.flatMap(({ normals }) => normals), ...joining];
  return new Set([...wordsIn(names, Infinity)].map(bareName));
}
