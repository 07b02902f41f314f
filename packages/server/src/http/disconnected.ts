import type { Response } from "express";
import { ClientDisconnected } from "../database/index.js";

/** A signal that is aborted when a client has gone before it was answered. */
export function disconnectedSignal(response: Response): AbortSignal {
  const disconnected = new AbortController();
  response.once("close", () => {
    if (response.writableFinished) return;
    disconnected.abort(new ClientDisconnected("the client has disconnected"));
  });
  return disconnected.signal;
}
