import type { Command } from "commander";
import { columnsFrom, withColumnOptions, type ColumnOptions } from "../columns.js";
import { examples, toJson, type Context } from "../context.js";
import { UsageError } from "../failure.js";
import { reportText } from "./import.js";

/** `orisma settle`. */
export function addSettle(command: Command, context: Context): void {
  withColumnOptions(command.command("settle"))
    .description("understand columns of a source otherwise, from their texts as they came")
    .argument("<source>")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples("orisma settle works --date due=dd/MM/yyyy --blank N/A --blank tbc"),
    )
    .action(async (name: string, options: ColumnOptions & { readonly json?: boolean }) => {
      const columns = columnsFrom(options);
      if (Object.keys(columns).length === 0) {
        throw new UsageError("name a column to settle, such as --date due=dd/MM/yyyy");
      }
      const report = await context.client().settleColumns(name, columns);
      await context.print(options.json === true ? toJson(report) : reportText(report));
    });
}
