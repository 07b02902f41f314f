import type { OrismaClient } from "./client.js";
import type { QueryParameters } from "./typed.js";

/** What was expected of a request, and what came. */
export interface Expectation {
  readonly matches: boolean;
  readonly records: number;
  /** Ids that were expected and did not come; null where only a number was expected. */
  readonly missing: readonly string[] | null;
  /** Ids that came and were not expected; null where only a number was expected. */
  readonly unexpected: readonly string[] | null;
}

/** What is expected: records by their ids, a number of them, or both. */
export interface Expected {
  readonly ids: readonly string[] | null;
  readonly count: number | null;
}

/** The records of a request are more than are looked at. */
export class TooManyRecords extends Error {}

/**
 * Compares the records of a request with what is expected of it, page after page. Throws
 * {@link TooManyRecords} beyond `most` records, and what {@link OrismaClient.records} throws.
 */
export async function compareWithExpected(
  client: OrismaClient,
  listing: string,
  parameters: QueryParameters,
  { ids, count }: Expected,
  { most = Infinity, signal }: { readonly most?: number; readonly signal?: AbortSignal } = {},
): Promise<Expectation> {
  let page = await client.records(listing, { total: "none", ...parameters }, signal);
  const found = page.records.map(({ id }) => String(id));
  while (page.links.next !== undefined) {
    if (found.length > most) throw new TooManyRecords(`there are more than ${most} records`);
    page = await client.follow(page.links.next, signal);
    found.push(...page.records.map(({ id }) => String(id)));
  }
  const isCounted = count === null || count === found.length;
  const records = found.length;
  if (ids === null) return { matches: isCounted, records, missing: null, unexpected: null };
  const [here, wanted] = [new Set(found), new Set(ids)];
  const missing = [...wanted].filter((id) => !here.has(id));
  const unexpected = found.filter((id) => !wanted.has(id));
  const matches = isCounted && missing.length + unexpected.length === 0;
  return { matches, records, missing, unexpected };
}
