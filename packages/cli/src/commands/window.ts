import {
  answerWindow,
  calendarSettings,
  epochMs,
  findZone,
  renderFault,
  yearOfWindow,
  type CalendarDeclaration,
  type Result,
  type WindowAnswer,
  type WindowContext,
  type YearOfWindow,
} from "@orisma/core";
import type { Command } from "commander";
import { collect, examples, toJson, type Context } from "../context.js";
import { UsageError } from "../failure.js";
import { drawTable } from "../table.js";

interface WindowOptions {
  readonly asOf?: string;
  readonly zone: string;
  readonly year?: string;
  readonly weekStart?: string;
  readonly finYearStart?: string;
  readonly workday: readonly string[];
  readonly holiday: readonly string[];
  readonly json?: boolean;
}

/** `orisma window`: runs without a service. */
export function addWindow(command: Command, context: Context): void {
  command
    .command("window")
    .description("show what a window covers, with no service running")
    .argument("<window>")
    .option("--as-of <instant>", "the instant of asking; now unless given")
    .option("--zone <zone>", "time zone", "UTC")
    .option("--year <year>", "show its bounds for every day of a year")
    .option("--week-start <weekday>", "first day of a week: MO to SU")
    .option("--fin-year-start <month-day>", "first day of the financial year, such as 04-06")
    .option("--workday <weekday>", "a day on which people work", collect, [])
    .option("--holiday <day>", "a day off", collect, [])
    .option("--json", "print what the service would answer")
    .addHelpText(
      "after",
      examples(
        "orisma window month-1/now --zone Europe/London",
        "orisma window 'year;BYMONTH=4..6' --as-of 2026-11-25T09:00:00Z",
        "orisma window week-1 --year 2026 --zone Europe/London",
      ),
    )
    .action(async (window: string, options: WindowOptions) => {
      const settings = contextOf(options);
      if (options.year !== undefined) {
        const year = needed(yearOf(window, options.year, settings));
        await context.print(options.json === true ? toJson(year) : yearText(year));
        return;
      }
      const answer = needed(answerWindow(window, settings));
      await context.print(options.json === true ? toJson(answer) : answerText(answer));
    });
}

function contextOf(options: WindowOptions): WindowContext {
  const { asOf, zone, weekStart, finYearStart, workday, holiday } = options;
  const instant = asOf === undefined ? Date.now() : instantIn(asOf);
  const declared: CalendarDeclaration = {
    ...(weekStart === undefined ? {} : { weekStart }),
    ...(finYearStart === undefined ? {} : { finYearStart }),
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

function needed<T>(result: Result<T>): T {
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

function yearOf(window: string, text: string, context: WindowContext): Result<YearOfWindow> {
  if (/^\d{4}$/.test(text) && text !== "0000") return yearOfWindow(window, Number(text), context);
  throw new UsageError(`--year takes a year, not ${text}`);
}

const NO_DAY: YearOfWindow["days"][number] = { day: "", intervals: [], notices: [], since: null };

function answerText(answer: WindowAnswer): string {
  const { canonical, sentence, asOf, intervals, recurring = [], nextChange, notices } = answer;
  const rows = intervals.map((each) => [
    each.startLocal ?? "..",
    each.endLocal ?? "..",
    each.start ?? "..",
    each.end ?? "..",
  ]);
  const headings = [
    `from, ${answer.zone}`,
    `until before, ${answer.zone}`,
    "from, UTC",
    "until before, UTC",
  ];
  const table = drawTable(
    headings.map((heading) => ({ heading })),
    rows,
  );
  const change =
    nextChange === null
      ? "never changes"
      : nextChange === asOf
        ? "moves all the time"
        : `next changes at ${nextChange}`;
  return [
    `${canonical}, asked at ${asOf}`,
    sentence,
    `It ${change}.`,
    ...notices.map(({ message }) => `Note: ${message}`),
    ...recurring.map(({ parts }) => `Recurs without end: ${parts.join("; ")}`),
    rows.length === 0 ? "" : `\n${table}`,
  ]
    .join("\n")
    .replace(/\n?$/, "\n");
}

/** The bounds of every day, those of days that have the same in one line. */
function yearText({ days }: YearOfWindow): string {
  const firsts = days.flatMap(({ since }, index) => (since === "same" ? [] : [index]));
  const rows = firsts.map((first, place) => {
    const { day, intervals, since, notices } = days[first] ?? NO_DAY;
    const last = days[(firsts[place + 1] ?? days.length) - 1]?.day ?? day;
    const [interval, ...others] = intervals;
    const more = others.length === 0 ? "" : ` and ${others.length} more`;
    return [
      last === day ? day : `${day} to ${last}`,
      interval === undefined ? "empty" : (interval.startLocal ?? ".."),
      interval === undefined ? "" : (interval.endLocal ?? "..") + more,
      since === "gap" || since === "overlap" ? since : "",
      notices.map(({ message }) => message).join("; "),
    ];
  });
  const table = drawTable(
    ["asked on", "from", "until before", "to the day before", "note"].map((heading) => ({
      heading,
    })),
    rows,
  );
  const count = (what: string) => days.filter(({ since }) => since === what).length;
  const empty = days.filter(({ intervals }) => intervals.length === 0).length;
  return (
    `${table}\n${days.length} days asked at noon; the bounds are those of the day before on ${count("same")}, ` +
    `follow on ${count("next")}, overlap on ${count("overlap")}, leave a gap on ${count("gap")}; ${empty} empty\n`
  );
}
