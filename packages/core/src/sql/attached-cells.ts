import { MS_PER_DAY } from "../calendar/index.js";
import type { CompiledReading, Reading } from "../reading/index.js";
import type { LastDays, StoredCells, StoredDates } from "./cells.js";
import { functionCall, sql, joinConditions, type Fragment } from "./fragment.js";

/** A column of dates as an encoding has it, before what a reading says of blanks. */
export interface EncodedDates extends Omit<
  StoredDates,
  keyof StoredCells | "guard" | "groupNulls" | "isWorkedOut" | "isDayTyped" | "calendarDate"
> {
  /** As {@link StoredDates.calendarDate}; worked out of the milliseconds where it is omitted. */
  readonly calendarDate?: Fragment;
  /** As {@link StoredDates.isDayTyped}; not, by default. */
  readonly isDayTyped?: boolean;
  /** Whether dates are worked out of the values, and none of what is no date: a comparison needs no test beside it. */
  readonly isWorkedOut?: boolean;
  /** The dates beyond the ends of the calendar too, which may stand for none: where a zone leads some of them there. */
  readonly beyond?: Pick<StoredDates, "from" | "before"> & { readonly valid: Fragment };
  /** The plain column. */
  readonly column: Fragment;
  /** That a value that is not NULL is a date under the encoding. */
  readonly valid: Fragment;
  /** Whether a list needs nothing beside it: what it finds is spelled as a date. */
  readonly listsExactly: boolean;
  /** Where stored values are in another order: what would put them in that of their dates. */
  readonly orderKey?: { readonly expression: Fragment; readonly digits: number } | null;
  /** That a value is spelled as one of some blanks; null where none of them can be. */
  spelled(blanks: readonly string[]): Fragment | null;
  /** That a value is white space; null where the column holds no text. */
  readonly isWhite: Fragment | null;
}

/** The cells of a plain column of dates under a reading. */
export function attachedDates(
  encoded: EncodedDates,
  reading: Reading,
  compiled: CompiledReading,
  /** Whether a spelling of a blank would be a date if it were not listed. */
  blanksAreDates: boolean,
): StoredDates {
  const { column, valid } = encoded;
  const { blanks = [] } = reading;
  const spelled = blanks.length === 0 ? null : encoded.spelled(blanks);
  const all = encoded.beyond ?? encoded;
  const sentinels = compiled.sentinels.map(({ start, end }) => within(all, start, end));
  const isSentinel = joinConditions(
    sentinels.filter((each) => each !== null),
    sql` OR `,
    sql`1 = 0`,
  );
  const hasSentinels = sentinels.some((each) => each !== null);
  const exceptions = [
    ...compiled.sentinels.flatMap(({ start, end }) => outside(encoded, start, end)),
    ...(spelled === null || !blanksAreDates ? [] : [sql`NOT (${spelled})`]),
  ];
  const both = (tests: readonly Fragment[]) => joinConditions(tests, sql` AND `, sql`1 = 1`);
  const guard = both([valid, ...exceptions]);
  const beside = encoded.isWorkedOut === true ? exceptions : [valid, ...exceptions];
  const isFilled = sql`(${column} IS NOT NULL AND ${guard})`;
  const isBlank = joinConditions(
    [
      sql`${column} IS NULL`,
      ...(encoded.isWhite === null ? [] : [encoded.isWhite]),
      ...(spelled === null ? [] : [spelled]),
      ...(hasSentinels ? [sql`(${isSentinel} AND ${all.valid})`] : []),
    ],
    sql` OR `,
    sql`1 = 0`,
  );
  const isNotFilled = notTrue(isFilled);
  const isItself = encoded.isWorkedOut === true && exceptions.length === 0;
  const millis = isItself ? encoded.millis : sql`CASE WHEN ${isFilled} THEN ${encoded.millis} END`;
  return {
    kind: encoded.kind,
    isFilled,
    isNotFilled,
    isBlank,
    isNotBlank: notTrue(isBlank),
    isUnreadable: sql`(${column} IS NOT NULL AND ${isNotFilled} AND ${notTrue(isBlank)})`,
    isNotUnreadable: sql`(${isFilled} OR ${isBlank})`,
    guard: beside.length === 0 ? null : both(beside),
    from: (ms) => encoded.from(ms),
    before: (ms) => encoded.before(ms),
    onDays: (days) => {
      if (!encoded.listsExactly) {
        const found = encoded.onDays(days);
        return found === null ? found : sql`(${found} AND ${guard})`;
      }
      // What is listed as a blank, and the dates that stand for none, are not among the days.
      const dated = days.filter(
        (day) => compiled.read(compiled.write(day * MS_PER_DAY)).state === "dated",
      );
      return days.length > 0 && dated.length === 0 ? sql`1 = 0` : encoded.onDays(dated);
    },
    listsUpTo: encoded.listsUpTo,
    closed: encoded.closed,
    order: encoded.order,
    scale: encoded.scale,
    millis,
    calendarDate: encoded.calendarDate ?? functionCall("dateOfMillis", millis),
    msOf: (ordered) => encoded.msOf(ordered),
    keepsOrder: encoded.keepsOrder,
    isDayTyped: encoded.isDayTyped ?? false,
    isFiner: encoded.isFiner,
    groupNulls: false,
    isWorkedOut: encoded.isWorkedOut === true,
    isLong: encoded.isWorkedOut === true || encoded.isLong === true,
    ...(encoded.last === undefined ? {} : { last: without(exceptions, encoded.last) }),
  };
}

/** Last days, but for those of what stands for no date. */
function without(exceptions: readonly Fragment[], last: LastDays): LastDays {
  const isThere = joinConditions([last.isThere, ...exceptions], sql` AND `, sql`1 = 1`);
  return { ...last, isThere };
}

function notTrue(condition: Fragment): Fragment {
  return sql`(${condition}) IS NOT TRUE`;
}

function within(
  dates: Pick<StoredDates, "from" | "before">,
  start: number,
  end: number,
): Fragment | null {
  const bounds = [dates.from(start), dates.before(end)];
  if (bounds.includes("none")) return null;
  const compared = bounds.filter((bound) => bound !== "all" && bound !== "none");
  return joinConditions(compared, sql` AND `, sql`1 = 1`);
}

function outside(encoded: EncodedDates, start: number, end: number): readonly Fragment[] {
  const bounds = [encoded.before(start), encoded.from(end)];
  if (bounds.includes("all")) return [];
  const compared = bounds.filter((bound) => bound !== "all" && bound !== "none");
  return [joinConditions(compared, sql` OR `, sql`1 = 0`)];
}
