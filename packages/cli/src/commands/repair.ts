import type { Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";

/** `orisma sources repair`. */
export function addRepair(sources: Command, context: Context): void {
  sources
    .command("repair")
    .description("Replace the text of one cell of a record")
    .argument("<source>")
    .argument("<id>", "the record")
    .argument("<column>")
    .argument("[value]", "the new text; none to empty the cell")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma sources repair works W-250301-1 raised 28/02/2025"))
    .action(
      async (
        source: string,
        id: string,
        column: string,
        value: string | undefined,
        options: { readonly json?: boolean },
      ) => {
        const cell = { id, column, value: value ?? null };
        const repaired = await context.client().repairCell(source, cell);
        const text =
          `${column} of ${id}: “${repaired.before ?? ""}” became “${repaired.value ?? ""}”, ` +
          `${repaired.fault?.message ?? repaired.state}\n`;
        await context.print(options.json === true ? toJson(repaired) : text);
      },
    );
}

/** `orisma sources watch`. */
export function addWatch(sources: Command, context: Context): void {
  sources
    .command("watch")
    .description("Import a file of the service's inbox again whenever it changes")
    .argument("<source>")
    .argument("[file]", "its path within the inbox")
    .option("--every <seconds>", "seconds between two checks", "60")
    .option("--mode <mode>", "replace, append or update", "replace")
    .option("--stop", "stop watching")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma sources watch works works.csv --every 300"))
    .action(async (source: string, file: string | undefined, options: WatchOptions) => {
      if (options.stop !== true && file === undefined) {
        throw new UsageError("name a file of the inbox, or give --stop");
      }
      const watch =
        options.stop === true || file === undefined
          ? null
          : { file, every: Number(options.every), mode: options.mode as "replace" };
      const answer = await context.client().watchFile(source, watch);
      const text =
        watch === null
          ? `${source} is not watched any more\n`
          : `${watch.file} of the inbox is imported into ${source} whenever it changes\n`;
      await context.print(options.json === true ? toJson(answer) : text);
    });
}

interface WatchOptions {
  readonly every: string;
  readonly mode: string;
  readonly stop?: boolean;
  readonly json?: boolean;
}
