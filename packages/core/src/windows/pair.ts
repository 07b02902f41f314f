import type { Span } from "../calendar/index.js";

/** What to do with two absolute dates that came in reverse order. */
export const REVERSED_POLICIES = ["swap", "reject"] as const;
export type ReversedPolicy = (typeof REVERSED_POLICIES)[number];

/**
 * Whether the pair "from A, to B" is reversed: B starts before A and ends no later than A
 * starts.
 *
 * A day and the month around it are not: `from=2025-02-10&to=2025-02` is 10 to 28 February.
 */
export function isReversed(a: Span, b: Span): boolean {
  return b.start.instant < a.start.instant && b.end.instant <= a.start.instant;
}
