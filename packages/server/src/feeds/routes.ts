import type { FeedDescription } from "@orisma/contract";
import { Router, type Request } from "express";
import type { Admission } from "../admission/index.js";
import {
  type Caller,
  Problem,
  SENT,
  disconnectedSignal,
  planned,
  route,
  sentValues,
} from "../http/index.js";
import type { Listings } from "../listings/index.js";
import { sendFeed, type Records } from "../records/index.js";
import type { Feeds } from "./service.js";

/** What private addresses are served with. */
export interface FeedParts {
  readonly feeds: Feeds;
  readonly listings: Listings;
  readonly records: Records;
  readonly admission: Admission;
  /** The URL under which people reach the service; null for the one of the request. */
  readonly baseUrl: string | null;
}

/** Private addresses: made, listed and revoked with a key, read without one. */
export function feedRoutes({ feeds, listings, records, admission, baseUrl }: FeedParts): Router {
  const router = Router();
  const originOf = (request: Request) =>
    baseUrl ?? `${request.protocol}://${request.get("host") ?? ""}`;

  /** A private address with why it is refused now, if it is. */
  const withState = async (feed: FeedDescription, caller: Caller): Promise<FeedDescription> => {
    try {
      const parameters = new Map(Object.entries(feed.parameters));
      const listing = listings.need(feed.listing, caller);
      await records.prepare(listing, parameters, { ...caller, role: "reader" });
      return feed;
    } catch (error) {
      if (error instanceof Problem) return { ...feed, broken: error.detail };
      throw error;
    }
  };

  route(
    router,
    "POST /v1/listings/{name}/feeds",
    planned(async ({ path, body, caller, request }) => {
      const listing = listings.need(path.name, caller);
      const parameters = sentValues(body.parameters);
      // What could not be read would be found out by a program that tells nobody.
      await records.prepare(listing, parameters, { ...caller, role: "reader" });
      const created = await feeds.create(path.name, { name: body.name, parameters }, caller);
      const origin = originOf(request);
      const { calendar, feed } = created;
      return { ...created, calendar: `${origin}${calendar}`, feed: `${origin}${feed}` };
    }),
  );

  route(router, "GET /v1/listings/{name}/feeds", async ({ path, caller }) => {
    listings.view(path.name, caller);
    const all = await feeds.list(path.name, caller);
    return { feeds: await Promise.all(all.map((each) => withState(each, caller))) };
  });

  route(router, "DELETE /v1/listings/{name}/feeds/{id}", async ({ path, caller }) => {
    listings.view(path.name, caller);
    await feeds.revoke(path.name, /^\d{1,9}$/.test(path.id) ? Number(path.id) : 0, caller);
  });

  route(router, "GET /feeds/{address}", async (received) => {
    const { path, request, response } = received;
    const [, token = "", format = ""] = /^([\w-]+)\.(ics|atom)$/.exec(path.address) ?? [];
    const found = token === "" ? null : await feeds.find(token);
    const isOpen = found !== null && listings.mayRead(found.feed.listing, found.maker);
    if (found === null || !isOpen || (format !== "ics" && format !== "atom")) {
      throw new Problem("not-found", "This private address leads nowhere: it was revoked, or cut");
    }
    const { feed, parameters, caller } = found;
    const signal = disconnectedSignal(response);
    const serve = planned(async () => {
      const bound = records.withAbort(signal);
      const prepared = await bound.prepare(listings.need(feed.listing, caller), parameters, caller);
      const self = `${originOf(request)}${request.originalUrl}`;
      const count = await sendFeed({ request, response, format, self }, prepared, bound);
      await feeds.delivered(feed, {
        to: request.get("user-agent") ?? "",
        address: request.ip ?? "",
        records: count,
      });
    });
    const call = {
      kind: "page",
      caller: caller.id,
      listing: feed.listing,
      costKey: "feed",
    } as const;
    await admission.run(call, signal, () => serve(received));
    return SENT;
  });

  return router;
}
