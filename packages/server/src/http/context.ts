import type { Role } from "@orisma/contract";
import type { Request, Response } from "express";

/** Who makes a request. */
export interface Caller {
  /** The id of the key, or `session` for a person in the console. */
  readonly id: string;
  /** The name of the key. */
  readonly name: string;
  readonly role: Role;
  /** The listings that a reader is kept to; null for all that others may read. */
  readonly listings: readonly string[] | null;
  /** The groups of a person; keys have none. */
  readonly groups?: readonly string[];
  /** What is known of a person, which `caller('lock')` stands for in fixed filters; of keys there is nothing. */
  readonly claims?: Readonly<Record<string, readonly string[]>>;
}

/** The id and the name of whoever reads a public listing without a key. */
export const PUBLIC_ROLE = "public";

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
