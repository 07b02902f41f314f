import {
  MS_PER_DAY,
  isoInstant,
  isoWall,
  readWall,
  wallMs,
  type Edge,
  type EpochMs,
  type WallMs,
  type Zone,
} from "../calendar/index.js";
import { notice, type Notice } from "../faults/index.js";

/**
 * The edge at a wall-clock time. A day begins at the first moment of it, so that days lie side by
 * side. At a time of day that happens twice a start takes the earlier and an end the later one;
 * at one that never happens it is the moment of the change. Each is reported by a notice
 * (`edge.repeated`, `edge.skipped`).
 */
export function edgeAt(
  wall: WallMs,
  zone: Zone,
  taken: "earlier" | "later",
  tell: (notice: Notice) => void,
): Edge {
  const found = readWall(zone, wall);
  if (found.kind === "once") return { wall, instant: found.instant };
  const isMidnight = wall % MS_PER_DAY === 0;
  if (found.kind === "twice") {
    if (isMidnight) return { wall, instant: found.earlier };
    tell(notice("edge.repeated", { wall: isoWall(wall), zone: zone.id, taken }));
    return { wall, instant: found[taken] };
  }
  if (!isMidnight) {
    const instant = isoInstant(found.change);
    tell(notice("edge.skipped", { wall: isoWall(wall), zone: zone.id, instant }));
  }
  return { wall, instant: found.change };
}

/** The first moment of a day, counted from 1970-01-01, in a zone. */
export function firstMoment(day: number, zone: Zone): EpochMs {
  return edgeAt(wallMs(day * MS_PER_DAY), zone, "earlier", () => undefined).instant;
}
