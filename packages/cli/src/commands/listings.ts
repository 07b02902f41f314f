import { OrismaError, type ListingDetails } from "@orisma/client";
import type { DeclarationDifference, TotalAnswer } from "@orisma/core/internal";
import { InvalidArgumentError, type Command } from "commander";
import {
  addRemoval,
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { declarationOf, declarationText } from "@orisma/client/declaration";
import { addExpect } from "./expect.js";
import { faultsIn, readDeclaration, type DeclarationFile } from "../input/declaration.js";
import { UsageError } from "../context/failure.js";
import { listingTypes } from "../output/listing-types.js";

/** `orisma listings`, and `orisma listing` with its own commands. */
export function addListings(command: Command, context: Context): void {
  withFormats(command.command("listings"))
    .description("list the listings, or show one as it is declared")
    .argument("[listing]")
    .addHelpText("after", examples("orisma listings", "orisma listings works-raised"))
    .action(async (name: string | undefined, options: ListFormat) => {
      await showListings(context, name, options);
    });

  const listing = command.command("listing").description("declare and end listings");
  addApply(listing, context);
  addCheck(listing, context);
  addDiff(listing, context);
  addShow(listing, context);
  addVersions(listing, context);
  addServe(listing, context);
  addTypes(listing, context);
  addSchema(listing, context);
  addExpect(listing, context);
  addKinds(listing, context);
  addRemoval(listing, "end a listing; its source stays", context, (name) =>
    context.client().removeListing(name),
  );
}

function addApply(listing: Command, context: Context): void {
  listing
    .command("apply")
    .description("declare a listing, or a new version of it, from a YAML or JSON file")
    .argument("<file>")
    .addHelpText("after", examples("orisma listing apply works-raised.yaml"))
    .action(async (file: string) => {
      const read = readDeclaration(file);
      const { name, declaration } = read;
      const { version } = await placed(read, () =>
        context.client().declareListing(name, declaration),
      );
      await context.print(`${name}: version ${version} is serving\n`);
      if (declaration.parameters === undefined) {
        await context.print(parametersText(await context.client().listing(name)));
      }
    });
}

function addCheck(listing: Command, context: Context): void {
  listing
    .command("check")
    .description(
      "look for everything that is wrong with declarations, each with its place in the file",
    )
    .argument("<files...>")
    .addHelpText("after", examples("orisma listing check listings/*.yaml"))
    .action(async (files: string[]) => {
      const told: string[] = [];
      const remarks: string[] = [];
      for (const file of files) {
        const checked = await checkFile(file, context);
        told.push(...checked.faults);
        remarks.push(...checked.remarks.map((each) => `Note: ${file}: ${each}\n`));
      }
      if (told.length > 0) throw new UsageError(told.join("\n"));
      await context.print(`${remarks.join("")}${files.length} checked, nothing wrong\n`);
    });
}

function addDiff(listing: Command, context: Context): void {
  listing
    .command("diff")
    .description("show what a declaration would change, in words and in the records of today")
    .argument("<file>")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma listing diff works-raised.yaml"))
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
    .description("print a listing as a file that declares it")
    .argument("<listing>")
    .option("--version <number>", "as it was declared then", versionIn)
    .action(async (name: string, { version }: { version?: number }) => {
      const client = context.client();
      if (version !== undefined) {
        await context.print(declarationText(name, await client.listingVersion(name, version)));
        return;
      }
      await context.print(declarationText(name, declarationOf(await client.listing(name))));
    });
}

function addVersions(listing: Command, context: Context): void {
  withFormats(listing.command("versions"))
    .description("show every version that there was of a listing, and what each changed")
    .argument("<listing>")
    .addHelpText("after", examples("orisma listing versions works-raised"))
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

function addServe(listing: Command, context: Context): void {
  listing
    .command("serve")
    .description("serve what an older version said again, as a new version")
    .argument("<listing>")
    .argument("<version>", "its number", versionIn)
    .addHelpText("after", examples("orisma listing serve works-raised 2"))
    .action(async (name: string, older: number) => {
      const { version } = await context.client().serveListingVersion(name, older);
      await context.print(`${name}: version ${version} is serving what version ${older} said\n`);
    });
}

function addTypes(listing: Command, context: Context): void {
  listing
    .command("types")
    .description("print a TypeScript file with what listings take and give, for the client")
    .argument("[listings...]", "all that the key may read unless named")
    .addHelpText("after", examples("orisma listing types > listings.d.ts"))
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
    .description("print the JSON Schema of a declaration, with which editors complete it")
    .addHelpText("after", examples("orisma listing schema > listing.schema.json"))
    .action(async () => {
      await context.print(toJson(await context.client().listingSchema()));
    });
}

function addKinds(listing: Command, context: Context): void {
  withFormats(listing.command("windows"))
    .description("show which kinds of windows go with which columns and comparisons")
    .argument("<listing>")
    .action(async (name: string, options: ListFormat) => {
      const kinds = await context.client().permittedWindows(name);
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

async function showListings(
  { client, print }: Context,
  name: string | undefined,
  options: ListFormat,
): Promise<void> {
  if (name !== undefined) {
    await print(toJson(await client().listing(name)));
    return;
  }
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

/** The parameters that a listing has of itself, and the columns that have none. */
function parametersText({ parameters, shown }: ListingDetails): string {
  const asked = new Set(parameters.map(({ column }) => column));
  const names = parameters.map(({ name, label }) =>
    label === undefined ? name : `${name} (of “${label}”)`,
  );
  const without = shown.map(({ name }) => name).filter((name) => !asked.has(name));
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
  const { isNew, changes, remarks, records } = difference;
  const notes = remarks.map((each) => `Note: ${each}\n`).join("");
  if (isNew) return `${name} is new\n${notes}`;
  if (changes.length === 0) return `${name} says the same already\n${notes}`;
  const told = ({ total, totalExact }: TotalAnswer) => {
    if (total === null) return "an unknown number of";
    return totalExact ? total : `more than ${total}`;
  };
  const moved =
    records === null
      ? []
      : [
          "",
          `Without filters: ${told(records.added)} records added, ${told(records.removed)} removed on today's data.`,
        ];
  return `${[...changes, ...moved].join("\n")}\n${notes}`;
}
