import { Router } from "express";
import { callerWith } from "../access/index.js";
import {
  CallerGone,
  DatabaseUnavailable,
  TableChanged,
  TooSlow,
  whileAsked,
} from "../database/index.js";
import { Problem, type Caller } from "../http/index.js";
import type { Listings, ServedListing } from "../listings/index.js";
import type { Records } from "../records/index.js";
import { openApiDocument } from "./document.js";
import { operationsOf } from "./listing-operations.js";
import type { Operation } from "./operation.js";
import { operations } from "./operations.js";

/** How long examples may take together, in milliseconds: each is a query. */
const EXAMPLES_LIMIT_MS = 2_000;

/** The service's own description, for each key as far as it may see. */
export function contractRoutes(records: Records, listings: Listings, now: () => number): Router {
  const router = Router();
  const common = operations();

  router.get("/openapi.json", async (_request, response) => {
    const caller = callerWith("reader", response);
    const enough = AbortSignal.timeout(EXAMPLES_LIMIT_MS);
    const own: Operation[] = [];
    for (const { name } of listings.list(caller)) {
      const listing = servedListing(listings, name, caller);
      if (listing === null) continue;
      const example = await whileAsked(enough, () => exampleOf(records, listing, caller, now));
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

/**
 * The first record of a listing, really asked for; none where something must be given, or where its
 * database does not answer: the description is of the others too.
 */
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
    if (error instanceof Problem || isAway(error)) return undefined;
    throw error;
  }
}

function isAway(error: unknown): boolean {
  return (
    error instanceof CallerGone ||
    error instanceof DatabaseUnavailable ||
    error instanceof TableChanged ||
    error instanceof TooSlow
  );
}
