import { epochMs, findZone, isoWall, wallAt } from "@orisma/core";

/** The zone of whoever reads the page. */
export const OWN_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The wall clock of a zone at an instant; null where there is none. */
export function inZone(instant: string | null, id: string): string | null {
  const zone = findZone(id);
  if (instant === null || !zone.ok) return null;
  return isoWall(wallAt(zone.value, epochMs(Date.parse(instant))));
}
