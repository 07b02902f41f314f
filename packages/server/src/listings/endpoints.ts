import {
  endpointMessage,
  endpointName,
  endpointRequest,
  renderFault,
  type EndpointDeclaration,
  type Fault,
} from "@orisma/core/internal";
import type { Request, RequestHandler, Response } from "express";
import { sentParameters, translateFaults } from "../http/index.js";
import type { Listings } from "./service.js";

/** A request to an endpoint of a listing's own. */
export interface OwnEndpoint {
  readonly endpoint: EndpointDeclaration;
  /** As it was requested, with its parameters. */
  readonly url: string;
  /** What cannot be read of it; said only to those who may read the listing. */
  readonly faults: readonly Fault[];
}

/**
 * Lets requests to endpoints of listings' own go on as requests for the records of the listing: with the same rights,
 * limits and checks.
 */
export function ownEndpoints(listings: Listings): RequestHandler {
  return (request, response, next) => {
    const isRead = request.method === "GET" || request.method === "HEAD";
    const found = isRead && request.path.startsWith("/api/") ? find(listings, request) : null;
    if (found === null) {
      next();
      return;
    }
    const { declaration, endpoint, values } = found;
    const sent = sentParameters(request.originalUrl);
    const read = endpointRequest(declaration, endpoint, values, sent);
    const own: OwnEndpoint = {
      endpoint,
      url: request.originalUrl,
      faults: read.faults,
    };
    (response.locals as { ownEndpoint?: OwnEndpoint }).ownEndpoint = own;
    translateFaults(response, translator(endpoint, request));
    const query = new URLSearchParams();
    for (const [name, all] of read.sent) for (const each of all) query.append(name, each);
    const name = encodeURIComponent(declaration.name);
    request.url = `/v1/listings/${name}/records?${query.toString()}`;
    request.originalUrl = request.url;
    next();
  };
}

/** The endpoint of a listing's own that a request came to; null for one that came to the listing itself. */
export function ownEndpointOf(response: Response): OwnEndpoint | null {
  return (response.locals as { ownEndpoint?: OwnEndpoint }).ownEndpoint ?? null;
}

function find(listings: Listings, request: Request) {
  try {
    return listings.endpointAt(request.path.split("/").map(decodeURIComponent).join("/"));
  } catch {
    // A path that is no UTF-8 is none of anybody's.
    return null;
  }
}

/** Faults with the names that the endpoint has for parameters, and its own words in the language that is accepted. */
function translator(endpoint: EndpointDeclaration, request: Request) {
  const languages = Object.keys(endpoint.messages ?? {}).filter((each) => each !== "*");
  const language = languages.length === 0 ? null : request.acceptsLanguages(languages) || null;
  return (found: Fault) => {
    const { parameter } = found;
    const renamed =
      parameter === undefined ? found : { ...found, parameter: endpointName(endpoint, parameter) };
    const message = endpointMessage(endpoint, language, renamed);
    const rendered = renderFault(renamed);
    return message === null ? rendered : { ...rendered, message };
  };
}
