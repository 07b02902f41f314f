import type { Command } from "commander";
import { examples, toJson, type Context } from "../context.js";
import { UsageError } from "../failure.js";
import { drawTable } from "../table.js";

/** `orisma sources`. */
export function addSources(command: Command, context: Context): void {
  command
    .command("sources")
    .description("list the sources, or show one with its columns")
    .argument("[source]")
    .option("--remove", "end the source and its records")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma sources", "orisma sources works"))
    .action(async (name: string | undefined, options: { json?: boolean; remove?: boolean }) => {
      await showSources(context, name, options);
    });
}

async function showSources(
  { client, print }: Context,
  name: string | undefined,
  { json, remove }: { readonly json?: boolean; readonly remove?: boolean },
): Promise<void> {
  if (remove === true) {
    if (name === undefined) throw new UsageError("--remove needs the name of a source");
    await client().removeSource(name);
    await print(`${name} and its records are gone\n`);
    return;
  }
  if (name === undefined) {
    const sources = await client().sources();
    const rows = sources.map((each) => [
      each.name,
      String(each.records),
      String(each.columns.length),
      each.key ?? "",
      each.loadedAt ?? "no file yet",
    ]);
    const right = true;
    const headings = [
      { heading: "source" },
      { heading: "records", right },
      { heading: "columns", right },
      { heading: "key" },
      { heading: "taken" },
    ];
    await print(json === true ? toJson(sources) : drawTable(headings, rows));
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
  await print(
    json === true
      ? toJson(source)
      : drawTable(
          headings.map((heading) => ({ heading })),
          rows,
        ),
  );
}
