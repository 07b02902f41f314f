import type { CookieOptions, Request, Response } from "express";
import { cookieName, cookieValue } from "./guard.js";
import { SESSION_MS, type Access, type SignedIn } from "./service.js";

const YEAR_MS = 365 * 86_400_000;

/** The name of the cookie by which a browser is known again at its next sign-in. */
export function browserCookie(request: Request): string {
  return `orisma_browser_${request.socket.localPort ?? 0}`;
}

/**
 * The name of the cookie by which the page of a browser sees that it has a session, whose own cookie it cannot see:
 * without it nothing is asked that could only be refused.
 */
export function presenceCookie(request: Request): string {
  return `orisma_here_${request.socket.localPort ?? 0}`;
}

/** The name of the cookie of a session. */
export function cookieOf(request: Request): string {
  return cookieName(request.socket.localPort ?? 0);
}

export function cookieOptions(secure: boolean): CookieOptions {
  return { httpOnly: true, sameSite: "strict", secure, path: "/" };
}

/** Gives a browser the session that it began, and a mark by which it is known from then on. */
export function keepSession(
  request: Request,
  response: Response,
  signedIn: SignedIn,
  { access, isSecure }: { readonly access: Access; readonly isSecure: boolean },
): void {
  const options = { ...cookieOptions(isSecure || request.secure), maxAge: SESSION_MS };
  response.cookie(cookieOf(request), signedIn.token, options);
  response.cookie(presenceCookie(request), "1", { ...options, httpOnly: false });
  if (cookieValue(request, browserCookie(request)) !== null) return;
  response.cookie(browserCookie(request), access.browserMark(), { ...options, maxAge: YEAR_MS });
}
