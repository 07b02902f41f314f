import type { Calls, ReadBody } from "@orisma/contract";
import { renderFault, type CountedAnswer, type CountsAnswer } from "@orisma/core/internal";
import { Problem, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { sentOf } from "./compare.js";
import type { Records } from "./service.js";

type CountsSent = ReadBody<Calls["POST /v1/listings/{name}/counts"]>;

/**
 * How many records each of several requests to a listing keeps, in their order. They are counted
 * one after the other, so that a caller who asks for many takes no more of the database than one.
 */
export async function counts(
  records: Records,
  listing: ServedListing,
  { requests }: CountsSent,
  caller: Caller,
): Promise<CountsAnswer> {
  const found: CountedAnswer[] = [];
  for (const sent of requests) {
    try {
      const prepared = await records.prepare(listing, sentOf(sent, 1), caller);
      const { total, totalExact } = (await records.run(prepared)).meta;
      found.push({ total, totalExact });
    } catch (error) {
      // One that cannot be so is reported; the others are counted all the same.
      if (!(error instanceof Problem) || error.faults.length === 0) throw error;
      found.push({ total: null, totalExact: false, faults: error.faults.map(renderFault) });
    }
  }
  return { counts: found };
}
