import { Router } from "express";
import { callerWith } from "../access/index.js";
import { Problem, type Caller } from "../http/index.js";
import type { Listings, ServedListing } from "../listings/index.js";
import type { Records } from "../records/index.js";
import { openApiDocument } from "./document.js";
import { operationsOf } from "./listing-operations.js";
import type { Operation } from "./operation.js";
import { operations } from "./operations.js";

/** Listings of which an example is made: each is a query. */
const MOST_EXAMPLES = 30;

/** The service's own description, for each key as far as it may see. */
export function contractRoutes(records: Records, listings: Listings, now: () => number): Router {
  const router = Router();
  const common = operations();

  router.get("/openapi.json", async (_request, response) => {
    const caller = callerWith("reader", response);
    const own: Operation[] = [];
    for (const { name } of listings.list(caller)) {
      const listing = servedListing(listings, name, caller);
      if (listing === null) continue;
      const isShown = own.length < MOST_EXAMPLES * 6;
      const example = isShown ? await exampleOf(records, listing, caller, now) : undefined;
      own.push(...operationsOf(listing, caller, example));
    }
    response.set("Cache-Control", "private, no-cache");
    response.json(openApiDocument([...own, ...common], caller));
  });

  return router;
}

/** Null for one that its source has outgrown, and that does not serve. */
function servedListing(listings: Listings, name: string, caller: Caller): ServedListing | null {
  try {
    return listings.need(name, caller);
  } catch (error) {
    if (error instanceof Problem) return null;
    throw error;
  }
}

/** The first record of a listing, really asked for; none where something must be given. */
async function exampleOf(
  records: Records,
  listing: ServedListing,
  caller: Caller,
  now: () => number,
): Promise<Operation["example"]> {
  try {
    const prepared = await records.prepare(listing, new Map([["size", ["1"]]]), caller);
    const { records: found, meta } = await records.run(prepared);
    const first = `/v1/listings/${listing.declaration.name}/records?size=1`;
    const readAt = new Date(now()).toISOString();
    return { came: { records: found, meta: { ...meta, readAt }, links: { first } } };
  } catch (error) {
    if (error instanceof Problem) return undefined;
    throw error;
  }
}
