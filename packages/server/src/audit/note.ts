import type { AuditDetails } from "@orisma/contract";
import type { Response } from "express";

/** Adds to what the audit trail will say of a request; counts may be added while it is answered. */
export function noteForAudit(response: Response, details: AuditDetails): void {
  const locals = response.locals as { audit?: AuditDetails };
  locals.audit = { ...locals.audit, ...details };
}

/** What was noted of a request. */
export function notedForAudit(response: Response): AuditDetails | null {
  return (response.locals as { audit?: AuditDetails }).audit ?? null;
}
