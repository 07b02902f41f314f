import { LOCALES, bareName, namesOf, normalText, type Locale } from "./names.js";

/** Characters of a value that are looked at; no date is written longer. */
const LONGEST_VALUE = 80;

/** The time of day at the end of a value: `14:30`, `2:30:05.250 pm`, with `Z` or an offset. */
const TIME =
  /^(.*?)([ t]|, )(\d{1,2}):(\d{2})(?::(\d{2})(?:([.,])(\d{1,9}))?)?( ?(?:[ap]\.? ?m\.?))?( ?)(z|[+-]\d{2}(?::?\d{2})?)?$/;

/**
 * The patterns that a value could be written in, the likelier first; none where it has the form
 * of no date. Names are looked for in the locale.
 *
 * @example patternsLike("05/03/2024", "en") // dd/MM/yyyy, MM/dd/yyyy
 */
export function patternsLike(value: string, locale: Locale): readonly string[] {
  if (value.length > LONGEST_VALUE) return [];
  const normal = normalText(value.trim(), locale);
  const timed = TIME.exec(normal);
  if (timed === null) return datePatterns(normal, locale);
  const [, date = "", separator = "", hour = "", , second, point, fraction, half, space, offset] =
    timed;
  const hours = half === undefined ? "H" : "h";
  const time = [
    separator === "t" ? "'T'" : separator,
    hours.repeat(hour.length),
    ":mm",
    second === undefined ? "" : ":ss",
    fraction === undefined ? "" : `${point ?? "."}${"S".repeat(fraction.length)}`,
    half === undefined ? "" : half.startsWith(" ") ? " a" : "a",
    offset === undefined ? "" : `${space ?? ""}XXX`,
  ].join("");
  return datePatterns(date, locale).map((pattern) => pattern + time);
}

function datePatterns(date: string, locale: Locale): readonly string[] {
  const parts =
    date.match(/\d+|[\p{L}\p{M}](?:[\p{L}\p{M}.]|-(?=\p{L}))*|[^\d\p{L}\p{M}]+/gu) ?? [];
  const numbers = parts.filter((part) => /^\d/.test(part));
  const words = parts.map((part) => (/^\p{L}/u.test(part) ? wordPattern(part, locale) : null));
  if (words.some((word) => word === "unknown")) return [];
  const hasMonth = words.some((word) => word?.startsWith("M"));
  return orders(numbers, hasMonth).map((order) => {
    let next = 0;
    return parts
      .map((part, index) =>
        /^\d/.test(part) ? (order[next++] ?? "") : (words[index] ?? literal(part)),
      )
      .join("");
  });
}

/** The field letters that numbers could be, in the order in which they stand. */
function orders(numbers: readonly string[], hasMonth: boolean): readonly (readonly string[])[] {
  const [first = "", second = "", third = ""] = numbers;
  const day = (text: string) => "d".repeat(text.length);
  const month = (text: string) => "M".repeat(text.length);
  const year = (text: string) => "y".repeat(text.length);
  const isYear = (text: string) => text.length === 4;
  const isShort = (text: string) => text.length === 1 || text.length === 2;
  if (hasMonth) {
    if (numbers.length !== 2) return [];
    if (isYear(second) && isShort(first)) return [[day(first), year(second)]];
    if (isYear(first) && isShort(second)) return [[year(first), day(second)]];
    return second.length === 2 && isShort(first) ? [[day(first), "yy"]] : [];
  }
  if (numbers.length === 1) {
    if (first.length === 8) return [["yyyyMMdd"], ["ddMMyyyy"], ["MMddyyyy"]];
    return [];
  }
  if (numbers.length !== 3) return [];
  if (isYear(first) && isShort(second) && isShort(third)) {
    return [[year(first), month(second), day(third)]];
  }
  if (isYear(third) && isShort(first) && isShort(second)) {
    return [
      [day(first), month(second), year(third)],
      [month(first), day(second), year(third)],
    ];
  }
  if (third.length === 2 && isShort(first) && isShort(second)) {
    const short = [
      [day(first), month(second), "yy"],
      [month(first), day(second), "yy"],
    ];
    return first.length === 2 ? [...short, ["yy", month(second), day(third)]] : short;
  }
  return [];
}

/** The letters of a name, a quoted text for a short word, or `unknown`. */
function wordPattern(word: string, locale: Locale): string {
  const names = namesOf([locale]);
  if (!names.ok) return "unknown";
  const bare = bareName(word);
  const { wideMonths, abbreviatedMonths, wideWeekdays, abbreviatedWeekdays } = names.value;
  if (wideMonths.numbers.has(bare)) return "MMMM";
  if (abbreviatedMonths.numbers.has(bare)) return "MMM";
  if (wideWeekdays.numbers.has(bare)) return "EEEE";
  if (abbreviatedWeekdays.numbers.has(bare)) return "E";
  return JOINING_WORDS.has(bare) ? `'${word}'` : "unknown";
}

/** Words that stand between the parts of a date in the locales that are known. */
const JOINING_WORDS = new Set(["de", "del", "of", "den", "年", "月", "日"]);

function literal(text: string): string {
  return text.replaceAll("'", "''");
}

/** The locale whose names of months and days cover most of the words of some values. */
export function likelyLocale(values: Iterable<string>): Locale {
  const words = new Set<string>();
  for (const value of values) {
    for (const [word] of value
      .slice(0, LONGEST_VALUE)
      .matchAll(/[\p{L}\p{M}](?:[\p{L}\p{M}.]|-(?=\p{L}))*/gu)) {
      if (words.size < MAX_WORDS) words.add(word);
    }
  }
  let best: Locale = "en";
  let most = 0;
  for (const locale of LOCALES) {
    const known = [...words].filter(
      (word) => wordPattern(normalText(word, locale), locale) !== "unknown",
    ).length;
    if (known > most) [best, most] = [locale, known];
  }
  return best;
}

/** Different words that are looked up; names of months and days are fewer. */
const MAX_WORDS = 500;
