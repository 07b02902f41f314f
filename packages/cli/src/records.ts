import type { OrismaClient, ListingDetails } from "@orisma/client";
import type { RecordAnswer, RecordsAnswer, RecordsMeta } from "@orisma/core";
import { stringify } from "csv-stringify";
import { drawTable } from "./table.js";

export interface RecordsOptions {
  readonly json?: boolean;
  readonly csv?: boolean;
  readonly all?: boolean;
  readonly order?: string;
  readonly size?: string;
}

type Write = (text: string) => Promise<void>;

/** Prints records of a listing: as a table, as one JSON document, or as CSV. */
export async function printRecords(
  client: OrismaClient,
  listing: string,
  parameters: Record<string, readonly string[]>,
  options: RecordsOptions,
  write: Write,
  note: (text: string) => void,
): Promise<void> {
  const { order, size } = options;
  const query = {
    ...parameters,
    ...(order === undefined ? {} : { order }),
    ...(size === undefined ? {} : { size }),
  };
  const first = await client.records(listing, query);
  // A file that is cut after a page would be a loss that nobody sees.
  const everything = options.all === true || (options.csv === true && size === undefined);
  if (options.csv === true) {
    await writeCsv(client, await client.listing(listing), first, everything, write);
    note(`${first.meta.sentence}\n${noticesText(first.meta)}`);
    return;
  }
  const records = everything ? await allRecords(client, first) : first.records;
  if (options.json === true) {
    await write(`${JSON.stringify({ ...first, records }, null, 2)}\n`);
    return;
  }
  const details = await client.listing(listing);
  await write(`${first.meta.sentence}\n${noticesText(first.meta)}\n`);
  await write(recordsTable(details, records, first.meta));
  await write(`\n${totalText(records.length, first.meta)}\n`);
}

async function allRecords(
  client: OrismaClient,
  first: RecordsAnswer,
): Promise<readonly RecordAnswer[]> {
  const records: RecordAnswer[] = [];
  for await (const page of pages(client, first, true)) records.push(...page.records);
  return records;
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
  { shown }: ListingDetails,
  first: RecordsAnswer,
  everything: boolean,
  write: Write,
): Promise<void> {
  const names = shown.map(({ name }) => name);
  const writer = stringify({ header: true, columns: ["id", ...names] });
  const done = (async () => {
    for await (const text of writer) await write(String(text));
  })();
  for await (const page of pages(client, first, everything)) {
    for (const record of page.records) {
      writer.write(Object.fromEntries(["id", ...names].map((name) => [name, record[name] ?? ""])));
    }
  }
  writer.end();
  await done;
}

function recordsTable(
  { shown, key }: ListingDetails,
  records: readonly RecordAnswer[],
  meta: RecordsMeta,
): string {
  const columns = key === null ? [{ name: "id", type: "text" as const }, ...shown] : shown;
  return drawTable(
    columns.map(({ name, type }) => ({
      heading: name,
      right: type === "integer" || type === "decimal",
    })),
    records.map((record) =>
      columns.map(({ name }) => {
        const raw = meta.unreadable[String(record.id)]?.[name];
        return raw === undefined ? String(record[name] ?? "") : `?? ${raw}`;
      }),
    ),
  );
}

function noticesText({ notices }: RecordsMeta): string {
  return notices.map(({ message }) => `Note: ${message}\n`).join("");
}

function totalText(shown: number, { total, totalIs }: RecordsMeta): string {
  if (total === null) return `${shown} shown; the total was not counted`;
  const all = totalIs === "atLeast" ? `more than ${total}` : String(total);
  if (total === 0) return "No records";
  return shown === total && totalIs === "exact"
    ? `${all} ${total === 1 ? "record" : "records"}`
    : `${shown} of ${all} records shown; --all shows the rest`;
}
