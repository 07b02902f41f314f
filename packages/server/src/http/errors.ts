import { PROBLEMS } from "@orisma/contract";
import type { Fault, RenderedFault } from "@orisma/core/internal";
import type { ErrorRequestHandler, RequestHandler, Response } from "express";
import type { Logger } from "pino";
import {
  ClientDisconnected,
  DISK_FULL,
  DatabaseUnavailable,
  DiskFull,
  TableChanged,
  TableReplaced,
  TooManyValues,
  TooSlow,
  isDiskFull,
  isUnavailable,
} from "../database/index.js";
import { contextOf } from "./context.js";
import { PROBLEM_MEDIA_TYPE, Problem, problemDocument } from "./problem.js";

/** Seconds after which a caller may try again when the database is away. */
const RETRY_AFTER_S = 5;

/** Answers an address that nothing serves. */
export const nothingHere: RequestHandler = (request) => {
  throw new Problem("not-found", `Nothing is served at ${request.method} ${request.path}`);
};

/** Answers every failure with a problem document; only an unexpected one is logged as an error. */
export function answerFailures(logger: Logger): ErrorRequestHandler {
  // The fourth parameter is what the framework knows the function by.
  return (error: unknown, _request, response, _next) => {
    if (response.headersSent) {
      // The framework would write the failure to the terminal, with whatever its message holds.
      const { requestId } = contextOf(response);
      logger.warn({ requestId, error }, "an answer that had begun was cut");
      response.destroy();
      return;
    }
    // Nobody is there to be answered.
    if (error instanceof ClientDisconnected) {
      response.destroy();
      return;
    }
    const problem = toProblem(error);
    const { requestId } = contextOf(response);
    if (problem.problem === "internal-error" || problem.problem === "unavailable") {
      logger.error({ requestId, error }, problem.detail);
    }
    sendProblem(response, problem);
  };
}

/** Sends a problem document. */
export function sendProblem(response: Response, problem: Problem): void {
  const { requestId } = contextOf(response);
  response
    .status(PROBLEMS[problem.problem].status)
    .set({ ...problem.headers, "Cache-Control": "no-store" })
    .type(PROBLEM_MEDIA_TYPE)
    .send(JSON.stringify(problemDocument(problem, requestId, saidOf(response))));
}

/** Sets how the faults of a request are said, where not as everywhere. */
export function translateFaults(response: Response, said: (found: Fault) => RenderedFault): void {
  (response.locals as { said?: typeof said }).said = said;
}

function saidOf(response: Response): ((found: Fault) => RenderedFault) | null {
  return (response.locals as { said?: (found: Fault) => RenderedFault }).said ?? null;
}

function toProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  const again = { "Retry-After": String(RETRY_AFTER_S) };
  if (error instanceof TooSlow) {
    const detail =
      "The database took longer than the limit: request a shorter window or fewer figures";
    return new Problem("too-slow", detail, [], again);
  }
  if (error instanceof DatabaseUnavailable || isUnavailable(error)) {
    return new Problem("unavailable", "The database cannot be reached", [], again);
  }
  if (isDiskFull(error)) {
    return new Problem("disk-full", error instanceof DiskFull ? error.message : DISK_FULL);
  }
  if (error instanceof TableReplaced) {
    const detail = "The records were replaced several times while they were read";
    return new Problem("table-changed", detail, [], again);
  }
  if (error instanceof TableChanged) {
    const detail = "A table is not as it was when it was attached; its owner attaches it again";
    return new Problem("table-changed", detail, [], again);
  }
  if (error instanceof TooManyValues) {
    const detail = "The request comes to more values than one query holds; request fewer intervals";
    return new Problem("too-large", detail);
  }
  return bodyProblem(error) ?? new Problem("internal-error", "Something went wrong in the service");
}

/** Failures of the framework's own readers of addresses and bodies, which carry a status. */
function bodyProblem(error: unknown): Problem | null {
  if (!(error instanceof Error) || !("status" in error)) return null;
  if (error.status === 413) return new Problem("too-large", "The body is larger than is read here");
  const isCallers = typeof error.status === "number" && error.status >= 400 && error.status < 500;
  return isCallers ? new Problem("unreadable-request", error.message) : null;
}
