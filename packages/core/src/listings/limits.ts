import { fault, type Fault, type Result } from "../faults/index.js";
import type { Interval, Zone } from "../calendar/index.js";
import {
  endInWords,
  intervalInWords,
  isLonger,
  readLength,
  readOneDate,
  resolvePart,
  wallInWords,
  type ClosedInterval,
  type WindowContext,
} from "../windows/index.js";
import type { ParameterLimits } from "./declaration.js";

/** Every fault of the limits themselves, with the path of each in them. */
export function limitFaults(limits: ParameterLimits): readonly Fault[] {
  const { earliest, latest, longest } = limits;
  const of = (name: string, text: string | undefined, read: (text: string) => Result<unknown>) => {
    const found = text === undefined ? null : read(text);
    if (found === null || found.ok) return [];
    return found.faults.map((each) => ({ ...each, path: name, value: text ?? "" }));
  };
  return [
    ...of("earliest", earliest, (text) => readOneDate(text, "earliest")),
    ...of("latest", latest, (text) => readOneDate(text, "latest")),
    ...of("longest", longest, readLength),
  ];
}

/**
 * The faults of intervals that go beyond what may be requested: an end before the earliest or
 * after the latest date (`window.outOfLimits`), and an interval that is longer than the longest
 * (`window.longerThan`) or has no length, being open (`window.openEnd`).
 */
export function beyondLimits(
  { earliest, latest, longest }: ParameterLimits,
  intervals: readonly Interval[],
  context: WindowContext,
): Fault | null {
  const first = spanOf(earliest, context)?.start.wall ?? -Infinity;
  const last = spanOf(latest, context)?.end.wall ?? Infinity;
  const limits = { earliest: earliest ?? null, latest: latest ?? null };
  for (const { start, end } of intervals) {
    if (start !== null && start.wall < first) {
      return fault("window.outOfLimits", { text: wallInWords(start.wall), ...limits });
    }
    if (end !== null && end.wall > last) {
      return fault("window.outOfLimits", { text: endInWords(end.wall), ...limits });
    }
  }
  return longest === undefined ? null : longerThan(longest, intervals, context.zone);
}

function longerThan(longest: string, intervals: readonly Interval[], zone: Zone): Fault | null {
  const length = readLength(longest);
  if (!length.ok) return null;
  let whole: ClosedInterval | null = null;
  for (const { start, end } of intervals) {
    if (start === null || end === null) return fault("window.openEnd", { longest });
    whole = {
      start: whole === null || start.instant < whole.start.instant ? start : whole.start,
      end: whole === null || end.instant > whole.end.instant ? end : whole.end,
    };
  }
  if (whole === null) return null;
  return isLonger(whole, length.value, zone)
    ? fault("window.longerThan", { text: intervalInWords(whole), longest })
    : null;
}

function spanOf(text: string | undefined, context: WindowContext) {
  const read = text === undefined ? null : readOneDate(text, "limit");
  if (read?.ok !== true) return null;
  const resolved = resolvePart(read.value.part, context);
  return resolved.ok ? resolved.value.span : null;
}
