import type { Response } from "express";

/** Milliseconds between two looks at how far an answer has come. */
const LOOK_EVERY_MS = 1_000;

/**
 * Ends the connection of an answer of which nothing has left this process for so many milliseconds although
 * there is more to send: whoever reads slowly is waited for, whoever does not read is not.
 */
export function endWhenStalled(
  response: Response,
  stalledMs: number,
): { readonly stop: () => void } {
  const { socket } = response;
  if (socket === null) return { stop: () => undefined };
  let remaining = -1;
  let since = performance.now();
  const look = () => {
    const now = socket.bytesWritten - socket.writableLength;
    if (now !== remaining || socket.writableLength === 0) {
      remaining = now;
      since = performance.now();
    } else if (performance.now() - since >= stalledMs) socket.destroy();
  };
  const timer = setInterval(look, LOOK_EVERY_MS);
  timer.unref();
  return { stop: () => clearInterval(timer) };
}
