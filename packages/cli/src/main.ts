import { readFileSync } from "node:fs";
import type { NewListing, Role } from "@orisma/client";
import { Command, CommanderError, InvalidArgumentError } from "commander";
import { connect, type Surroundings } from "./connection.js";
import { explanationText } from "./explain.js";
import { EXIT, UsageError, exitCodeOf, failureText } from "./failure.js";
import { importFile, reportText, type ImportOptions } from "./import.js";
import { readParameters } from "./parameters.js";
import { printRecords, type RecordsOptions } from "./records.js";
import { drawTable } from "./table.js";

const ROLES: readonly Role[] = ["owner", "maker", "reader"];

/**
 * Runs the command with its arguments and gives its exit code: 0 done, 1 failed, 2 used
 * wrongly. What was asked for goes to standard output, all else to standard error.
 */
export async function main(
  words: readonly string[],
  surroundings: Surroundings = { environment: process.env, folder: process.cwd() },
): Promise<number> {
  // A reader that has seen enough, such as head, closes the pipe; that is no failure.
  process.stdout.on("error", (error: NodeJS.ErrnoException) => {
    if (error.code === "EPIPE") process.exit(EXIT.done);
  });
  try {
    await program(surroundings).parseAsync([...words], { from: "user" });
    return EXIT.done;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.done : EXIT.usedWrongly;
    note(failureText(error));
    return exitCodeOf(error);
  }
}

function program(surroundings: Surroundings): Command {
  const command = new Command("orisma")
    .description("Date range and date window filters on record listings")
    .exitOverride()
    .showHelpAfterError("(orisma COMMAND --help shows examples)")
    .helpCommand(false);
  const client = () => connect(surroundings);

  command
    .command("records")
    .description("show the records of a listing")
    .argument("<listing>")
    .argument("[parameters...]", "--NAME VALUE for each parameter of the listing")
    .option("--order <column>", "column to order by, with - before it for descending")
    .option("--size <records>", "records on a page")
    .option("--all", "follow the pages to the last record")
    .option("--json", "print the service's answer")
    .option("--csv", "print comma-separated values, all pages unless --size is given")
    .allowUnknownOption()
    .addHelpText(
      "after",
      examples(
        "orisma records works-raised --from 2025-02-01 --to 2025-02-28",
        "orisma records works-raised --from 2025-Q1 --order cost --all",
        "orisma records works-raised --to 2024 --csv > works-to-2024.csv",
      ),
    )
    .action(async (listing: string, rest: string[], options: RecordsOptions) => {
      if (options.json === true && options.csv === true) {
        throw new UsageError("--json and --csv cannot both be given");
      }
      await printRecords(client(), listing, readParameters(rest), options, print, note);
    });

  command
    .command("explain")
    .description("show how a request for records is understood, without running it")
    .argument("<listing>")
    .argument("[parameters...]", "--NAME VALUE for each parameter of the listing")
    .option("--json", "print the service's answer")
    .allowUnknownOption()
    .addHelpText("after", examples("orisma explain works-raised --from 2025-02"))
    .action(async (listing: string, rest: string[], { json }: { json?: boolean }) => {
      const explanation = await client().explain(listing, readParameters(rest));
      await print(json === true ? toJson(explanation) : explanationText(explanation));
    });

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
      const report = await importFile(client(), file, options);
      await print(options.json === true ? toJson(report) : reportText(report));
    });

  command
    .command("sources")
    .description("list the sources, or show one with its columns")
    .argument("[source]")
    .option("--remove", "end the source and its records")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma sources", "orisma sources works"))
    .action(async (name: string | undefined, options: { json?: boolean; remove?: boolean }) => {
      await showSources(client(), name, options);
    });

  command
    .command("listings")
    .description("list the listings, or show one as it is declared")
    .argument("[listing]")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma listings", "orisma listings works-raised"))
    .action(async (name: string | undefined, { json }: { json?: boolean }) => {
      await showListings(client(), name, json ?? false);
    });

  const listing = command.command("listing").description("declare and end listings");
  listing
    .command("apply")
    .description("declare a listing, or a new version of it, from a JSON file")
    .argument("<file>")
    .addHelpText("after", examples("orisma listing apply works-raised.json"))
    .action(async (file: string) => {
      const { name, ...declaration } = readDeclaration(file);
      const { version } = await client().declareListing(name, declaration);
      await print(`${name}: version ${version} is serving\n`);
    });
  listing
    .command("remove")
    .description("end a listing; its source stays")
    .argument("<listing>")
    .action(async (name: string) => {
      await client().removeListing(name);
      await print(`${name} is gone\n`);
    });

  const key = command.command("key").description("list, make and revoke keys");
  key
    .command("list")
    .description("list the keys; the keys themselves are not kept")
    .option("--json", "print the service's answer")
    .action(async ({ json }: { json?: boolean }) => {
      const keys = await client().keys();
      const rows = keys.map((each) => [
        String(each.id),
        each.name,
        each.role,
        each.listings?.join(", ") ?? "all",
        each.createdAt,
      ]);
      const headings = ["id", "name", "role", "listings", "made"];
      await print(json === true ? toJson(keys) : drawTable(headings.map(headed), rows));
    });
  key
    .command("create")
    .description("make a key, which is shown this once")
    .requiredOption("--name <name>", "what the key is for")
    .requiredOption("--role <role>", `one of ${ROLES.join(", ")}`, readRole)
    .option("--listing <listing>", "a listing that a reader may read; all unless given", collect, [])
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma key create --name website --role reader --listing works-raised"))
    .action(async (options: { name: string; role: Role; listing: string[]; json?: boolean }) => {
      const { name, role, listing: listings } = options;
      const made = await client().createKey({
        name,
        role,
        ...(listings.length === 0 ? {} : { listings }),
      });
      await print(options.json === true ? toJson(made) : `${made.key}\n`);
    });
  key
    .command("revoke")
    .description("end a key at once")
    .argument("<id>", "its number, as key list shows it", readId)
    .action(async (id: number) => {
      await client().revokeKey(id);
      await print(`key ${id} is revoked\n`);
    });
  key
    .command("code")
    .description("make a one-time code for signing in to the console")
    .action(async () => {
      await print(`${(await client().createSignInCode()).code}\n`);
    });
  return command;
}

async function showSources(
  client: ReturnType<typeof connect>,
  name: string | undefined,
  { json, remove }: { readonly json?: boolean; readonly remove?: boolean },
): Promise<void> {
  if (remove === true) {
    if (name === undefined) throw new UsageError("--remove needs the name of a source");
    await client.removeSource(name);
    await print(`${name} and its records are gone\n`);
    return;
  }
  if (name === undefined) {
    const sources = await client.sources();
    const rows = sources.map((each) => [
      each.name,
      String(each.records),
      String(each.columns.length),
      each.key ?? "",
      each.loadedAt ?? "no file yet",
    ]);
    const right = true;
    const headings = [
      { heading: "source" },
      { heading: "records", right },
      { heading: "columns", right },
      { heading: "key" },
      { heading: "taken" },
    ];
    await print(json === true ? toJson(sources) : drawTable(headings, rows));
    return;
  }
  const source = await client.source(name);
  const rows = source.columns.map((column) => [
    column.name,
    column.type === "date" ? column.reading.kind : column.type,
    column.type === "date" ? (column.reading.patterns?.join(" | ") ?? "ISO 8601") : "",
    column.type === "date" ? (column.reading.blanks?.join(", ") ?? "") : "",
  ]);
  const headings = ["column", "holds", "written as", "blank too"];
  await print(json === true ? toJson(source) : drawTable(headings.map(headed), rows));
}

async function showListings(
  client: ReturnType<typeof connect>,
  name: string | undefined,
  json: boolean,
): Promise<void> {
  if (name !== undefined) {
    await print(toJson(await client.listing(name)));
    return;
  }
  const listings = await client.listings();
  const rows = listings.map((each) => [
    each.name,
    each.title,
    each.source,
    each.mainDate,
    each.parameters.map((parameter) => parameter.name).join(", "),
    each.zone,
    String(each.version),
  ]);
  const headings = ["listing", "title", "source", "main date", "parameters", "zone", "version"];
  await print(json ? toJson(listings) : drawTable(headings.map(headed), rows));
}

function readDeclaration(file: string): NewListing & { readonly name: string } {
  let text: string;
  try {
    text = readFileSync(file, "utf8");
  } catch {
    throw new UsageError(`${file} cannot be read`);
  }
  try {
    const declaration = JSON.parse(text) as NewListing & { name?: unknown };
    const { name } = declaration;
    if (typeof name === "string") return { ...declaration, name };
  } catch (error) {
    throw new UsageError(`${file} is not JSON: ${error instanceof Error ? error.message : ""}`);
  }
  throw new UsageError(`${file} has no "name"`);
}

function headed(heading: string) {
  return { heading };
}

function collect(value: string, before: readonly string[]): readonly string[] {
  return [...before, value];
}

function readRole(text: string): Role {
  const role = ROLES.find((each) => each === text);
  if (role !== undefined) return role;
  throw new InvalidArgumentError(`A role is one of ${ROLES.join(", ")}.`);
}

function readId(text: string): number {
  if (/^\d{1,9}$/.test(text)) return Number(text);
  throw new InvalidArgumentError("A key has a number, as key list shows it.");
}

function examples(...lines: readonly string[]): string {
  return `\nExamples:\n${lines.map((line) => `  ${line}\n`).join("")}`;
}

function toJson(value: unknown): string {
  return `${JSON.stringify(value, null, 2)}\n`;
}

/** Waits for a slow reader, so that memory stays flat. */
function print(text: string): Promise<void> {
  return new Promise((resolve) => {
    if (process.stdout.write(text)) resolve();
    else process.stdout.once("drain", resolve);
  });
}

function note(text: string): void {
  process.stderr.write(text);
}
