import { nameOf, type ColumnProfile, type SourceProfile } from "@orisma/core";
import type { Command } from "commander";
import { examples, listText, withFormats, type Context, type ListFormat } from "../context.js";

/** `orisma profile`. */
export function addProfile(command: Command, context: Context): void {
  withFormats(command.command("profile"))
    .description("show how the columns of a source are written, with the evidence")
    .argument("<source>")
    .addHelpText("after", examples("orisma profile works"))
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

function rowOf({ name, type, distinct, complete, recognition }: ColumnProfile): readonly string[] {
  const { verdict, candidates, blank } = recognition;
  const [best] = candidates;
  return [
    name,
    type,
    `${distinct}${complete ? "" : "+"}`,
    String(blank),
    verdict,
    best === undefined ? "" : nameOf(best.reading),
    best?.earliest ?? "",
    best?.latest ?? "",
  ];
}

/** Why each column is taken for what it is, and which cells could not be read. */
function evidenceText({ columns }: SourceProfile): string {
  return columns
    .filter(
      ({ recognition, unreadable }) => recognition.verdict !== "none" || unreadable.length > 0,
    )
    .map(({ name, recognition, unreadable }) => {
      const suspects = recognition.suspects.map(
        ({ date, count }) => `  ${date} stands ${count} times, and may mean “no date”\n`,
      );
      const cells = unreadable.map(
        ({ id, value }) => `  record ${id} has “${value}”, unreadable\n`,
      );
      return `\n${name}: ${recognition.evidence}\n${suspects.join("")}${cells.join("")}`;
    })
    .join("");
}
