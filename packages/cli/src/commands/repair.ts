import type { Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";

/** `orisma repair`. */
export function addRepair(command: Command, context: Context): void {
  command
    .command("repair")
    .description("give one cell of one record another text, which is read as its column is")
    .argument("<source>")
    .argument("<id>", "the record")
    .argument("<column>")
    .argument("[value]", "the text; left out to empty the cell")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma repair works W-250301-1 raised 28/02/2025"))
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

/** `orisma watch`. */
export function addWatch(command: Command, context: Context): void {
  command
    .command("watch")
    .description("take a file of the service's inbox again whenever it changes")
    .argument("<source>")
    .argument("[file]", "its path within the inbox")
    .option("--every <seconds>", "seconds between two looks at it", "60")
    .option("--mode <mode>", "replace, append or update", "replace")
    .option("--end", "watch it no longer")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma watch works works.csv --every 300"))
    .action(async (source: string, file: string | undefined, options: WatchOptions) => {
      if (options.end !== true && file === undefined) {
        throw new UsageError("name a file of the inbox, or say --end");
      }
      const watch =
        options.end === true || file === undefined
          ? null
          : { file, every: Number(options.every), mode: options.mode as "replace" };
      const answer = await context.client().watchFile(source, watch);
      const text =
        watch === null
          ? `${source} watches no file\n`
          : `${source} takes ${watch.file} of the inbox whenever it changes\n`;
      await context.print(options.json === true ? toJson(answer) : text);
    });
}

interface WatchOptions {
  readonly every: string;
  readonly mode: string;
  readonly end?: boolean;
  readonly json?: boolean;
}
