import type { DeliveryDescription, DeliveryRun } from "@orisma/client";
import { Option, type Command } from "commander";
import {
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { valuesOf } from "./copies.js";

interface CreateOptions {
  readonly for: string;
  readonly when: DeliveryDescription["when"];
  readonly at?: string;
  readonly file?: string;
  readonly url?: string;
  readonly format: DeliveryDescription["format"];
  readonly json?: boolean;
}

/** `orisma deliveries`: records of listings that are delivered into a folder or by HTTP. */
export function addDeliveries(command: Command, context: Context): void {
  const deliveries = command
    .command("deliveries")
    .helpCommand(false)
    .description("Deliver the records of listings into a folder or by HTTP")
    .addHelpText("after", examples("orisma deliveries list closures-ahead"));
  addLists(deliveries, context);
  addCreate(deliveries, context);
  deliveries
    .command("run")
    .description("Deliver now")
    .argument("<listing>")
    .argument("<id>", "its number", readNumber)
    .addHelpText("after", examples("orisma deliveries run closures-ahead 3"))
    .action(async (listing: string, id: number) => {
      await context.print(`${runText(await context.client().runDelivery(listing, id))}\n`);
    });
  deliveries
    .command("retry")
    .description("Try a delivery that failed again")
    .argument("<listing>")
    .argument("<id>", "its number", readNumber)
    .argument("<run>", "the number of the run", readNumber)
    .addHelpText("after", examples("orisma deliveries retry closures-ahead 3 17"))
    .action(async (listing: string, id: number, run: number) => {
      await context.print(`${runText(await context.client().retryDelivery(listing, id, run))}\n`);
    });
  deliveries
    .command("delete")
    .description("End a delivery")
    .argument("<listing>")
    .argument("<id>", "its number", readNumber)
    .addHelpText("after", examples("orisma deliveries delete closures-ahead 3"))
    .action(async (listing: string, id: number) => {
      await context.client().deleteDelivery(listing, id);
      await context.print(`delivery ${id} of ${listing} was deleted\n`);
    });
}

function addLists(deliveries: Command, context: Context): void {
  withFormats(deliveries.command("list"))
    .description("List the deliveries of a listing, and what became of the last")
    .argument("<listing>")
    .addHelpText("after", examples("orisma deliveries list closures-ahead"))
    .action(async (listing: string, options: ListFormat) => {
      const all = await context.client().deliveries(listing);
      const headings = ["id", "for", "format", "when", "to", "next (UTC)", "last"];
      const rows = all.map(({ id, name, format, when, at, to, nextAt, last }) => [
        String(id),
        name,
        format,
        at === null ? when : `${when} at ${at}`,
        "url" in to ? to.url : to.file,
        nextAt === null ? "" : shownTime(nextAt),
        last === null ? "" : runText(last),
      ]);
      await context.print(listText(options, all, headings, rows));
    });
  withFormats(deliveries.command("runs"))
    .description("List what became of each, the latest first")
    .argument("<listing>")
    .argument("<id>", "its number", readNumber)
    .addHelpText("after", examples("orisma deliveries runs closures-ahead 3"))
    .action(async (listing: string, id: number, options: ListFormat) => {
      const runs = await context.client().deliveryRuns(listing, id);
      const headings = ["run", "at (UTC)", "what became of it"];
      const rows = runs.map((run) => [String(run.id), shownTime(run.at), runText(run)]);
      await context.print(listText(options, runs, headings, rows));
    });
}

function addCreate(deliveries: Command, context: Context): void {
  deliveries
    .command("create")
    .description("Deliver what a request keeps, from now on")
    .argument("<listing>")
    .argument("[parameters...]", "what is sent, as parameter=value")
    .requiredOption("--for <name>", "what it is for")
    .addOption(
      new Option("--when <time>", "when the records or the window change, or once a unit")
        .choices(["records", "window", "hour", "day", "week", "month"])
        .makeOptionMandatory(),
    )
    .option("--at <time>", "the time of day in the zone of the listing, such as 06:30")
    .option("--file <name>", "a file of the outbox; {date} and {time} stand for those of the run")
    .option("--url <url>", "where records are sent by POST, signed")
    .addOption(
      new Option("--format <format>", "of the file")
        .choices(["csv", "ndjson", "xlsx"])
        .default("csv"),
    )
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma deliveries create works-open --for office --when month --file open-{date}.csv",
        "orisma deliveries create closures-ahead --for site --when records --format ndjson \\",
        "  --url https://vale.example/closures",
      ),
    )
    .action(async (listing: string, sent: readonly string[], options: CreateOptions) => {
      const { for: name, when, at, file, url, format } = options;
      if ((file === undefined) === (url === undefined)) {
        throw new UsageError("give either --file or --url");
      }
      const made = await context.client().createDelivery(listing, {
        ...{ name, format, when, parameters: valuesOf(sent) },
        ...(at === undefined ? {} : { at }),
        to: url === undefined ? { file: file ?? "" } : { url },
      });
      if (options.json === true) {
        await context.print(toJson(made));
        return;
      }
      const next = made.nextAt === null ? "" : `, next ${shownTime(made.nextAt)} UTC`;
      const secret = made.secret === null ? "" : `secret  ${made.secret}\n`;
      await context.print(`delivery ${made.id} of ${listing}${next}\n${secret}`);
    });
}

function runText({ state, records, attempts, error, nextAt }: DeliveryRun): string {
  if (state === "done") return `${records ?? 0} records delivered`;
  const tried = `${attempts} ${attempts === 1 ? "attempt" : "attempts"}`;
  if (error === null) return "under way";
  const next = nextAt === null ? "given up" : `again ${shownTime(nextAt)} UTC`;
  return `failed after ${tried}, ${next}: ${error}`;
}

function shownTime(text: string): string {
  return text.slice(0, 16).replace("T", " ");
}

function readNumber(text: string): number {
  if (/^\d{1,9}$/.test(text)) return Number(text);
  throw new UsageError(`“${text}” is no number`);
}
