import {
  DATABASES,
  translateFilter,
  type Database,
  type Fault,
  type TranslatedColumn,
  type TranslatedStatement,
  type Translation,
} from "@orisma/core/internal";
import { Option, type Command } from "commander";
import { momentContext, needed, withMomentOptions, type MomentOptions } from "../input/moment.js";
import { columnsFrom, readCount, withColumns, type ColumnOptions } from "../input/columns.js";
import { collect, examples, toJson, type Context } from "../context/context.js";

interface TranslateOptions extends Omit<ColumnOptions, "zone">, MomentOptions {
  readonly for: Database;
  readonly table: string;
  readonly key: string;
  readonly keyType: "integer" | "text";
  readonly order: readonly string[];
  readonly limit: number;
  readonly json?: boolean;
}

/** `orisma translate`: runs without a service. */
export function addTranslate(command: Command, context: Context): void {
  withColumns(withMomentOptions(command.command("translate")))
    .description("Translate a CQL2 filter into SQL for a table of your own")
    .argument("<filter>")
    .addOption(new Option("--for <database>", "the database").choices(DATABASES).default("mariadb"))
    .requiredOption("--table <table>", "the table")
    .option("--key <column>", "the column that identifies a record", "id")
    .addOption(new Option("--key-type <type>").choices(["integer", "text"]).default("integer"))
    .option(
      "--order <column>",
      "order by a column, with - before it for descending; again for one more",
      collect,
      [],
    )
    .option("--limit <records>", "records of a page", readCount, 50)
    .option("--json", "print what the service would answer")
    .addHelpText(
      "after",
      examples(
        "orisma translate \"raised >= DATE('2025-02-01') AND priority = 'high'\" \\\n" +
          "    --table works --date raised=dd/MM/yyyy --text priority",
        "orisma translate \"inWindow(passed, 'month-1/now')\" --table passages \\\n" +
          "    --instant passed --for postgresql --zone Europe/London",
      ),
    )
    .action(async (filter: string, options: TranslateOptions) => {
      const { key, keyType, order, limit, table, zone: _, ...read } = options;
      const columns = Object.entries(columnsFrom(read)).map(
        ([name, column]) => [name, columnOf(column, options.for)] as const,
      );
      const translation = needed(
        translateFilter(
          {
            database: options.for,
            table,
            key,
            columns: { [key]: { type: { type: keyType } }, ...Object.fromEntries(columns) },
            filter,
            limit,
            ...(order.length === 0 ? {} : { order }),
          },
          momentContext(options),
        ),
        declaringOption,
      );
      await context.print(options.json === true ? toJson(translation) : textOf(translation));
    });
}

/** The options that declare a column of which the filter speaks and no option does. */
function declaringOption(fault: Fault): string | null {
  if (fault.code !== "column.unknown") return null;
  const { name } = fault.facts as { readonly name: string };
  const isQuoted = /[^\w.-]/.test(name);
  const of = isQuoted ? `"${name}"` : name;
  return `to declare it: --date ${of}, --local ${of} (with times), --instant ${of}, --integer ${of}, --decimal ${of}, --boolean ${of} or --text ${of}`;
}

/** A column without a pattern is of the database's own type, where it has one. */
function columnOf(
  column: ReturnType<typeof columnsFrom>[string],
  database: Database,
): TranslatedColumn {
  if (column.type !== "date") return { type: { type: column.type } };
  const { reading } = column;
  if (reading.encoding !== "text") return { type: { type: "date", reading } };
  if (reading.patterns !== undefined) {
    const zoned = reading.kind === "instant" ? { ...reading, zone: "UTC" } : reading;
    return { type: { type: "date", reading: zoned } };
  }
  return database === "sqlite"
    ? {
        type: { type: "date", reading: { ...reading, patterns: [ISO[reading.kind]], zone: "UTC" } },
      }
    : { type: { type: "date", reading: { ...reading, encoding: "native" } } };
}

/** How SQLite's own functions write dates. */
const ISO = {
  date: "yyyy-MM-dd",
  local: "yyyy-MM-dd HH:mm:ss",
  instant: "yyyy-MM-dd HH:mm:ss",
} as const;

function textOf(translation: Translation): string {
  const { sentence, canonical, contradictions, where, page, count, remarks } = translation;
  return [
    sentence,
    canonical,
    ...contradictions.map((each) => `No record can satisfy it: ${each}`),
    "",
    ...(where.text === "" ? ["Every record is kept."] : ["Where", ...statementLines(where)]),
    "",
    page.length === 1 ? "First page" : `First page, ${page.length} statements until it is full`,
    ...page.flatMap(statementLines),
    "",
    "Count",
    ...statementLines(count),
    ...(remarks.length === 0 ? [] : ["", ...remarks.map((each) => `Note: ${each}`)]),
    "",
  ].join("\n");
}

function statementLines({ text, values }: TranslatedStatement): readonly string[] {
  return [`  ${text}`, ...(values.length === 0 ? [] : [`  values: ${JSON.stringify(values)}`])];
}
