import { Router, type CookieOptions, type Request } from "express";
import { rateLimit } from "express-rate-limit";
import { Problem, route, sendProblem } from "../http/index.js";
import { cookieName, sessionToken } from "./guard.js";
import { SESSION_MS, type Access } from "./service.js";

/** Wrong codes that one address may send in a minute. */
const MAX_SIGN_INS_A_MINUTE = 10;

/** Keys, sign-in codes and sessions. */
export function accessRoutes(access: Access, isSecure: boolean, now: () => number): Router {
  const router = Router();

  route(router, "GET /v1/keys", async () => ({ keys: await access.listKeys() }));

  route(router, "POST /v1/keys", ({ body: { name, role, listings, expiresAt } }) => {
    if (listings !== undefined && role !== "reader") {
      throw new Problem("invalid-value", "Only a reader's key can be kept to named listings");
    }
    const expires = expiresAt === undefined ? null : Date.parse(expiresAt);
    if (expires !== null && expires <= now()) {
      throw new Problem("invalid-value", "A key expires in the future, or never");
    }
    return access.createKey({ name, role, listings: listings ?? null, expiresAt: expires });
  });

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
    return { role: signedIn.caller.role, csrf: signedIn.csrf };
  });

  route(router, "DELETE /v1/session", async ({ caller, request, response }) => {
    const token = sessionToken(request);
    if (caller !== null && token !== null) await access.signOut(token);
    response.clearCookie(cookieOf(request), cookieOptions(isSecure || request.secure));
  });

  return router;
}

function cookieOf(request: Request): string {
  return cookieName(request.socket.localPort ?? 0);
}

function cookieOptions(secure: boolean): CookieOptions {
  return { httpOnly: true, sameSite: "strict", secure, path: "/" };
}
