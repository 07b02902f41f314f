import { csvText } from "@orisma/core/internal";
import type { OrismaClient, ListingDetails } from "@orisma/client";
import type { RecordAnswer, RecordsAnswer, RecordsMeta } from "@orisma/core/internal";
import type { Command } from "commander";
import { collect, examples, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { readParameters, withPhrases } from "../input/parameters.js";
import { drawTable } from "../output/table.js";

interface RecordsOptions {
  readonly json?: boolean;
  readonly csv?: boolean;
  readonly all?: boolean;
  readonly order: readonly string[];
  readonly size?: string;
  readonly resume?: string;
}

/** `orisma records`. */
export function addRecords(command: Command, context: Context): void {
  command
    .command("records")
    .description("Show the records of a listing")
    .argument("<listing>")
    .argument("[parameters...]", "--NAME VALUE for each parameter of the listing")
    .option(
      "--order <column>",
      "column to order by, with - before it for descending; again for one more",
      collect,
      [],
    )
    .option("--size <records>", "records on a page")
    .option(
      "--resume <token>",
      "records that were added or changed since: start for all, then the token that is printed",
    )
    .option("--all", "follow the pages to the last record")
    .option("--json", "print the service's answer")
    .option("--csv", "print comma-separated values, all pages unless --size is given")
    .allowUnknownOption()
    .addHelpText(
      "after",
      examples(
        "orisma records works-raised --from 2025-02-01 --to 2025-02-28",
        "orisma records works-raised --from 2025-Q1 --order cost --all",
        "orisma records works-raised --from '3 Apr 2025' --to 'last Friday'",
        "orisma records works-raised --to 2024 --csv > works-to-2024.csv",
        "orisma records works-open --resume start --all --json",
      ),
    )
    .action(async (listing: string, rest: string[], options: RecordsOptions) => {
      if (options.json === true && options.csv === true) {
        throw new UsageError("--json and --csv cannot both be given");
      }
      await printRecords(listing, readParameters(rest), options, context);
    });
}

type Write = (text: string) => Promise<void>;

/** Prints records of a listing: as a table, as one JSON document, or as CSV. */
async function printRecords(
  listing: string,
  parameters: Record<string, readonly string[]>,
  options: RecordsOptions,
  context: Context,
): Promise<void> {
  const { print: write, note } = context;
  const client = context.client();
  const { order, size, resume } = options;
  const query = {
    ...parameters,
    ...(order.length === 0 ? {} : { order }),
    ...(size === undefined ? {} : { size: [size] }),
    ...(resume === undefined ? {} : { resume: [resume] }),
  };
  const isTable = options.json !== true && options.csv !== true;
  const details = options.json === true ? null : await client.listing(listing);
  const extras = [
    ...(resume === undefined ? ["why"] : []),
    ...(details?.formats === undefined ? [] : ["display"]),
  ];
  const first = await withPhrases(
    isTable && parameters.with === undefined && extras.length > 0
      ? { ...query, with: [extras.join()] }
      : query,
    (all) => client.records(listing, all),
  );
  // A file that is cut after a page would be a loss that nobody sees.
  const everything = options.all === true || (options.csv === true && size === undefined);
  if (options.csv === true && details !== null) {
    const last = await writeCsv(
      client,
      details,
      columnsOf(details, parameters.columns),
      first,
      everything,
      write,
    );
    note(`${first.meta.sentence}\n${noticesText(first.meta)}${resumeText(last)}`);
    return;
  }
  const answer = everything ? await joinedPages(client, first) : first;
  if (details === null) {
    await write(`${JSON.stringify(answer, null, 2)}\n`);
    return;
  }
  await write(`${first.meta.sentence}\n${noticesText(first.meta)}\n`);
  await write(recordsTable(details, columnsOf(details, parameters.columns), answer));
  await write(`\n${totalText(answer.records.length, first.meta)}\n`);
  for (const reason of first.meta.why?.reasons ?? []) await write(`  ${reason}\n`);
  await write(resumeText(answer.meta));
}

/** How to go on after records that were picked up; nothing for others. */
function resumeText({ resume }: RecordsMeta): string {
  if (resume === undefined) return "";
  const more = resume.hasMore ? "There are more. " : "";
  return `${more}Go on with --resume ${resume.token}\n`;
}

/** The pages joined into one answer: its records, and what could not be read on any of them. */
async function joinedPages(client: OrismaClient, first: RecordsAnswer): Promise<RecordsAnswer> {
  const records: RecordAnswer[] = [];
  const unreadable: Record<string, Readonly<Record<string, string>>> = {};
  const display: Record<string, Readonly<Record<string, string>>> = {};
  let last = first.meta;
  for await (const page of pages(client, first, true)) {
    last = page.meta;
    records.push(...page.records);
    Object.assign(unreadable, page.meta.unreadable);
    Object.assign(display, page.meta.display);
  }
  const { first: link } = first.links;
  const shown = first.meta.display === undefined ? {} : { display };
  const place = last.resume === undefined ? {} : { resume: last.resume };
  return {
    records,
    meta: { ...first.meta, ...shown, ...place, unreadable },
    links: { first: link },
  };
}

async function* pages(
  client: OrismaClient,
  first: RecordsAnswer,
  everything: boolean,
): AsyncGenerator<RecordsAnswer> {
  yield first;
  let { next } = first.links;
  while (everything && next !== undefined) {
    const page = await client.follow(next);
    yield page;
    ({ next } = page.links);
  }
}

async function writeCsv(
  client: OrismaClient,
  { labels = {} }: ListingDetails,
  columns: ListingDetails["shown"],
  first: RecordsAnswer,
  everything: boolean,
  write: Write,
): Promise<RecordsMeta> {
  let last = first.meta;
  const names = columns.map(({ name }) => name);
  await write(csvText([names.map((name) => labels[name] ?? name)]));
  for await (const page of pages(client, first, everything)) {
    const rows = page.records.map((record) => {
      // What could not be read goes out as it came in: an empty cell would be a loss.
      const unreadable = page.meta.unreadable[String(record.id)] ?? {};
      return names.map((name) => String(unreadable[name] ?? record[name] ?? ""));
    });
    await write(csvText(rows));
    last = page.meta;
  }
  return last;
}

function recordsTable(
  listing: ListingDetails,
  columns: ListingDetails["shown"],
  { records, meta }: RecordsAnswer,
): string {
  return drawTable(
    columns.map(({ name, type }) => ({
      heading: listing.labels?.[name] ?? name,
      right: type === "integer" || type === "decimal",
    })),
    records.map((record) =>
      columns.map(({ name }) => {
        const raw = meta.unreadable[String(record.id)]?.[name];
        const display = meta.display?.[String(record.id)]?.[name];
        return raw === undefined ? (display ?? String(record[name] ?? "")) : `?? ${raw}`;
      }),
    ),
  );
}

/**
 * The columns that the answer has, in its order: all that are shown unless some are requested; and the
 * id before them where it is not one of them.
 */
function columnsOf(
  { shown, key }: ListingDetails,
  wanted: readonly string[] = [],
): ListingDetails["shown"] {
  const chosen = wanted.flatMap((name) => shown.find((column) => column.name === name) ?? []);
  const columns = wanted.length === 0 ? shown : [...new Set(chosen)];
  const hasId = columns.some(({ name }) => name === key);
  return hasId ? columns : [{ name: "id", type: "text" }, ...columns];
}

function noticesText({ notices }: RecordsMeta): string {
  return notices.map(({ message }) => `Note: ${message}\n`).join("");
}

function totalText(shown: number, { total, totalExact }: RecordsMeta): string {
  if (total === null) return `${shown} shown; the total was not counted`;
  const all = totalExact ? String(total) : `more than ${total}`;
  if (total === 0) return "No records";
  return shown === total && totalExact
    ? `${all} ${total === 1 ? "record" : "records"}`
    : `${shown} of ${all} records shown; --all shows the rest`;
}
