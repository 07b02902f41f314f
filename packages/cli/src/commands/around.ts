import type { SummaryAnswer, SummaryGroup, TimelineAnswer } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  collect,
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { readParameters, withPhrases } from "../input/parameters.js";
import { drawTable } from "../output/table.js";

/** Characters of the longest bar of a timeline. */
const BAR = 40;

interface ChoicesOptions extends ListFormat {
  readonly search?: string;
  readonly limit?: string;
}

interface SummaryOptions extends ListFormat {
  readonly by: readonly string[];
  readonly measure: readonly string[];
}

/** `orisma choices`, `extent`, `timeline` and `summary`: what is requested around a listing. */
export function addAround(command: Command, context: Context): void {
  addChoices(command, context);
  addExtent(command, context);
  addTimeline(command, context);
  addSummary(command, context);
}

function addChoices(command: Command, context: Context): void {
  withRequest(command.command("choices"))
    .description("List the values of a column, with counts")
    .argument("<listing>")
    .argument("<column>")
    .argument("[parameters...]", PARAMETERS)
    .option("--search <text>", "only values that contain it")
    .option("--limit <values>", "values at most")
    .addHelpText("after", examples("orisma choices works-open priority --since 2025"))
    .action(async (listing: string, column: string, rest: string[], options: ChoicesOptions) => {
      const { search, limit } = options;
      const query = {
        ...readParameters(rest),
        ...(search === undefined ? {} : { search: [search] }),
        ...(limit === undefined ? {} : { limit: [limit] }),
      };
      const answer = await withPhrases(query, (all) =>
        context.client().choices(listing, column, all),
      );
      const rows = [
        ...answer.choices.map(({ value, records, disabled }) => [
          String(value),
          String(records),
          disabled === true ? "cannot be chosen" : "",
        ]),
        ...answer.groups.map(({ name, values, records }) => [
          name,
          String(records),
          `the group ${values.join(", ")}`,
        ]),
        ...(answer.blank === 0 ? [] : [["(blank)", String(answer.blank), ""]]),
        ...(answer.unreadable === 0 ? [] : [["(unreadable)", String(answer.unreadable), ""]]),
        ...(answer.more ? [["…", "", "there are more: --limit, --search"]] : []),
      ];
      await context.print(listText(options, answer, [column, COUNTED, ""], rows));
    });
}

function addExtent(command: Command, context: Context): void {
  withRequest(command.command("extent"))
    .description("Show the first and the last dates")
    .argument("<listing>")
    .argument("[parameters...]", PARAMETERS)
    .addHelpText("after", examples("orisma extent works-raised --from 2025"))
    .action(async (listing: string, rest: string[], options: ListFormat) => {
      const answer = await withPhrases(readParameters(rest), (parameters) =>
        context.client().extent(listing, parameters),
      );
      const rows = Object.entries(answer.extent).map(([column, { first, last }]) => [
        column,
        first ?? "",
        last ?? "",
      ]);
      await context.print(listText(options, answer, ["column", "first", "last"], rows));
    });
}

function addTimeline(command: Command, context: Context): void {
  withRequest(command.command("timeline"))
    .description("Count records by time, empty units included")
    .argument("<listing>")
    .argument("[parameters...]", PARAMETERS)
    .option("--unit <unit>", "hour, day, week, month, quarter, year, fiscalquarter or fiscalyear")
    .addHelpText(
      "after",
      examples("orisma timeline works-raised --from 2025 --to 2025 --unit month"),
    )
    .action(
      async (listing: string, rest: string[], options: ListFormat & { readonly unit?: string }) => {
        const { unit } = options;
        const query = { ...readParameters(rest), ...(unit === undefined ? {} : { unit: [unit] }) };
        const answer = await withPhrases(query, (all) => context.client().timeline(listing, all));
        const rows = timelineRows(answer);
        const text = listText(options, answer, [answer.unit, COUNTED, ""], rows);
        const isPlain = options.json !== true && options.csv !== true;
        await context.print(isPlain ? text + timelineNotes(answer) : text);
      },
    );
}

function addSummary(command: Command, context: Context): void {
  withRequest(command.command("summary"))
    .description("Group records by columns or units of time, with totals")
    .argument("<listing>")
    .argument("[parameters...]", PARAMETERS)
    .option(
      "--by <column>",
      "a column, or a date column as raised:month; again for one more",
      collect,
      [],
    )
    .option("--measure <measure:column>", "sum, average, min or max of a column", collect, [])
    .addHelpText(
      "after",
      examples(
        "orisma summary works-raised --by priority --by raised:year --measure sum:cost",
        "orisma summary works-raised --from 2025 --measure sum:cost",
      ),
    )
    .action(async (listing: string, rest: string[], options: SummaryOptions) => {
      const { by, measure } = options;
      const query = { ...readParameters(rest), by, measure };
      const answer = await withPhrases(query, (all) => context.client().summary(listing, all));
      await context.print(summaryText(answer, options));
    });
}

const PARAMETERS = "--NAME VALUE for each parameter of the listing";
const COUNTED = { heading: "records", right: true };

function withRequest(command: Command): Command {
  return withFormats(command).allowUnknownOption();
}

/** The beginning of a unit of time, as short as it is still unique. */
function beginning(text: string | null, unit: TimelineAnswer["unit"]): string {
  const whole = (text ?? "").replace(/T00:00:00$/, "").replace("T", " ");
  return whole.slice(0, unit === "year" ? 4 : unit === "month" ? 7 : undefined);
}

function timelineRows({ buckets, unit }: TimelineAnswer): readonly string[][] {
  const most = Math.max(1, ...buckets.map(({ records }) => records));
  return buckets.map(({ startLocal, records }) => [
    beginning(startLocal, unit),
    String(records),
    "▪".repeat(Math.ceil((records / most) * BAR)),
  ]);
}

function timelineNotes({ empty, unit, blank, unreadable, before, column }: TimelineAnswer): string {
  const lines = [
    `${empty} ${unit}s without a record; ${blank} blank, ${unreadable} unreadable in ${column}`,
    ...(before === null
      ? []
      : [
          `${before.records} records in the period before, from ${beginning(before.startLocal, "day")}`,
        ]),
  ];
  return `\n${lines.join("\n")}\n`;
}

function summaryText({ by, groups, totals, grand }: SummaryAnswer, options: ListFormat): string {
  const measures = Object.keys(grand.measures);
  const cells = ({ records, measures: found }: SummaryGroup) => [
    String(records),
    ...measures.map((name) => String(found[name] ?? "")),
  ];
  const words = (value: SummaryGroup["of"][number]) => (value === null ? "(blank)" : String(value));
  const rows = groups.map((group) => [
    ...by.map((_, index) => words(group.of[index] ?? null)),
    ...cells(group),
  ]);
  const over = totals.flatMap((each, index) =>
    each.map((group) => [
      ...by.map((_, at) => (at === index ? words(group.of[0] ?? null) : "all")),
      ...cells(group),
    ]),
  );
  const all = [by.map(() => "all").concat(cells(grand))];
  const right = true;
  const headings = [...by, COUNTED, ...measures.map((heading) => ({ heading, right }))];
  if (options.json === true || options.csv === true) {
    return listText(options, { by, groups, totals, grand }, headings, [...rows, ...over, ...all]);
  }
  const columns = headings.map((each) => (typeof each === "string" ? { heading: each } : each));
  return drawTable(columns, [...rows, ...over, ...all]);
}
