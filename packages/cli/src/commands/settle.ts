import type { NewSource, OrismaClient, SettlingPreview } from "@orisma/client";
import { isCertain, nameOf, type Reading, type SourceProfile } from "@orisma/core/internal";
import type { Command } from "commander";
import { columnsFrom, withColumnOptions, type ColumnOptions } from "../input/columns.js";
import { examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { withProgress } from "../output/progress.js";
import { noDatesText, reportText } from "../output/report.js";
import { drawTable } from "../output/table.js";

interface SettleOptions extends ColumnOptions {
  readonly certain?: boolean;
  readonly preview?: boolean;
  readonly force?: boolean;
  readonly json?: boolean;
}

/** `orisma settle`. */
export function addSettle(command: Command, context: Context): void {
  withColumnOptions(command.command("settle"))
    .description("understand columns of a source otherwise, from their texts as they came")
    .argument("<source>")
    .option("--certain", "settle every column of text that can only be dates in one way")
    .option("--preview", "show what would come of it, and store nothing")
    .option("--force", "settle them although listings would no longer be served")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma settle works --date due=dd/MM/yyyy --blank N/A --blank tbc",
        "orisma settle works --certain --preview",
      ),
    )
    .action((name: string, options: SettleOptions) => settle(context, name, options));
}

async function settle(context: Context, name: string, options: SettleOptions): Promise<void> {
  const client = context.client();
  const columns = await wantedColumns(client, name, options);
  if (options.preview === true) {
    const previews = await client.previewColumns(name, columns);
    await context.print(options.json === true ? toJson(previews) : previewText(previews));
    return;
  }
  const load = client.settleColumns(name, columns, { force: options.force === true });
  const report = await withProgress(client, name, context.note, load);
  await context.print(options.json === true ? toJson(report) : reportText(report));
  const dates = Object.entries(columns).filter(([, { type }]) => type === "date");
  const unread = noDatesText(report, new Set(dates.map(([column]) => column)));
  if (unread !== null) throw new Error(unread);
}

async function wantedColumns(client: OrismaClient, name: string, options: SettleOptions) {
  const named = columnsFrom(options);
  const certain = options.certain === true ? certainColumns(await client.profile(name)) : [];
  const columns: NonNullable<NewSource["columns"]> = {
    ...Object.fromEntries(
      certain.map((column) => [column.name, { type: "date", reading: column.reading } as const]),
    ),
    ...named,
  };
  if (Object.keys(columns).length > 0) return columns;
  throw new UsageError(
    options.certain === true
      ? `no column of text in ${name} can only be dates in one way; orisma profile ${name} shows why`
      : "name a column to settle, such as --date due=dd/MM/yyyy, or say --certain",
  );
}

/** A column of text that can only be dates in one way. */
interface CertainColumn {
  readonly name: string;
  readonly reading: Reading;
  readonly misses: number;
}

/** The columns of text that can only be dates in one way. */
export function certainColumns({ columns }: SourceProfile): readonly CertainColumn[] {
  return columns.filter(isCertain).flatMap(({ name, recognition: { candidates } }) => {
    const [best] = candidates;
    return best === undefined ? [] : [{ name, reading: best.reading, misses: best.misses }];
  });
}

/** What could be settled, and how. */
export function certainText(source: string, columns: readonly CertainColumn[]): string {
  const lines = columns.map(({ name, reading, misses }) => {
    const rest = misses === 0 ? "" : `, but for ${misses} ${misses === 1 ? "cell" : "cells"}`;
    return `  ${name} is written as ${nameOf(reading)}${rest}\n`;
  });
  return `Held as text so far; orisma settle ${source} --certain makes dates of:\n${lines.join("")}`;
}

function previewText({ columns: previews, breaks }: SettlingPreview): string {
  const right = true;
  const columns = Object.entries(previews);
  const table = drawTable(
    [
      { heading: "column" },
      { heading: "read", right },
      { heading: "blank", right },
      { heading: "unreadable", right },
      { heading: "earliest" },
      { heading: "latest" },
    ],
    columns.map(([name, { dated, blank, unreadable, quality }]) => [
      name,
      String(dated),
      String(blank),
      String(unreadable),
      quality?.earliest ?? "",
      quality?.latest ?? "",
    ]),
  );
  const texts = columns.flatMap(([name, { quality }]) =>
    (quality?.unreadables ?? []).map(
      ({ value, count }) => `  ${name}: “${value}” in ${count} ${count === 1 ? "cell" : "cells"}\n`,
    ),
  );
  const broken = breaks.map(({ listing, reason }) => `  ${listing}: ${reason}\n`);
  return [
    table,
    texts.length === 0 ? "" : `\nWould be unreadable:\n${texts.join("")}`,
    broken.length === 0 ? "" : `\nListings that would no longer be served:\n${broken.join("")}`,
    "\nNothing was stored.\n",
  ].join("");
}
