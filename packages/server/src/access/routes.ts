import { Router, type CookieOptions, type Request } from "express";
import { rateLimit } from "express-rate-limit";
import { Problem, contextOf, parse, pathParameter, sendProblem } from "../http/index.js";
import { callerWith, cookieName, requireRole, sessionToken } from "./guard.js";
import { NEW_KEY, SIGN_IN } from "./schema.js";
import { SESSION_MS, type Access } from "./service.js";

/** Wrong codes that one address may send in a minute. */
const MOST_SIGN_INS_A_MINUTE = 10;

/** Keys, sign-in codes and sessions. */
export function accessRoutes(access: Access, now: () => number): Router {
  const router = Router();

  router.get("/keys", requireRole("owner"), async (_request, response) => {
    response.json({ keys: await access.listKeys() });
  });

  router.post("/keys", requireRole("owner"), async (request, response) => {
    const { name, role, listings, expiresAt } = parse(NEW_KEY, request.body);
    if (listings !== undefined && role !== "reader") {
      throw new Problem("invalid-value", "Only a reader's key can be kept to named listings");
    }
    const lapses = expiresAt === undefined ? null : Date.parse(expiresAt);
    if (lapses !== null && lapses <= now()) {
      throw new Problem("invalid-value", "A key lapses in the future, or never");
    }
    const wanted = { name, role, listings: listings ?? null, expiresAt: lapses };
    response.status(201).json(await access.createKey(wanted));
  });

  router.delete("/keys/:id", requireRole("owner"), async (request, response) => {
    await access.revokeKey(Number(pathParameter(request, "id")));
    response.status(204).end();
  });

  router.post("/sign-in-codes", requireRole("owner"), (_request, response) => {
    const { code, expiresAt } = access.createCode();
    response.status(201).json({ code, expiresAt: new Date(expiresAt).toISOString() });
  });

  router.get("/session", async (request, response) => {
    const caller = callerWith("reader", response);
    const token = sessionToken(request);
    const csrf = token === null ? null : access.csrfOf(token);
    response.json({ role: caller.role, csrf, key: await access.keyOf(caller) });
  });

  const limit = rateLimit({
    windowMs: 60_000,
    limit: MOST_SIGN_INS_A_MINUTE,
    skipSuccessfulRequests: true,
    standardHeaders: "draft-8",
    legacyHeaders: false,
    handler: (_request, response) =>
      sendProblem(response, new Problem("too-many-requests", "Too many codes; wait a minute")),
  });
  router.post("/session", limit, async (request, response) => {
    const signedIn = await access.signIn(parse(SIGN_IN, request.body).code);
    if (signedIn === null) {
      throw new Problem("not-allowed", "The code is not valid, was used before, or has lapsed");
    }
    response
      .cookie(cookieOf(request), signedIn.token, { ...cookieOptions(request), maxAge: SESSION_MS })
      .status(201)
      .json({ role: signedIn.caller.role, csrf: signedIn.csrf });
  });

  router.delete("/session", async (request, response) => {
    const { caller } = contextOf(response);
    const token = sessionToken(request);
    if (caller !== null && token !== null) await access.signOut(token);
    response.clearCookie(cookieOf(request), cookieOptions(request)).status(204).end();
  });

  return router;
}

function cookieOf(request: Request): string {
  return cookieName(request.socket.localPort ?? 0);
}

function cookieOptions(request: Request): CookieOptions {
  return { httpOnly: true, sameSite: "strict", secure: request.secure, path: "/" };
}
