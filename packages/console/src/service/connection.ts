import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { OrismaError } from "@orisma/client";

/** What the last answers said of the service: whether it can be reached, and knows who is here. */
export interface Connection {
  readonly isAway: boolean;
  /** The session ended while the page was open. */
  readonly hasEnded: boolean;
}

let connection: Connection = { isAway: false, hasEnded: false };
const listeners = new Set<() => void>();

function set(change: Partial<Connection>): void {
  connection = { ...connection, ...change };
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether a failure means that nobody is signed in. */
export function isSignedOut(error: unknown): boolean {
  return error instanceof OrismaError && error.status === 401;
}

/** Notes that nobody is signed in any more, where a failed request says so. */
export function noteEnd(error: OrismaError): void {
  if (isSignedOut(error)) set({ hasEnded: true });
}

/** Notes that the service cannot be reached, where a request that was tried more than once says so. */
export function noteFailure(error: unknown): void {
  if (isUnreachable(error) && !isOverworked(error)) set({ isAway: true });
}

/** Whether the service answers, and has too much to do for this one request. */
function isOverworked(error: unknown): boolean {
  const type = error instanceof OrismaError ? error.problem?.type : undefined;
  return type !== undefined && type !== "/problems#unavailable";
}

/** Notes that somebody signed in. */
export function noteSignIn(): void {
  set({ hasEnded: false });
}

/**
 * The code of a page, which is fetched when it is first opened: where the service is away, once it is back. What
 * cannot be had then either is of a version that the service no longer has: the page is loaded anew.
 */
export async function codeOf<Page>(load: () => Promise<Page>): Promise<Page> {
  try {
    return await load();
  } catch {
    set({ isAway: true });
    await new Promise<void>((resolve) => {
      const end = subscribe(() => {
        if (connection.isAway) return;
        end();
        resolve();
      });
    });
    return load().catch((error: unknown) => {
      location.reload();
      throw error;
    });
  }
}

export function useConnection(): Connection {
  return useSyncExternalStore(subscribe, () => connection);
}

/** Whether a listing does not fit its source any more: another request changes nothing. */
export function isBroken({ problem }: OrismaError): boolean {
  return problem?.type === "/problems#listing-broken";
}

/** Whether a failure means that the service cannot be reached for now. */
export function isUnreachable(error: unknown): boolean {
  if (!(error instanceof OrismaError) || isBroken(error)) return false;
  return [0, 502, 503, 504].includes(error.status);
}

/** Milliseconds between two questions whether a service that was away is back. */
const AGAIN_MS = 2_000;

/** Asks whether a service that was away is back, and then for all that failed meanwhile. */
export async function askAgain(queries: QueryClient): Promise<void> {
  const isBack = await fetch("/health/ready").then(
    ({ ok }) => ok,
    () => false,
  );
  if (!isBack) return;
  set({ isAway: false });
  await queries.invalidateQueries({ predicate: ({ state: { status } }) => status === "error" });
}

/** Asks a service that is away again and again, as long as the console is open. */
export function useRecovery(): void {
  const { isAway } = useConnection();
  const queries = useQueryClient();
  useEffect(() => {
    if (!isAway) return undefined;
    const timer = setInterval(() => void askAgain(queries), AGAIN_MS);
    return () => clearInterval(timer);
  }, [isAway, queries]);
}
