import { MS_PER_DAY, isoDay, monthName } from "@orisma/core/internal";
import type { KeyboardEvent, MouseEvent } from "react";
import type { Covered, YearFound } from "./year.worker.js";

const HEIGHT = 220;
/** Days beside what is covered, so that an open end is seen to go on. */
const MARGIN_DAYS = 20;
/** Days by which keys move the as-of day. */
const STEPS: Readonly<Record<string, number>> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageDown: -30,
  PageUp: 30,
  Home: -366,
  End: 366,
};

/**
 * The as-of days from left to right, and upwards the time that the window covers on each;
 * a line rises through it where the as-of day itself is.
 */
export function YearPicture(props: {
  readonly found: YearFound;
  /** The as-of day, which may be of another year. */
  readonly asOfDay: string;
  readonly onDay: (day: string) => void;
}) {
  const { found, asOfDay: requested, onDay } = props;
  const { spans: intervals, covered } = found;
  const first = wallOf(intervals[0]?.first ?? "");
  const width = wallOf(intervals.at(-1)?.last ?? "") + 1 - first;
  const [low, high] = domainOf(covered, first, first + width);
  const pick = (event: MouseEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    const place = Math.floor(((event.clientX - box.left) / box.width) * width);
    onDay(isoDay(first + Math.min(Math.max(place, 0), width - 1)));
  };
  const at = Math.min(Math.max(wallOf(requested) - first, 0), width - 1);
  const byKey = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (step === undefined) return;
    event.preventDefault();
    onDay(isoDay(first + Math.min(Math.max(at + step, 0), width - 1)));
  };
  const faults = intervals.filter(
    ({ since, intervals }) => since === "gap" || intervals.length === 0,
  );
  return (
    <figure className="max-w-3xl" dir="ltr">
      <div className="flex gap-2">
        <p className="flex w-24 shrink-0 flex-col justify-between text-end text-sm tabular-nums">
          <span>{isoDay(Math.floor(high))}</span>
          <span className="opacity-80">covered</span>
          <span>{isoDay(Math.floor(low))}</span>
        </p>
        <div
          role="slider"
          tabIndex={0}
          aria-label="As-of day"
          aria-valuemin={1}
          aria-valuemax={width}
          aria-valuenow={at + 1}
          aria-valuetext={isoDay(first + at)}
          className="min-w-0 flex-1 cursor-pointer"
          onClick={pick}
          onKeyDown={byKey}
        >
          <Picture
            found={found}
            faults={faults}
            scale={{ first, width, low, high }}
            asOfDay={requested}
          />
        </div>
      </div>
      <p aria-hidden className="ms-26 flex text-xs opacity-80">
        {Array.from({ length: 12 }, (_, month) => (
          <span key={month} className="min-w-0 flex-1 overflow-hidden">
            {monthName(month + 1).slice(0, 3)}
          </span>
        ))}
      </p>
      <figcaption className="ms-26 mt-1 text-sm opacity-80">
        The as-of days run from left to right, and the time covered on each day upwards; the
        slanting line is the as-of day itself.
        {faults.length === 0
          ? ""
          : " Marks at the top are gaps, or days on which the window is empty."}{" "}
        Click a day, or use the arrow keys.
      </figcaption>
    </figure>
  );
}

/** What the picture lies between: its first day and its days, and the first and last days covered. */
interface Scale {
  readonly first: number;
  readonly width: number;
  readonly low: number;
  readonly high: number;
}

function Picture(props: {
  readonly found: YearFound;
  readonly faults: YearFound["spans"];
  readonly scale: Scale;
  readonly asOfDay: string;
}) {
  const { found, faults, scale, asOfDay: requested } = props;
  const { first, width, low, high } = scale;
  const y = (at: number) => HEIGHT - ((at - low) / (high - low)) * HEIGHT;
  const boxes = found.covered.map((each) => {
    const top = y(each.end === null ? high : wallOf(each.end));
    const bottom = y(each.start === null ? low : wallOf(each.start));
    return box(each, first, top, Math.max(bottom - top, 0.8));
  });
  const at = wallOf(requested) - first;
  return (
    <svg
      aria-hidden
      viewBox={`0 0 ${width} ${HEIGHT}`}
      preserveAspectRatio="none"
      className="block h-56 w-full border-s border-b border-primary bg-base-200"
    >
      <path d={boxes.join("")} className="fill-secondary" />
      <path
        d={faults
          .map((interval) => box({ ...interval, last: interval.first }, first, 0, 8))
          .join("")}
        className="fill-error"
      />
      <line
        x1={0}
        x2={width}
        y1={y(first)}
        y2={y(first + width)}
        className="stroke-accent"
        strokeWidth={2}
        vectorEffect="non-scaling-stroke"
      />
      {at >= 0 && at < width ? (
        <line
          x1={at + 0.5}
          x2={at + 0.5}
          y1={0}
          y2={HEIGHT}
          className="stroke-base-content"
          strokeDasharray="4 3"
          vectorEffect="non-scaling-stroke"
        />
      ) : null}
    </svg>
  );
}

/** A box over the days of an interval, as a part of a path. */
function box(
  { first, last }: Pick<Covered, "first" | "last">,
  from: number,
  top: number,
  height: number,
): string {
  const [left, right] = [wallOf(first) - from, wallOf(last) + 1 - from];
  return `M${left} ${top.toFixed(2)}H${right}v${height.toFixed(2)}H${left}Z`;
}

/** The first and last day that the picture has, counted from 1970-01-01. */
function domainOf(
  covered: readonly Covered[],
  first: number,
  last: number,
): readonly [number, number] {
  let [low, high] = [first, last];
  for (const text of covered.flatMap(({ start, end }) => [start, end])) {
    if (text === null) continue;
    low = Math.min(low, wallOf(text));
    high = Math.max(high, wallOf(text));
  }
  return [low - MARGIN_DAYS, high + MARGIN_DAYS];
}

/** A day, or a wall clock, as it is written, in days from 1970-01-01. */
function wallOf(text: string): number {
  return Date.parse(text.includes("T") ? `${text}Z` : `${text}T00:00:00Z`) / MS_PER_DAY;
}
