import { MS_PER_DAY, civilDay, dayOf, isoDay, isoTime, wallMs } from "../calendar/index.js";
import type { CompiledReading } from "../reading/index.js";
import type { EncodedDates } from "./attached-cells.js";
import { wholeDay } from "./attached-days.js";
import type { DatabaseType } from "./database-type.js";
import { functionCall, joined, nameOf, sql, valueOf, type Fragment } from "./fragment.js";

/**
 * Dates of the database's own types. A bound is cut to the column's own form, rounded up: a
 * whole day for a column of days, whose least and greatest are wrong otherwise.
 */
export function nativeEncoding(
  value: string,
  compiled: CompiledReading,
  holding: Extract<DatabaseType, { readonly type: "date" | "timestamp" }>,
  blanks: readonly string[],
): EncodedDates {
  const column = nameOf(value);
  const { kind } = compiled;
  const isDay = holding.type === "date";
  const digits = holding.type === "timestamp" ? Math.min(3, holding.digits) : 0;
  const zoned = holding.type === "timestamp" && holding.zoned;
  const tick = isDay ? MS_PER_DAY : 10 ** (3 - digits);
  const bound = (ms: number, compared: (value: Fragment) => Fragment, isFrom: boolean) => {
    const wall = wallMs(Math.ceil(ms / tick) * tick);
    const day = dayOf(wall);
    const { year } = civilDay(day);
    if (year < 1 || year > 9999) return year < 1 === isFrom ? "all" : "none";
    const text = isDay
      ? isoDay(day)
      : `${isoDay(day)} ${timeText(wall - day * MS_PER_DAY, digits)}`;
    return compared(zoned ? functionCall("moment", valueOf(text)) : valueOf(text));
  };
  const hasTime = !isDay && kind === "date";
  const millis = functionCall(zoned ? "momentMillis" : "millis", column);
  return {
    kind,
    column,
    valid: { kind: "realDay", of: column },
    from: (ms) => bound(ms, (text) => sql`${column} >= ${text}`, true),
    before: (ms) => bound(ms, (text) => sql`${column} < ${text}`, false),
    onDays: (days) =>
      isDay
        ? sql`${column} IN (${joined(
            days.map((day) => valueOf(isoDay(day))),
            sql`, `,
          )})`
        : null,
    listsExactly: false,
    listsUpTo: 0,
    closed: { from: null, before: null },
    order: column,
    scale: hasTime ? null : `native ${holding.type} ${zoned}`,
    millis: hasTime ? wholeDay(millis) : millis,
    // A point in time is shown in the zone of the connection where the database has such a type.
    calendarDate: zoned ? functionCall("utcDate", column) : column,
    msOf: (ordered) => compiled.dateOf(String(ordered)),
    keepsOrder: true,
    isDayTyped: isDay && kind === "date",
    isFiner: hasTime || (holding.type === "timestamp" && holding.digits > 3),
    isWhite: null,
    spelled: () => {
      // A driver omits fractions that are zero, the database does not.
      const fraction = holding.type === "timestamp" && holding.digits > 0;
      const strings = blanks.flatMap((blank) =>
        fraction ? [blank, `${blank}.${"0".repeat(holding.digits)}`] : [blank],
      );
      return sql`${functionCall("shown", column)} IN (${joined(strings.map(valueOf), sql`, `)})`;
    },
  };
}

function timeText(ms: number, digits: number): string {
  const time = isoTime(ms);
  if (digits === 0) return time.slice(0, 8);
  return (time.length > 8 ? time : `${time}.000`).slice(0, 9 + digits);
}
