import { RENAMED } from "./renamed.js";

/** Longer words are compared by their first letters only, so that hostile input costs little. */
const LONGEST_COMPARED = 64;

/**
 * The candidate that was most likely meant by a misspelt word, or null.
 *
 * Compares without regard to case, by restricted Damerau-Levenshtein distance; a word may
 * be off by a third of its length, rounded up. Ties go to the earlier candidate.
 *
 * @example nearest("form", ["from", "to"]) // "from"
 */
export function nearest(word: string, candidates: Iterable<string>): string | null {
  const wanted = word.toLowerCase().slice(0, LONGEST_COMPARED);
  let best: string | null = null;
  let bestDistance = Math.ceil(wanted.length / 3) + 1;
  for (const candidate of candidates) {
    const distance = editDistance(wanted, candidate.toLowerCase().slice(0, LONGEST_COMPARED));
    if (distance < bestDistance) {
      best = candidate;
      bestDistance = distance;
    }
  }
  return best;
}

function editDistance(a: string, b: string): number {
  let beforeLast: number[] = [];
  let last = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const substitution = at(last, j - 1) + (a[i - 1] === b[j - 1] ? 0 : 1);
      let least = Math.min(at(last, j) + 1, at(row, j - 1) + 1, substitution);
      const swapped = i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1];
      if (swapped) least = Math.min(least, at(beforeLast, j - 2) + 1);
      row.push(least);
    }
    beforeLast = last;
    last = row;
  }
  return at(last, b.length);
}

function at(row: readonly number[], index: number): number {
  return row[index] ?? 0;
}

/**
 * The same among names of our own: what a name of an earlier version is called now comes first. Not for
 * values and columns of records, which are others' words.
 */
export function nearestName(word: string, candidates: readonly string[]): string | null {
  const renamed = RENAMED.get(word);
  return renamed !== undefined && candidates.includes(renamed)
    ? renamed
    : nearest(word, candidates);
}

/** The facts of a value that is none of some words: these, and the one that was most likely meant. */
export function oneOf(
  value: string,
  words: readonly string[],
): { readonly accepted: string; readonly nearest?: string } {
  const meant = nearestName(value, words);
  return { accepted: words.join(", "), ...(meant === null ? {} : { nearest: meant }) };
}
