import { epochMs, findZone, isoWall, wallAt } from "@orisma/core/internal";

/** The zone of whoever reads the page. */
export const OWN_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The wall clock of a zone at an instant; null where there is none. */
export function inZone(instant: string | null, id: string): string | null {
  const zone = findZone(id);
  if (instant === null || !zone.ok) return null;
  return isoWall(wallAt(zone.value, epochMs(Date.parse(instant))));
}

/** A date of a record where a listing is: an instant on the clocks of its zone, any other as it is. */
export function localText(text: string, zone: string): string {
  return text.endsWith("Z") ? (inZone(text, zone) ?? text) : text;
}
