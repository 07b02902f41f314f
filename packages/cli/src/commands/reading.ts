import type { ColumnDeclaration, NewSource, OrismaClient, ReadingsPreview } from "@orisma/client";
import {
  formInWords,
  isCertain,
  isCertainNumbers,
  nameOf,
  type SourceProfile,
} from "@orisma/core/internal";
import type { Command } from "commander";
import { columnsFrom, withColumnOptions, type ColumnOptions } from "../input/columns.js";
import { examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { withProgress } from "../output/progress.js";
import { noDatesText, reportText } from "../output/report.js";
import { drawTable } from "../output/table.js";

interface ReadingOptions extends ColumnOptions {
  readonly certain?: boolean;
  readonly dryRun?: boolean;
  readonly force?: boolean;
  readonly json?: boolean;
}

/** `orisma sources reading`. */
export function addReading(sources: Command, context: Context): void {
  withColumnOptions(sources.command("reading"))
    .description("Set how columns of a source are read")
    .argument("<source>")
    .option("--certain", "every text column that can be read in one way only, as dates or numbers")
    .option("--dry-run", "show the result, and store nothing")
    .option("--force", "even if listings can no longer be served")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma sources reading works --date due=dd/MM/yyyy --blank N/A --blank tbc",
        "orisma sources reading works --certain --dry-run",
      ),
    )
    .action((name: string, options: ReadingOptions) => setReading(context, name, options));
}

async function setReading(context: Context, name: string, options: ReadingOptions): Promise<void> {
  const client = context.client();
  const columns = await wantedColumns(client, name, options);
  if (options.dryRun === true) {
    const previews = await client.previewReadings(name, columns);
    await context.print(options.json === true ? toJson(previews) : previewText(previews));
    return;
  }
  const work = client.setReadings(name, columns, {
    force: options.force === true,
    // What is certain of some columns is not kept from being by others.
    partly: options.certain === true,
  });
  const report = await withProgress(client, name, context.note, work);
  await context.print(options.json === true ? toJson(report) : reportText(report));
  const dates = Object.entries(columns).filter(([, { type }]) => type === "date");
  const unread = noDatesText(report, new Set(dates.map(([column]) => column)));
  if (unread !== null) throw new Error(unread);
}

async function wantedColumns(client: OrismaClient, name: string, options: ReadingOptions) {
  const named = columnsFrom(options);
  const certain = options.certain === true ? certainColumns(await client.profile(name)) : [];
  const columns: NonNullable<NewSource["columns"]> = {
    ...Object.fromEntries(certain.map(({ name: column, declared }) => [column, declared])),
    ...named,
  };
  if (Object.keys(columns).length > 0) return columns;
  throw new UsageError(
    options.certain === true
      ? `no text column of ${name} can be read in one way only; orisma sources profile ${name} shows why`
      : "name a column, such as --date due=dd/MM/yyyy, or give --certain",
  );
}

/** A text column that can be read in one way only. */
interface CertainColumn {
  readonly name: string;
  readonly declared: ColumnDeclaration;
  /** How it is written, in words. */
  readonly written: string;
  readonly misses: number;
}

/** The text columns that can be read as dates, or as numbers, in one way only. */
export function certainColumns({ columns }: SourceProfile): readonly CertainColumn[] {
  return columns.flatMap((column): readonly CertainColumn[] => {
    const { name } = column;
    const [dates] = column.recognition.candidates;
    if (isCertain(column) && dates !== undefined) {
      const { reading, misses } = dates;
      return [{ name, declared: { type: "date", reading }, written: nameOf(reading), misses }];
    }
    const [numbers] = column.written.candidates;
    if (!isCertainNumbers(column) || numbers === undefined) return [];
    const { type, form, misses } = numbers;
    return [{ name, declared: { type, written: form }, written: formInWords(form, type), misses }];
  });
}

/** The columns whose reading could be set, and how they are written. */
export function certainText(source: string, columns: readonly CertainColumn[]): string {
  const lines = columns.map(({ name, written, misses }) => {
    const rest = misses === 0 ? "" : `, but for ${misses} ${misses === 1 ? "cell" : "cells"}`;
    return `  ${name} is written as ${written}${rest}\n`;
  });
  return `Stored as text; orisma sources reading ${source} --certain reads these:\n${lines.join("")}`;
}

function previewText({ columns: previews, breaks }: ReadingsPreview): string {
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
  const strings = columns.flatMap(([name, { quality }]) =>
    (quality?.unreadables ?? []).map(
      ({ value, count }) => `  ${name}: “${value}” in ${count} ${count === 1 ? "cell" : "cells"}\n`,
    ),
  );
  const broken = breaks.map(({ listing, reason }) => `  ${listing}: ${reason}\n`);
  return [
    table,
    strings.length === 0 ? "" : `\nWould be unreadable:\n${strings.join("")}`,
    broken.length === 0 ? "" : `\nListings that would no longer be served:\n${broken.join("")}`,
    "\nNothing was stored.\n",
  ].join("");
}
