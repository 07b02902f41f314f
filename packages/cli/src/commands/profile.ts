import {
  formInWords,
  nameOf,
  sampleInWords,
  type ColumnProfile,
  type SourceProfile,
} from "@orisma/core/internal";
import type { Command } from "commander";
import {
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";

/** `orisma sources profile`. */
export function addProfile(sources: Command, context: Context): void {
  withFormats(sources.command("profile"))
    .description("Show how the columns of a source are written, with the evidence")
    .argument("<source>")
    .addHelpText("after", examples("orisma sources profile works"))
    .action(async (name: string, options: ListFormat) => {
      const profile = await context.client().profile(name);
      const right = true;
      const headings = [
        "column",
        "held as",
        { heading: "distinct", right },
        { heading: "blank", right },
        "dates",
        "written as",
        "earliest",
        "latest",
      ];
      const table = listText(options, profile, headings, profile.columns.map(rowOf));
      const isForPeople = options.json !== true && options.csv !== true;
      await context.print(isForPeople ? table + evidenceText(profile) : table);
    });
}

function rowOf(column: ColumnProfile): readonly string[] {
  const { name, type, distinct, sample, recognition } = column;
  const { verdict, candidates, blank } = recognition;
  // Of bare numbers the evidence says what they would be as dates.
  const isLikely = verdict !== "numbers" && verdict !== "few";
  const likely = !isLikely && type !== "date" ? undefined : candidates[0];
  return [
    name,
    type,
    `${distinct}${sample === null ? "" : "+"}`,
    String(blank),
    verdict,
    writtenAs(column) ?? (likely === undefined ? numbersText(column) : nameOf(likely.reading)),
    likely?.earliest ?? "",
    likely?.latest ?? "",
  ];
}

/** Why each column is taken for what it is, what is odd, and which cells could not be read. */
function evidenceText({ columns }: SourceProfile): string {
  return columns
    .filter(
      ({ recognition, written, unreadable }) =>
        recognition.verdict !== "none" || isWritten(written) || unreadable.length > 0,
    )
    .map((column) => {
      const { sample } = column;
      const lines = [
        ...(sample === null ? [] : [`all of this ${sampleInWords(sample)}`]),
        ...oddities(column),
        ...unreadableLines(column),
      ];
      const strip = stripOf(column);
      return (
        `\n${column.name}: ${evidenceOf(column)}\n` +
        (strip === null ? "" : `  ${strip}\n`) +
        lines.map((line) => `  ${line}\n`).join("")
      );
    })
    .join("");
}

/** How the numbers of a column are written, or most likely are; nothing for none, and for plain ones. */
function numbersText({ type, form, written }: ColumnProfile): string {
  if (form !== undefined)
    return "true" in form ? form.true.join(" or ") : formInWords(form, numberType(type));
  const [likely] = type === "text" ? written.candidates : [];
  return likely === undefined || written.verdict === "plain"
    ? ""
    : formInWords(likely.form, likely.type);
}

/** How a confirmed column is written; null for one that could be confirmed. */
function writtenAs({ type, reading }: ColumnProfile): string | null {
  return type === "date" && reading !== null ? nameOf(reading) : null;
}

function numberType(type: ColumnProfile["type"]): "integer" | "decimal" {
  return type === "integer" ? type : "decimal";
}

/** Whether numbers were recognised in a form of their own. */
function isWritten({ verdict }: ColumnProfile["written"]): boolean {
  return verdict !== "none" && verdict !== "plain";
}

function evidenceOf({ type, recognition, written }: ColumnProfile): string {
  const { verdict, evidence } = recognition;
  return verdict === "none" && type === "text" && isWritten(written) ? written.evidence : evidence;
}

const BARS = "▁▂▃▄▅▆▇█";

/** The distribution over time in a line: a blank for an interval without dates. */
function stripOf({ quality }: ColumnProfile): string | null {
  const buckets = quality?.timeline.buckets ?? [];
  const [first, last] = [buckets[0], buckets.at(-1)];
  if (first === undefined || last === undefined) return null;
  const most = Math.max(...buckets.map(({ count }) => count));
  const bars = buckets.map(({ count }) =>
    count === 0 ? " " : (BARS[Math.ceil((count / most) * BARS.length) - 1] ?? ""),
  );
  const per = quality?.timeline.unit ?? "";
  return `${first.start} ${bars.join("")} ${last.start}, per ${per}, up to ${most}`;
}

/** What is odd about the dates of a column. */
function oddities({ recognition, quality, dateCells }: ColumnProfile): readonly string[] {
  const returned = recognition.suspects.map(
    ({ date, count }) => `${date} stands ${count} times, and may mean “no date”`,
  );
  if (dateCells !== undefined) {
    returned.push(
      `the sheet shows ${dateCells.count} of its cells as dates${dateCells.encoding === "text" ? "" : `, ${dateCells.encoding}`}`,
    );
  }
  if (quality === null) return returned;
  const { farPast, farFuture, offsets, gaps } = quality;
  if (quality.dated > 0) returned.push(`Monday to Sunday: ${quality.weekdays.join(", ")}`);
  for (const [where, { count, examples: strings }] of [
    ["in the far past", farPast],
    ["in the far future", farFuture],
  ] as const) {
    if (count > 0) returned.push(`${count} ${where}, such as ${strings.slice(0, 3).join(", ")}`);
  }
  if (offsets.with > 0 && offsets.without > 0) {
    returned.push(`${offsets.with} say their offset, ${offsets.without} do not`);
  }
  const [gap] = gaps;
  if (gap !== undefined) returned.push(`longest gap ${gap.days} days, after ${gap.after}`);
  return returned;
}

function unreadableLines({ unreadable }: ColumnProfile): readonly string[] {
  return unreadable.map(({ id, value }) => `record ${id} has “${value}”, unreadable`);
}
