import type { Command } from "commander";
import {
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { policyOf } from "./edits.js";
import { progressText } from "../output/progress.js";
import { reportText } from "../output/report.js";

interface ImportsOptions extends ListFormat {
  readonly refused?: string;
  readonly cancel?: boolean;
}

/** `orisma sources imports`. */
export function addImports(sources: Command, context: Context): void {
  withFormats(sources.command("imports"))
    .description("List the files that were imported, and the rows that were refused")
    .argument("<source>")
    .option(
      "--refused <import>",
      "show the rows of an import that were refused; --csv to repair them",
    )
    .option("--cancel", "cancel the import that is running; the records stay as they were")
    .addHelpText(
      "after",
      examples(
        "orisma sources imports works",
        "orisma sources imports works --refused 3 --csv > repair.csv",
      ),
    )
    .action((source: string, options: ImportsOptions) => showImports(context, source, options));
}

/** `orisma sources revert`. */
export function addRevert(sources: Command, context: Context): void {
  sources
    .command("revert")
    .description("Restore the records as they were before the last import")
    .argument("<source>")
    .option("--force", "even if listings can no longer be served")
    .option("--edits <policy>", "of edits that were made since: preserve, overwrite or report")
    .addHelpText("after", examples("orisma sources revert works"))
    .action(async (source: string, options: RevertOptions) => {
      const { force = false, edits } = options;
      const sent = edits === undefined ? { force } : { force, edits: policyOf(edits) };
      await context.print(reportText(await context.client().restoreRecords(source, sent)));
    });
}

interface RevertOptions {
  readonly force?: boolean;
  readonly edits?: string;
}

async function showImports(
  context: Context,
  source: string,
  options: ImportsOptions,
): Promise<void> {
  const client = context.client();
  if (options.cancel === true) {
    await client.cancelImport(source);
    await context.print(`the import into ${source} was cancelled\n`);
  } else if (options.refused !== undefined) {
    await showRefused(context, source, options.refused, options);
  } else {
    const answer = await client.imports(source);
    const right = true;
    const headings = [
      { heading: "import", right },
      "mode",
      "state",
      "file",
      { heading: "records", right },
      { heading: "refused", right },
      "started",
      "",
    ];
    const rows = answer.imports.map((each) => [
      String(each.number),
      each.mode,
      each.state,
      each.file ?? "",
      each.records === null ? "" : String(each.records),
      String(each.refused),
      each.startedAt.replace(/\.\d+Z$/, "Z"),
      each.inUse ? "in use" : (each.problem ?? ""),
    ]);
    await context.print(listText(options, answer, headings, rows));
    if (answer.running !== null) context.note(`${progressText(answer.running)}\n`);
  }
}

async function showRefused(
  { client, print }: Context,
  source: string,
  each: string,
  options: ListFormat,
): Promise<void> {
  if (!/^\d{1,9}$/.test(each)) throw new UsageError("--refused takes the number of an import");
  if (options.csv === true) {
    await print(await client().refusedCsv(source, Number(each)));
    return;
  }
  const rows = await client().refusedRows(source, Number(each));
  const headings = [{ heading: "line", right: true }, "because", "cells"];
  const strings = rows.map(({ line, reason, cells }) => [
    String(line),
    reason,
    cells.map((cell) => cell ?? "").join(" | "),
  ]);
  await print(listText(options, { refused: rows }, headings, strings));
}
