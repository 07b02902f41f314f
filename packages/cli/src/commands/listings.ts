import { readFileSync } from "node:fs";
import type { NewListing } from "@orisma/client";
import type { Command } from "commander";
import {
  addRemoval,
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context.js";
import { UsageError } from "../failure.js";

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
  listing
    .command("apply")
    .description("declare a listing, or a new version of it, from a JSON file")
    .argument("<file>")
    .addHelpText("after", examples("orisma listing apply works-raised.json"))
    .action(async (file: string) => {
      const { name, ...declaration } = readDeclaration(file);
      const { version } = await context.client().declareListing(name, declaration);
      await context.print(`${name}: version ${version} is serving\n`);
    });
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
  addRemoval(listing, "end a listing; its source stays", context, (name) =>
    context.client().removeListing(name),
  );
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
    each.title,
    each.source,
    each.mainDate,
    each.parameters.map((parameter) => parameter.name).join(", "),
    each.zone,
    String(each.version),
  ]);
  const headings = ["listing", "title", "source", "main date", "parameters", "zone", "version"];
  await print(listText(options, listings, headings, rows));
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
