import { Router } from "express";
import {
  ClientDisconnected,
  DatabaseUnavailable,
  TableChanged,
  TooSlow,
} from "../database/index.js";
import { Problem, SENT, route, type Caller } from "../http/index.js";
import type { Listings, ServedListing } from "../listings/index.js";
import type { Records } from "../records/index.js";
import { openApiDocument } from "./document.js";
import { describedCalls, type DescribedCall } from "./described.js";
import { exampleOf } from "./examples.js";
import { callsOf } from "./listing-calls.js";

/** How long examples may take together, in milliseconds: each is a query. */
const EXAMPLES_LIMIT_MS = 2_000;

/** The service's own description, for each key as far as it may see. */
export function openApiRoutes(records: Records, listings: Listings, now: () => number): Router {
  const router = Router();
  const common = describedCalls().map((call) => {
    const example = exampleOf(call);
    return example === undefined ? call : { ...call, example };
  });

  route(router, "GET /openapi.json", async ({ caller, response }) => {
    const enough = AbortSignal.timeout(EXAMPLES_LIMIT_MS);
    const own: DescribedCall[] = [];
    for (const { name } of listings.list(caller)) {
      const listing = servedListing(listings, name, caller);
      if (listing === null) continue;
      const example = await firstRecord(records.withAbort(enough), listing, caller, now);
      own.push(...callsOf(listing, caller, example));
    }
    response.set("Cache-Control", "private, no-cache");
    response.json(openApiDocument([...own, ...common], caller));
    return SENT;
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

/**
 * The first record of a listing, from a real request; none where something is required, or where its
 * database does not answer: the description is of the others too.
 */
async function firstRecord(
  records: Records,
  listing: ServedListing,
  caller: Caller,
  now: () => number,
): Promise<DescribedCall["example"]> {
  try {
    const prepared = await records.prepare(listing, new Map([["size", ["1"]]]), caller);
    const { records: found, meta } = await records.run(prepared);
    const first = `/v1/listings/${listing.declaration.name}/records?size=1`;
    const readAt = new Date(now()).toISOString();
    return { returned: { records: found, meta: { ...meta, readAt }, links: { first } } };
  } catch (error) {
    if (error instanceof Problem || isAway(error)) return undefined;
    throw error;
  }
}

function isAway(error: unknown): boolean {
  return (
    error instanceof ClientDisconnected ||
    error instanceof DatabaseUnavailable ||
    error instanceof TableChanged ||
    error instanceof TooSlow
  );
}
