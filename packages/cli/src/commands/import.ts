import { createReadStream, existsSync, statSync } from "node:fs";
import { basename, extname } from "node:path";
import { Readable } from "node:stream";
import { OrismaError, type LoadReport, type NewSource, type OrismaClient } from "@orisma/client";
import { DATE_ENCODINGS, type DateEncoding, type DateKind } from "@orisma/core";
import type { Command } from "commander";
import { collect, examples, toJson, type Context } from "../context.js";
import { UsageError } from "../failure.js";
import { drawTable } from "../table.js";

interface ImportOptions {
  readonly name?: string;
  readonly key?: string;
  readonly date: readonly string[];
  readonly local: readonly string[];
  readonly instant: readonly string[];
  readonly integer: readonly string[];
  readonly decimal: readonly string[];
  readonly blank: readonly string[];
  readonly locale: readonly string[];
  readonly zone?: string;
  readonly replace?: boolean;
}

/** `orisma import`. */
export function addImport(command: Command, context: Context): void {
  command
    .command("import")
    .description("take a CSV file as the records of a source")
    .argument("<file>")
    .option("--name <source>", "name of the source; the file's own unless given")
    .option("--key <column>", "column whose value is a record's id")
    .option("--date <column=pattern>", "a column of days; ISO 8601 without a pattern", collect, [])
    .option("--local <column=pattern>", "a column of dates with wall-clock times", collect, [])
    .option("--instant <column=pattern>", "a column of points in time", collect, [])
    .option("--integer <column>", "a column of whole numbers", collect, [])
    .option("--decimal <column>", "a column of decimal numbers", collect, [])
    .option("--blank <spelling>", "a spelling of “no date”", collect, [])
    .option("--zone <zone>", "time zone of points in time written without an offset")
    .option("--locale <language>", "a language of month and day names", collect, [])
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
  return client.replaceRecords(source.name, body);
}

function newSource(file: string, options: ImportOptions): NewSource {
  const columns: Record<string, NonNullable<NewSource["columns"]>[string]> = {};
  const dates: readonly (readonly [DateKind, readonly string[]])[] = [
    ["date", options.date],
    ["local", options.local],
    ["instant", options.instant],
  ];
  for (const [kind, specs] of dates) {
    for (const spec of specs) {
      const { name, encoding, patterns } = readDateSpec(spec);
      columns[name] = {
        type: "date",
        reading: {
          kind,
          encoding,
          ...(patterns.length === 0 ? {} : { patterns }),
          ...(options.blank.length === 0 ? {} : { blanks: options.blank }),
          ...(options.locale.length === 0 ? {} : { locales: options.locale }),
          ...(options.zone === undefined ? {} : { zone: options.zone }),
        },
      };
    }
  }
  for (const name of options.integer) columns[name] = { type: "integer" };
  for (const name of options.decimal) columns[name] = { type: "decimal" };
  return {
    name: options.name ?? basename(file, extname(file)),
    columns,
    ...(options.key === undefined ? {} : { key: options.key }),
  };
}

interface DateSpec {
  readonly name: string;
  readonly encoding: DateEncoding;
  readonly patterns: readonly string[];
}

/**
 * `raised=dd/MM/yyyy`, several patterns with `|` between them, or `due=serial-1900`; `raised`
 * alone is ISO 8601.
 */
function readDateSpec(spec: string): DateSpec {
  const at = spec.indexOf("=");
  if (at < 0) return { name: spec, encoding: "text", patterns: [] };
  const [name, form] = [spec.slice(0, at), spec.slice(at + 1)];
  const encoding = DATE_ENCODINGS.find((each) => each === form);
  return encoding === undefined
    ? { name, encoding: "text", patterns: form.split("|") }
    : { name, encoding, patterns: [] };
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
function reportText({ source, records, columns }: LoadReport): string {
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
