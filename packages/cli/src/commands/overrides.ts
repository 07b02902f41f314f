import type { Command } from "commander";
import {
  collect,
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";

interface SetOptions {
  readonly value: readonly string[];
  readonly reason: string;
  readonly until?: string;
  readonly json?: boolean;
}

/** `orisma overrides`: defaults of listings that are set for a time, from outside their declarations. */
export function addOverrides(command: Command, context: Context): void {
  const overrides = command
    .command("overrides")
    .helpCommand(false)
    .description("Defaults of listings that are set for a time, beside their declarations")
    .addHelpText("after", examples("orisma overrides list tolls-taken"));
  withFormats(overrides.command("list"))
    .description("List the defaults that were set for a listing, and who set them")
    .argument("<listing>")
    .addHelpText("after", examples("orisma overrides list tolls-taken"))
    .action(async (listing: string, options: ListFormat) => {
      const all = await context.client().overrides(listing);
      const headings = ["parameter", "value", "state", "set by", "set (UTC)", "until", "reason"];
      const rows = all.map(({ parameter, value, state, by, at, until, reason }) => [
        parameter,
        typeof value === "string" ? value : value.join(", "),
        state,
        by,
        at.slice(0, 16).replace("T", " "),
        until?.replace(/:00\.000Z$/, "Z") ?? "",
        reason,
      ]);
      await context.print(listText(options, all, headings, rows));
    });
  overrides
    .command("set")
    .description("Set what applies to a parameter where nothing is sent")
    .argument("<listing>")
    .argument("<parameter>")
    .argument("<value>")
    .requiredOption("--reason <text>", "why, for those who see it")
    .option("--until <instant>", "when it ends by itself, such as 2027-01-31T12:00:00Z")
    .option("--value <value>", "a further value of a list (repeatable)", collect, [])
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples('orisma overrides set tolls-taken taken month-1 --reason "books not closed yet"'),
    )
    .action(async (listing: string, parameter: string, value: string, options: SetOptions) => {
      const { reason, until } = options;
      const values = [value, ...options.value];
      const made = await context.client().setOverride(listing, parameter, {
        value: values.length === 1 ? value : values,
        reason,
        ...(until === undefined ? {} : { until }),
      });
      const end = until === undefined ? "until it is removed" : `until ${until}`;
      const text = `${parameter} of ${listing} is “${values.join(", ")}” by default, ${end}\n`;
      await context.print(options.json === true ? toJson(made) : text);
    });
  overrides
    .command("delete")
    .description("Remove what was set: the declared default applies again")
    .argument("<listing>")
    .argument("<parameter>")
    .addHelpText("after", examples("orisma overrides delete tolls-taken taken"))
    .action(async (listing: string, parameter: string) => {
      await context.client().removeOverride(listing, parameter);
      await context.print(`the declared default of ${parameter} applies to ${listing} again\n`);
    });
}
