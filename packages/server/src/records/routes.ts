import type { Calls } from "@orisma/contract";
import { FORMATS, type Format } from "@orisma/core/internal";
import { Router, type Request, type Response } from "express";
import {
  Problem,
  SENT,
  planned,
  route,
  sentParameters,
  type Received,
  type Returned,
} from "../http/index.js";
import { declarationOf, type Listings } from "../listings/index.js";
import { choices } from "./choices.js";
import { compare, sentOf } from "./compare.js";
import { counts } from "./counts.js";
import { difference } from "./difference.js";
import { MEDIA_TYPES, sendExport } from "./export.js";
import type { RecentChoices } from "./recent.js";
import { inSnapshot } from "./parts.js";
import type { PreparedRequest } from "./prepared.js";
import { VARIES, acceptedFormat, sendPage, sendTagged } from "./sending.js";
import type { Records } from "./service.js";
import { summary } from "./summary.js";
import { extent, timeline } from "./timeline.js";

/** What the calls around records are answered with. */
interface Answering {
  readonly router: Router;
  readonly records: Records;
  readonly listings: Listings;
  readonly recent: RecentChoices;
  readonly now: () => number;
}

/** The records of listings, and how a request for them is understood. */
export function recordRoutes(
  records: Records,
  listings: Listings,
  recent: RecentChoices,
  now: () => number,
): Router {
  const router = Router();

  const answering = { router, records, listings, recent, now };
  addRecords(answering);
  addAround(answering);
  addComparisons(answering);
  return router;
}

/**
 * A handler that reads records. Nobody waits for them once the client has disconnected: then its
 * queries are ended.
 */
function reading<Name extends keyof Calls>(
  records: Records,
  handler: (received: Received<Name>, records: Records) => Promise<Returned<Name>>,
): (received: Received<Name>) => Promise<Returned<Name>> {
  return planned((received) => {
    const { response } = received;
    const disconnected = new AbortController();
    response.once("close", () => {
      if (!response.writableFinished) disconnected.abort();
    });
    return handler(received, records.withAbort(disconnected.signal));
  });
}

/** The calls that take the parameters of a listing. */
type ListingCall = {
  [Name in keyof Calls]: Calls[Name] extends { readonly takesParameters: true } ? Name : never;
}[keyof Calls];

/** The listing, what was sent for it, and who sent it. */
function requested(listings: Listings, { path, caller, request }: Received<ListingCall>) {
  return [listings.need(path.name, caller), sentParameters(request.originalUrl), caller] as const;
}

/** Pages and exports of records, in a URL and in a body, and one record by its id. */
function addRecords({ router, records: all, listings, recent, now }: Answering): void {
  const answer = async (
    { request, response }: { readonly request: Request; readonly response: Response },
    records: Records,
    prepared: PreparedRequest,
    suffix?: Format,
  ) => {
    const { listing, planned: plan, caller } = prepared;
    recent.note(caller, listing.declaration.name, plan);
    const format = prepared.envelope.format ?? suffix ?? acceptedFormat(request);
    response.vary(VARIES);
    if (format !== "json" && request.method === "HEAD") {
      response.set("Content-Type", MEDIA_TYPES[format]).end();
    } else if (format === "json") {
      const readAt = now();
      sendPage(request, response, await records.run(prepared), prepared.maxAgeMs, readAt);
    } else await sendExport(response, format, prepared, records);
    return SENT;
  };

  route(
    router,
    "GET /v1/listings/{name}/records",
    reading(all, async (received, records) =>
      answer(received, records, await records.prepare(...requested(listings, received))),
    ),
  );

  for (const format of FORMATS) {
    route(
      router,
      `GET /v1/listings/{name}/records.${format}`,
      reading(all, async (received, records) =>
        answer(received, records, await records.prepare(...requested(listings, received)), format),
      ),
    );
  }

  route(
    router,
    "POST /v1/listings/{name}/records/query",
    reading(all, async (received, records) => {
      const { path, body, caller, request } = received;
      // A link of the answer is followed with the same body: it says which page.
      const places = [...sentParameters(request.originalUrl)].filter(
        ([name]) => name === "cursor" || name === "page",
      );
      const sent = new Map([...sentOf(body), ...places]);
      const listing = listings.need(path.name, caller);
      return answer(received, records, await records.prepare(listing, sent, caller));
    }),
  );

  route(
    router,
    "GET /v1/listings/{name}/records/{id}",
    reading(all, async (received, records) => {
      const { id } = received.path;
      const found = await records.one(await records.prepare(...requested(listings, received)), id);
      if (found === null) throw new Problem("not-found", `The listing has no record ${id}`);
      return sendTagged(received, found);
    }),
  );
}

/** What an interface needs around the records: choices, extents, timeline, summary, explanations. */
function addAround({ router, records: all, listings, recent }: Answering): void {
  route(
    router,
    "GET /v1/listings/{name}/choices/{column}",
    reading(all, async (received, records) => {
      const [listing, sent, caller] = requested(listings, received);
      const { column } = received.path;
      return sendTagged(received, await choices(records, listing, column, sent, caller, recent));
    }),
  );

  route(
    router,
    "GET /v1/listings/{name}/extent",
    reading(all, async (received, records) => {
      const prepared = await records.prepare(...requested(listings, received));
      return sendTagged(received, await inSnapshot(prepared, extent));
    }),
  );

  route(
    router,
    "GET /v1/listings/{name}/timeline",
    reading(all, async (received, records) =>
      sendTagged(received, await timeline(records, ...requested(listings, received))),
    ),
  );

  route(
    router,
    "GET /v1/listings/{name}/summary",
    reading(all, async (received, records) =>
      sendTagged(received, await summary(records, ...requested(listings, received))),
    ),
  );

  const why = async (
    received: Received<"GET /v1/listings/{name}/why" | "GET /v1/listings/{name}/why/{id}">,
    records: Records,
    id: string | null,
  ) => {
    const prepared = await records.prepare(...requested(listings, received));
    return sendTagged(received, await records.why(prepared, id));
  };
  route(
    router,
    "GET /v1/listings/{name}/why",
    reading(all, (received, records) => why(received, records, null)),
  );
  route(
    router,
    "GET /v1/listings/{name}/why/{id}",
    reading(all, (received, records) => why(received, records, received.path.id)),
  );

  route(
    router,
    "GET /v1/listings/{name}/explain",
    reading(all, async (received, records) =>
      records.explain(await records.prepare(...requested(listings, received))),
    ),
  );
}

/** A declaration beside the one that serves, and several requests beside one another. */
function addComparisons({ router, records: all, listings }: Answering): void {
  route(
    router,
    "POST /v1/listings/{name}/check",
    reading(all, ({ path, body, caller }, records) =>
      difference(records, listings.trial(path.name, declarationOf(path.name, body)), caller),
    ),
  );
  route(
    router,
    "POST /v1/listings/{name}/compare",
    reading(all, ({ path, body, caller }, records) =>
      compare(records, listings.need(path.name, caller), body, caller),
    ),
  );
  route(
    router,
    "POST /v1/listings/{name}/counts",
    reading(all, ({ path, body, caller }, records) =>
      counts(records, listings.need(path.name, caller), body, caller),
    ),
  );
}
