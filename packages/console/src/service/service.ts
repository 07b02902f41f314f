import { OrismaClient, OrismaError } from "@orisma/client";

let csrf: string | null = null;

/** The service that served this page; writes show the token of the session. */
export const service = new OrismaClient({ url: "", csrf: () => csrf });

/** The token that writes show, for a call that is made without the client. */
export function csrfToken(): string | null {
  return csrf;
}

/** Keeps the token that the service gave for this session. */
export function keepCsrf(token: string | null): void {
  csrf = token;
}

/** Whether a failure means that nobody is signed in. */
export function isSignedOut(error: unknown): boolean {
  return error instanceof OrismaError && error.status === 401;
}
