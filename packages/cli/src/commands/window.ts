import {
  WINDOW_FORMS,
  answerPhrase,
  answerWindow,
  yearSpans,
  yearInWords,
  yearOfWindow,
  type Result,
  type WindowAnswer,
  type WindowContext,
  type YearOfWindow,
} from "@orisma/core/internal";
import type { Command } from "commander";
import { momentContext, needed, withMomentOptions, type MomentOptions } from "../input/moment.js";
import { examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { drawTable } from "../output/table.js";

interface WindowOptions extends MomentOptions {
  readonly year?: string;
  readonly locale?: string;
  readonly json?: boolean;
}

/** `orisma window`: runs without a service. */
export function addWindow(command: Command, context: Context): void {
  withMomentOptions(command.command("window"))
    .description("Show what a window covers")
    .argument(
      "[window...]",
      "a window, or a phrase; left out, every form of the notation is shown with examples",
    )
    .option("--year <year>", "show its bounds for every day of a year")
    .option("--locale <language>", "language of the phrase: de, fr, es, it, nl, pl or pt")
    .option("--json", "print what the service would answer")
    .addHelpText(
      "after",
      examples(
        "orisma window month-1/now --zone Europe/London",
        "orisma window past 30 days",
        "orisma window letzte 3 Monate --locale de",
        "orisma window between 3 Apr 2025 and Q3 2025",
        "orisma window 'year;BYMONTH=4..6' --as-of 2026-11-25T09:00:00Z",
        "orisma window week-1 --year 2026 --zone Europe/London",
      ),
    )
    .action(async (words: readonly string[], options: WindowOptions) => {
      const settings = momentContext(options);
      const window = words.join(" ");
      if (words.length === 0) {
        await context.print(options.json === true ? toJson(WINDOW_FORMS) : formsText(settings));
        return;
      }
      if (options.year !== undefined) {
        const year = needed(yearOf(window, options.year, settings));
        await context.print(options.json === true ? toJson(year) : yearText(year));
        return;
      }
      const { locale } = options;
      const spoken = { ...settings, ...(locale === undefined ? {} : { locale }) };
      const answer = needed(answerPhrase(window, spoken));
      await context.print(options.json === true ? toJson(answer) : answerText(answer));
    });
}

function yearOf(window: string, text: string, context: WindowContext): Result<YearOfWindow> {
  if (/^\d{4}$/.test(text) && text !== "0000") return yearOfWindow(window, Number(text), context);
  throw new UsageError(`--year takes a year, not ${text}`);
}

function answerText(answer: WindowAnswer): string {
  const { canonical, sentence, asOf, intervals, recurring = [], nextChange, notices } = answer;
  const rows = intervals.map((each) => [
    each.startLocal ?? "..",
    each.endLocal ?? "..",
    each.start ?? "..",
    each.end ?? "..",
  ]);
  const headings = [`from, ${answer.zone}`, `before, ${answer.zone}`, "from, UTC", "before, UTC"];
  const table = drawTable(
    headings.map((heading) => ({ heading })),
    rows,
  );
  const change =
    nextChange === null
      ? "never changes"
      : nextChange === asOf
        ? "changes all the time"
        : `next changes at ${nextChange}`;
  return [
    `${canonical}, as of ${asOf}`,
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
function yearText(year: YearOfWindow): string {
  const rows = yearSpans(year).map(({ first, last, intervals, since, notices }) => {
    const [interval, ...others] = intervals;
    const more = others.length === 0 ? "" : ` and ${others.length} more`;
    return [
      last === first ? first : `${first} to ${last}`,
      interval === undefined ? "empty" : (interval.startLocal ?? ".."),
      interval === undefined ? "" : (interval.endLocal ?? "..") + more,
      since === "gap" || since === "overlap" ? since : "",
      notices.map(({ message }) => message).join("; "),
    ];
  });
  const table = drawTable(
    ["on", "from", "before", "to the day before", "note"].map((heading) => ({
      heading,
    })),
    rows,
  );
  return `${table}\n${yearInWords(year)}\n`;
}

/** Every form of the notation, with two examples and what they cover when requested. */
function formsText(context: WindowContext): string {
  const widest = Math.max(
    ...WINDOW_FORMS.flatMap(({ examples }) => examples.map(({ length }) => length)),
  );
  return WINDOW_FORMS.map(({ form, covers, examples }) =>
    [
      `${form}: ${covers}\n`,
      ...examples.map(
        (window) =>
          `  ${window.padEnd(widest)}  ${needed(answerWindow(window, context)).sentence}\n`,
      ),
    ].join(""),
  ).join("\n");
}
