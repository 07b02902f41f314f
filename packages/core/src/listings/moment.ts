import { findZone, type EpochMs, type Zone } from "../calendar/index.js";
import { failure, fault, withLocation, success, type Fault, type Result } from "../faults/index.js";
import { meantBy, readGiven, resolvePart, type WindowContext } from "../windows/index.js";
import type { MomentParameter } from "./declaration.js";
import type { SentParameters } from "./sent.js";

/** When and where a request is understood. */
export interface Moment {
  readonly asOf: EpochMs;
  readonly zone: Zone;
}

/**
 * The instant and the zone that a request names as `asOf` and `zone`, where it may; else those of
 * the context. A day or a time of day without an offset begins in the zone.
 *
 * Fails with `zone.unknown`, the faults of a written date, and `parameter.value` for a date that
 * moves with the clock.
 */
export function momentOf(
  sent: SentParameters,
  allowed: readonly MomentParameter[],
  context: WindowContext,
): Result<Moment> {
  const faults: Fault[] = [];
  const text = (name: MomentParameter) =>
    allowed.includes(name) ? ((sent.get(name) ?? []).at(-1)?.trim() ?? "") : "";
  let { zone, asOf } = context;
  if (text("zone") !== "") {
    const found = findZone(text("zone"));
    if (found.ok) zone = found.value;
    else faults.push(...found.faults.map((each) => withLocation(each, { parameter: "zone" })));
  }
  if (text("asOf") !== "") {
    const found = instantOf(text("asOf"), { ...context, zone });
    if (found.ok) asOf = found.value;
    else faults.push(...found.faults);
  }
  return faults.length > 0 ? failure(...faults) : success({ asOf, zone });
}

function instantOf(raw: string, context: WindowContext): Result<EpochMs> {
  const place = { parameter: "asOf", value: raw };
  const given = readGiven(raw, { parameter: "asOf", type: "datetime" });
  if (!given.ok) {
    // What moves with the clock cannot be meant.
    const written = meantBy(raw, "date", context).filter((each) => /^\d/.test(each));
    const meant = written.length === 0 ? {} : { meant: written };
    return failure(...given.faults.map((each) => withLocation(each, { ...place, ...meant })));
  }
  if (given.value.kind === "notGiven") return success(context.asOf);
  if (given.value.kind !== "part" || given.value.part.base.kind !== "written") {
    const accepted = "an instant such as 2026-11-25T09:00:00Z, or a day";
    return failure(fault("parameter.value", { accepted }, place));
  }
  const resolved = resolvePart(given.value.part, context);
  if (!resolved.ok) return failure(...resolved.faults.map((each) => withLocation(each, place)));
  return success(resolved.value.span?.start.instant ?? context.asOf);
}
