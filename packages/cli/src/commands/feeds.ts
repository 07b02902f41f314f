import type { Command } from "commander";
import { examples, listText, toJson, withFormats, type Context } from "../context/context.js";
import type { ListFormat } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { valuesOf } from "./copies.js";

/** `orisma feeds`: private addresses for calendars and readers of feeds. */
export function addFeeds(command: Command, context: Context): void {
  const feeds = command
    .command("feeds")
    .helpCommand(false)
    .description("Private addresses of listings for calendars and readers of feeds")
    .addHelpText("after", examples("orisma feeds list closures-ahead"));
  withFormats(feeds.command("list"))
    .description("List the private addresses of a listing, and what was delivered last")
    .argument("<listing>")
    .addHelpText("after", examples("orisma feeds list closures-ahead"))
    .action(async (listing: string, options: ListFormat) => {
      const all = await context.client().feeds(listing);
      const rows = all.map(({ id, name, parameters, createdAt, delivered, broken }) => [
        String(id),
        name,
        sentText(parameters),
        shownTime(createdAt),
        delivered === null ? "" : shownTime(delivered.at),
        delivered === null ? "" : `${delivered.records} to ${delivered.to}`,
        broken ?? "",
      ]);
      const headings = [
        "id",
        "for",
        "parameters",
        "created (UTC)",
        "delivered (UTC)",
        "records",
        "refused",
      ];
      await context.print(listText(options, all, headings, rows));
    });
  feeds
    .command("create")
    .description("Make a private address, which needs no key; it is shown only once")
    .argument("<listing>")
    .argument("[parameters...]", "what is sent, as parameter=value")
    .requiredOption("--for <name>", "for whom it is")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples('orisma feeds create closures-ahead --for "lock keepers"'))
    .action(
      async (
        listing: string,
        sent: readonly string[],
        options: { readonly for: string; readonly json?: boolean },
      ) => {
        const parameters = valuesOf(sent);
        const made = await context.client().createFeed(listing, { name: options.for, parameters });
        const text = `calendar  ${made.calendar}\nfeed      ${made.feed}\n`;
        await context.print(options.json === true ? toJson(made) : text);
      },
    );
  feeds
    .command("revoke")
    .description("Revoke a private address at once")
    .argument("<listing>")
    .argument("<id>", "its number")
    .addHelpText("after", examples("orisma feeds revoke closures-ahead 3"))
    .action(async (listing: string, id: string) => {
      if (!/^\d{1,9}$/.test(id)) throw new UsageError(`“${id}” is no number of an address`);
      await context.client().revokeFeed(listing, Number(id));
      await context.print(`private address ${id} of ${listing} is revoked\n`);
    });
}

function sentText(parameters: Readonly<Record<string, readonly string[]>>): string {
  return Object.entries(parameters)
    .flatMap(([name, values]) => values.map((value) => `${name}=${value}`))
    .join(" ");
}

function shownTime(text: string): string {
  return text.slice(0, 16).replace("T", " ");
}
