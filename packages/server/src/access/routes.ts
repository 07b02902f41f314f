import type { Calls, ReadBody, Role } from "@orisma/contract";
import { Router, type Request } from "express";
import { ipKeyGenerator, rateLimit } from "express-rate-limit";
import { fault, withLocation } from "@orisma/core/internal";
import { Problem, problemOf, route, sendProblem } from "../http/index.js";
import { browserCookie, cookieOf, cookieOptions, keepSession, presenceCookie } from "./cookies.js";
import { cookieValue, sessionToken } from "./guard.js";
import { Attempts } from "./attempts.js";
import type { Issuer } from "./issuer.js";
import { personId, type Access } from "./service.js";

/** Wrong codes that one address, or one browser that is known, may send in a minute. */
const MAX_SIGN_INS_A_MINUTE = 10;
/** Wrong passwords that one account takes from browsers that are not known, within so many milliseconds. */
const MAX_WRONG_PASSWORDS = 10;
const WRONG_PASSWORDS_MS = 15 * 60_000;

/** What the routes of access work with. */
export interface AccessParts {
  readonly access: Access;
  /** Who signs people in from outside; null for nobody. */
  readonly issuer: Issuer | null;
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
    mustBeReader(role, listings);
    mustBeListings(listings, knownListings());
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

  addPeople(router, parts);

  route(router, "POST /v1/sign-in-codes", () => {
    const { code, expiresAt } = access.createCode();
    return { code, expiresAt: new Date(expiresAt).toISOString() };
  });

  route(router, "GET /v1/session", async ({ caller, request }) => {
    const token = sessionToken(request);
    const csrf = token === null ? null : access.csrfOf(token);
    const person = personId(caller.id);
    return {
      role: caller.role,
      csrf,
      key: await access.keyOf(caller),
      person: person === null ? null : access.people.describe(person),
    };
  });

  const attempts = new Attempts(MAX_WRONG_PASSWORDS, WRONG_PASSWORDS_MS, now);
  /** A browser that signed in once counts for itself: wrong passwords of others do not lock it out. */
  const accountOf = (name: string, request: Request) => {
    const browser = access.browserOf(cookieValue(request, browserCookie(request)) ?? "");
    return `${name.trim().toLowerCase()} ${browser ?? ""}`;
  };
  const signedInWith = async (body: ReadBody<Calls["POST /v1/session"]>, request: Request) => {
    if ("code" in body) {
      const found = await access.signIn(body.code);
      if (found !== null) return found;
      throw new Problem("not-allowed", "The code is not valid, was used before, or has expired");
    }
    const account = accountOf(body.name, request);
    const waitMs = attempts.waitMs(account);
    if (waitMs > 0) {
      const seconds = String(Math.ceil(waitMs / 1_000));
      const detail = `Too many wrong passwords for ${body.name}: wait ${seconds} seconds`;
      throw new Problem("too-many-requests", detail, [], { "Retry-After": seconds });
    }
    const found = await access.signInPerson(body.name, body.password);
    if (found !== null) {
      attempts.succeeded(account);
      return found;
    }
    attempts.failed(account);
    throw new Problem("not-allowed", "The name and the password do not belong together");
  };
  route(router, "GET /v1/sign-in", () => ({ issuer: parts.issuer?.label ?? null }));

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
    const signedIn = await signedInWith(body, request);
    keepSession(request, response, signedIn, { access, isSecure });
    return { role: signedIn.caller.role, csrf: signedIn.csrf };
  });

  route(router, "DELETE /v1/session", async ({ caller, request, response }) => {
    const token = sessionToken(request);
    if (caller !== null && token !== null) await access.signOut(token);
    const options = cookieOptions(isSecure || request.secure);
    response.clearCookie(cookieOf(request), options);
    response.clearCookie(presenceCookie(request), { ...options, httpOnly: false });
  });

  return router;
}

/** The people who sign in with a name and a password, and one's own password. */
function addPeople(
  router: Router,
  { access, knownListings }: Pick<AccessParts, "access" | "knownListings">,
): void {
  const listingsOf = (role: Role, listings: readonly string[] | undefined) => {
    mustBeReader(role, listings);
    mustBeListings(listings, knownListings());
    return listings ?? null;
  };
  route(router, "GET /v1/people", () => ({ people: [...access.people.list()] }));
  route(router, "POST /v1/people", ({ body: { password, listings, ...person } }) =>
    access.people.create(
      { ...person, listings: listingsOf(person.role, listings) },
      password ?? null,
    ),
  );
  route(router, "PUT /v1/people/{name}", ({ path, body: { listings, ...person } }) =>
    access.people.change(path.name, { ...person, listings: listingsOf(person.role, listings) }),
  );
  route(router, "POST /v1/people/{name}/password", ({ path }) =>
    access.people.resetPassword(path.name),
  );
  route(router, "DELETE /v1/people/{name}", ({ path }) => access.people.remove(path.name));
  route(router, "PUT /v1/session/password", async ({ body, caller }) => {
    const person = personId(caller.id);
    if (person === null) {
      throw new Problem("not-allowed", "Only a person who signed in with a password can change it");
    }
    await access.people.changePassword(person, body.current, body.password);
  });
}

function mustBeReader(role: Role, listings: readonly string[] | undefined): void {
  if (listings === undefined || role === "reader") return;
  throw new Problem("invalid-value", "Only a reader can be kept to named listings");
}

function mustBeListings(listings: readonly string[] | undefined, known: readonly string[]): void {
  const faults = (listings ?? []).flatMap((name, index) => {
    const place = { path: `listings.${index}`, value: name };
    return known.includes(name)
      ? []
      : [withLocation(fault("name.unknown", { what: "listing", name, known }), place)];
  });
  if (faults.length > 0) throw problemOf(faults, "invalid-value");
}
