import type { DeliveryTime } from "@orisma/contract";
import { epochMs, readGiven, resolvePart, type WindowContext } from "@orisma/core/internal";

/** Milliseconds after which a delivery that failed is tried again, the first time and so on. */
const RETRY_MS = [60_000, 300_000, 1_800_000, 7_200_000, 21_600_000, 86_400_000] as const;

/** Milliseconds until the next attempt after so many; null where that was the last. */
export function retryAfterMs(attempts: number): number | null {
  return RETRY_MS[attempts - 1] ?? null;
}

/** The next time at which a unit of time is so old, after an instant; on the clock of the zone. */
export function nextTime(
  unit: Exclude<DeliveryTime, "records" | "window">,
  at: string | null,
  context: WindowContext,
): number {
  for (const part of [unit, `${unit}+1`, `${unit}+2`]) {
    const start = startOf(part, context);
    const found = at === null || unit === "hour" ? start.instant : timeOn(start.wall, at, context);
    if (found > context.asOf) return found;
  }
  throw new Error(`no ${unit} begins after ${new Date(context.asOf).toISOString()}`);
}

function timeOn(wall: number, at: string, context: WindowContext): number {
  const day = new Date(wall).toISOString().slice(0, 10);
  return startOf(`${day}T${at}`, context).instant;
}

function startOf(text: string, context: WindowContext): { instant: number; wall: number } {
  const given = readGiven(text, { parameter: "at", type: "datetime" });
  if (!given.ok || given.value.kind !== "part") throw new Error(`${text} is no part of a window`);
  const resolved = resolvePart(given.value.part, context);
  if (!resolved.ok || resolved.value.span === null) throw new Error(`${text} covers nothing`);
  const { instant, wall } = resolved.value.span.start;
  return { instant: epochMs(instant), wall };
}
