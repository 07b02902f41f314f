import { randomBytes, randomUUID } from "node:crypto";
import type { RequestHandler } from "express";
import type { Logger } from "pino";
import { contextOf } from "./context.js";

/**
 * Gives each request an id, and writes a line to the log when it has been answered: method,
 * path, status, milliseconds, caller, and its place in a trace. The query is omitted: its values are
 * people's own.
 */
export function logRequests(logger: Logger): RequestHandler {
  return (request, response, next) => {
    const requestId = randomUUID();
    const started = performance.now();
    const trace = traceOf(request.headers.traceparent);
    response.locals.requestId = requestId;
    response.locals.caller = null;
    response.setHeader("X-Request-Id", requestId);
    response.once("close", () => {
      logger.info({
        requestId,
        method: request.method,
        path: pathForLog(request.originalUrl),
        status: response.statusCode,
        ms: Math.round((performance.now() - started) * 10) / 10,
        caller: contextOf(response).caller?.id ?? null,
        finished: response.writableFinished,
        ...trace,
      });
    });
    next();
  };
}

/** The path of a URL, without the token of a private address, which is a secret. */
function pathForLog(url: string): string {
  const [path = ""] = url.split("?", 1);
  return path.replace(/^\/feeds\/.*/, "/feeds/…");
}

/** The place of a request in a trace: the span of whoever sent it, and its own. */
interface Trace {
  readonly traceId: string;
  readonly parentId: string;
  readonly spanId: string;
}

/** Version, trace, parent and flags (W3C Trace Context, section 3.2); later versions may add to it. */
const TRACE_PARENT = /^(?!ff)[0-9a-f]{2}-([0-9a-f]{32})-([0-9a-f]{16})-[0-9a-f]{2}(?:-.*)?$/;
const NONE = /^0+$/;

/** Where a request stands in a trace; null where it says nothing, or nothing that can be read. */
export function traceOf(header: string | readonly string[] | undefined): Trace | null {
  const [, traceId, parentId] = TRACE_PARENT.exec(typeof header === "string" ? header : "") ?? [];
  if (traceId === undefined || parentId === undefined) return null;
  if (NONE.test(traceId) || NONE.test(parentId)) return null;
  return { traceId, parentId, spanId: randomBytes(8).toString("hex") };
}
