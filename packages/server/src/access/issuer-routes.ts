import { Router, type Request, type Response } from "express";
import type { Logger } from "pino";
import { z } from "zod";
import { Problem, sendProblem } from "../http/index.js";
import type { Issuer, Leaving } from "./issuer.js";
import { keepSession } from "./cookies.js";
import { cookieValue } from "./guard.js";
import { Sealer } from "./sealed.js";
import type { Access } from "./service.js";

/** Milliseconds that somebody may be at the issuer. */
const AWAY_MS = 10 * 60_000;
const BACK_PATH = "/sign-in/done";

const HELD = z.tuple([z.string(), z.string(), z.string(), z.string(), z.number()]);

/** What signing in at an issuer works with. */
export interface IssuerParts {
  readonly access: Access;
  readonly issuer: Issuer | null;
  readonly secret: Buffer;
  /** The URL under which people reach the service, or null for that of the request. */
  readonly baseUrl: string | null;
  readonly isSecure: boolean;
  readonly logger: Logger;
  readonly now: () => number;
}

/** Signing in at an issuer: away to it, and back with a session. */
export function issuerRoutes(parts: IssuerParts): Router {
  const { access, issuer, baseUrl, isSecure, logger, now } = parts;
  const router = Router();
  if (issuer === null) return router;
  const sealer = new Sealer(parts.secret, "sign-in");
  const cookieOptions = (request: Request) => ({
    httpOnly: true,
    // Strict would keep it back when the browser comes from the issuer.
    sameSite: "lax" as const,
    secure: isSecure || request.secure,
    path: "/sign-in",
  });
  const ownUrl = (request: Request) =>
    baseUrl ?? `${request.protocol}://${request.get("Host") ?? ""}`;
  const failed = (response: Response, error: unknown) => {
    if (!(error instanceof Problem)) logger.warn({ error }, "a sign-in at the issuer failed");
    const detail = `Signing in at ${issuer.label} did not succeed: try again, or use another way`;
    sendProblem(response, error instanceof Problem ? error : new Problem("not-allowed", detail));
  };

  router.get("/sign-in/issuer", async (request, response) => {
    try {
      const { url, leaving } = await issuer.begin(`${ownUrl(request)}${BACK_PATH}`);
      const { state, nonce, verifier } = leaving;
      const to = new URL(request.originalUrl, "http://none").searchParams.get("to");
      const held = [state, nonce, verifier, placeAfter(to), now() + AWAY_MS];
      const options = { ...cookieOptions(request), maxAge: AWAY_MS };
      response.cookie(cookieOf(request), sealer.seal(JSON.stringify(held)), options);
      response.set("Cache-Control", "no-store").redirect(302, url);
    } catch (error) {
      logger.warn({ error }, "the issuer cannot be asked");
      const detail = `${issuer.label} cannot be reached: try again, or use another way`;
      sendProblem(response, new Problem("unavailable", detail, [], { "Retry-After": "10" }));
    }
  });

  router.get(BACK_PATH, async (request, response) => {
    const cookie = cookieOf(request);
    const held = heldIn(sealer, cookieValue(request, cookie) ?? "", now());
    // Used once, whatever comes of it.
    response.clearCookie(cookie, cookieOptions(request));
    if (held === null) {
      const detail = "The sign-in took too long, or was begun in another browser: begin it again";
      sendProblem(response, new Problem("not-allowed", detail));
      return;
    }
    try {
      const address = new URL(request.originalUrl, ownUrl(request));
      const identity = await issuer.finish(address, held.leaving);
      keepSession(request, response, await access.signInIdentity(identity), { access, isSecure });
      // A redirect would still count as coming from the issuer, so that the browser would not show its session.
      response
        .set({ "Cache-Control": "no-store", Refresh: `0; url=${held.to}` })
        .type("html")
        .send(
          `<!doctype html><title>Signed in</title><p><a href="${held.to.replaceAll("&", "&amp;")}">Signed in: go on</a></p>`,
        );
    } catch (error) {
      failed(response, error);
    }
  });

  return router;
}

/** Where to go on to: a place of this service, in characters that mean nothing to HTML. */
function placeAfter(to: string | null): string {
  const isPlace = to !== null && /^\/(?!\/)[\w/.~%=&?+-]{0,1000}$/.test(to);
  return isPlace ? to : "/";
}

function heldIn(
  sealer: Sealer,
  text: string,
  now: number,
): { readonly leaving: Leaving; readonly to: string } | null {
  const plain = sealer.open(text);
  const read = HELD.safeParse(plain === null ? null : JSON.parse(plain));
  if (!read.success) return null;
  const [state, nonce, verifier, to, until] = read.data;
  return until > now ? { leaving: { state, nonce, verifier }, to } : null;
}

function cookieOf(request: Request): string {
  return `orisma_leaving_${request.socket.localPort ?? 0}`;
}
