import { fault } from "@orisma/core/internal";
import { problemOf } from "./problem.js";

/**
 * Refuses halves of surrogate pairs in what was read from a body: they are no characters (Unicode 3.9, D71),
 * and would be stored as something else.
 */
export function mustHaveCharacters(value: unknown, path: readonly string[] = []): void {
  if (typeof value === "string") {
    if (!hasHalves(value)) return;
    const reason = "holds half of a surrogate pair (\\ud800 to \\udfff), which is no character";
    throw problemOf([fault("document.shape", { reason }, { path: path.join(".") })]);
  }
  if (typeof value !== "object" || value === null) return;
  for (const [key, each] of Object.entries(value)) {
    mustHaveCharacters(key, path);
    mustHaveCharacters(each, [...path, key]);
  }
}

/** Whether a text has a half of a surrogate pair that stands alone. */
export function hasHalves(text: string): boolean {
  return /\p{Surrogate}/u.test(text);
}

/** Whether the text of a JSON document can hold halves of pairs: they come as escapes only. */
export function mayHoldHalves(text: Buffer | string): boolean {
  return text.includes("\\ud") || text.includes("\\uD");
}
