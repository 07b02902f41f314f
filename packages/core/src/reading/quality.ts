import {
  FIRST_YEAR,
  LAST_YEAR,
  MS_PER_DAY,
  civilDay,
  dayNumber,
  isoDay,
  weekday,
} from "../calendar/index.js";
import { failure, success, type Result } from "../faults/index.js";
import { dateText } from "./answers.js";
import { compileReading, type Reading } from "./reading.js";
import type { ValueCount } from "./column-values.js";

/** An interval of time of a {@link DateQuality}'s timeline, and the cells that lie in it. */
export interface TimeBucket {
  /** `2024`, `2024-03` or `2024-03-05` (ISO 8601). */
  readonly start: string;
  readonly count: number;
}

/** Cells that stand out, with some of their values. */
export interface Conspicuous {
  readonly count: number;
  readonly examples: readonly string[];
}

/** What the cells of a column come to under a reading; counts are of cells. */
export interface DateQuality {
  readonly dated: number;
  readonly blank: number;
  readonly unreadable: number;
  /** Different days, and the first and the last date in the standard form of the kind. */
  readonly days: number;
  readonly earliest: string | null;
  readonly latest: string | null;
  /** From Monday on, and from January on. */
  readonly weekdays: readonly number[];
  readonly months: readonly number[];
  /** Over the plausible years, every bucket of it, empty ones too; see {@link PLAUSIBLE_YEARS}. */
  readonly timeline: {
    readonly unit: "day" | "month" | "year";
    readonly buckets: readonly TimeBucket[];
  };
  /** The longest intervals of days without a date, between two days that have one. */
  readonly gaps: readonly {
    readonly after: string;
    readonly before: string;
    readonly days: number;
  }[];
  /** Dates before the plausible years, and after them. */
  readonly farPast: Conspicuous;
  readonly farFuture: Conspicuous;
  /** Strings that say their UTC offset, and that do not. */
  readonly offsets: { readonly with: number; readonly without: number };
  /** Cells that are not dates, the most frequent strings first. */
  readonly unreadables: readonly { readonly value: string; readonly count: number }[];
}

/** Years before and after the as-of day beyond which a date is conspicuous. */
export const PLAUSIBLE_YEARS = { before: 200, after: 10 } as const;

/** The finest unit of which a timeline has at most so many buckets is taken. */
const MAX_BUCKETS = { day: 62, month: 120 } as const;
const MAX_GAPS = 5;
/** A weekend is no gap. */
const LEAST_GAP_DAYS = 3;
const MAX_EXAMPLES = 5;
const MAX_UNREADABLE = 20;
/** An offset follows a time: the end of `2025-08-14` is none. */
const OFFSET =
  /(?:T\d{2}|T\d{4,6}(?:[.,]\d+)?|\d:\d{2}(?::\d{2}(?:[.,]\d+)?)?) ?(?:Z|[+-]\d{2}(?::?\d{2})?|GMT|UTC)$/i;

/**
 * Looks at the cells of a column under a reading: what they come to, how they lie in time, and
 * what is conspicuous. `today` is the as-of day, counted from 1970-01-01.
 *
 * Instants are counted by their day in universal time. Fails with the faults of the reading.
 */
export function dateQuality(
  values: readonly ValueCount[],
  reading: Reading,
  today: number,
): Result<DateQuality> {
  const compiled = compileReading(reading);
  if (!compiled.ok) return failure(...compiled.faults);
  const plausible = plausibleDays(today);
  const counts = { dated: 0, blank: 0, unreadable: 0 };
  const offsets = { with: 0, without: 0 };
  const unreadables: { value: string; count: number }[] = [];
  const [past, future] = [new Examples(), new Examples()];
  const perDay = new Map<number, number>();
  let [earliest, latest] = [Infinity, -Infinity];
  for (const { value, count } of values) {
    const cell = compiled.value.read(value);
    counts[cell.state] += count;
    if (cell.state === "unreadable") unreadables.push({ value: String(value), count });
    if (cell.state !== "dated") continue;
    const day = Math.floor(cell.ms / MS_PER_DAY);
    perDay.set(day, (perDay.get(day) ?? 0) + count);
    earliest = Math.min(earliest, cell.ms);
    latest = Math.max(latest, cell.ms);
    offsets[typeof value === "string" && OFFSET.test(value.trim()) ? "with" : "without"] += count;
    if (day < plausible.from) past.add(String(value), count);
    else if (day >= plausible.to) future.add(String(value), count);
  }
  const days = [...perDay].sort(([a], [b]) => a - b);
  const inside = days.filter(([day]) => day >= plausible.from && day < plausible.to);
  const text = (ms: number) => (counts.dated === 0 ? null : dateText(ms, reading.kind));
  return success({
    ...counts,
    days: perDay.size,
    earliest: text(earliest),
    latest: text(latest),
    weekdays: spread(days, 7, (day) => weekday(day) - 1),
    months: spread(days, 12, (day) => civilDay(day).month - 1),
    timeline: timelineOf(inside),
    gaps: gapsOf(inside),
    farPast: past.found(),
    farFuture: future.found(),
    offsets,
    unreadables: unreadables.sort((a, b) => b.count - a.count).slice(0, MAX_UNREADABLE),
  });
}

type DayCount = readonly [day: number, count: number];

class Examples {
  #count = 0;
  readonly #examples: string[] = [];

  add(value: string, count: number): void {
    this.#count += count;
    if (this.#examples.length < MAX_EXAMPLES) this.#examples.push(value);
  }

  found(): Conspicuous {
    return { count: this.#count, examples: this.#examples };
  }
}

function plausibleDays(today: number) {
  const { year } = civilDay(today);
  return {
    from: dayNumber(Math.max(FIRST_YEAR, year - PLAUSIBLE_YEARS.before), 1, 1),
    to: dayNumber(Math.min(LAST_YEAR, year + PLAUSIBLE_YEARS.after + 1), 1, 1),
  };
}

function spread(
  days: readonly DayCount[],
  size: number,
  placeOf: (day: number) => number,
): readonly number[] {
  const counts = new Array<number>(size).fill(0);
  for (const [day, count] of days) {
    const place = placeOf(day);
    counts[place] = (counts[place] ?? 0) + count;
  }
  return counts;
}

function timelineOf(days: readonly DayCount[]): DateQuality["timeline"] {
  const [first, last] = [days[0]?.[0], days.at(-1)?.[0]];
  if (first === undefined || last === undefined) return { unit: "year", buckets: [] };
  const [from, to] = [civilDay(first), civilDay(last)];
  const months = (to.year - from.year) * 12 + to.month - from.month + 1;
  const unit =
    last - first < MAX_BUCKETS.day ? "day" : months <= MAX_BUCKETS.month ? "month" : "year";
  const nameOf = (day: number) => isoDay(day).slice(0, { day: 10, month: 7, year: 4 }[unit]);
  const counts = new Map<string, number>();
  const size = { day: last - first + 1, month: months, year: to.year - from.year + 1 }[unit];
  for (let index = 0; index < size; index++) {
    const start = {
      day: first + index,
      month: dayNumber(from.year, from.month + index, 1),
      year: dayNumber(from.year + index, 1, 1),
    }[unit];
    counts.set(nameOf(start), 0);
  }
  for (const [day, count] of days) {
    const name = nameOf(day);
    counts.set(name, (counts.get(name) ?? 0) + count);
  }
  return { unit, buckets: [...counts].map(([start, count]) => ({ start, count })) };
}

function gapsOf(days: readonly DayCount[]): DateQuality["gaps"] {
  return days
    .slice(1)
    .map(([before], index) => {
      const after = days[index]?.[0] ?? before;
      return { after, before, days: before - after - 1 };
    })
    .filter((gap) => gap.days >= LEAST_GAP_DAYS)
    .sort((a, b) => b.days - a.days || a.after - b.after)
    .slice(0, MAX_GAPS)
    .map((gap) => ({ after: isoDay(gap.after), before: isoDay(gap.before), days: gap.days }));
}
