import {
  calendarSettings,
  epochMs,
  findZone,
  momentOf,
  renderFault,
  type CalendarDeclaration,
  type Fault,
  type Result,
  type WindowContext,
} from "@orisma/core/internal";
import type { Command } from "commander";
import { collect } from "../context/context.js";
import { UsageError, faultText } from "../context/failure.js";

/** When, where and by which calendar something is requested, with no service running. */
export interface MomentOptions {
  readonly asOf?: string;
  readonly zone: string;
  readonly weekStart?: string;
  readonly fiscalYearStart?: string;
  readonly workday: readonly string[];
  readonly holiday: readonly string[];
}

/** Adds the options of {@link MomentOptions} to a command. */
export function withMomentOptions(command: Command): Command {
  return command
    .option("--as-of <date>", "a date or an instant; by default now")
    .option("--zone <zone>", "time zone", "UTC")
    .option("--week-start <weekday>", "first day of a week: MO to SU")
    .option("--fiscal-year-start <month-day>", "first day of the fiscal year, such as 04-06")
    .option("--workday <weekday>", "a day on which people work", collect, [])
    .option("--holiday <day>", "a holiday", collect, []);
}

/** When, where and by which calendar a window is requested. */
export function momentContext(options: MomentOptions): WindowContext {
  const { asOf, zone, weekStart, fiscalYearStart, workday, holiday } = options;
  const declared: CalendarDeclaration = {
    ...(weekStart === undefined ? {} : { weekStart }),
    ...(fiscalYearStart === undefined ? {} : { fiscalYearStart }),
    ...(workday.length === 0 ? {} : { workdays: workday }),
    ...(holiday.length === 0 ? {} : { holidays: holiday }),
  };
  const context = {
    asOf: epochMs(Date.now()),
    zone: needed(findZone(zone)),
    calendar: needed(calendarSettings(declared)),
  };
  // A date is its first moment in the zone, as the service reads it.
  const sent = new Map(asOf === undefined ? [] : [["asOf", [asOf]]]);
  return { ...context, asOf: needed(momentOf(sent, ["asOf"], context)).asOf };
}

/** What was requested; what was wrong with it is used wrongly. */
export function needed<T>(
  result: Result<T>,
  hintFor: (fault: Fault) => string | null = () => null,
): T {
  if (result.ok) return result.value;
  throw new UsageError(
    result.faults
      .map((fault) => {
        const { parameter: _, path: __, ...found } = renderFault(fault);
        const hint = hintFor(fault);
        return `${faultText(found)}${hint === null ? "" : `\n  ${hint}`}`;
      })
      .join("\n"),
  );
}
