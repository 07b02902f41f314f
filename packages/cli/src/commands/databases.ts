import { readFileSync } from "node:fs";
import type { Command } from "commander";
import {
  addDelete,
  addListing,
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";

interface AttachOptions {
  readonly host: string;
  readonly port: string;
  readonly database: string;
  readonly user: string;
  readonly passwordFile: string;
  readonly allowWriter?: boolean;
}

/** `orisma databases`. */
export function addDatabases(command: Command, context: Context): void {
  const databases = command
    .command("databases")
    .helpCommand(false)
    .description("List attached databases; attach and detach them")
    .addHelpText("after", examples("orisma databases", "orisma databases tables levels"));
  addList(databases, context);
  addAdd(databases, context);
  addTables(databases, context);
  addDelete(databases, "Detach a database; nothing in it changes", context, (name) =>
    context.client().detachDatabase(name),
  );
}

function addList(databases: Command, context: Context): void {
  addListing(databases)
    .description("List the attached databases (the default)")
    .addHelpText("after", examples("orisma databases"))
    .action(async (_words: readonly string[], format: ListFormat) => {
      const found = await context.client().databases();
      const rows = found.map(({ name, host, port, database, user, allowWriter }) => [
        name,
        `${host}:${port}`,
        database,
        user,
        allowWriter ? "may write, never does" : "reads only",
      ]);
      const headings = ["name", "at", "database", "account", "which"];
      await context.print(listText(format, found, headings, rows));
    });
}

function addAdd(databases: Command, context: Context): void {
  databases
    .command("add")
    .description("Attach a database, or give another account to one that is attached")
    .argument("<name>")
    .requiredOption("--host <host>", "one of those that ORISMA_ATTACHABLE of the service lists")
    .option("--port <port>", "its port", "3306")
    .requiredOption("--database <database>", "its name on that server")
    .requiredOption("--user <account>", "an account that may only SELECT")
    .requiredOption("--password-file <file>", "a file with its password; - reads standard input")
    .option("--allow-writer", "accept an account that can write; nothing is written all the same")
    .addHelpText(
      "after",
      examples(
        "orisma databases add levels --host 127.0.0.1 --port 3307 --database levels \\\n" +
          "    --user reader --password-file levels-password",
      ),
    )
    .action(async (name: string, options: AttachOptions) => {
      const { host, database, user, allowWriter = false } = options;
      const password = passwordFrom(options.passwordFile);
      const port = portFrom(options.port);
      await context
        .client()
        .attachDatabase(name, { host, port, database, user, password, allowWriter });
      await context.print(
        `${name} is attached; orisma databases tables ${name} shows what it has\n`,
      );
    });
}

function addTables(databases: Command, context: Context): void {
  withFormats(databases.command("tables"))
    .description("List the tables of one, or the columns of a table")
    .argument("<name>")
    .argument("[table]")
    .addHelpText("after", examples("orisma databases tables levels"))
    .action(async (name: string, table: string | undefined, format: ListFormat) => {
      await context.print(
        table === undefined
          ? await tablesText(context, name, format)
          : await tableText(context, name, table, format),
      );
    });
}

async function tablesText({ client }: Context, name: string, format: ListFormat) {
  const tables = await client().tables(name);
  const rows = tables.map((each) => [
    each.name,
    each.kind,
    each.about === null ? "" : String(each.about),
  ]);
  const about = { heading: "about so many records", right: true };
  return listText(format, tables, ["name", "kind", about], rows);
}

async function tableText({ client }: Context, name: string, table: string, format: ListFormat) {
  const found = await client().table(name, table);
  const leading = new Map(
    Object.entries(found.indexes).map(([index, [first = ""]]) => [first, index]),
  );
  const rows = found.columns.map((column) => [
    column.name,
    column.type,
    column.holding === null ? "cannot be filtered" : column.holding.type,
    found.keys.includes(column.name) ? "yes" : "",
    leading.get(column.name) ?? "",
  ]);
  return listText(format, found, ["column", "type", "holds", "key", "index"], rows);
}

function passwordFrom(file: string): string {
  try {
    return readFileSync(file === "-" ? 0 : file, "utf8").replace(/\r?\n$/, "");
  } catch {
    throw new UsageError(`${file} cannot be read`);
  }
}

function portFrom(text: string): number {
  const port = /^\d{1,5}$/.test(text) ? Number(text) : 0;
  if (port >= 1 && port <= 65_535) return port;
  throw new UsageError(`--port wants a number from 1 to 65535, and not ${text}`);
}
