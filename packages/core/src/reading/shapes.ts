import { LONGEST_VALUE, wordsOf, type LocaleWords } from "./locale-words.js";
import { bareName, normalText, type Locale } from "./names.js";

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
  const words = wordsOf(locale);
  const normal = normalText(value.trim(), locale);
  const timed = TIME.exec(normal);
  if (timed === null) return datePatterns(normal, words);
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
  return datePatterns(date, words).map((pattern) => pattern + time);
}

function datePatterns(date: string, known: LocaleWords): readonly string[] {
  const parts = known
    .partsIn(date)
    .map((part, at, all) => ({ part, letters: lettersOf(part, all[at - 1] ?? "", known) }));
  if (parts.some(({ letters }) => letters === "unknown")) return [];
  const numbers = parts.flatMap(({ part, letters }) => (letters === "number" ? [part] : []));
  const hasMonth = parts.some(({ letters }) => letters.startsWith("M"));
  return orders(numbers, hasMonth).map((order) => {
    let next = 0;
    return parts
      .map(({ letters }) => (letters === "number" ? (order[next++] ?? "") : letters))
      .join("");
  });
}

/** What a part of a date is in a pattern; `number`, whose letters depend on its place, or `unknown`. */
function lettersOf(part: string, before: string, known: LocaleWords): string {
  if (/^\d+$/.test(part)) return "number";
  const text = part.replaceAll("'", "''");
  if (!/\p{L}/u.test(part)) return text;
  const joining = known.isJoining(part) ? `'${text}'` : "unknown";
  // 日 is a Sunday alone, and a day behind its number.
  if (joining !== "unknown" && /\d$/.test(before)) return joining;
  return known.meanings.get(bareName(part))?.letters ?? joining;
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

/**
 * Patterns with their counts, those of one form as one that reads what each of them reads: `d/M/yyyy` for
 * `dd/M/yyyy` and `d/MM/yyyy`, and the commoner one of `MMM` and `MMMM`, which read the same.
 */
export function loosest(patterns: ReadonlyMap<string, number>): ReadonlyMap<string, number> {
  const forms = new Map<string, { pattern: string; count: number; most: number }>();
  for (const [pattern, count] of patterns) {
    const form = pattern.replace(TOKENS, (token) =>
      token.startsWith("'") ? token : looser(token),
    );
    const known = forms.get(form);
    if (known === undefined) {
      forms.set(form, { pattern, count, most: count });
      continue;
    }
    const [one, two] = count > known.most ? [pattern, known.pattern] : [known.pattern, pattern];
    known.pattern = joined(one, two);
    known.count += count;
    known.most = Math.max(known.most, count);
  }
  return new Map([...forms.values()].map(({ pattern, count }) => [pattern, count]));
}

const TOKENS = /([A-Za-z])\1*|'(?:[^']|'')*'/g;

/** The letters of a field as they read most. */
function looser(letters: string): string {
  switch (letters) {
    case "dd":
    case "MM":
    case "HH":
    case "hh":
      return letters.slice(1);
    case "MMMM":
      return "MMM";
    case "EEEE":
      return "E";
    default:
      return letters;
  }
}

/** Two patterns of one form as one: numbers as the looser has them, names as the first. */
function joined(one: string, two: string): string {
  const others = two.match(TOKENS) ?? [];
  let at = 0;
  return one.replace(TOKENS, (letters) => {
    const other = others[at++] ?? letters;
    return /^(?:MMM|E|')/.test(letters) || letters.length <= other.length ? letters : other;
  });
}
