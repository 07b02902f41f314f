import { nameOf } from "@orisma/core/internal";
import type { Command } from "commander";
import { columnsFrom, withColumnOptions, type ColumnOptions } from "../input/columns.js";
import { collect, examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { partsText } from "../output/parts.js";
import { drawTable } from "../output/table.js";

/** `orisma sources attach`. */
export function addAttach(sources: Command, context: Context): void {
  withColumnOptions(sources.command("attach"))
    .description("Create a source from a table or view of an attached database")
    .argument("<source>")
    .requiredOption("--database <name>", "an attached database")
    .option(
      "--table <table>",
      "a table or view of it, or a pattern such as gauges_{yyyyMMdd}; by default the name of the source",
    )
    .option("--key <column>", "the column whose value is a record's id; by default the primary key")
    .option("--date-column <column>", "of a pattern: the column with the dates of its tables")
    .option(
      "--parts <name=columns>",
      "a column that several make up, such as period=year,month, to be read as yyyy-M",
      collect,
      [],
    )
    .option("--running-day", "of a pattern: read the table of the day that has not ended too")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma sources attach readings --database levels",
        "orisma sources attach readings --database levels --table gauge_readings --date read_on=dd/MM/yyyy",
        "orisma sources attach dredging --database levels --parts period=year,month \\\n" +
          "    --date period=yyyy-M --partial inside",
        "orisma sources attach gauges --database levels --table 'gauges_{yyyyMMdd}'",
      ),
    )
    .action((name: string, options: TableOptions) => attach(context, name, options));
}

/** `orisma sources unnest`. */
export function addUnnest(sources: Command, context: Context): void {
  withColumnOptions(sources.command("unnest"))
    .description("Create a source from the values in a JSON column of another")
    .argument("<source>")
    .argument("<of>", "the source that has the column")
    .argument("<column>")
    .requiredOption("--value <name=path>", "a value of each element, such as at=$.at", collect, [])
    .option("--each <path>", "where the elements are", "$[*]")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma sources unnest calls passages stops --value lock=$.lock --value at=$.at \\\n" +
          "    --instant \"at=yyyy-MM-dd'T'HH:mm:ss'Z'\"",
      ),
    )
    .action((name: string, of: string, column: string, options: UnnestOptions) =>
      unnest(context, name, { source: of, column }, options),
    );
}

/** `orisma sources combine`. */
export function addCombine(sources: Command, context: Context): void {
  sources
    .command("combine")
    .description("Create a source from several with the same columns")
    .argument("<source>")
    .argument("<parts...>", "two sources or more")
    .option("--column <column>", "the column that names the source of a record", "source")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples("orisma sources combine inspections-all inspections inspections-2019"),
    )
    .action(async (name: string, of: string[], { column, json }: CombineOptions) => {
      const source = await context.client().createSource({ name, combine: { of, column } });
      await context.print(json === true ? toJson(source) : partsText(source));
    });
}

interface UnnestOptions extends ColumnOptions {
  readonly value: readonly string[];
  readonly each: string;
  readonly json?: boolean;
}

async function unnest(
  context: Context,
  name: string,
  of: { readonly source: string; readonly column: string },
  { value: specs, each, json, ...options }: UnnestOptions,
): Promise<void> {
  const columns = columnsFrom(options);
  const values = specs.map((spec) => {
    const at = spec.indexOf("=");
    if (at < 1) throw new UsageError(`--value takes NAME=PATH, such as at=$.at, not ${spec}`);
    const value = spec.slice(0, at);
    return [value, { path: spec.slice(at + 1), column: columns[value] ?? TEXT }] as const;
  });
  const unnest = { ...of, each, values: Object.fromEntries(values) };
  const unused = Object.keys(columns).find((column) => unnest.values[column] === undefined);
  if (unused !== undefined) throw new UsageError(`${unused} is not one of the values`);
  const source = await context.client().createSource({ name, unnest });
  await context.print(json === true ? toJson(source) : partsText(source));
}

const TEXT = { type: "text" } as const;

interface CombineOptions {
  readonly column: string;
  readonly json?: boolean;
}

interface TableOptions extends ColumnOptions {
  readonly database: string;
  readonly table?: string;
  readonly key?: string;
  readonly dateColumn?: string;
  readonly runningDay?: boolean;
  readonly parts: readonly string[];
  readonly json?: boolean;
}

/** The columns that others make up: `period=year,month`. */
function partsFrom(specs: readonly string[]): Record<string, string[]> {
  return Object.fromEntries(
    specs.map((spec) => {
      const [name = "", columns = ""] = spec.split(/=(.*)/s);
      const of = columns.split(",").map((column) => column.trim());
      if (name === "" || of.length < 2 || of.includes("")) {
        throw new UsageError(
          `--parts takes NAME=COLUMN,COLUMN, such as period=year,month, not ${spec}`,
        );
      }
      return [name, of];
    }),
  );
}

async function attach(context: Context, name: string, options: TableOptions): Promise<void> {
  const { database, table = name, key, dateColumn, runningDay = false, json } = options;
  const made = partsFrom(options.parts);
  const source = await context.client().createSource({
    name,
    attached: {
      database,
      table,
      ...(dateColumn === undefined ? {} : { dateColumn }),
      ...(runningDay ? { runningDay } : {}),
      ...(Object.keys(made).length === 0 ? {} : { parts: made }),
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
  const returned = parts === "" ? text : `${text}\n${parts}`;
  await context.print(json === true ? toJson(source) : returned);
}
