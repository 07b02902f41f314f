import type { RequestHandler } from "express";
import { ipKeyGenerator, rateLimit } from "express-rate-limit";
import {
  PUBLIC_ROLE,
  Problem,
  contextOf,
  pathParameter,
  sendProblem,
  type Caller,
} from "../http/index.js";
import type { Listings } from "./service.js";

/** Requests a minute that one address may make without a key. */
export const MAX_PUBLIC_A_MINUTE = 300;
const MINUTE_MS = 60_000;

/** What is read without a key: records, and the figures around them; never how they are found. */
const OPEN = [
  /^\/records(?:\.(?:json|csv|ndjson|xlsx|ics|atom))?$/,
  /^\/records\/[^/]+$/,
  /^\/choices\/[^/]+$/,
  /^\/(?:extent|timeline|summary)$/,
];

/** Whoever reads a public listing without a key. */
export function publicCaller(listing: string): Caller {
  return { id: PUBLIC_ROLE, name: PUBLIC_ROLE, role: "reader", listings: [listing] };
}

/** Lets anybody read a public listing, so many times a minute from one address. */
export function publicReader(listings: Listings): RequestHandler {
  const limit = publicLimit();
  return (request, response, next) => {
    const name = pathParameter(request, "name");
    const isRead = request.method === "GET" || request.method === "HEAD";
    const isOpen = isRead && OPEN.some((each) => each.test(request.path));
    // A key for other listings gives no fewer rights than none.
    const { caller } = contextOf(response);
    const hasRight = caller !== null && listings.mayRead(name, caller);
    if (!isOpen || hasRight || !listings.isPublic(name)) {
      next();
      return;
    }
    response.locals.caller = publicCaller(name);
    void limit(request, response, next);
  };
}

/** Refuses an address that has made too many requests in a minute. */
export function publicLimit(): RequestHandler {
  return rateLimit({
    windowMs: MINUTE_MS,
    limit: MAX_PUBLIC_A_MINUTE,
    keyGenerator: (request) => ipKeyGenerator(request.ip ?? ""),
    // The addresses of proxies are believed as the operator says, which is all that this would warn of.
    validate: { xForwardedForHeader: false, trustProxy: false },
    standardHeaders: "draft-8",
    legacyHeaders: false,
    handler: (_request, response) => {
      const detail = `${MAX_PUBLIC_A_MINUTE} requests a minute are answered without a key: wait a minute`;
      sendProblem(response, new Problem("too-many-requests", detail));
    },
  });
}
