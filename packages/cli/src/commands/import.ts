import { createReadStream, existsSync, statSync } from "node:fs";
import { basename } from "node:path";
import { Readable } from "node:stream";
import {
  OrismaError,
  type FileInspection,
  type FileOptions,
  type ImportMode,
  type ImportReport,
  type NewSource,
  type OrismaClient,
  type ImportOptions,
} from "@orisma/client";
import { nameFromFile } from "@orisma/core/internal";
import { Option, type Command } from "commander";
import { columnsFrom, withColumnOptions, type ColumnOptions } from "../input/columns.js";
import { collect, examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { withProgress } from "../output/progress.js";
import { countOf, noDatesText, reportText } from "../output/report.js";
import { drawTable } from "../output/table.js";
import { policyOf } from "./edits.js";
import { certainColumns, certainText } from "./reading.js";

interface CommandOptions extends ColumnOptions {
  readonly name?: string;
  readonly key?: string;
  readonly replace?: boolean;
  readonly append?: boolean;
  readonly update?: boolean;
  readonly format?: string;
  readonly encoding?: string;
  readonly delimiter?: string;
  readonly headings?: string;
  readonly skip?: string;
  readonly lastRow?: string;
  readonly sheet?: string;
  readonly shortRows?: string;
  readonly records?: string;
  readonly flatten?: boolean;
  readonly duplicates?: string;
  readonly certain?: boolean;
  readonly only: readonly string[];
  readonly again?: boolean;
  readonly force?: boolean;
  readonly edits?: string;
  readonly dryRun?: boolean;
  readonly json?: boolean;
}

/** `orisma import`. */
export function addImport(command: Command, context: Context): void {
  withColumnOptions(command.command("import"))
    .description("Import files as the records of a source: CSV and the like, JSON, XLSX, ODS")
    .argument("<files...>", "files or addresses, also compressed with gzip; - for standard input")
    .option("--name <source>", "name of the source; by default that of the file")
    .option("--key <column>", "column whose value is a record's id")
    .option("--replace", "replace the records of the source")
    .option("--append", "add the records to those of the source")
    .option("--update", "add the records, and replace those with the same keys")
    .option("--dry-run", "show what the file is, and store nothing")
    .option("--certain", "read every text column that can be read in one way only")
    .option("--records <path>", "where a JSON document has its records, such as $.data.items")
    .option("--flatten", "make the parts of objects in JSON columns, such as address.city")
    .option("--only <column>", "import only this column; repeat for more", collect, [])
    .option("--sheet <sheet>", "name or number of the sheet of a workbook")
    .option("--skip <lines>", "lines to skip above the headings")
    .option("--last-row <number>", "the last row that is a record; what follows is omitted")
    .option("--headings <rows>", "rows of headings; 0 for none")
    .option("--delimiter <character>", "the delimiter of cells; detected by default")
    .option("--encoding <name>", "the encoding of the text; detected by default")
    .option("--format <form>", "delimited, ndjson, json, xlsx or ods; detected by default")
    .addOption(
      new Option("--duplicates <how>", "what to do with headings that repeat").choices([
        "refuse",
        "number",
      ]),
    )
    .addOption(
      new Option("--short-rows <how>", "what to do with rows that end early").choices([
        "refuse",
        "blank",
      ]),
    )
    .option("--again", "import the file even if it was the last one imported")
    .option("--force", "even if listings can no longer be served")
    .option("--edits <policy>", "of edits that it would overwrite: preserve, overwrite or report")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma import works.csv --key order --date raised=dd/MM/yyyy --blank N/A --integer cost",
        "orisma import works.json.gz --records '$.data.items' --flatten --certain",
        "orisma import tolls-01.csv tolls-02.csv tolls-03.csv --name tolls",
        "zcat works.csv.gz | orisma import - --name works",
      ),
    )
    .action((files: string[], options: CommandOptions) => importFiles(context, files, options));
}

async function importFiles(
  context: Context,
  files: readonly string[],
  options: CommandOptions,
): Promise<void> {
  const [first = ""] = files;
  mustBeFiles(files, options);
  const client = context.client();
  const { only, ...reading } = fileOptions(options);
  if (options.dryRun === true) {
    const inspections: FileInspection[] = [];
    for (const file of files)
      inspections.push(await client.inspectFile(await bodyOf(file), reading));
    const strings = inspections.map((each, at) =>
      files.length === 1 ? inspectionText(each) : `${files[at] ?? ""}\n${inspectionText(each)}`,
    );
    await context.print(options.json === true ? jsonOf(inspections) : strings.join("\n"));
    return;
  }
  const mode = modeOf(options);
  const source = newSource(first, options);
  const isCreated = await declare(client, source, mode);
  const reports: ImportReport[] = [];
  for (const [at, file] of files.entries()) {
    const sent: ImportOptions = {
      ...reading,
      // What follows the first file is added to it.
      mode: at > 0 && mode !== "update" ? "append" : (mode ?? "replace"),
      file: nameOfFile(file),
      ...(only.length === 0 ? {} : { columns: only }),
      ...(options.again === true ? { again: true } : {}),
      ...(options.force === true ? { force: true } : {}),
      ...(options.edits === undefined ? {} : { edits: policyOf(options.edits) }),
    };
    const work = bodyOf(file).then((body) => client.importFile(source.name, body, sent));
    const report = await withProgress(client, source.name, context.note, work).catch(
      async (error: unknown) => {
        // A file that was refused leaves nothing behind that was not there before.
        if (isCreated && at === 0) await client.deleteSource(source.name).catch(() => undefined);
        if (at > 0) context.note(stoppedText(source.name, files, at));
        throw error;
      },
    );
    reports.push(report);
    if (options.json !== true) {
      await context.print(
        files.length === 1 ? reportText(report) : `${file}\n${reportText(report)}`,
      );
    }
  }
  if (options.json === true) await context.print(jsonOf(reports));
  if (options.certain === true && reports.some(({ unchanged }) => unchanged !== true)) {
    await readCertain(client, source.name, context, options);
  }
  const { columns } = await client.source(source.name);
  const dates = new Set(columns.filter(({ type }) => type === "date").map(({ name }) => name));
  for (const report of reports) {
    const unread = noDatesText(report, dates);
    if (unread !== null) throw new Error(unread);
  }
  if (options.json === true || options.certain === true) return;
  const certain = certainColumns(await client.profile(source.name));
  if (certain.length > 0) context.note(`\n${certainText(source.name, certain)}`);
}

/** Every file is there, and is named where it has no name, before anything is sent. */
function mustBeFiles(files: readonly string[], { name, dryRun }: CommandOptions): void {
  for (const file of files) {
    if (file !== "-" && !isAddress(file) && (!existsSync(file) || !statSync(file).isFile())) {
      throw new UsageError(`${file} is not a file`);
    }
  }
  if (files.filter((file) => file === "-").length > 1) {
    throw new UsageError("standard input is one file: give - once");
  }
  if (files[0] === "-" && name === undefined && dryRun !== true) {
    throw new UsageError("give --name for a file from standard input");
  }
}

function isAddress(file: string): boolean {
  return /^https?:\/\//i.test(file);
}

/** What a file is called for people: of an address the last part of its path. */
function nameOfFile(file: string): string {
  if (file === "-") return "standard input";
  if (!isAddress(file)) return basename(file);
  const { pathname, hostname } = new URL(file);
  return basename(pathname) || hostname;
}

/** The content of a file; of an address what is fetched from it, from this machine and not by the service. */
async function bodyOf(file: string): Promise<ReadableStream> {
  if (!isAddress(file)) {
    return Readable.toWeb(file === "-" ? process.stdin : createReadStream(file)) as ReadableStream;
  }
  const answer = await fetch(file).catch((error: unknown) => {
    throw new Error(`${file} does not answer`, { cause: error });
  });
  if (!answer.ok || answer.body === null) {
    throw new Error(`${file} answered with ${answer.status}`);
  }
  return answer.body as ReadableStream;
}

/** One answer as it is, several as a list. */
function jsonOf(answers: readonly object[]): string {
  const [only] = answers;
  return toJson(answers.length === 1 && only !== undefined ? only : answers);
}

/** Which files were imported before one that was refused, and the ways on. */
function stoppedText(source: string, files: readonly string[], at: number): string {
  return (
    `${files.slice(0, at).join(", ")} ${at === 1 ? "is" : "are"} imported; ${files.slice(at).join(", ")} ` +
    `${files.length - at === 1 ? "is" : "are"} not: import the rest with --name ${source} --append, or take ` +
    `imports back with orisma sources revert ${source}\n`
  );
}

/** Sets the reading of every column that can be read in one way only. */
async function readCertain(
  client: OrismaClient,
  name: string,
  context: Context,
  { force, json }: CommandOptions,
): Promise<void> {
  const certain = certainColumns(await client.profile(name));
  if (certain.length === 0) return;
  const columns = Object.fromEntries(
    certain.map(({ name: column, declared }) => [column, declared]),
  );
  const work = client.setReadings(name, columns, { force: force === true });
  const report = await withProgress(client, name, context.note, work);
  const lines = certain.map(({ name: column, written }) => `  ${column} is read as ${written}\n`);
  if (json !== true) await context.print(`\n${lines.join("")}${reportText(report)}`);
}

/** The options with which a file is read, as the service has them. */
function fileOptions(options: CommandOptions) {
  const number = (name: string, text: string | undefined) => {
    if (text === undefined) return {};
    if (!/^\d{1,8}$/.test(text)) {
      const option = name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
      throw new UsageError(`--${option} takes a whole number, not ${text}`);
    }
    return { [name]: Number(text) };
  };
  const { format, encoding, delimiter, sheet, shortRows, records, flatten, only } = options;
  return {
    ...number("skip", options.skip),
    ...number("lastRow", options.lastRow),
    ...number("headings", options.headings),
    // Their values are checked by the service, which names those that it accepts.
    ...(format === undefined ? {} : { format: format as NonNullable<FileOptions["format"]> }),
    ...(encoding === undefined
      ? {}
      : { encoding: encoding as NonNullable<FileOptions["encoding"]> }),
    ...(delimiter === undefined ? {} : { delimiter }),
    ...(sheet === undefined ? {} : { sheet }),
    ...(records === undefined ? {} : { records }),
    ...(flatten === true ? { flatten: true as const } : {}),
    ...(options.duplicates === undefined
      ? {}
      : { duplicates: options.duplicates as "refuse" | "number" }),
    ...(shortRows === undefined ? {} : { shortRows: shortRows as "refuse" | "blank" }),
    only,
  };
}

/** The mode that was requested, or null: then only a source without records takes the file. */
function modeOf({ replace, append, update }: CommandOptions): ImportMode | null {
  const requested = (
    [
      ["replace", replace],
      ["append", append],
      ["update", update],
    ] as const
  ).filter(([, isRequested]) => isRequested === true);
  if (requested.length > 1)
    throw new UsageError("give only one of --replace, --append and --update");
  return requested[0]?.[0] ?? null;
}

function newSource(file: string, options: CommandOptions): NewSource {
  return {
    name: options.name ?? nameFromFile(nameOfFile(file)),
    columns: columnsFrom(options),
    ...(options.key === undefined ? {} : { key: options.key }),
  };
}

/** Declares the source where it has no records yet; says whether it did. */
async function declare(
  client: OrismaClient,
  source: NewSource,
  mode: ImportMode | null,
): Promise<boolean> {
  try {
    await client.createSource(source);
    return true;
  } catch (error) {
    if (!(error instanceof OrismaError) || error.status !== 409) throw error;
    const there = await client.source(source.name);
    // A source without records is what an import that failed leaves; it is declared afresh.
    if (there.importedAt === null) {
      await client.deleteSource(source.name);
      await client.createSource(source);
      return true;
    }
    if (mode === null) {
      throw new UsageError(
        `source ${source.name} exists and has ${countOf(there.records ?? 0)}: give --replace, --append, ` +
          `or --update to replace records with the same keys`,
      );
    }
    return false;
  }
}

/** What a file is, for people. */
function inspectionText(inspection: FileInspection): string {
  const facts = [
    inspection.format === "delimited"
      ? `delimited by ${signName(inspection.delimiter ?? "")}`
      : inspection.format,
    inspection.encoding,
    `${inspection.bytes.toLocaleString("en-GB")} bytes`,
    inspection.headingLine > 0 ? `headings on line ${inspection.headingLine}` : null,
    inspection.records === null
      ? "more than 200,000 records"
      : `${inspection.records} ${inspection.records === 1 ? "record" : "records"}`,
    (inspection.refused ?? 0) > 0 ? `${inspection.refused} of them would be refused` : null,
  ].filter((fact) => fact !== null && fact !== undefined);
  const sheets = inspection.sheets.map(({ name, hidden, reason }) => {
    const state = hidden
      ? "hidden"
      : (reason ?? (name === inspection.sheet ? "shown below" : "a table"));
    return `  sheet ${name}: ${state}\n`;
  });
  const notes = [...inspection.above.map((text) => `above: ${text}`), ...inspection.remarks];
  const columns = columnsText(inspection);
  const table = drawTable(
    [{ heading: "line", right: true }, ...inspection.headings.map((heading) => ({ heading }))],
    inspection.sample.map(({ line, cells }) => [String(line), ...cells.map((cell) => cell ?? "")]),
  );
  return (
    `${facts.join(", ")}\n${sheets.join("")}${notes.map((text) => `  ${text}\n`).join("")}` +
    (inspection.headings.length === 0 ? "" : `${columns}\n${table}`)
  );
}

/** What the columns of a file would be, and what is in doubt. */
function columnsText({ columns, looked, key }: FileInspection): string {
  if (columns.length === 0) return "";
  const rows = columns.map(({ name, type, written, isCertain }) => [
    name,
    type,
    written === null ? "" : isCertain ? written : `${written} (in doubt)`,
  ]);
  const notes = columns.flatMap(({ name, isCertain, misses, evidence }) =>
    evidence === null || (isCertain && misses === 0) ? [] : [`  ${name}: ${evidence}\n`],
  );
  return (
    `\nWith --certain, by the first ${countOf(looked)} (a key could be: ${key ?? "none"}):\n` +
    drawTable([{ heading: "column" }, { heading: "type" }, { heading: "written as" }], rows) +
    notes.join("")
  );
}

function signName(character: string): string {
  return (
    { ",": "comma", ";": "semicolon", "\t": "tab", "|": "bar", " ": "space" }[character] ??
    character
  );
}
