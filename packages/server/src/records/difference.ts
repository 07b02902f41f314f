import {
  changesBetween,
  differenceInWords,
  remarksOn,
  type DeclarationDifference,
  type EpochMs,
  type TotalAnswer,
} from "@orisma/core/internal";
import { Problem, type Caller } from "../http/index.js";
import type { ListingTrial, ServedListing } from "../listings/index.js";
import { compareRequests } from "./compare.js";
import type { Records } from "./service.js";

/** What a declaration would change: in words, and in the records of today. */
export async function difference(
  records: Records,
  { before, after }: ListingTrial,
  caller: Caller,
  /** The instant that it is. */
  asOf: EpochMs,
): Promise<DeclarationDifference> {
  const remarks = remarksOn(after.declaration);
  if (before === null) return { isNew: true, changes: [], remarks, records: null };
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
    records: isAlike ? await moved(records, served, after, caller) : null,
  };
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
