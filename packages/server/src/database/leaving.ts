import { AsyncLocalStorage } from "node:async_hooks";

/** Whoever asked has gone: what is not begun is not begun, and what runs was ended. */
export class CallerGone extends Error {}

const leaving = new AsyncLocalStorage<AbortSignal>();

/** Does something for a caller who may go before it is done: its queries end then. */
export function whileAsked<T>(signal: AbortSignal, work: () => T): T {
  return leaving.run(signal, work);
}

/** Does something that others may be waiting for too, whoever of them goes. */
export function forAll<T>(work: () => T): T {
  return leaving.exit(work);
}

/** The signal of the caller for whom something is done; undefined where nobody waits. */
export function callerLeaving(): AbortSignal | undefined {
  return leaving.getStore();
}

/** Throws where the caller has gone. */
export function mustBeAsked(): void {
  if (leaving.getStore()?.aborted === true) throw new CallerGone("the caller has gone");
}
