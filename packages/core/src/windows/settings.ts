import { MS_PER_DAY, dayNumber, weekday as weekdayOf } from "../calendar/index.js";
import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import { readIsoDate } from "../reading/index.js";
import { WEEKDAYS } from "./notation.js";

/** How a calendar is kept, as it is written; what is omitted has the default of ISO 8601. */
export interface CalendarDeclaration {
  /** The first day of a week, `MO` by default. */
  readonly weekStart?: string;
  /** Days of a week that must lie in the year whose first week it is, 4 by default. */
  readonly firstWeekDays?: number;
  /** The first day of the fiscal year as `MM-DD`, 1 to 28 of a month; `01-01` by default. */
  readonly fiscalYearStart?: string;
  /** Monday to Friday by default. */
  readonly workdays?: readonly string[];
  /** Days off, in ISO 8601. */
  readonly holidays?: readonly string[];
}

/** How weeks are counted. */
export interface WeekRules {
  /** 1 for Monday to 7. */
  readonly weekStart: number;
  readonly firstWeekDays: number;
}

/** The same, made ready for use. */
export interface CalendarSettings extends WeekRules {
  readonly fiscalYear: { readonly month: number; readonly day: number };
  readonly workdays: ReadonlySet<number>;
  readonly holidays: ReadonlySet<number>;
}

export const ISO_CALENDAR: CalendarSettings = {
  weekStart: 1,
  firstWeekDays: 4,
  fiscalYear: { month: 1, day: 1 },
  workdays: new Set([1, 2, 3, 4, 5]),
  holidays: new Set(),
};

/**
 * Makes the settings of a calendar ready for use. Fails with every `calendar.setting` that
 * cannot be so.
 */
export function calendarSettings(declared: CalendarDeclaration): Result<CalendarSettings> {
  const faults: Fault[] = [];
  const refuse = (name: string, accepted: string, value: string) => {
    faults.push(fault("calendar.setting", { name, accepted }, { path: `calendar.${name}`, value }));
  };
  const weekday = (name: string, text: string) => {
    const found = WEEKDAYS.findIndex((each) => each === text.toUpperCase()) + 1;
    if (found === 0) refuse(name, WEEKDAYS.join(", "), text);
    return found;
  };
  const {
    weekStart = "MO",
    firstWeekDays = 4,
    fiscalYearStart = "01-01",
    workdays,
    holidays,
  } = declared;
  if (!Number.isInteger(firstWeekDays) || firstWeekDays < 1 || firstWeekDays > 7) {
    refuse("firstWeekDays", "1 to 7", String(firstWeekDays));
  }
  const [, month = 0, day = 0] = (/^(\d{2})-(\d{2})$/.exec(fiscalYearStart) ?? []).map(Number);
  if (month < 1 || month > 12 || day < 1 || day > 28) {
    refuse("fiscalYearStart", "a month and day such as 04-06, the 28th at latest", fiscalYearStart);
  }
  const days = (holidays ?? []).flatMap((text) => {
    const read = readIsoDate(text);
    if (read.ok && read.value.precision === "day") return [read.value.start / MS_PER_DAY];
    refuse("holidays", "days in ISO 8601, such as 2026-12-25", text);
    return [];
  });
  const working = workdays?.map((text) => weekday("workdays", text)) ?? [1, 2, 3, 4, 5];
  if (working.length === 0) refuse("workdays", "one weekday at least", "");
  const settings = {
    weekStart: weekday("weekStart", weekStart),
    firstWeekDays,
    fiscalYear: { month, day },
    workdays: new Set(working),
    holidays: new Set(days),
  };
  return faults.length > 0 ? failure(...faults) : success(settings);
}

/** Whether a day is one on which people work. */
export function isWorkday(day: number, { workdays, holidays }: CalendarSettings): boolean {
  return workdays.has(weekdayOf(day)) && !holidays.has(day);
}

/** The first day of the fiscal year in which a day lies, moved by whole months. */
export function fiscalYearDay(
  year: number,
  months: number,
  { fiscalYear }: CalendarSettings,
): number {
  return dayNumber(year, fiscalYear.month + months, fiscalYear.day);
}

/** Whether a civil day can be written; a window must not lead out of such days. */
export function isWritable(day: number): boolean {
  return day >= FIRST_DAY && day <= LAST_DAY;
}

const FIRST_DAY = dayNumber(1, 1, 1);
/** The day after the last one is still an end. */
const LAST_DAY = dayNumber(9999, 12, 31) + 1;
