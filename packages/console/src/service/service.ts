import { OrismaClient } from "@orisma/client";
import { noteEnd } from "./connection.js";

let csrf: string | null = null;

/** The service that served this page; writes show the token of the session. */
export const service = new OrismaClient({ url: "", csrf: () => csrf, onFailure: noteEnd });

/** The token that writes show, for a call that is made without the client. */
export function csrfToken(): string | null {
  return csrf;
}

/** Keeps the token that the service gave for this session. */
export function keepCsrf(token: string | null): void {
  csrf = token;
}
