import { nameOf } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";

/** `orisma inspect`. */
export function addInspect(command: Command, context: Context): void {
  withFormats(command.command("inspect"))
    .description("show every cell of a record as it came, beside what it is read as")
    .argument("<source>")
    .argument("<id>", "the record")
    .addHelpText("after", examples("orisma inspect works W-250228-1"))
    .action(async (source: string, id: string, options: ListFormat) => {
      const record = await context.client().inspectRecord(source, id);
      const rows = record.cells.map(({ column, type, reading, raw, state, long, fault }) => [
        column,
        raw ?? "",
        reading === undefined ? type : `${reading.kind}, ${nameOf(reading)}`,
        fault?.message ?? long ?? (state === "blank" ? "blank" : ""),
      ]);
      const headings = ["column", "as it came", "read as", "is"];
      await context.print(listText(options, record, headings, rows));
    });
}
