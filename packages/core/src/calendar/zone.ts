import { failure, fault, success, type Result } from "../faults/index.js";
import { dayNumber, daysInYear, weekday } from "./days.js";
import { MS_PER_DAY, MS_PER_SECOND, epochMs, wallMs, type EpochMs, type WallMs } from "./time.js";

/**
 * A time zone of the IANA database, with its changes of offset in a table.
 *
 * The table is filled a calendar year at a time, when the year is first requested; the rules
 * are those of the runtime's own copy of the database.
 */
export interface Zone {
  /** The name as it was requested, in the database's letter case. */
  readonly id: string;
  /** Milliseconds by which the zone's clocks are ahead of UTC at a point in time. */
  offsetAt(instant: EpochMs): number;
  /** The changes of the offset within a calendar year of UTC. */
  changesIn(year: number): YearOfChanges;
}

/** A change of a zone's offset. */
export interface OffsetChange {
  /** The first instant with the new offset. */
  readonly at: EpochMs;
  /** Milliseconds ahead of UTC from then on. */
  readonly offset: number;
}

/** The offset at the beginning of a calendar year of UTC, and its changes in order. */
export interface YearOfChanges {
  readonly offset: number;
  readonly changes: readonly OffsetChange[];
}

/** What a wall-clock time names in a zone. */
export type WallReading =
  | { readonly kind: "once"; readonly instant: EpochMs }
  /** The clocks were put back over it: it happens twice. */
  | { readonly kind: "twice"; readonly earlier: EpochMs; readonly later: EpochMs }
  /** The clocks were put forward over it: it never happens. `change` is the moment of the jump. */
  | { readonly kind: "never"; readonly change: EpochMs };

/** Years of one zone that are held at a time; a year takes well under a kilobyte. */
const MAX_YEARS_HELD = 1_200;
/** Zones that are held at a time; the database has about 600 names. */
const MAX_ZONES_HELD = 700;
/** No zone's clocks were ever moved further than this at one time (24 hours, in Samoa). */
const FURTHEST_JUMP_MS = 2 * MS_PER_DAY;

/**
 * Before this year no clock's offset was ever changed: the first change of the database is that
 * of Manila at the end of 1844.
 */
export const FIRST_YEAR_OF_CHANGES = 1_840;
/**
 * From this year on the database has rules only, such as "the last Sunday in March", and no
 * single dates: years of one length that begin on the same weekday are alike.
 */
export const FIRST_YEAR_OF_RULES = 2_100;
/** The two changes that lie closest together are a week apart (Recife, October 2000). */
const PROBE_MS = 5 * MS_PER_DAY;

const zones = new Map<string, Zone>();

/**
 * Finds a zone by its IANA name, in any letter case.
 *
 * Fails with `zone.unknown`. Bare offsets such as `+01:00` are refused: they are not zones.
 *
 * @example findZone("Europe/London")
 */
export function findZone(id: string): Result<Zone> {
  const known = zones.get(id);
  if (known !== undefined) return success(known);
  const format = zoneFormat(id);
  if (format === null) return failure(fault("zone.unknown", { zone: id }, { value: id }));
  const zone = new TabledZone(canonicalCase(id, format), format);
  if (zones.size >= MAX_ZONES_HELD) zones.clear();
  zones.set(id, zone);
  return success(zone);
}

/** Universal time, which is always known. */
export const UTC: Zone = {
  id: "UTC",
  offsetAt: () => 0,
  changesIn: () => ({ offset: 0, changes: [] }),
};

/** Whether the name of a zone is one of those of universal time. */
export function isUtc(id: string): boolean {
  return /^(?:etc\/)?(?:utc|uct|zulu|universal)$/i.test(id);
}

/** The wall-clock time that a zone's clocks show at a point in time. */
export function wallAt(zone: Zone, instant: EpochMs): WallMs {
  return wallMs(instant + zone.offsetAt(instant));
}

/** The point or points in time at which a zone's clocks show a wall-clock time. */
export function readWall(zone: Zone, wall: WallMs): WallReading {
  const before = zone.offsetAt(epochMs(wall - FURTHEST_JUMP_MS));
  const after = zone.offsetAt(epochMs(wall + FURTHEST_JUMP_MS));
  if (before === after) {
    const instant = epochMs(wall - before);
    if (zone.offsetAt(instant) === before) return { kind: "once", instant };
  }
  const found = [...new Set([before, after])]
    .map((offset) => epochMs(wall - offset))
    .filter((instant) => wallAt(zone, instant) === wall)
    .sort((a, b) => a - b);
  const [earlier, later] = found;
  if (earlier === undefined) return { kind: "never", change: changeNear(zone, wall) };
  return later === undefined
    ? { kind: "once", instant: earlier }
    : { kind: "twice", earlier, later };
}

/** The instant that a wall-clock time names first; null where the clocks never show it. */
export function firstInstant(zone: Zone, wall: WallMs): EpochMs | null {
  const found = readWall(zone, wall);
  if (found.kind === "never") return null;
  return found.kind === "once" ? found.instant : found.earlier;
}

/** The least wall-clock time that is shown first at an instant, or later. */
export function leastWall(zone: Zone, instant: EpochMs): WallMs {
  const wall = wallAt(zone, instant);
  const found = readWall(zone, wall);
  if (found.kind !== "twice" || found.later !== instant) return wall;
  const change = lastChange(zone, instant);
  return wallMs(change + wall - found.earlier);
}

/** When a zone's clocks are at a wall-clock time or beyond it. */
export interface InstantsFrom {
  /** From this instant on. */
  readonly first: EpochMs;
  /** But for the time for which they were put back before it. */
  readonly except: { readonly from: EpochMs; readonly to: EpochMs } | null;
}

/** The instants at which a zone's clocks show a wall-clock time or a later one. */
export function instantsFrom(zone: Zone, wall: WallMs): InstantsFrom {
  const found = readWall(zone, wall);
  if (found.kind === "never") return { first: found.change, except: null };
  if (found.kind === "once") return { first: found.instant, except: null };
  const { earlier, later } = found;
  return { first: earlier, except: { from: lastChange(zone, later), to: later } };
}

/** The last change of a zone's offset at an instant or before. */
function lastChange(zone: Zone, instant: EpochMs): EpochMs {
  for (let year = new Date(instant).getUTCFullYear(); year >= FIRST_YEAR_OF_CHANGES; year--) {
    const last = zone.changesIn(year).changes.findLast(({ at }) => at <= instant);
    if (last !== undefined) return last.at;
  }
  throw new Error(`the clocks of ${zone.id} were never changed before ${instant}`);
}

/** The first moment from which the clocks show this wall-clock time or a later one. */
function changeNear(zone: Zone, wall: WallMs): EpochMs {
  let low = wall - FURTHEST_JUMP_MS;
  let high = wall + FURTHEST_JUMP_MS;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (wallAt(zone, epochMs(middle)) >= wall) high = middle;
    else low = middle;
  }
  return epochMs(high);
}

class TabledZone implements Zone {
  readonly #years = new Map<number, YearOfChanges>();
  /** The interval without a change, within a year, that was requested last. */
  #from = 0;
  #to = 0;
  #offset = 0;

  constructor(
    readonly id: string,
    private readonly format: Intl.DateTimeFormat,
  ) {}

  offsetAt(instant: EpochMs): number {
    if (instant >= this.#from && instant < this.#to) return this.#offset;
    const year = new Date(instant).getUTCFullYear();
    const { offset, changes } = this.changesIn(year);
    let current = offset;
    let from = utcYearStart(year);
    let to = utcYearStart(year + 1);
    for (const change of changes) {
      if (change.at > instant) {
        to = change.at;
        break;
      }
      current = change.offset;
      from = change.at;
    }
    [this.#from, this.#to, this.#offset] = [from, to, current];
    return current;
  }

  changesIn(year: number): YearOfChanges {
    const held = this.#years.get(year);
    if (held !== undefined) return held;
    const transitions = this.#made(year);
    if (this.#years.size >= MAX_YEARS_HELD) this.#years.clear();
    this.#years.set(year, transitions);
    return transitions;
  }

  #made(year: number): YearOfChanges {
    if (year < FIRST_YEAR_OF_CHANGES) {
      return year === FIRST_YEAR_OF_CHANGES - 1
        ? { offset: this.#probe(utcYearStart(year)), changes: [] }
        : this.changesIn(FIRST_YEAR_OF_CHANGES - 1);
    }
    if (year < FIRST_YEAR_OF_RULES) return this.#changesOf(year);
    const like = yearLike(year);
    if (like === year) return this.#changesOf(year);
    const { offset, changes } = this.changesIn(like);
    const moved = utcYearStart(year) - utcYearStart(like);
    return {
      offset,
      changes: changes.map((change) => ({ ...change, at: epochMs(change.at + moved) })),
    };
  }

  #changesOf(year: number): YearOfChanges {
    const first = utcYearStart(year);
    const last = utcYearStart(year + 1);
    const changes: OffsetChange[] = [];
    const offset = this.#probe(first);
    let current = offset;
    for (let from = first; from < last; from += PROBE_MS) {
      const to = Math.min(from + PROBE_MS, last);
      const next = this.#probe(to);
      if (next === current) continue;
      const at = this.#bisect(from, to, current);
      if (at < last) changes.push({ at, offset: next });
      current = next;
    }
    return { offset, changes };
  }

  #bisect(low: number, high: number, offsetBefore: number): EpochMs {
    while (high - low > MS_PER_SECOND) {
      const middle = low + Math.floor((high - low) / (2 * MS_PER_SECOND)) * MS_PER_SECOND;
      if (this.#probe(middle) === offsetBefore) low = middle;
      else high = middle;
    }
    return epochMs(high);
  }

  #probe(instant: number): number {
    const shown = this.format.format(instant);
    const match = SHOWN.exec(shown);
    if (match === null) throw new Error(`unexpected date layout of the runtime: ${shown}`);
    const [, month, day, year, era, hours, minutes, seconds] = match;
    const civilYear = era === "B" ? 1 - Number(year) : Number(year);
    const time = (Number(hours) * 60 + Number(minutes)) * 60 + Number(seconds);
    const days = Date.UTC(civilYear + 400, Number(month) - 1, Number(day)) - YEARS_400_MS;
    return days + time * MS_PER_SECOND - Math.floor(instant / MS_PER_SECOND) * MS_PER_SECOND;
  }
}

const YEARS_400_MS = 146_097 * MS_PER_DAY;
const SHOWN = /^(\d+)\/(\d+)\/(\d+) ([AB]),? (\d+):(\d+):(\d+)$/;

/** The first year under rules alone that has the length and the first weekday of another. */
function yearLike(year: number): number {
  for (let like = FIRST_YEAR_OF_RULES; ; like++) {
    const hasLength = daysInYear(like) === daysInYear(year);
    if (hasLength && weekday(dayNumber(like, 1, 1)) === weekday(dayNumber(year, 1, 1))) return like;
  }
}

/** The instant at which a calendar year of UTC begins. */
export function utcYearStart(year: number): number {
  return Date.UTC(year + 400, 0, 1) - YEARS_400_MS;
}

function zoneFormat(id: string): Intl.DateTimeFormat | null {
  if (!/^[A-Za-z][A-Za-z0-9_+/-]{1,63}$/.test(id)) return null;
  try {
    return new Intl.DateTimeFormat("en-US", {
      timeZone: id,
      calendar: "gregory",
      numberingSystem: "latn",
      hourCycle: "h23",
      era: "narrow",
      year: "numeric",
      month: "numeric",
      day: "numeric",
      hour: "numeric",
      minute: "numeric",
      second: "numeric",
    });
  } catch {
    return null;
  }
}

/** The runtime may answer with an older alias; then the caller's own spelling is kept. */
function canonicalCase(id: string, format: Intl.DateTimeFormat): string {
  const resolved = format.resolvedOptions().timeZone;
  return resolved.toLowerCase() === id.toLowerCase() ? resolved : id;
}
