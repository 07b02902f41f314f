import type { SourceIndexes } from "@orisma/client";
import type { Command } from "commander";
import { examples, listText, toJson, withFormats, type Context } from "../context/context.js";
import type { ListFormat } from "../context/context.js";
import { UsageError } from "../context/failure.js";

/** `orisma sources index`. */
export function addIndex(sources: Command, context: Context): void {
  withFormats(sources.command("index"))
    .description("Make an index on columns; without columns list those there are, and proposals")
    .argument("<source>")
    .argument("[columns...]", "in the order of the index")
    .option("--remove", "delete the index on these columns")
    .addHelpText(
      "after",
      examples("orisma sources index works", "orisma sources index works status raised"),
    )
    .action(async (source: string, columns: readonly string[], options: IndexOptions) => {
      const client = context.client();
      if (columns.length === 0) {
        if (options.remove === true) throw new UsageError("name the columns of the index");
        await context.print(indexesText(options, await client.indexes(source)));
      } else if (options.remove === true) {
        await client.deleteIndex(source, columns);
        await context.print(`the index on ${columns.join(", ")} of ${source} is deleted\n`);
      } else {
        const made = await client.addIndex(source, columns);
        const text =
          `an index on ${columns.join(", ")} of ${source} was made in ${made.seconds} s; ` +
          `it takes about ${sizeText(made.bytes)}\n`;
        await context.print(options.json === true ? toJson(made) : text);
      }
    });
}

interface IndexOptions extends ListFormat {
  readonly remove?: boolean;
}

function indexesText(options: ListFormat, found: SourceIndexes): string {
  const purposes = { requested: "requested", listings: "for listings", dates: "for dates" };
  const rows = [
    ...found.indexes.map(({ columns, purpose, state, bytes }) => [
      columns.join(", "),
      state === "building" ? "being made" : purposes[purpose],
      sizeText(bytes),
      "",
    ]),
    ...found.proposals.map(({ columns, bytes, requests, slowestMs, column }) => [
      columns.join(", "),
      "proposed",
      sizeText(bytes),
      `${requests} slow ${requests === 1 ? "request" : "requests"}, up to ${slowestMs} ms, filtered by ${column}`,
    ]),
  ];
  return listText(options, found, ["columns", "state", "about", "would serve"], rows);
}

function sizeText(bytes: number): string {
  return `${Math.max(1, Math.round(bytes / 1024 ** 2))} MB`;
}
