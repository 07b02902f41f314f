import { randomUUID } from "node:crypto";
import type { RequestHandler } from "express";
import type { Logger } from "pino";
import { contextOf } from "./context.js";

/**
 * Gives each request an id, and writes a line to the log when it has been answered: method,
 * path, status, milliseconds, caller. The query is omitted: its values are people's own.
 */
export function logRequests(logger: Logger): RequestHandler {
  return (request, response, next) => {
    const requestId = randomUUID();
    const started = performance.now();
    response.locals.requestId = requestId;
    response.locals.caller = null;
    response.setHeader("X-Request-Id", requestId);
    response.once("close", () => {
      logger.info({
        requestId,
        method: request.method,
        path: request.originalUrl.split("?", 1)[0],
        status: response.statusCode,
        ms: Math.round((performance.now() - started) * 10) / 10,
        caller: contextOf(response).caller?.id ?? null,
        finished: response.writableFinished,
      });
    });
    next();
  };
}
