import type { Command } from "commander";
import {
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { progressText } from "../output/progress.js";
import { reportText } from "../output/report.js";

interface LoadsOptions extends ListFormat {
  readonly refused?: string;
  readonly restore?: boolean;
  readonly force?: boolean;
  readonly cancel?: boolean;
}

/** `orisma loads`. */
export function addLoads(command: Command, context: Context): void {
  withFormats(command.command("loads"))
    .description("show the files that a source has taken, and what they were refused for")
    .argument("<source>")
    .option("--refused <load>", "show the rows of a load that could not be taken; --csv to repair")
    .option("--restore", "make the records what they were before the last load")
    .option("--force", "restore them although listings would no longer be served")
    .option("--cancel", "end the load that runs; the records stay as they were")
    .addHelpText(
      "after",
      examples("orisma loads works", "orisma loads works --refused 3 --csv > repair.csv"),
    )
    .action((source: string, options: LoadsOptions) => showLoads(context, source, options));
}

async function showLoads(context: Context, source: string, options: LoadsOptions): Promise<void> {
  const client = context.client();
  if (options.cancel === true) {
    await client.cancelLoad(source);
    await context.print(`the load of ${source} was cancelled\n`);
  } else if (options.restore === true) {
    await context.print(
      reportText(await client.restoreRecords(source, { force: options.force === true })),
    );
  } else if (options.refused !== undefined) {
    await showRefused(context, source, options.refused, options);
  } else {
    const answer = await client.loads(source);
    const right = true;
    const headings = [
      { heading: "load", right },
      "mode",
      "state",
      "file",
      { heading: "records", right },
      { heading: "refused", right },
      "begun",
      "",
    ];
    const rows = answer.loads.map((load) => [
      String(load.load),
      load.mode,
      load.state,
      load.file ?? "",
      load.records === null ? "" : String(load.records),
      String(load.refused),
      load.startedAt.replace(/\.\d+Z$/, "Z"),
      load.inUse ? "in use" : (load.problem ?? ""),
    ]);
    await context.print(listText(options, answer, headings, rows));
    if (answer.running !== null) context.note(`${progressText(answer.running)}\n`);
  }
}

async function showRefused(
  { client, print }: Context,
  source: string,
  load: string,
  options: ListFormat,
): Promise<void> {
  if (!/^\d{1,9}$/.test(load)) throw new UsageError("--refused takes the number of a load");
  if (options.csv === true) {
    await print(await client().refusedCsv(source, Number(load)));
    return;
  }
  const rows = await client().refusedRows(source, Number(load));
  const headings = [{ heading: "line", right: true }, "because", "cells"];
  const texts = rows.map(({ line, reason, cells }) => [
    String(line),
    reason,
    cells.map((cell) => cell ?? "").join(" | "),
  ]);
  await print(listText(options, { refused: rows }, headings, texts));
}
