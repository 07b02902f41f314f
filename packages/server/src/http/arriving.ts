import type { Request, RequestHandler } from "express";
import { Problem } from "./problem.js";
import { sendProblem } from "./errors.js";

/** How a body must arrive. */
export interface ArrivalLimits {
  /** Milliseconds within which at least {@link ArrivalLimits.bytes} must arrive. */
  readonly everyMs: number;
  readonly bytes: number;
}

export const ARRIVAL_LIMITS: ArrivalLimits = { everyMs: 15_000, bytes: 4_096 };

/**
 * Ends a request whose body stops arriving, or comes in drops: it would keep its connection, and the place
 * of its import, for as long as it likes. Time in which this process itself does not read does not count.
 */
export function limitArrival({ everyMs, bytes }: ArrivalLimits): RequestHandler {
  return (request, response, next) => {
    if (!hasBody(request)) {
      next();
      return;
    }
    const { socket } = request;
    let before = socket.bytesRead;
    const timer = setInterval(() => {
      if (request.complete) {
        clearInterval(timer);
        return;
      }
      const arrived = socket.bytesRead - before;
      before = socket.bytesRead;
      if (arrived >= bytes || socket.isPaused() || response.headersSent) return;
      clearInterval(timer);
      response.setHeader("Connection", "close");
      const detail = `The body did not arrive: at least ${bytes} bytes are expected within ${everyMs / 1_000} s`;
      sendProblem(response, new Problem("request-timeout", detail));
      // The request too, so that whoever reads its body learns that no more comes.
      response.once("finish", () => request.destroy());
    }, everyMs);
    timer.unref();
    response.once("close", () => clearInterval(timer));
    next();
  };
}

/** RFC 9112, section 6. */
function hasBody({ headers }: Request): boolean {
  return headers["transfer-encoding"] !== undefined || Number(headers["content-length"] ?? 0) > 0;
}
