import type { CopiedListing } from "@orisma/client";
import type { Command } from "commander";
import { collect, examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";

/** `orisma listings copy`. */
export function addCopy(listing: Command, context: Context): void {
  listing
    .command("copy")
    .description("Make a listing from another, narrowed by values that nobody can change")
    .argument("<listing>", "the one that it is made from")
    .argument("<name>", "the name of the new one")
    .option("--bind <parameter=value>", "a value that nobody can change (repeatable)", collect, [])
    .option("--default <parameter=value>", "a value where none is sent (repeatable)", collect, [])
    .option("--title <text>", "what people call it")
    .option("--order <order>", "its default order")
    .option("--columns <columns>", "the columns that it shows, with commas")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma listings copy works-raised works-done --bind status=done --order -finished_on",
      ),
    )
    .action(async (from: string, name: string, options: CopyOptions) => {
      const { title, order, columns } = options;
      const copied = await context.client().copyListing(from, {
        name,
        bound: valuesOf(options.bind),
        defaults: valuesOf(options.default),
        ...(title === undefined ? {} : { title }),
        ...(order === undefined ? {} : { order }),
        ...(columns === undefined ? {} : { columns: columns.split(",") }),
      });
      await context.print(options.json === true ? toJson(copied) : copiedText(from, copied));
    });
}

interface CopyOptions {
  readonly bind: readonly string[];
  readonly default: readonly string[];
  readonly title?: string;
  readonly order?: string;
  readonly columns?: string;
  readonly json?: boolean;
}

/** What was made from a listing, in words. */
export function copiedText(
  from: string,
  { listing: { name, version }, differences, alike }: CopiedListing,
): string {
  const said = differences.map((each) => `  ${each}\n`).join("");
  const same =
    alike.length === 0
      ? ""
      : `Note: ${alike.join(", ")} ${alike.length === 1 ? "has" : "have"} the same conditions and defaults\n`;
  const unlike = differences.length === 0 ? `  nothing is different from ${from}\n` : said;
  return `${name}: version ${version} is serving, made from ${from}:\n${unlike}${same}`;
}

/** `orisma listings rename`. */
export function addRename(listing: Command, context: Context): void {
  listing
    .command("rename")
    .description("Give a listing another name; calls of the old one are redirected for a time")
    .argument("<listing>")
    .argument("<name>", "its new name")
    .option("--redirect-days <days>", "for how many days", "90")
    .addHelpText("after", examples("orisma listings rename works-raised works-reported"))
    .action(async (from: string, to: string, options: { readonly redirectDays: string }) => {
      const redirectDays = Number(options.redirectDays);
      await context.client().renameListing(from, { to, redirectDays });
      const still = redirectDays === 0 ? "" : `; ${from} leads there for ${redirectDays} days`;
      await context.print(`${from} is now ${to}${still}\n`);
    });
}

/** Values by parameter, of `parameter=value`. */
export function valuesOf(given: readonly string[]): Readonly<Record<string, string[]>> {
  const values: Record<string, string[]> = {};
  for (const each of given) {
    const at = each.indexOf("=");
    if (at < 1) throw new UsageError(`“${each}” is no parameter=value`);
    const name = each.slice(0, at);
    values[name] = [...(values[name] ?? []), each.slice(at + 1)];
  }
  return values;
}
