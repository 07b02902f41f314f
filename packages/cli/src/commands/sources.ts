import type { Command } from "commander";
import { examples, listText, withFormats, type Context, type ListFormat } from "../context.js";
import { UsageError } from "../failure.js";

/** `orisma sources`. */
export function addSources(command: Command, context: Context): void {
  withFormats(command.command("sources"))
    .description("list the sources, or show one with its columns")
    .argument("[source]")
    .option("--remove", "end the source and its records")
    .addHelpText("after", examples("orisma sources", "orisma sources works"))
    .action(async (name: string | undefined, options: ListFormat & { remove?: boolean }) => {
      await showSources(context, name, options);
    });
}

async function showSources(
  { client, print }: Context,
  name: string | undefined,
  options: ListFormat & { readonly remove?: boolean },
): Promise<void> {
  if (options.remove === true) {
    if (name === undefined) throw new UsageError("--remove needs the name of a source");
    await client().removeSource(name);
    await print(`${name} and its records are gone\n`);
    return;
  }
  if (name === undefined) {
    const sources = await client().sources();
    const rows = sources.map((each) => [
      each.name,
      each.records === null ? "" : String(each.records),
      String(each.columns.length),
      each.key ?? "",
      each.attached === null
        ? (each.loadedAt ?? "no file yet")
        : `${each.attached.table} of ${each.attached.database}`,
    ]);
    const right = true;
    const headings = [
      "source",
      { heading: "records", right },
      { heading: "columns", right },
      "key",
      "taken, or read from",
    ];
    await print(listText(options, sources, headings, rows));
    return;
  }
  const source = await client().source(name);
  const rows = source.columns.map((column) => [
    column.name,
    column.type === "date" ? column.reading.kind : column.type,
    column.type === "date" ? (column.reading.patterns?.join(" | ") ?? "ISO 8601") : "",
    column.type === "date" ? (column.reading.blanks?.join(", ") ?? "") : "",
  ]);
  const headings = ["column", "holds", "written as", "blank too"];
  await print(listText(options, source, headings, rows));
}
