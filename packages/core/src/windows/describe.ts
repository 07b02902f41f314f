import {
  MS_PER_DAY,
  dayOf,
  longDay,
  longWall,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import { recurringInWords } from "./recurring-words.js";
import type { ResolvedWindow } from "./resolve.js";

/** Stretches that a sentence names one by one. */
const MOST_NAMED = 3;

/** A resolved window in words, with its zone: from its first day to the end of its last. */
export function windowInWords(
  resolved: ResolvedWindow,
  zone: Zone,
  label: string | null = null,
): string {
  const named = label === null ? "" : `, ${label}`;
  return `${stretchesInWords(resolved)}${named}, ${zone.id}`;
}

/** The stretches of a window in words, of many only the first. */
export function stretchesInWords({
  intervals,
  recurring,
  truncated = false,
}: Pick<ResolvedWindow, "intervals" | "recurring"> & { readonly truncated?: boolean }): string {
  const open = recurring.map(
    ({ interval, recurring: rules }) => `${recurringInWords(rules)}, ${intervalInWords(interval)}`,
  );
  const named = intervals.slice(0, MOST_NAMED).map(intervalInWords);
  const left = intervals.length - named.length;
  const rest =
    left > 0
      ? [`${left}${truncated ? " or more" : ""} more ${left === 1 ? "stretch" : "stretches"}`]
      : [];
  return [...open, ...named, ...rest].join("; ") || "nothing";
}

/** `from 1 August 2019 to the end of 31 January 2020`. */
export function intervalInWords({ start, end }: Interval): string {
  if (start === null && end === null) return "all dates";
  if (start !== null && end !== null && isOneDay(start.wall, end.wall)) {
    return `on ${longDay(dayOf(start.wall))}`;
  }
  const from = start === null ? "" : `from ${startWords(start.wall)}`;
  const to = end === null ? "on" : endWords(end.wall);
  return start === null ? `up to ${to}` : end === null ? `${from} ${to}` : `${from} to ${to}`;
}

/** An edge as the start of a stretch, or as the end of one that has all before it. */
export function edgeInWords(wall: Wall, side: "start" | "end"): string {
  return side === "start" ? startWords(wall) : endWords(wall);
}

type Wall = NonNullable<Interval["start"]>["wall"];

function isOneDay(start: Wall, end: Wall): boolean {
  return start % MS_PER_DAY === 0 && end - start === MS_PER_DAY;
}

function startWords(wall: Wall): string {
  return wall % MS_PER_DAY === 0 ? longDay(dayOf(wall)) : longWall(wall);
}

function endWords(wall: Wall): string {
  return wall % MS_PER_DAY === 0
    ? `the end of ${longDay(dayOf(wall) - 1)}`
    : `before ${longWall(wall)}`;
}
