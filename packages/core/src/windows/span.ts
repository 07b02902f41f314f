import {
  epochMs,
  isoInstant,
  isoWall,
  readWall,
  wallAt,
  type Edge,
  type Span,
  type WallMs,
  type Zone,
} from "../calendar/index.js";
import { notice, type Notice } from "../faults/index.js";
import type { WrittenDate } from "../reading/index.js";

/** A span and what there is to tell about its edges. */
export interface ResolvedSpan {
  readonly span: Span;
  readonly notices: readonly Notice[];
}

/**
 * The span that a written date covers in a zone, with both faces of its edges.
 *
 * Where an edge falls on a wall-clock time that happens twice, the start takes the earlier
 * and the end the later one; where it never happens, the moment at which the clocks jump. Each
 * is told by a notice (`edge.repeated`, `edge.skipped`).
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
  const start = resolveEdge(written.start, zone, "earlier", notices);
  const end = resolveEdge(written.end, zone, "later", notices);
  return { span: { start, end }, notices };
}

function resolveEdge(
  wall: WallMs,
  zone: Zone,
  taken: "earlier" | "later",
  notices: Notice[],
): Edge {
  const found = readWall(zone, wall);
  if (found.kind === "once") return { wall, instant: found.instant };
  if (found.kind === "twice") {
    notices.push(notice("edge.repeated", { wall: isoWall(wall), zone: zone.id, taken }));
    return { wall, instant: found[taken] };
  }
  const instant = isoInstant(found.change);
  notices.push(notice("edge.skipped", { wall: isoWall(wall), zone: zone.id, instant }));
  return { wall, instant: found.change };
}
