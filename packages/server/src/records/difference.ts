import {
  changesBetween,
  differenceInWords,
  remarksOn,
  type DeclarationDifference,
  type EpochMs,
  type TotalAnswer,
} from "@orisma/core/internal";
import { Problem, type Caller } from "../http/index.js";
import type { ListingTrial, ListingUse, ServedListing } from "../listings/index.js";
import { compareRequests } from "./compare.js";
import type { Records } from "./service.js";

/** What a declaration would change: in words, and in the records of today. */
export async function difference(
  records: Records,
  { before, after }: ListingTrial,
  caller: Caller,
  /** The instant that it is. */
  asOf: EpochMs,
  /** What is sent to the listing regularly, and by what. */
  uses: readonly ListingUse[],
): Promise<DeclarationDifference> {
  const remarks = remarksOn(after.declaration);
  if (before === null) return { isNew: true, changes: [], remarks, breaks: [], records: null };
  const { served } = before;
  const { zone, calendar, columns, named } = after;
  const context = { asOf, zone, calendar, columns, named, caller: caller.name };
  // Of one that its source has outgrown the words may speak of what is no more.
  const changes =
    served === null
      ? changesBetween(before.declaration, after.declaration)
      : differenceInWords(before.declaration, after.declaration, context);
  const isAlike =
    served?.ofSource === after.ofSource && before.declaration.rows === after.declaration.rows;
  return {
    isNew: false,
    changes,
    remarks,
    breaks: await broken(records, { served, after, caller }, uses),
    records: isAlike ? await moved(records, served, after, caller) : null,
  };
}

/** What is answered now, and would be refused. */
async function broken(
  records: Records,
  {
    served,
    after,
    caller,
  }: {
    readonly served: ServedListing | null;
    readonly after: ServedListing;
    readonly caller: Caller;
  },
  uses: readonly ListingUse[],
): Promise<readonly string[]> {
  if (served === null) return [];
  const asReader = { ...caller, role: "reader" } as const;
  const refusedBy = (listing: ServedListing, { parameters }: ListingUse) =>
    refusal(() => records.prepare(listing, parameters, asReader));
  const found: string[] = [];
  for (const use of uses) {
    if ((await refusedBy(served, use)) !== null) continue;
    const why = await refusedBy(after, use);
    if (why !== null) found.push(`${use.what} would be refused: ${why}`);
  }
  return found;
}

/** Why something is refused; null where it is not. */
async function refusal(work: () => Promise<unknown>): Promise<string | null> {
  try {
    await work();
    return null;
  } catch (error) {
    if (error instanceof Problem) return error.detail;
    throw error;
  }
}

async function moved(
  records: Records,
  before: ServedListing,
  after: ServedListing,
  caller: Caller,
): Promise<DeclarationDifference["records"]> {
  try {
    const [first, second] = [
      await records.prepare(before, NOTHING_SENT, caller),
      await records.prepare(after, NOTHING_SENT, caller),
    ];
    const { added, removed } = await compareRequests(records, first, second);
    const total = ({ total: count, totalExact }: TotalAnswer) => ({ total: count, totalExact });
    return { added: total(added), removed: total(removed) };
  } catch (error) {
    // What must be given cannot be made up; a source may have no records yet.
    if (error instanceof Problem) return null;
    throw error;
  }
}

const NOTHING_SENT = new Map<string, readonly string[]>();
