import { nameOf } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";

/** `orisma sources cells`. */
export function addCells(sources: Command, context: Context): void {
  withFormats(sources.command("cells"))
    .description("Show every cell of a record, as imported and as read")
    .argument("<source>")
    .argument("<id>", "the record")
    .addHelpText("after", examples("orisma sources cells works W-250228-1"))
    .action(async (source: string, id: string, options: ListFormat) => {
      const record = await context.client().inspectRecord(source, id);
      const rows = record.cells.map(({ column, type, reading, raw, state, long, fault }) => [
        column,
        raw ?? "",
        reading === undefined ? type : `${reading.kind}, ${nameOf(reading)}`,
        fault?.message ?? long ?? (state === "blank" ? "blank" : ""),
      ]);
      const headings = ["column", "imported as", "read as", "is"];
      await context.print(listText(options, record, headings, rows));
    });
}
