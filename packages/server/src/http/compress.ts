import compression from "compression";
import type { RequestHandler } from "express";

/** Compresses answers for clients that accept it; for all others nothing is set up. */
export function compressed(): RequestHandler {
  const compress = compression();
  return (request, response, next) => {
    if (request.headers["accept-encoding"] === undefined) next();
    else compress(request, response, next);
  };
}
