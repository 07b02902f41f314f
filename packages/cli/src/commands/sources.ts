import type { SourceDescription } from "@orisma/client";
import { nameOf } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  addDelete,
  addListing,
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { partsText } from "../output/parts.js";
import { addAttach, addCombine, addUnnest } from "./attach.js";
import { addCells } from "./cells.js";
import { addImports, addRevert } from "./imports.js";
import { addIndex } from "./indexes.js";
import { addProfile } from "./profile.js";
import { addReading } from "./reading.js";
import { addEditPolicy } from "./edits.js";
import { addUses } from "./uses.js";
import { addRepair } from "./repair.js";
import { addWatch } from "./watch.js";

/** `orisma sources`: what is kept of each source, and what can be done with it. */
export function addSources(command: Command, context: Context): void {
  const sources = command
    .command("sources")
    .helpCommand(false)
    .description("List sources; show, read, combine and delete them")
    .addHelpText(
      "after",
      examples("orisma sources", "orisma sources columns works", "orisma sources revert works"),
    );
  addListing(sources)
    .description("List the sources (the default)")
    .addHelpText("after", examples("orisma sources", "orisma sources list --json"))
    .action((_words: readonly string[], options: ListFormat) => list(context, options));
  withFormats(sources.command("show"))
    .description("Show a source with its columns")
    .argument("<source>")
    .addHelpText("after", examples("orisma sources show works"))
    .action((name: string, options: ListFormat) => show(context, name, options));
  withFormats(sources.command("columns"))
    .description("List the columns of a source, and how each is read")
    .argument("<source>")
    .addHelpText("after", examples("orisma sources columns works --csv"))
    .action(async (name: string, options: ListFormat) => {
      const source = await context.client().source(name);
      await context.print(columnsText(options, source, source.columns));
    });
  addReading(sources, context);
  addProfile(sources, context);
  addCells(sources, context);
  addUses(sources, context);
  addRepair(sources, context);
  addEditPolicy(sources, context);
  addIndex(sources, context);
  addImports(sources, context);
  addRevert(sources, context);
  addWatch(sources, context);
  addAttach(sources, context);
  addCombine(sources, context);
  addUnnest(sources, context);
  addDelete(sources, "Delete a source and its records", context, (name) =>
    context.client().deleteSource(name),
  );
}

async function list({ client, print }: Context, options: ListFormat): Promise<void> {
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
    "imported, or read from",
  ];
  await print(listText(options, sources, headings, rows));
}

async function show({ client, print }: Context, name: string, options: ListFormat): Promise<void> {
  const source = await client().source(name);
  const parts = options.json === true || options.csv === true ? "" : partsText(source);
  const text = columnsText(options, source, source);
  await print(parts === "" ? text : `${text}\n${parts}`);
}

function columnsText(options: ListFormat, { columns }: SourceDescription, answer: unknown): string {
  const rows = columns.map((column) => [
    column.name,
    column.type === "date" ? column.reading.kind : column.type,
    column.type === "date" ? nameOf(column.reading) : "",
    column.type === "date" ? (column.reading.blanks?.join(", ") ?? "") : "",
  ]);
  const headings = ["column", "holds", "written as", "also blank"];
  return listText(options, answer, headings, rows);
}

function whereFrom({ attached, combine, unnest, importedAt }: SourceDescription): string {
  if (unnest !== null) return `values in ${unnest.column} of ${unnest.source}`;
  if (combine !== null) return combine.of.join(" and ");
  if (attached !== null) return `${attached.table} of ${attached.database}`;
  return importedAt ?? "no file yet";
}
