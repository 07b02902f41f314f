import type { Request, RequestHandler } from "express";
import { Problem, notSignedIn, type Caller } from "../http/index.js";
import { sameText } from "./secrets.js";
import type { Access } from "./service.js";

/** The header in which the console shows the token of its session. */
export const CSRF_HEADER = "x-csrf-token";

const BEARER = /^Bearer +([\w.~+/-]+=*)$/i;
const HARMLESS_METHODS = new Set(["GET", "HEAD", "OPTIONS"]);

/** The name of the session's cookie; it has the port, since browsers do not distinguish ports. */
export function cookieName(port: number): string {
  return `orisma_session_${port}`;
}

/**
 * Finds out who makes a request: by bearer key (RFC 6750), or by the console's cookie, whose
 * writes must show the session's token as well. Neither is no failure yet; a bad key is.
 */
export function identify(access: Access): RequestHandler {
  return (request, response, next) => {
    response.locals.caller = callerOf(request, access);
    next();
  };
}

function callerOf(request: Request, access: Access): Caller | null {
  const { authorization } = request.headers;
  if (authorization !== undefined) {
    const key = BEARER.exec(authorization)?.[1];
    const caller = key === undefined ? null : access.byKey(key);
    if (caller === null) throw notSignedIn("The key is not one that is valid here");
    return caller;
  }
  const token = sessionToken(request);
  const caller = token === null ? null : access.bySession(token);
  if (token === null || caller === null || HARMLESS_METHODS.has(request.method)) return caller;
  const shown = request.get(CSRF_HEADER) ?? "";
  if (sameText(shown, access.csrfOf(token))) return caller;
  throw new Problem(
    "not-allowed",
    `A write by session needs its token in the ${CSRF_HEADER} header`,
  );
}

/** The value of the session's cookie, or null. */
export function sessionToken(request: Request): string | null {
  return cookieValue(request, cookieName(request.socket.localPort ?? 0));
}

/** The value of a cookie (RFC 6265, section 4.2), or null. */
export function cookieValue(request: Request, name: string): string | null {
  for (const pair of (request.headers.cookie ?? "").split(";")) {
    const [key, value] = pair.trim().split("=", 2);
    if (key === name && value !== undefined && value !== "") return value;
  }
  return null;
}
