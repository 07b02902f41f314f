import type { RequestHandler } from "express";
import { contextOf } from "../http/index.js";
import type { Listings } from "./service.js";

/** Redirects calls of a name that a listing had before to the name that it has now, whatever their method. */
export function redirects(listings: Listings): RequestHandler {
  return (request, response, next) => {
    const { name = "" } = request.params as { readonly name?: string };
    const { caller } = contextOf(response);
    const now = caller === null ? null : listings.nameNow(name);
    const mayRead = now !== null && (caller?.listings?.includes(now) ?? true);
    if (now === null || !mayRead) {
      next();
      return;
    }
    const rest = request.originalUrl.slice(request.baseUrl.length);
    response.redirect(308, `/v1/listings/${encodeURIComponent(now)}${rest}`);
  };
}
