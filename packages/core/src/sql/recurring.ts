import {
  END_MS,
  FIRST_MS,
  FIRST_YEAR_OF_RULES,
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_SECOND,
  clockPieces,
  clockYears,
  epochMs,
  utcYearStart,
  wallMs,
  type ClockPiece,
  type Edge,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import { zoneOf, type RecurringSpan } from "../filters/index.js";
import type { NumberSpan, Recurring, WeekRules, WeekdaySpan } from "../windows/index.js";
import type { StoredDates } from "./cells.js";
import { byKindOfYear, leapYear, stepInHalves, type Step } from "./clock-cases.js";
import {
  dateField,
  functionCall,
  joined,
  numeral,
  sql,
  joinConditions,
  valueOf,
  workedOnce,
  type Fragment,
} from "./fragment.js";

const NOTHING = sql`1 = 0`;
const ANYTHING = sql`1 = 1`;

/** After so many years the calendar is the same again, weekdays included. */
const CYCLE_YEARS = 400;
const CYCLE_SECONDS = (146_097 * MS_PER_DAY) / MS_PER_SECOND;
const SECONDS_PER_HOUR = MS_PER_HOUR / MS_PER_SECOND;
/** No zone is further from UTC. */
const FURTHEST_OFFSET_MS = 2 * MS_PER_DAY;

/**
 * That a date satisfies recurring rules, as a test of the date's own fields, whose size does not
 * grow with the years. Bounds stand beside it, on the plain column. Of a cell that is dated it is
 * true or false, never unknown.
 *
 * On instants the fields are those of the wall clock: the date moved by the offset of the zone, of
 * whose changes it holds those within the interval.
 */
export function recurs(interval: RecurringSpan, dates: StoredDates): Fragment {
  return ofOnce(dates, (each) => recursOn(interval, each));
}

function recursOn(interval: RecurringSpan, dates: ClockDates): Fragment {
  const test = (seconds: number) =>
    joinConditions(
      interval.rules.map((rule) => movedTest(rule, seconds, interval, dates)),
      sql` AND `,
      ANYTHING,
    );
  if (dates.kind !== "instant") return test(0);
  return shiftedBy(shiftOf(zoneOf(interval), interval.interval, dates), test);
}

/**
 * What is made of dates as the wall clock of a zone shows them; all but instants are as they stand. At
 * the ends of the calendar the date is of the same day in another year: `years` is what it lacks.
 */
export function onWallClock(
  zone: Zone,
  dates: StoredDates,
  make: (date: Fragment, years: number) => Fragment,
): Fragment {
  return ofOnce(dates, (each) => {
    const { kind, calendarDate } = each;
    if (kind !== "instant") return make(calendarDate, 0);
    const shift = shiftOf(zone, { start: null, end: null }, each);
    return shiftedBy(shift, (seconds) => {
      const cycles = Math.round(seconds / CYCLE_SECONDS);
      return make(shifted(calendarDate, seconds), cycles === 0 ? 0 : -cycles * CYCLE_YEARS);
    });
  });
}

/** Dates as they are compared with a clock. */
type ClockDates = Pick<StoredDates, "kind" | "calendarDate" | "before">;

function ofOnce(dates: StoredDates, make: (dates: ClockDates) => Fragment): Fragment {
  if (dates.isLong !== true) return make(dates);
  return workedOnce(dates.millis, (ms) =>
    make({
      kind: dates.kind,
      calendarDate: functionCall("dateOfMillis", ms),
      before: (point) => sql`${ms} < ${numeral(point)}`,
    }),
  );
}

/** The shift is found once, and few are different: what is made stands there for each of them. */
function shiftedBy({ seconds, found }: Shift, make: (seconds: number) => Fragment): Fragment {
  if (seconds.size === 1) return make([...seconds][0] ?? 0);
  const cases = [...seconds].map((each) => sql` WHEN ${numeral(each)} THEN ${make(each)}`);
  return sql`(CASE ${found}${joined(cases, sql``)} END)`;
}

/**
 * An interval of instants parted where the clocks of its zone change, so that all of a part is moved
 * by one offset. Itself where it is open, or would have too many parts.
 */
export function evenlyMoved(interval: RecurringSpan): readonly RecurringSpan[] {
  const { start, end } = interval.interval;
  if (start === null || end === null || end.instant > utcYearStart(FIRST_YEAR_OF_RULES)) {
    return [interval];
  }
  const pieces = clockPieces(zoneOf(interval), start.instant, end.instant);
  if (pieces.length > MAX_PARTS) return [interval];
  const edges = [start, ...pieces.slice(1).map(edgeOf), end];
  return edges.slice(1).map((edge, index) => ({
    ...interval,
    interval: { start: edges[index] ?? start, end: edge },
  }));
}

/** Parts of an interval at most: those of a hundred years in which the clocks change twice. */
const MAX_PARTS = 200;

function edgeOf({ from, shift }: ClockPiece): Edge {
  return { instant: epochMs(from), wall: wallMs(from + shift) };
}

/** A rule as a test of the date moved by some seconds; where hours will do, those are moved. */
function movedTest(
  rule: Recurring,
  seconds: number,
  { weeks }: RecurringSpan,
  { calendarDate }: ClockDates,
): Fragment {
  const hours = seconds / SECONDS_PER_HOUR;
  if (rule.name === "BYHOUR" && Number.isInteger(hours)) {
    return isIn(movedHours(rule.spans, hours), dateField("hour", calendarDate), () => numeral(24));
  }
  return ruleTest(rule, shifted(calendarDate, seconds), weeks);
}

/** The hours of a date which, moved on by some, lie in one of some spans. */
function movedHours(spans: readonly NumberSpan[], by: number): readonly NumberSpan[] {
  if (by === 0) return spans;
  const moved = (hour: number) => (((hour - by) % 24) + 24) % 24;
  return spans.map((span) => ({ ...span, from: moved(span.from), to: moved(span.to) }));
}

function shifted(date: Fragment, seconds: number): Fragment {
  if (seconds === 0) return date;
  return { kind: "shifted", of: date, seconds: numeral(seconds) };
}

/** The seconds between an instant and the wall clock. */
interface Shift {
  /** Those that there are. */
  readonly seconds: ReadonlySet<number>;
  /** Which of them it is. */
  readonly found: Fragment;
}

function constantShift(seconds: number): Shift {
  return { seconds: new Set([seconds]), found: numeral(seconds) };
}

/** From an instant on, in milliseconds. */
interface ShiftStep extends Step {
  /** Which seconds there are from then on. */
  readonly seconds: ReadonlySet<number>;
}

function shiftOf(zone: Zone, interval: Interval, dates: ClockDates): Shift {
  const from = interval.start?.instant ?? FIRST_MS;
  const to = interval.end?.instant ?? END_MS;
  const rules = utcYearStart(FIRST_YEAR_OF_RULES);
  const pieces = from < rules ? clockPieces(zone, from, Math.min(to, rules)) : [];
  const steps = pieces.map((piece): ShiftStep => ({
    from: piece.from,
    ...constantShift(piece.shift / MS_PER_SECOND),
  }));
  if (to > rules) steps.push({ from: Math.max(from, rules), ...shiftByYear(zone, dates) });
  const within = ofUse(withinCalendar(steps, from, to), dates);
  if (within.length === 0) return constantShift(0);
  return {
    seconds: new Set(within.flatMap(({ seconds }) => [...seconds])),
    found: stepInHalves(within, (ms) => dates.before(ms)),
  };
}

/** Steps among which there can be dates. */
function ofUse(steps: readonly ShiftStep[], dates: ClockDates): readonly ShiftStep[] {
  return steps.filter((_, index) => {
    const [from, to] = [index === 0 ? undefined : steps[index], steps[index + 1]];
    const isBehind = to !== undefined && dates.before(to.from) === "none";
    return !isBehind && (from === undefined || dates.before(from.from) !== "all");
  });
}

/**
 * The same with the first and the last days of the calendar moved by 400 years, so that no wall
 * clock leaves the years that a database knows.
 */
function withinCalendar(
  steps: readonly ShiftStep[],
  from: number,
  to: number,
): readonly ShiftStep[] {
  const [first, ...others] = steps;
  const last = steps.at(-1);
  if (first === undefined || last === undefined) return steps;
  const early = FIRST_MS + FURTHEST_OFFSET_MS;
  const late = END_MS - FURTHEST_OFFSET_MS;
  const isBehind = from < early && Math.min(...first.seconds) < 0;
  const isAhead = to > late && Math.max(...last.seconds) > 0;
  return [
    ...(isBehind
      ? [
          { from: -Infinity, ...moved(first, CYCLE_SECONDS) },
          { ...first, from: early },
        ]
      : [first]),
    ...others,
    ...(isAhead ? [{ from: Math.max(last.from, late), ...moved(last, -CYCLE_SECONDS) }] : []),
  ];
}

function moved({ seconds, found }: Shift, by: number): Shift {
  return {
    seconds: new Set([...seconds].map((each) => each + by)),
    found: sql`(${found} + ${numeral(by)})`,
  };
}

/** The shift in the years from 2100 on. */
function shiftByYear(zone: Zone, { calendarDate }: ClockDates): Shift {
  const years = clockYears(zone);
  const seconds = new Set(
    years.flatMap(({ pieces }) => pieces.map(({ shift }) => shift / MS_PER_SECOND)),
  );
  const [single = 0] = seconds;
  if (seconds.size === 1) return constantShift(single);
  const steps = years.map((year) => ({
    ...year,
    pieces: year.pieces.map(({ from, shift }) => ({
      from,
      found: numeral(shift / MS_PER_SECOND),
    })),
  }));
  return { seconds, found: byKindOfYear(steps, calendarDate) };
}

function daysInYear(year: Fragment): Fragment {
  return sql`(CASE WHEN ${leapYear(year)} THEN 366 ELSE 365 END)`;
}

function ruleTest(rule: Recurring, date: Fragment, weeks: WeekRules): Fragment {
  switch (rule.name) {
    case "BYMONTH":
      return isIn(rule.spans, dateField("month", date), () => numeral(12));
    case "BYMONTHDAY":
      return isIn(rule.spans, dateField("day", date), () => dateField("daysInMonth", date));
    case "BYYEARDAY":
      return isIn(rule.spans, dateField("dayOfYear", date), () =>
        daysInYear(dateField("year", date)),
      );
    case "BYWEEKNO": {
      const { number, ofYear } = weekOf(date, weeks);
      return isIn(rule.spans, number, () => ofYear);
    }
    case "BYDAY":
      return joinConditions(
        rule.spans.map((span) => weekdayTest(span, date)),
        sql` OR `,
        NOTHING,
      );
    case "BYHOUR":
      return isIn(rule.spans, dateField("hour", date), () => numeral(24));
  }
}

/** Whether a number lies in one of some spans; `size` is what negative ones count from. */
function isIn(spans: readonly NumberSpan[], value: Fragment, size: () => Fragment): Fragment {
  const singles = spans.filter(({ from, to }) => from === to && from >= 0);
  const listed =
    singles.length < 2
      ? []
      : [
          sql`${value} IN (${joined(
            singles.map(({ from }) => valueOf(from)),
            sql`, `,
          )})`,
        ];
  const others = listed.length === 0 ? spans : spans.filter((span) => !singles.includes(span));
  const tests = others.map(({ from, to }) => {
    // A number from the end is one less than those that there are.
    const compared = from < 0 ? sql`(${value} - ${size()} - 1)` : value;
    if (from === to) return sql`${compared} = ${valueOf(from)}`;
    // A range wraps only where it was written to.
    return from < to
      ? sql`${compared} BETWEEN ${valueOf(from)} AND ${valueOf(to)}`
      : sql`(${compared} >= ${valueOf(from)} OR ${compared} <= ${valueOf(to)})`;
  });
  return joinConditions([...listed, ...tests], sql` OR `, NOTHING);
}

function weekdayTest(span: WeekdaySpan, date: Fragment): Fragment {
  const weekday = dateField("weekday", date);
  if (span.nth === null) return isIn([span], weekday, () => numeral(7));
  const day = dateField("day", date);
  const place = Math.abs(span.nth);
  const [first, last] = [valueOf(place * 7 - 6), valueOf(place * 7)];
  const counted = span.nth > 0 ? day : sql`(${dateField("daysInMonth", date)} - ${day} + 1)`;
  return sql`(${weekday} = ${valueOf(span.from)} AND ${counted} BETWEEN ${first} AND ${last})`;
}

/**
 * The number of the week in which a date lies, and how many its year has. A week is of the year in
 * which that day of it lies which the first week of a year must at least reach, and its number
 * counts those days; so no date is moved, and none leaves the calendar.
 */
function weekOf(date: Fragment, weeks: WeekRules) {
  const { weekStart, firstWeekDays } = weeks;
  const [year, dayOfYear, weekday] = (["year", "dayOfYear", "weekday"] as const).map((field) =>
    dateField(field, date),
  ) as [Fragment, Fragment, Fragment];
  const intoWeek = sql`((${weekday} + ${numeral(7 - weekStart)}) % 7)`;
  const deciding = sql`(${dayOfYear} - ${intoWeek} + ${numeral(7 - firstWeekDays)})`;
  const [before, after] = [sql`(${year} - 1)`, sql`(${year} + 1)`];
  const ofYear = sql`(CASE WHEN ${deciding} < 1 THEN ${deciding} + ${daysInYear(before)} WHEN ${deciding} > ${daysInYear(year)} THEN ${deciding} - ${daysInYear(year)} ELSE ${deciding} END)`;
  const length = sql`(CASE WHEN ${deciding} < 1 THEN ${daysInYear(before)} WHEN ${deciding} > ${daysInYear(year)} THEN ${daysInYear(after)} ELSE ${daysInYear(year)} END)`;
  const counted = wholeWeeks(sql`${ofYear} + 6`);
  const number: Fragment = { kind: "week", of: date, weeks, otherwise: counted };
  return { number, ofYear: sql`(${counted} + ${wholeWeeks(sql`${length} - ${ofYear}`)})` };
}

/** Whole weeks of a number of days that is not below 0. */
function wholeWeeks(days: Fragment): Fragment {
  return sql`((${days} - (${days}) % 7) / 7)`;
}
