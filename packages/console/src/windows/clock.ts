import {
  UTC,
  civilDay,
  dayOf,
  isoInstant,
  momentOf,
  readGiven,
  renderFault,
  resolvePart,
  wallAt,
  type CalendarSettings,
  type EpochMs,
  type RenderedFault,
  type WindowContext,
} from "@orisma/core/internal";

/** How the clock of the bench can be moved; by single keys too. */
export const STEPS = [
  { words: "a year earlier", key: "H", by: "-P1Y" },
  { words: "a month earlier", key: "h", by: "-P1M" },
  { words: "a day earlier", key: "k", by: "-P1D" },
  { words: "a day later", key: "j", by: "+P1D" },
  { words: "a month later", key: "l", by: "+P1M" },
  { words: "a year later", key: "L", by: "+P1Y" },
] as const;
export type Step = (typeof STEPS)[number];

/** The instant of the request, moved; itself where it cannot be. */
export function moved(context: WindowContext, { by }: Step): string {
  const given = readGiven(`now${by}`, { parameter: "asOf", type: "datetime" });
  const part = given.ok && given.value.kind === "part" ? given.value.part : null;
  const found = part === null ? null : resolvePart(part, context);
  const instant = found?.ok === true ? found.value.span?.start.instant : undefined;
  return isoInstant(instant ?? context.asOf);
}

/** The year of the as-of day. */
export function requestedYear({ asOf, zone }: WindowContext): number {
  return civilDay(dayOf(wallAt(zone, asOf))).year;
}

type ContextRead =
  | { readonly ok: true; readonly value: WindowContext }
  | { readonly ok: false; readonly faults: readonly RenderedFault[] };

export function contextOf(
  asOf: string,
  zone: string,
  calendar: CalendarSettings,
  now: EpochMs,
): ContextRead {
  const requested = new Map([
    ["asOf", [asOf]],
    ["zone", [zone]],
  ]);
  const found = momentOf(requested, ["asOf", "zone"], { asOf: now, zone: UTC });
  return found.ok
    ? { ok: true, value: { ...found.value, calendar } }
    : { ok: false, faults: found.faults.map(renderFault) };
}
