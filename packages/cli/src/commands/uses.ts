import type { Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";

/** `orisma sources uses`. */
export function addUses(sources: Command, context: Context): void {
  sources
    .command("uses")
    .description("Show what stands on a column: where listings speak of it, and its edits")
    .argument("<source>")
    .argument("<column>")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma sources uses works priority"))
    .action(async (source: string, column: string, options: { readonly json?: boolean }) => {
      const uses = await context.client().columnUses(source, column);
      if (options.json === true) {
        await context.print(toJson(uses));
        return;
      }
      const lines = [
        ...uses.listings.map(({ listing, places }) => `${listing}: ${places.join(", ")}`),
        ...uses.sources.map((each) => `${each}: a source that is made of it`),
        ...(uses.edits === 0 ? [] : [`${uses.edits} edited cells`]),
      ];
      const none = `nothing stands on ${column} of ${source}`;
      await context.print(`${(lines.length === 0 ? [none] : lines).join("\n")}\n`);
    });
}
