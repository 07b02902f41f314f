import type { Request, Response } from "express";
import type { Caller } from "./caller.js";

/** What is known of a request beside what it says. */
export interface RequestContext {
  readonly requestId: string;
  readonly caller: Caller | null;
}

/** The context that the service put beside a request. */
export function contextOf(response: Response): RequestContext {
  return response.locals as unknown as RequestContext;
}

/** A parameter of a route's path. */
export function pathParameter(request: Request, name: string): string {
  const value = request.params[name];
  return typeof value === "string" ? value : "";
}
