import {
  foldText,
  isBlankText,
  textTest,
  type OneOfCondition,
  type TextCondition,
} from "../filters/index.js";
import { joined, nameOf, sql, valueOf, type Fragment } from "./fragment.js";
import type { StoredDictionary } from "./cells.js";

/** Numbers of values that a condition lists at most: the strings of more are compared. */
const MAX_LISTED = 500;

/**
 * A condition on strings as one on the numbers of their values, which an index finds: it is tried on each
 * value here, and where none satisfies it no record is looked at. Null where too many would be listed.
 */
export function codedCondition(
  condition: TextCondition | OneOfCondition,
  dictionary: StoredDictionary,
): Fragment | null {
  const { side, caseSensitive } = condition;
  const test = textTest(condition);
  const strings = caseSensitive ? dictionary.values : foldedOf(dictionary);
  const [inside, outside]: [number[], number[]] = [[], []];
  for (const [index, text] of strings.entries()) {
    const isIn = !isBlankText(text) && test(text) === (side === "inside");
    (isIn ? inside : outside).push(index + 1);
  }
  const column = nameOf(dictionary.code);
  const [isNone, isEvery] = [inside.length === 0, outside.length === 0];
  if (isNone) return sql`1 = 0`;
  if (isEvery) return sql`${column} IS NOT NULL`;
  if (Math.min(inside.length, outside.length) > MAX_LISTED) return null;
  return inside.length <= outside.length
    ? sql`${column} IN (${listed(inside)})`
    : sql`${column} NOT IN (${listed(outside)})`;
}

function listed(codes: readonly number[]): Fragment {
  return joined(codes.map(valueOf), sql`, `);
}

const folded = new WeakMap<StoredDictionary, readonly string[]>();

/** Folding takes far longer than comparing. */
function foldedOf(dictionary: StoredDictionary): readonly string[] {
  const found = folded.get(dictionary) ?? dictionary.values.map(foldText);
  folded.set(dictionary, found);
  return found;
}
