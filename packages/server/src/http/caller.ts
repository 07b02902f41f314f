import { ROLES, type Role } from "@orisma/contract";
import type { Response } from "express";
import { contextOf, type Caller } from "./context.js";
import { Problem } from "./problem.js";

/** The caller of a request, who must have at least a role. */
export function callerWith(role: Role, response: Response): Caller {
  const { caller } = contextOf(response);
  if (caller === null) throw notSignedIn("This needs a key, or a session of the console");
  if (mayAs(role, caller)) return caller;
  throw new Problem("not-allowed", `This needs the role ${role}, and the key has ${caller.role}`);
}

/** Whether a caller has at least a role. */
export function mayAs(role: Role, caller: Pick<Caller, "role">): boolean {
  return ROLES.indexOf(caller.role) <= ROLES.indexOf(role);
}

export function notSignedIn(detail: string): Problem {
  return new Problem("not-signed-in", detail, [], { "WWW-Authenticate": 'Bearer realm="orisma"' });
}
