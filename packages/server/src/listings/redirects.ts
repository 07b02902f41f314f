import type { RequestHandler } from "express";
import { Problem, contextOf, pathParameter, sendProblem } from "../http/index.js";
import type { Listings } from "./service.js";

/**
 * Redirects calls of a name that a listing had before to the name that it has now. What would declare or delete a
 * listing of that name is refused: which of the two is meant cannot be known.
 */
export function redirects(listings: Listings): RequestHandler {
  return (request, response, next) => {
    const name = pathParameter(request, "name");
    const { caller } = contextOf(response);
    const now = listings.nameNow(name);
    const mayRead =
      now !== null &&
      (listings.isPublic(now) || (caller !== null && listings.mayRead(now, caller)));
    if (now === null || !mayRead) {
      next();
      return;
    }
    if ((request.method === "PUT" || request.method === "DELETE") && request.path === "/") {
      const detail = `The listing ${name} is ${now} now: use that name, or another for another listing`;
      sendProblem(response, new Problem("already-there", detail));
      return;
    }
    const rest = request.originalUrl.slice(request.baseUrl.length);
    response.redirect(308, `/v1/listings/${encodeURIComponent(now)}${rest}`);
  };
}
