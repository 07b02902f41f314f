import { Router, type CookieOptions, type Request } from "express";
import { ipKeyGenerator, rateLimit } from "express-rate-limit";
import { fault, withLocation } from "@orisma/core/internal";
import { Problem, problemOf, route, sendProblem } from "../http/index.js";
import { cookieName, cookieValue, sessionToken } from "./guard.js";
import { SESSION_MS, type Access } from "./service.js";

const YEAR_MS = 365 * 86_400_000;
/** Wrong codes that one address, or one browser that is known, may send in a minute. */
const MAX_SIGN_INS_A_MINUTE = 10;

/** What the routes of access work with. */
export interface AccessParts {
  readonly access: Access;
  /** Whether people reach the service by TLS, which a proxy has. */
  readonly isSecure: boolean;
  /** The names of the listings that there are. */
  readonly knownListings: () => readonly string[];
  readonly now: () => number;
}

/** Keys, sign-in codes and sessions. */
export function accessRoutes(parts: AccessParts): Router {
  const { access, isSecure, knownListings, now } = parts;
  const router = Router();

  route(router, "GET /v1/keys", async () => ({ keys: await access.listKeys() }));

  route(router, "POST /v1/keys", ({ body: { name, role, listings, expiresAt } }) => {
    if (listings !== undefined && role !== "reader") {
      throw new Problem("invalid-value", "Only a reader's key can be kept to named listings");
    }
    const known = knownListings();
    const faults = (listings ?? []).flatMap((name, index) => {
      const place = { path: `listings.${index}`, value: name };
      return known.includes(name)
        ? []
        : [withLocation(fault("name.unknown", { what: "listing", name, known }), place)];
    });
    if (faults.length > 0) throw problemOf(faults, "invalid-value");
    const expires = expiresAt === undefined ? null : Date.parse(expiresAt);
    if (expires !== null && expires <= now()) {
      throw new Problem("invalid-value", "A key expires in the future, or never");
    }
    return access.createKey({ name, role, listings: listings ?? null, expiresAt: expires });
  });

  route(router, "POST /v1/keys/{id}/rotate", ({ path, body: { overlapMinutes } }) =>
    access.rotateKey(Number(path.id), overlapMinutes * 60_000),
  );

  route(router, "DELETE /v1/keys/{id}", ({ path }) => access.revokeKey(Number(path.id)));

  route(router, "POST /v1/sign-in-codes", () => {
    const { code, expiresAt } = access.createCode();
    return { code, expiresAt: new Date(expiresAt).toISOString() };
  });

  route(router, "GET /v1/session", async ({ caller, request }) => {
    const token = sessionToken(request);
    const csrf = token === null ? null : access.csrfOf(token);
    return { role: caller.role, csrf, key: await access.keyOf(caller) };
  });

  const limit = rateLimit({
    windowMs: 60_000,
    limit: MAX_SIGN_INS_A_MINUTE,
    skipSuccessfulRequests: true,
    // A browser that signed in once has a count of its own: wrong codes of others behind the same address
    // do not lock it out.
    keyGenerator: (request) => {
      const browser = access.browserOf(cookieValue(request, browserCookie(request)) ?? "");
      return browser === null
        ? `address ${ipKeyGenerator(request.ip ?? "")}`
        : `browser ${browser}`;
    },
    // The addresses of proxies are believed as the operator says, which is all that this would warn of.
    validate: { xForwardedForHeader: false, trustProxy: false },
    standardHeaders: "draft-8",
    legacyHeaders: false,
    handler: (_request, response) =>
      sendProblem(response, new Problem("too-many-requests", "Too many codes; wait a minute")),
  });
  route(router, "POST /v1/session", { before: limit }, async ({ body, request, response }) => {
    const signedIn = await access.signIn(body.code);
    if (signedIn === null) {
      throw new Problem("not-allowed", "The code is not valid, was used before, or has expired");
    }
    const options = { ...cookieOptions(isSecure || request.secure), maxAge: SESSION_MS };
    response.cookie(cookieOf(request), signedIn.token, options);
    if (cookieValue(request, browserCookie(request)) === null) {
      response.cookie(browserCookie(request), access.browserMark(), {
        ...options,
        maxAge: YEAR_MS,
      });
    }
    return { role: signedIn.caller.role, csrf: signedIn.csrf };
  });

  route(router, "DELETE /v1/session", async ({ caller, request, response }) => {
    const token = sessionToken(request);
    if (caller !== null && token !== null) await access.signOut(token);
    response.clearCookie(cookieOf(request), cookieOptions(isSecure || request.secure));
  });

  return router;
}

/** The name of the cookie by which a browser is known again at its next sign-in. */
function browserCookie(request: Request): string {
  return `orisma_browser_${request.socket.localPort ?? 0}`;
}

function cookieOf(request: Request): string {
  return cookieName(request.socket.localPort ?? 0);
}

function cookieOptions(secure: boolean): CookieOptions {
  return { httpOnly: true, sameSite: "strict", secure, path: "/" };
}
