import type { Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";

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
