import {
  calendarSettings,
  epochMs,
  findZone,
  renderFault,
  type CalendarDeclaration,
  type Result,
  type WindowContext,
} from "@orisma/core/internal";
import type { Command } from "commander";
import { collect } from "../context/context.js";
import { UsageError } from "../context/failure.js";

/** When, where and by which calendar something is asked for, with no service running. */
export interface AskedOptions {
  readonly asOf?: string;
  readonly zone: string;
  readonly weekStart?: string;
  readonly fiscalYearStart?: string;
  readonly workday: readonly string[];
  readonly holiday: readonly string[];
}

/** Adds the options of {@link AskedOptions} to a command. */
export function withAskedOptions(command: Command): Command {
  return command
    .option("--as-of <instant>", "the instant of asking; now by default")
    .option("--zone <zone>", "time zone", "UTC")
    .option("--week-start <weekday>", "first day of a week: MO to SU")
    .option("--fin-year-start <month-day>", "first day of the financial year, such as 04-06")
    .option("--workday <weekday>", "a day on which people work", collect, [])
    .option("--holiday <day>", "a day off", collect, []);
}

/** When, where and by which calendar a window is asked for. */
export function askedContext(options: AskedOptions): WindowContext {
  const { asOf, zone, weekStart, fiscalYearStart, workday, holiday } = options;
  const instant = asOf === undefined ? Date.now() : instantIn(asOf);
  const declared: CalendarDeclaration = {
    ...(weekStart === undefined ? {} : { weekStart }),
    ...(fiscalYearStart === undefined ? {} : { fiscalYearStart }),
    ...(workday.length === 0 ? {} : { workdays: workday }),
    ...(holiday.length === 0 ? {} : { holidays: holiday }),
  };
  return {
    asOf: epochMs(instant),
    zone: needed(findZone(zone)),
    calendar: needed(calendarSettings(declared)),
  };
}

/** An instant with its offset; never one in the zone of this machine. */
function instantIn(text: string): number {
  const isInstant =
    /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:\d{2})$/i.test(text);
  const instant = Date.parse(text);
  if (isInstant && !Number.isNaN(instant)) return instant;
  throw new UsageError(`--as-of takes an instant such as 2026-11-25T09:00:00Z, not ${text}`);
}

/** What was asked for; what was wrong with it is used wrongly. */
export function needed<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new UsageError(
    result.faults
      .map(renderFault)
      .map(({ message, accepted }) =>
        accepted === undefined ? message : `${message}\n  accepted: ${accepted}`,
      )
      .join("\n"),
  );
}
