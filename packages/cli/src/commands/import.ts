import { createReadStream, existsSync, statSync } from "node:fs";
import { basename, extname } from "node:path";
import { Readable } from "node:stream";
import { OrismaError, type LoadReport, type NewSource, type OrismaClient } from "@orisma/client";
import type { Command } from "commander";
import { columnsFrom, withColumnOptions, type ColumnOptions } from "../columns.js";
import { examples, toJson, type Context } from "../context.js";
import { UsageError } from "../failure.js";
import { drawTable } from "../table.js";

interface ImportOptions extends ColumnOptions {
  readonly name?: string;
  readonly key?: string;
  readonly replace?: boolean;
}

/** `orisma import`. */
export function addImport(command: Command, context: Context): void {
  withColumnOptions(command.command("import"))
    .description("take a CSV file as the records of a source")
    .argument("<file>")
    .option("--name <source>", "name of the source; the file's own unless given")
    .option("--key <column>", "column whose value is a record's id")
    .option("--replace", "take the file instead of the records that are there")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma import works.csv --key order --date raised=dd/MM/yyyy --blank N/A --integer cost",
        "orisma import works.csv --replace",
      ),
    )
    .action(async (file: string, options: ImportOptions & { json?: boolean }) => {
      const report = await importFile(context.client(), file, options);
      await context.print(options.json === true ? toJson(report) : reportText(report));
    });
}

/** Declares a source and takes a CSV file as its records. */
async function importFile(
  client: OrismaClient,
  file: string,
  options: ImportOptions,
): Promise<LoadReport> {
  if (!existsSync(file) || !statSync(file).isFile()) throw new UsageError(`${file} is not a file`);
  const source = newSource(file, options);
  await declare(client, source, options.replace ?? false);
  const body = Readable.toWeb(createReadStream(file)) as ReadableStream;
  return client.takeFile(source.name, body);
}

function newSource(file: string, options: ImportOptions): NewSource {
  return {
    name: options.name ?? basename(file, extname(file)),
    columns: columnsFrom(options),
    ...(options.key === undefined ? {} : { key: options.key }),
  };
}

async function declare(client: OrismaClient, source: NewSource, replace: boolean): Promise<void> {
  try {
    await client.createSource(source);
  } catch (error) {
    if (!(error instanceof OrismaError) || error.status !== 409) throw error;
    const there = await client.source(source.name);
    // A source without records is what an import that failed leaves; it is declared afresh.
    if (there.loadedAt === null) {
      await client.removeSource(source.name);
      await client.createSource(source);
    } else if (!replace) {
      throw new UsageError(
        `there is a source ${source.name} with ${there.records} records; ` +
          `--replace takes this file instead of them, under the readings that it has`,
      );
    }
  }
}

/** What was made of a file, for people. */
export function reportText({ source, records, columns }: LoadReport): string {
  const rows = Object.entries(columns).map(([name, { read, blank, unreadable }]) => [
    name,
    String(read),
    String(blank),
    String(unreadable),
  ]);
  const examples = Object.entries(columns).flatMap(([name, column]) =>
    column.examples.map(({ line, message }) => `  line ${line}, ${name}: ${message}\n`),
  );
  const right = true;
  const table = drawTable(
    [
      { heading: "column" },
      { heading: "read", right },
      { heading: "blank", right },
      { heading: "unreadable", right },
    ],
    rows,
  );
  return (
    `${source}: ${records} records\n` +
    (rows.length === 0 ? "" : `\n${table}`) +
    (examples.length === 0 ? "" : `\nUnreadable, kept as they came:\n${examples.join("")}`)
  );
}
