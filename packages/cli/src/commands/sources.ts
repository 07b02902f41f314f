import type { SourceDescription } from "@orisma/client";
import { nameOf } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { partsText } from "../output/parts.js";

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
      whereFrom(each),
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
    column.type === "date" ? nameOf(column.reading) : "",
    column.type === "date" ? (column.reading.blanks?.join(", ") ?? "") : "",
  ]);
  const headings = ["column", "holds", "written as", "blank too"];
  const parts = options.json === true || options.csv === true ? "" : partsText(source);
  const text = listText(options, source, headings, rows);
  await print(parts === "" ? text : `${text}\n${parts}`);
}

function whereFrom({ attached, stacked, inside, loadedAt }: SourceDescription): string {
  if (inside !== null) return `inside ${inside.column} of ${inside.source}`;
  if (stacked !== null) return stacked.of.join(" and ");
  if (attached !== null) return `${attached.table} of ${attached.database}`;
  return loadedAt ?? "no file yet";
}
