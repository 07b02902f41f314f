import type { Calls, ReadBody } from "@orisma/contract";
import type { ComparedAnswer, RecordsComparison, SentParameters } from "@orisma/core/internal";
import type { Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import type { PreparedRequest } from "./prepared.js";
import type { Records } from "./service.js";

type CompareSent = ReadBody<Calls["POST /v1/listings/{name}/compare"]>;

/**
 * Lays two requests to a listing side by side: what each comes to, and the records that only
 * one of them keeps, the first of each in the listing's order.
 */
export async function compare(
  records: Records,
  listing: ServedListing,
  { before, after, size }: CompareSent,
  caller: Caller,
): Promise<RecordsComparison> {
  const [first, second] = await Promise.all(
    [before, after].map((sent) => records.prepare(listing, sentOf(sent, size), caller)),
  );
  if (first === undefined || second === undefined) throw new Error("two requests were sent");
  return compareRequests(records, first, second);
}

/** The same of two requests that are understood already. */
export async function compareRequests(
  records: Records,
  first: PreparedRequest,
  second: PreparedRequest,
): Promise<RecordsComparison> {
  const only = (request: PreparedRequest, { query: { filter: without } }: PreparedRequest) =>
    records.run({
      ...request,
      query: {
        ...request.query,
        without,
        counts: request.query.counts.map((each) => ({ ...each, without })),
      },
    });
  const [was, is, removed, added] = await Promise.all([
    records.run(first),
    records.run(second),
    only(first, second),
    only(second, first),
  ]);
  const answer = ({ records: found, meta }: typeof was): ComparedAnswer => ({
    total: meta.total,
    totalExact: meta.totalExact,
    records: found,
  });
  return {
    before: { sentence: was.meta.sentence, total: was.meta.total, totalExact: was.meta.totalExact },
    after: { sentence: is.meta.sentence, total: is.meta.total, totalExact: is.meta.totalExact },
    removed: answer(removed),
    added: answer(added),
  };
}

/** Parameters of a body as those of an address. */
export function sentOf(sent: CompareSent["before"], size?: number): SentParameters {
  const parameters = new Map<string, readonly string[]>();
  for (const [name, value] of Object.entries(sent)) {
    parameters.set(name, typeof value === "string" ? [value] : value);
  }
  if (size !== undefined) parameters.set("size", [String(size)]);
  return parameters;
}
