import { readFileSync } from "node:fs";
import { nameOf } from "@orisma/core/internal";
import type { Command } from "commander";
import { columnsFrom, withColumnOptions, type ColumnOptions } from "../input/columns.js";
import {
  addRemoval,
  collect,
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { partsText } from "../output/parts.js";
import { drawTable } from "../output/table.js";

interface AttachOptions {
  readonly host: string;
  readonly port: string;
  readonly database: string;
  readonly user: string;
  readonly passwordFile: string;
  readonly allowWriter?: boolean;
}

/** `orisma databases` with its own commands, and `orisma attach`. */
export function addDatabases(command: Command, context: Context): void {
  const databases = command
    .command("databases")
    .description("list the databases whose tables can be read, attach and end them");
  addList(databases, context);
  addAdd(databases, context);
  addTables(databases, context);
  addRemoval(databases, "end the attaching of one; it stays as it is", context, (name) =>
    context.client().removeDatabase(name),
  );
  addAttach(command, context);
  addInside(command, context);
  addStack(command, context);
}

function addList(databases: Command, context: Context): void {
  withFormats(databases.command("list", { isDefault: true }))
    .description("list them")
    .action(async (format: ListFormat) => {
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
    .description("attach a database, or give another account to one that is attached")
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
        "orisma databases add levels --host 127.0.0.1 --port 3307 --database levels " +
          "--user reader --password-file levels-password",
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
    .description("list the tables of one, or the columns of a table")
    .argument("<name>")
    .argument("[table]")
    .action(async (name: string, table: string | undefined, format: ListFormat) => {
      await context.print(
        table === undefined
          ? await tablesText(context, name, format)
          : await tableText(context, name, table, format),
      );
    });
}

function addAttach(command: Command, context: Context): void {
  withColumnOptions(command.command("attach"))
    .description("make a source of a table or view of an attached database")
    .argument("<source>")
    .requiredOption("--database <name>", "an attached database")
    .option(
      "--table <table>",
      "a table or view of it, or a pattern such as gauges_{yyyyMMdd}; the source's own name unless told",
    )
    .option(
      "--key <column>",
      "the column whose value is a record's id; the primary key unless told",
    )
    .option("--date-column <column>", "of a pattern: the column with the dates of its tables")
    .option("--running-day", "of a pattern: read the table of the day that has not ended too")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma attach readings --database levels",
        "orisma attach readings --database levels --table gauge_readings --date read_on=dd/MM/yyyy",
        "orisma attach gauges --database levels --table 'gauges_{yyyyMMdd}'",
      ),
    )
    .action((name: string, options: TableOptions) => attach(context, name, options));
}

function addInside(command: Command, context: Context): void {
  withColumnOptions(command.command("inside"))
    .description("make a source of the values inside a column of JSON texts of another")
    .argument("<source>")
    .argument("<of>", "the source that has the column")
    .argument("<column>")
    .requiredOption("--value <name=path>", "a value of each element, such as at=$.at", collect, [])
    .option("--each <path>", "where the elements are", "$[*]")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma inside calls passages stops --value lock=$.lock --value at=$.at \\\n" +
          "    --instant \"at=yyyy-MM-dd'T'HH:mm:ss'Z'\"",
      ),
    )
    .action((name: string, of: string, column: string, options: InsideOptions) =>
      makeInside(context, name, { source: of, column }, options),
    );
}

function addStack(command: Command, context: Context): void {
  command
    .command("stack")
    .description("make a source of several sources of like columns, one after the other")
    .argument("<source>")
    .argument("<parts...>", "the sources that it is made of, two at least")
    .option("--column <column>", "the column that says from which a record comes", "source")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma stack inspections-all inspections inspections-2019"))
    .action(async (name: string, of: string[], { column, json }: StackOptions) => {
      const source = await context.client().createSource({ name, stacked: { of, column } });
      await context.print(json === true ? toJson(source) : partsText(source));
    });
}

interface InsideOptions extends ColumnOptions {
  readonly value: readonly string[];
  readonly each: string;
  readonly json?: boolean;
}

async function makeInside(
  context: Context,
  name: string,
  of: { readonly source: string; readonly column: string },
  { value: specs, each, json, ...options }: InsideOptions,
): Promise<void> {
  const columns = columnsFrom(options);
  const values = specs.map((spec) => {
    const at = spec.indexOf("=");
    if (at < 1) throw new UsageError(`--value takes name=path, such as at=$.at, and not ${spec}`);
    const value = spec.slice(0, at);
    return [value, { path: spec.slice(at + 1), column: columns[value] ?? TEXT }] as const;
  });
  const inside = { ...of, each, values: Object.fromEntries(values) };
  const unused = Object.keys(columns).find((column) => inside.values[column] === undefined);
  if (unused !== undefined) throw new UsageError(`${unused} is none of the values`);
  const source = await context.client().createSource({ name, inside });
  await context.print(json === true ? toJson(source) : partsText(source));
}

const TEXT = { type: "text" } as const;

interface StackOptions {
  readonly column: string;
  readonly json?: boolean;
}

interface TableOptions extends ColumnOptions {
  readonly database: string;
  readonly table?: string;
  readonly key?: string;
  readonly dateColumn?: string;
  readonly runningDay?: boolean;
  readonly json?: boolean;
}

async function attach(context: Context, name: string, options: TableOptions): Promise<void> {
  const { database, table = name, key, dateColumn, runningDay = false, json } = options;
  const source = await context.client().createSource({
    name,
    attached: {
      database,
      table,
      ...(dateColumn === undefined ? {} : { dateColumn }),
      ...(runningDay ? { runningDay } : {}),
    },
    ...(key === undefined ? {} : { key }),
    columns: columnsFrom(options),
  });
  const rows = source.columns.map((column) => [
    column.name,
    column.type === "date" ? column.reading.kind : column.type,
    column.type === "date" ? nameOf(column.reading) : "",
  ]);
  const text = drawTable(
    ["column", "holds", "written as"].map((heading) => ({ heading })),
    rows,
  );
  const parts = partsText(source);
  const told = parts === "" ? text : `${text}\n${parts}`;
  await context.print(json === true ? toJson(source) : told);
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
