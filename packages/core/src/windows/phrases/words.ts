import { withHyphens } from "../hyphens.js";
import type { Unit } from "../notation.js";

/** Units as people call them, and how long one is as an ISO 8601 duration where it has a length. */
export interface PhraseUnit {
  readonly unit: Unit;
  /** So many of them as a duration; null for those without a fixed number of days. */
  readonly length: ((count: number) => string) | null;
}

const UNIT_WORDS: Readonly<Record<string, PhraseUnit>> = {
  minute: { unit: "minute", length: (count) => `PT${count}M` },
  hour: { unit: "hour", length: (count) => `PT${count}H` },
  day: { unit: "day", length: (count) => `P${count}D` },
  week: { unit: "week", length: (count) => `P${count}W` },
  month: { unit: "month", length: (count) => `P${count}M` },
  quarter: { unit: "quarter", length: (count) => `P${count * 3}M` },
  year: { unit: "year", length: (count) => `P${count}Y` },
  "fiscal quarter": { unit: "fiscalquarter", length: (count) => `P${count * 3}M` },
  "fiscal year": { unit: "fiscalyear", length: (count) => `P${count}Y` },
  "financial year": { unit: "fiscalyear", length: (count) => `P${count}Y` },
  workday: { unit: "workday", length: null },
  "working day": { unit: "workday", length: null },
  "business day": { unit: "workday", length: null },
};

/** The words of units in a pattern, with or without an s at the end. */
export const UNIT = `(?<unit>(?:${Object.keys(UNIT_WORDS).join("|")})s?)`;

export function unitOf(word: string): PhraseUnit | null {
  return UNIT_WORDS[word] ?? UNIT_WORDS[word.replace(/s$/, "")] ?? null;
}

const NUMBERS = "zero one two three four five six seven eight nine ten eleven twelve".split(" ");

/** Numbers in a pattern: in digits, or as words up to twelve. */
export const COUNT = `(?<count>\\d{1,6}|a|an|${NUMBERS.join("|")})`;

export function countOf(word: string): number {
  if (/^\d+$/.test(word)) return Number(word);
  return word === "a" || word === "an" ? 1 : NUMBERS.indexOf(word);
}

/**
 * A phrase in the form in which phrases are compared: lower case, words apart by one space, without articles and
 * the endings of ordinal numbers. `last30days` and `last-30_days` come to `last 30 days`.
 */
export function plainPhrase(text: string): string {
  return withHyphens(text)
    .normalize("NFKC")
    .toLowerCase()
    .replace(/\bnow\(\)/g, "now")
    .replace(/(\d)(?:st|nd|rd|th)\b/g, "$1")
    .replace(/[_,]/g, " ")
    .replace(/(?<=[a-z])\.|(?<=\d)\.(?=\s)/g, " ")
    .replace(/(?<=[a-z])-(?=[a-z\d])|(?<=\d)-(?=[a-z])/g, " ")
    .replace(/(?<=[a-z])(?=\d)|(?<=\d)(?=[a-z])/g, " ")
    .replace(/\b(?:the|of)\b/g, " ")
    .replace(/\s+/g, " ")
    .trim();
}
