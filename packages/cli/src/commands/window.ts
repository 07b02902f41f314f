import {
  answerWindow,
  yearOfWindow,
  type Result,
  type WindowAnswer,
  type WindowContext,
  type YearOfWindow,
} from "@orisma/core";
import type { Command } from "commander";
import { askedContext, needed, withAskedOptions, type AskedOptions } from "../asked.js";
import { examples, toJson, type Context } from "../context.js";
import { UsageError } from "../failure.js";
import { drawTable } from "../table.js";

interface WindowOptions extends AskedOptions {
  readonly year?: string;
  readonly json?: boolean;
}

/** `orisma window`: runs without a service. */
export function addWindow(command: Command, context: Context): void {
  withAskedOptions(command.command("window"))
    .description("show what a window covers, with no service running")
    .argument("<window>")
    .option("--year <year>", "show its bounds for every day of a year")
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
      const settings = askedContext(options);
      if (options.year !== undefined) {
        const year = needed(yearOf(window, options.year, settings));
        await context.print(options.json === true ? toJson(year) : yearText(year));
        return;
      }
      const answer = needed(answerWindow(window, settings));
      await context.print(options.json === true ? toJson(answer) : answerText(answer));
    });
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
