import {
  OrismaError,
  type ListingDetails,
  type NewListing,
  type OrismaClient,
  type SourceDescription,
} from "@orisma/client";
import {
  defaultParameters,
  type Catalogue,
  type Column,
  type DeclarationDifference,
  type TotalAnswer,
} from "@orisma/core/internal";
import { InvalidArgumentError, type Command } from "commander";
import {
  addDelete,
  addListing,
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { declarationOf, declarationText } from "@orisma/client/declaration";
import { addCopy, addRename, copiedText } from "./copies.js";
import { addExpect } from "./expect.js";
import { addRenamed } from "./renamed.js";
import { faultsIn, readDeclaration, type DeclarationFile } from "../input/declaration.js";
import { UsageError } from "../context/failure.js";
import { listingTypes } from "../output/listing-types.js";

/** `orisma listings`. */
export function addListings(command: Command, context: Context): void {
  const listings = command
    .command("listings")
    .helpCommand(false)
    .description("List listings; check, declare, revert and delete them")
    .addHelpText(
      "after",
      examples(
        "orisma listings",
        "orisma listings check works-raised.yaml",
        "orisma listings declare works-raised.yaml",
      ),
    );
  addListing(listings)
    .description("List the listings (the default)")
    .addHelpText("after", examples("orisma listings", "orisma listings list --json"))
    .action((_words: readonly string[], options: ListFormat) => showListings(context, options));
  addShow(listings, context);
  addNew(listings, context);
  addCheck(listings, context);
  addChanges(listings, context);
  addDeclare(listings, context);
  addCopy(listings, context);
  addRename(listings, context);
  addVersions(listings, context);
  addRevert(listings, context);
  addTypes(listings, context);
  addSchema(listings, context);
  addExpect(listings, context);
  addKinds(listings, context);
  addDelete(listings, "Delete a listing; its source stays", context, (name) =>
    context.client().deleteListing(name),
  );
  const renamed = { apply: "declare", diff: "changes", serve: "revert", remove: "delete" };
  addRenamed(listings, renamed, "orisma listings");
}

function addNew(listing: Command, context: Context): void {
  listing
    .command("new")
    .description("Print a declaration of a source to start from, with its default parameters")
    .argument("<source>")
    .option("--name <name>", "name of the listing; by default that of the source")
    .option("--main-date <column>", "the date column by which records are filtered and ordered")
    .addHelpText("after", examples("orisma listings new works --main-date raised > works.yaml"))
    .action(async (source: string, options: { name?: string; mainDate?: string }) => {
      const { columns } = await context.client().source(source);
      const dates = columns.flatMap(({ name, type }) => (type === "date" ? [name] : []));
      const mainDate = options.mainDate ?? dates[0];
      if (mainDate === undefined) {
        throw new UsageError(
          `${source} has no date column; orisma sources profile ${source} shows what its columns could be`,
        );
      }
      if (options.mainDate === undefined && dates.length > 1) {
        throw new UsageError(
          `${source} has several dates: choose one with --main-date ${dates.join(" or --main-date ")}`,
        );
      }
      if (!dates.includes(mainDate)) {
        throw new UsageError(
          `${source} has no date column ${mainDate}; accepted: ${dates.join(", ")}`,
        );
      }
      const names = columns.map(({ name }) => name);
      const draft = { title: source, source, mainDate, zone: "UTC" };
      const parameters = defaultParameters(
        mainDate,
        names,
        catalogueOf(columns),
        fewOf(columns),
      ).map(
        // What is so by default need not be said.
        ({ blanks: _blanks, ...parameter }) => parameter,
      );
      await context.print(declarationText(options.name ?? source, { ...draft, parameters }));
    });
}

function addDeclare(listing: Command, context: Context): void {
  listing
    .command("declare")
    .description("Declare a listing, or a new version of it, from a YAML or JSON file")
    .argument("<file>")
    .addHelpText("after", examples("orisma listings declare works-raised.yaml"))
    .action(async (file: string) => {
      const read = readDeclaration(file);
      const { name, declaration } = read;
      const copied = await declaredFromAnother(read, context);
      if (copied !== null) {
        await context.print(copied);
        return;
      }
      const { version } = await placed(read, () =>
        context.client().declareListing(name, declaration),
      );
      await context.print(`${name}: version ${version} is serving\n`);
      if (declaration.parameters === undefined) {
        await context.print(parametersText(await context.client().listing(name)));
      }
    });
}

/** A file that names the listing that it is made from, and no source: what was made; null for any other. */
async function declaredFromAnother(
  read: DeclarationFile,
  context: Context,
): Promise<string | null> {
  const { basedOn, source, ...rest } = read.declaration as Partial<NewListing>;
  if (basedOn === undefined || source !== undefined) return null;
  const copy = { ...rest, name: read.name } as Parameters<OrismaClient["copyListing"]>[1];
  const copied = await placed(read, () => context.client().copyListing(basedOn, copy));
  return copiedText(basedOn, copied);
}

function addCheck(listing: Command, context: Context): void {
  listing
    .command("check")
    .description("Check declarations, and name the place of every fault")
    .argument("<files...>")
    .addHelpText("after", examples("orisma listings check listings/*.yaml"))
    .action(async (files: string[]) => {
      const returned: string[] = [];
      const remarks: string[] = [];
      for (const file of files) {
        const checked = await checkFile(file, context);
        returned.push(...checked.faults);
        remarks.push(...checked.remarks.map((each) => `Note: ${file}: ${each}\n`));
      }
      if (returned.length > 0) throw new UsageError(returned.join("\n"));
      await context.print(`${remarks.join("")}${files.length} checked, nothing wrong\n`);
    });
}

function addChanges(listing: Command, context: Context): void {
  listing
    .command("changes")
    .description("Show what a declaration would change, in words and records")
    .argument("<file>")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma listings changes works-raised.yaml"))
    .action(async (file: string, { json }: { json?: boolean }) => {
      const read = readDeclaration(file);
      const { name, declaration } = read;
      const answer = await placed(read, () => context.client().checkListing(name, declaration));
      await context.print(json === true ? toJson(answer) : differenceText(name, answer));
    });
}

function addShow(listing: Command, context: Context): void {
  listing
    .command("show")
    .description("Print the declaration of a listing as YAML")
    .argument("<listing>")
    .option("--version <number>", "an older version", versionIn)
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma listings show works-raised > works-raised.yaml"))
    .action(async (name: string, { version, json }: { version?: number; json?: boolean }) => {
      const client = context.client();
      if (json === true && version === undefined) {
        await context.print(toJson(await client.listing(name)));
        return;
      }
      if (version !== undefined) {
        await context.print(declarationText(name, await client.listingVersion(name, version)));
        return;
      }
      await context.print(declarationText(name, declarationOf(await client.listing(name))));
    });
}

function addVersions(listing: Command, context: Context): void {
  withFormats(listing.command("versions"))
    .description("List the versions of a listing, and what each changed")
    .argument("<listing>")
    .addHelpText("after", examples("orisma listings versions works-raised"))
    .action(async (name: string, options: ListFormat) => {
      const versions = await context.client().listingVersions(name);
      const rows = versions.map(({ version, at, by, changes, isServing }) => [
        `${version}${isServing ? " (serving)" : ""}`,
        at?.slice(0, 19).replace("T", " ") ?? "",
        by ?? "",
        changes.join("; "),
      ]);
      const headings = ["version", "declared (UTC)", "by", { heading: "changes", whole: true }];
      await context.print(listText(options, versions, headings, rows));
    });
}

function addRevert(listing: Command, context: Context): void {
  listing
    .command("revert")
    .description("Declare an older version again, as a new version")
    .argument("<listing>")
    .argument("<version>", "its number", versionIn)
    .addHelpText("after", examples("orisma listings revert works-raised 2"))
    .action(async (name: string, older: number) => {
      const { version } = await context.client().revertListing(name, older);
      await context.print(`${name}: version ${version} is the same as version ${older}\n`);
    });
}

function addTypes(listing: Command, context: Context): void {
  listing
    .command("types")
    .description("Print TypeScript types of listings, for the client")
    .argument("[listings...]", "by default all that the key may read")
    .addHelpText("after", examples("orisma listings types > listings.d.ts"))
    .action(async (names: string[]) => {
      const client = context.client();
      const all = names.length > 0 ? names : (await client.listings()).map(({ name }) => name);
      const details = await Promise.all(all.map((name) => client.listing(name)));
      await context.print(listingTypes(details));
    });
}

function addSchema(listing: Command, context: Context): void {
  listing
    .command("schema")
    .description("Print the JSON Schema of a declaration")
    .addHelpText("after", examples("orisma listings schema > listing.schema.json"))
    .action(async () => {
      await context.print(toJson(await context.client().listingSchema()));
    });
}

function addKinds(listing: Command, context: Context): void {
  withFormats(listing.command("windows"))
    .description("List which parameters accept which kinds of windows")
    .argument("<listing>")
    .addHelpText("after", examples("orisma listings windows works-raised"))
    .action(async (name: string, options: ListFormat) => {
      const kinds = await context.client().allowedWindows(name);
      const rows = kinds.map(({ kind, example, columns }) => [
        kind,
        example,
        columns
          .map(({ column, comparison, parameter }) => `${parameter}: ${column} ${comparison}`)
          .join(", ") || "no parameter takes it",
      ]);
      const headings = ["window", "such as", { heading: "goes with", whole: true }];
      await context.print(listText(options, kinds, headings, rows));
    });
}

async function showListings({ client, print }: Context, options: ListFormat): Promise<void> {
  const listings = await client().listings();
  const rows = listings.map((each) => [
    each.name,
    each.broken === undefined ? each.title : `${each.title} (broken: ${each.broken})`,
    each.source,
    each.mainDate,
    each.parameters.map((parameter) => parameter.name).join(", "),
    each.zone,
    String(each.version),
  ]);
  const headings = ["listing", "title", "source", "main date", "parameters", "zone", "version"];
  await print(listText(options, listings, headings, rows));
}

/** All that is wrong with the declaration in a file, each on a line with its place, and what is odd. */
async function checkFile(
  file: string,
  context: Context,
): Promise<{ readonly faults: readonly string[]; readonly remarks: readonly string[] }> {
  const wrong = (faults: readonly string[]) => ({ faults, remarks: [] });
  try {
    const read = readDeclaration(file);
    const { name, declaration } = read;
    try {
      const { remarks } = await context.client().checkListing(name, declaration);
      return { faults: [], remarks };
    } catch (error) {
      const found = faultsIn(read, error);
      if (found !== null) return wrong(found);
      // A service that cannot answer says nothing of the file.
      if (!(error instanceof OrismaError) || !isAnswer(error)) throw error;
      return wrong([`${file}: ${error.message}`]);
    }
  } catch (error) {
    if (error instanceof UsageError) return wrong([error.message]);
    throw error;
  }
}

function isAnswer({ status }: OrismaError): boolean {
  return status >= 400 && status < 500 && status !== 401 && status !== 403;
}

function catalogueOf(columns: SourceDescription["columns"]): Catalogue {
  return new Map(
    columns.map((column): [string, Column] => {
      const { name } = column;
      if (column.type !== "date") return [name, { name, type: column.type }];
      return [name, { name, type: "date", kind: column.reading.kind }];
    }),
  );
}

/** The columns whose values are few. */
function fewOf(columns: SourceDescription["columns"]): ReadonlySet<string> {
  return new Set(columns.flatMap((each) => ("distinct" in each ? [each.name] : [])));
}

/** The parameters that a listing has of itself, and the columns that have none. */
function parametersText({ parameters, shown }: ListingDetails): string {
  const requested = new Set(parameters.map(({ column }) => column));
  const names = parameters.map(({ name, label }) =>
    label === undefined ? name : `${name} (of “${label}”)`,
  );
  const without = shown.map(({ name }) => name).filter((name) => !requested.has(name));
  const rest = without.length === 0 ? "" : `  without a parameter: ${without.join(", ")}\n`;
  return `  parameters: ${names.join(", ")}\n${rest}`;
}

function versionIn(text: string): number {
  if (/^[1-9]\d{0,8}$/.test(text)) return Number(text);
  throw new InvalidArgumentError("It is the number of a version, from 1 on.");
}

/** Does something with a declaration; its faults come with their places in the file. */
async function placed<T>(read: DeclarationFile, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const found = faultsIn(read, error);
    throw found === null ? error : new UsageError(found.join("\n"));
  }
}

function differenceText(name: string, difference: DeclarationDifference): string {
  const { isNew, changes, remarks, breaks, records } = difference;
  const notes = [
    ...breaks.map((each) => `Breaks: ${each}\n`),
    ...remarks.map((each) => `Note: ${each}\n`),
  ].join("");
  if (isNew) return `${name} is new\n${notes}`;
  if (changes.length === 0) return `${name} says the same already\n${notes}`;
  const returned = ({ total, totalExact }: TotalAnswer) => {
    if (total === null) return "an unknown number of";
    return totalExact ? total : `more than ${total}`;
  };
  const moved =
    records === null
      ? []
      : [
          "",
          `Without filters: ${returned(records.added)} records added, ${returned(records.removed)} removed on today's data.`,
        ];
  return `${[...changes, ...moved].join("\n")}\n${notes}`;
}
