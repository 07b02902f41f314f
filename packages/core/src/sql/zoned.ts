import {
  END_MS,
  FIRST_MS,
  FIRST_YEAR_OF_RULES,
  MS_PER_DAY,
  dayOf,
  dayStart,
  epochMs,
  findZone,
  firstInstant,
  instantsFrom,
  isUtc,
  leastWall,
  offsetPieces,
  offsetYears,
  utcYearStart,
  wallAt,
  wallMs,
  type OffsetBy,
  type OffsetPiece,
  type Zone,
} from "../calendar/index.js";
import {
  compileReading,
  type CompiledReading,
  type DateKind,
  type Reading,
} from "../reading/index.js";
import type { EncodedDates } from "./attached-cells.js";
import { wholeDay } from "./attached-days.js";
import { byPointOfYear, stepInHalves, type Step } from "./clock-cases.js";
import {
  functionCall,
  joinConditions,
  numeral,
  sql,
  withConstants,
  workedOnce,
  type Fragment,
} from "./fragment.js";

type Bound = Fragment | "all" | "none";

/** After so long the calendar is the same again, weekdays included. */
const CYCLE_MS = 146_097 * MS_PER_DAY;

/** The zone of a reading; null where it has none, or that of UTC. */
export function clockZone({ zone }: Reading): Zone | null {
  if (zone === undefined || isUtc(zone)) return null;
  const found = findZone(zone);
  return found.ok ? found.value : null;
}

/** Dates that are stored as wall-clock times, under a reading. */
export function wallClockDates(
  reading: Reading,
  compiled: CompiledReading,
  encode: (as: CompiledReading) => EncodedDates,
): EncodedDates {
  const zone = clockZone(reading);
  // What is no point in time is of no zone.
  if (zone === null || compiled.kind !== "instant") return encode(compiled);
  return wallClockInstants(zone, encode(withoutZone(reading, "local")), compiled);
}

/** Dates that are stored as points in time, under a reading. */
export function instantDates(
  reading: Reading,
  compiled: CompiledReading,
  encode: (as: CompiledReading) => EncodedDates,
): EncodedDates {
  const zone = clockZone(reading);
  if (zone === null || compiled.kind === "instant") return encode(compiled);
  return instantsOnClock(zone, encode(withoutZone(reading, "instant")), compiled);
}

function withoutZone(
  { zone: _zone, sentinels: _sentinels, ...reading }: Reading,
  kind: DateKind,
): CompiledReading {
  const compiled = compileReading({ ...reading, kind });
  if (!compiled.ok) throw new Error(`a reading is none of the kind ${kind}`);
  return compiled.value;
}

/**
 * Wall-clock times of a zone as the points in time at which its clocks showed them first; times that its clocks left
 * out are no dates. The stored values are in the order of those, so that what an index does for them it does still.
 *
 * @param walls the encoding as it is without a zone, of the kind `local`.
 */
function wallClockInstants(
  zone: Zone,
  walls: EncodedDates,
  compiled: CompiledReading,
): EncodedDates {
  const { valid, millis } = walls;
  const bound = (of: "from" | "before", ms: number) => walls[of](leastWall(zone, epochMs(ms)));
  const offset = offsetOf(zone, "wall", { before: (ms) => walls.before(ms), millis });
  const [first, end] = wallsIn(zone);
  const within = [walls.from(first), walls.before(end)].filter(isTest);
  const isShown = joinConditions([valid, sql`${offset} IS NOT NULL`], sql` AND `, valid);
  return {
    ...walls,
    kind: compiled.kind,
    valid: joinConditions([...within, isShown], sql` AND `, isShown),
    from: (ms) => (ms <= FIRST_MS ? "all" : ms >= END_MS ? "none" : bound("from", ms)),
    before: (ms) => (ms <= FIRST_MS ? "none" : ms >= END_MS ? "all" : bound("before", ms)),
    beyond: {
      valid: isShown,
      from: (ms) => bound("from", ms),
      before: (ms) => bound("before", ms),
    },
    onDays: () => null,
    listsUpTo: 0,
    // Another column may be of another zone.
    scale: null,
    millis: sql`(${millis} - ${offset})`,
    msOf: (ordered) => {
      const wall = walls.msOf(ordered);
      return Number.isNaN(wall) ? NaN : (firstInstant(zone, wallMs(wall)) ?? NaN);
    },
    isDayTyped: false,
    isLong: true,
  };
}

/**
 * Points in time as the days or the wall-clock times of a zone. Days are in the order of the stored values unless the
 * zone's clocks were ever put back over a midnight.
 *
 * @param instants the encoding of the kind `instant`.
 */
function instantsOnClock(
  zone: Zone,
  instants: EncodedDates,
  { kind }: CompiledReading,
): EncodedDates {
  const { valid, millis } = instants;
  const isDay = kind === "date";
  const wallOf = (ms: number) => (isDay ? Math.ceil(ms / MS_PER_DAY) * MS_PER_DAY : ms);
  const bound = (ms: number, isFrom: boolean): Bound => {
    const wall = wallOf(ms);
    if (wall <= FIRST_MS) return isFrom ? "all" : "none";
    if (wall >= END_MS) return isFrom ? "none" : "all";
    const { first, except } = instantsFrom(zone, wallMs(wall));
    if (except === null) return isFrom ? instants.from(first) : instants.before(first);
    if (isFrom) {
      const outside = either([instants.before(except.from), instants.from(except.to)]);
      return both([instants.from(first), outside]);
    }
    const again = both([instants.from(except.from), instants.before(except.to)]);
    return either([instants.before(first), again]);
  };
  const [first, end] = calendarIn(zone);
  const within = [instants.from(first), instants.before(end)].filter(isTest);
  const offset = offsetOf(zone, "instant", { before: (ms) => instants.before(ms), millis });
  const wall = sql`(${millis} + ${offset})`;
  const isInOrder = isDay && !goesBackOverMidnight(zone);
  const onClock = (ms: number) => {
    if (Number.isNaN(ms)) return NaN;
    const shown = wallAt(zone, epochMs(ms));
    return isDay ? dayStart(dayOf(shown)) : shown;
  };
  const shown = isDay ? wholeDay(wall) : wall;
  return {
    ...instants,
    kind,
    valid: joinConditions([valid, ...within], sql` AND `, valid),
    from: (ms) => bound(ms, true),
    before: (ms) => bound(ms, false),
    onDays: () => null,
    listsUpTo: 0,
    scale: null,
    millis: shown,
    ...(isInOrder
      ? { msOf: (ordered: string | number) => onClock(instants.msOf(ordered)) }
      : { order: shown, keepsOrder: false, msOf: Number }),
    isDayTyped: false,
    isLong: true,
    isFiner: true,
  };
}

/**
 * A wall-clock time as a point in time, both in milliseconds; NULL for what is none within the calendar, or, where it
 * goes beyond, none at all.
 */
export function instantOfWall(zone: Zone, wall: Fragment, goesBeyond: boolean): Fragment {
  const [first, end] = wallsIn(zone);
  return workedOnce(wall, (ms) => {
    const instant = sql`${ms} - ${offsetOf(zone, "wall", plainBounds(ms))}`;
    if (goesBeyond) return instant;
    return sql`CASE WHEN ${ms} >= ${numeral(first)} AND ${ms} < ${numeral(end)} THEN ${instant} END`;
  });
}

/** A wall-clock time as it is; NULL for one that never happens. */
export function wallThatIs(zone: Zone, wall: Fragment): Fragment {
  return workedOnce(wall, (ms) => {
    return sql`CASE WHEN ${offsetOf(zone, "wall", plainBounds(ms))} IS NOT NULL THEN ${ms} END`;
  });
}

/** What the clocks of a zone show at a point in time, in milliseconds; NULL outside the calendar. */
export function wallOfInstant(zone: Zone, instant: Fragment): Fragment {
  const [first, end] = calendarIn(zone);
  return workedOnce(instant, (ms) => {
    const wall = sql`${ms} + ${offsetOf(zone, "instant", plainBounds(ms))}`;
    return sql`CASE WHEN ${ms} >= ${numeral(first)} AND ${ms} < ${numeral(end)} THEN ${wall} END`;
  });
}

function plainBounds(millis: Fragment): Dates {
  return { millis, before: (ms) => sql`${millis} < ${numeral(ms)}` };
}

/** The wall-clock times at which the calendar of points in time begins and ends. */
function wallsIn(zone: Zone): readonly [number, number] {
  return [leastWall(zone, epochMs(FIRST_MS)), leastWall(zone, epochMs(END_MS))];
}

/** The instants at which the calendar begins and ends on the clocks of a zone. */
function calendarIn(zone: Zone): readonly [number, number] {
  return [instantsFrom(zone, wallMs(FIRST_MS)).first, instantsFrom(zone, wallMs(END_MS)).first];
}

/** Dates by which an offset is found: instants, or wall-clock times. */
interface Dates {
  readonly millis: Fragment;
  before(ms: number): Bound;
}

/** The offset of a zone for a date, in milliseconds; NULL for a wall-clock time that never happens. */
function offsetOf(zone: Zone, by: OffsetBy, dates: Dates): Fragment {
  const steps = offsetPieces(zone, by).map(stepOf);
  const years = offsetYears(zone, by).map((year) => ({
    ...year,
    pieces: year.pieces.map(stepOf),
  }));
  // Of a year that is alike, since the calendar may end for a clock of UTC before it does for the zone's.
  const alike = functionCall("dateOfMillis", sql`(${dates.millis} - ${numeral(CYCLE_MS)})`);
  const offsets = new Set(years.flatMap(({ pieces }) => pieces.map(({ text }) => text)));
  const rules =
    offsets.size === 1 ? (years[0]?.pieces[0]?.found ?? sql`0`) : byPointOfYear(years, alike);
  const all = [...steps, { from: utcYearStart(FIRST_YEAR_OF_RULES), found: rules }];
  return sql`(${stepInHalves(all, (ms) => constant(dates.before(ms)))})`;
}

function stepOf({ from, offset }: OffsetPiece): Step & { readonly text: string } {
  const text = offset === null ? "NULL" : String(offset);
  return { from, text, found: { kind: "text", text } };
}

/** Whether a zone's clocks were ever put back from one day into the one before. */
function goesBackOverMidnight(zone: Zone): boolean {
  const changes = offsetPieces(zone, "instant");
  const years = offsetYears(zone, "instant").map(({ pieces }) => pieces);
  return [changes, ...years].some((pieces) =>
    pieces.some(({ from, offset }, index) => {
      const last = pieces[index - 1]?.offset ?? null;
      if (last === null || offset === null) return false;
      return Math.floor((from + offset) / MS_PER_DAY) < Math.floor((from + last - 1) / MS_PER_DAY);
    }),
  );
}

/** A zone has hundreds of steps, and a statement binds so many values at most. */
function constant(bound: Bound): Bound {
  return isTest(bound) ? withConstants(bound) : bound;
}

function isTest(bound: Bound): bound is Fragment {
  return typeof bound !== "string";
}

function both(bounds: readonly Bound[]): Bound {
  if (bounds.includes("none")) return "none";
  const tests = bounds.filter(isTest);
  return tests.length === 0 ? "all" : joinConditions(tests, sql` AND `, sql`1 = 1`);
}

function either(bounds: readonly Bound[]): Bound {
  if (bounds.includes("all")) return "all";
  const tests = bounds.filter(isTest);
  return tests.length === 0 ? "none" : joinConditions(tests, sql` OR `, sql`1 = 0`);
}
