import { epochMs, type Span, type Zone } from "../calendar/index.js";
import type { Notice } from "../faults/index.js";
import type { WrittenDate } from "../reading/index.js";
import { resolvePart } from "./resolve.js";

/** A span, and the notices about its edges. */
export interface ResolvedSpan {
  readonly span: Span;
  readonly notices: readonly Notice[];
}

/**
 * The span that a written date covers in a zone, with both faces of its edges.
 *
 * Where an edge falls on a wall-clock time that happens twice or never, see `resolveWindow`.
 */
export function resolveSpan(written: WrittenDate, zone: Zone): ResolvedSpan {
  const part = { base: { kind: "written", written } as const, shifts: [], text: written.canonical };
  // A written date is the same whenever it is requested.
  const resolved = resolvePart(part, { asOf: epochMs(0), zone });
  if (!resolved.ok || resolved.value.span === null) {
    throw new Error(`${written.canonical} has no span`);
  }
  return { span: resolved.value.span, notices: resolved.value.notices };
}
