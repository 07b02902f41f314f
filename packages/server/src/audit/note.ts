import type { AuditDetails } from "@orisma/contract";
import type { Response } from "express";

/** Adds to what the audit trail will say of a request; counts may be added while it is answered. */
export function noteForAudit(response: Response, details: AuditDetails): void {
  const locals = response.locals as { audit?: AuditDetails };
  locals.audit = { ...locals.audit, ...details };
}

/** Windows and masked parameters of a call that are kept at most. */
const MAX_BOUNDS = 20;

/** Adds the bounds of one of the requests that a call consists of to those of the others. */
export function noteBounds(
  response: Response,
  { windows = [], masked = [] }: Pick<AuditDetails, "windows" | "masked">,
): void {
  const before = notedForAudit(response);
  const all = {
    windows: distinct([...(before?.windows ?? []), ...windows]),
    masked: distinct([...(before?.masked ?? []), ...masked]),
  };
  noteForAudit(response, {
    ...(all.windows.length === 0 ? {} : { windows: all.windows }),
    ...(all.masked.length === 0 ? {} : { masked: all.masked }),
  });
}

/** A request that is planned again has the same bounds. */
function distinct<T>(values: readonly T[]): T[] {
  const found = new Map(values.map((each) => [JSON.stringify(each), each]));
  return [...found.values()].slice(0, MAX_BOUNDS);
}

/** What was noted of a request. */
export function notedForAudit(response: Response): AuditDetails | null {
  return (response.locals as { audit?: AuditDetails }).audit ?? null;
}
