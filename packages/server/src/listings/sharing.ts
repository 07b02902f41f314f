import cors from "cors";
import type { RequestHandler } from "express";
import { pathParameter } from "../http/index.js";
import type { Listings } from "./service.js";

/** Seconds for which a browser may hold the answer to its preflight request. */
const HELD_S = 600;

/**
 * Lets pages of the origins that a listing declares read it (the Fetch standard's CORS protocol). A
 * key is sent in a header: cookies are for the console alone, and never shared.
 */
export function sharing(listings: Listings): RequestHandler {
  return (request, response, next) => {
    const origins = listings.originsOf(pathParameter(request, "name"));
    if (origins.length === 0) {
      next();
      return;
    }
    cors({
      origin: [...origins],
      methods: ["GET", "HEAD", "POST"],
      allowedHeaders: ["Authorization", "Content-Type", "Accept", "If-None-Match"],
      exposedHeaders: ["ETag", "Link", "Retry-After", "Content-Disposition"],
      maxAge: HELD_S,
    })(request, response, next);
  };
}
