import type { Server, ServerResponse } from "node:http";
import { setTimeout as sleep } from "node:timers/promises";
import type { RequestHandler } from "express";

/** Milliseconds between two looks at whether connections have become idle. */
const LOOK_EVERY_MS = 50;

/** How a service ends. */
export interface EndingLimits {
  /**
   * Milliseconds for which requests are still accepted although the service says that it is not ready: so
   * long whoever spreads requests over several services may take to notice.
   */
  readonly graceMs: number;
  /** Milliseconds that requests which have begun may still take. */
  readonly finishMs: number;
}

/**
 * The end of the HTTP interface, so that no request that has begun is cut: first it says that it is not
 * ready, and that each connection closes after its answer; then it accepts none, and waits for those that
 * run.
 */
export class Ending {
  readonly #running = new Set<ServerResponse>();
  #hasBegun = false;

  get hasBegun(): boolean {
    return this.#hasBegun;
  }

  /** Knows the requests that run, and closes the connections of their answers once the end has begun. */
  readonly watch: RequestHandler = (_request, response, next) => {
    this.#running.add(response);
    if (this.#hasBegun) response.shouldKeepAlive = false;
    response.once("close", () => this.#running.delete(response));
    next();
  };

  /** Ends a server: what is still running at the limit is given up by `giveUp`, and then cut. */
  async end(
    server: Server,
    { graceMs, finishMs }: EndingLimits,
    giveUp: () => void,
  ): Promise<void> {
    this.#hasBegun = true;
    for (const response of this.#running) {
      if (!response.headersSent) response.shouldKeepAlive = false;
    }
    // Idle connections too are closed after it only: a request may be on its way over one of them.
    if (graceMs > 0) await sleep(graceMs);
    const closed = new Promise((resolve) => server.close(resolve));
    // A connection whose answer had begun before says nothing of its end: it is closed once it is idle.
    server.closeIdleConnections();
    const idle = setInterval(() => server.closeIdleConnections(), LOOK_EVERY_MS);
    const limit = setTimeout(() => {
      giveUp();
      server.closeAllConnections();
    }, finishMs);
    await closed;
    clearInterval(idle);
    clearTimeout(limit);
  }
}
