import {
  epochMs,
  wallAt,
  type Edge,
  type Span,
  type WallMs,
  type Zone,
} from "../calendar/index.js";
import type { Notice } from "../faults/index.js";
import type { WrittenDate } from "../reading/index.js";
import { edgeAt } from "./edge.js";

/** A span and what there is to tell about its edges. */
export interface ResolvedSpan {
  readonly span: Span;
  readonly notices: readonly Notice[];
}

/**
 * The span that a written date covers in a zone, with both faces of its edges.
 *
 * Where an edge falls on a wall-clock time that happens twice or never, see {@link edgeAt}.
 */
export function resolveSpan(written: WrittenDate, zone: Zone): ResolvedSpan {
  if (written.offset !== null) {
    const edge = (wall: WallMs): Edge => {
      const instant = epochMs(wall - (written.offset ?? 0));
      return { instant, wall: wallAt(zone, instant) };
    };
    return { span: { start: edge(written.start), end: edge(written.end) }, notices: [] };
  }
  const notices: Notice[] = [];
  const tell = (told: Notice) => notices.push(told);
  const start = edgeAt(written.start, zone, "earlier", tell);
  const end = edgeAt(written.end, zone, "later", tell);
  return { span: { start, end }, notices };
}
