import type { ColumnDeclaration } from "@orisma/client";
import { DATE_ENCODINGS, type DateEncoding, type DateKind } from "@orisma/core/internal";
import { InvalidArgumentError, type Command } from "commander";
import { collect } from "../context/context.js";

/** How columns are to be understood, as options of a command. */
export interface ColumnOptions {
  readonly date: readonly string[];
  readonly local: readonly string[];
  readonly instant: readonly string[];
  readonly integer: readonly string[];
  readonly decimal: readonly string[];
  readonly boolean: readonly string[];
  readonly text: readonly string[];
  readonly blank: readonly string[];
  readonly locale: readonly string[];
  readonly zone?: string;
  readonly twoDigitYearFrom?: number;
}

/** Adds the options of {@link ColumnOptions} to a command. */
export function withColumnOptions(command: Command): Command {
  return withColumns(command).option(
    "--zone <zone>",
    "time zone of points in time written without an offset",
  );
}

/** The same, for a command whose zone is that of windows. */
export function withColumns(command: Command): Command {
  return command
    .option("--date <column=pattern>", "a column of days; ISO 8601 without a pattern", collect, [])
    .option("--local <column=pattern>", "a column of dates with wall-clock times", collect, [])
    .option("--instant <column=pattern>", "a column of points in time", collect, [])
    .option("--integer <column>", "a column of whole numbers", collect, [])
    .option("--decimal <column>", "a column of decimal numbers", collect, [])
    .option("--boolean <column>", "a column of yes and no", collect, [])
    .option("--text <column>", "a column of text, as it is by default", collect, [])
    .option("--blank <spelling>", "a spelling of “no date”", collect, [])
    .option("--two-digit-year-from <year>", "the first year that two digits can mean", readYear)
    .option("--locale <language>", "a language of month and day names", collect, []);
}

/** The columns that the options speak of. */
export function columnsFrom(options: ColumnOptions): Readonly<Record<string, ColumnDeclaration>> {
  const columns: Record<string, ColumnDeclaration> = {};
  const dates: readonly (readonly [DateKind, readonly string[]])[] = [
    ["date", options.date],
    ["local", options.local],
    ["instant", options.instant],
  ];
  for (const [kind, specs] of dates) {
    for (const spec of specs) {
      const { name, encoding, patterns } = readDateSpec(spec);
      columns[name] = {
        type: "date",
        reading: {
          kind,
          encoding,
          ...(patterns.length === 0 ? {} : { patterns }),
          ...(options.blank.length === 0 ? {} : { blanks: options.blank }),
          ...(options.locale.length === 0 ? {} : { locales: options.locale }),
          ...(options.zone === undefined ? {} : { zone: options.zone }),
          ...(options.twoDigitYearFrom === undefined
            ? {}
            : { twoDigitYearFrom: options.twoDigitYearFrom }),
        },
      };
    }
  }
  for (const name of options.integer) columns[name] = { type: "integer" };
  for (const name of options.decimal) columns[name] = { type: "decimal" };
  for (const name of options.boolean) columns[name] = { type: "boolean" };
  for (const name of options.text) columns[name] = { type: "text" };
  return columns;
}

/** Reads a year that is given as an option. */
export function readYear(text: string): number {
  const year = /^\d{1,4}$/.test(text) ? Number(text) : 0;
  if (year >= 1 && year <= 9_900) return year;
  throw new InvalidArgumentError("A year from 1 to 9900 is wanted.");
}

/** Reads a number of records that is given as an option. */
export function readCount(text: string): number {
  const count = /^\d{1,6}$/.test(text) ? Number(text) : 0;
  if (count >= 1) return count;
  throw new InvalidArgumentError("A whole number from 1 to 999999 is wanted.");
}

interface DateSpec {
  readonly name: string;
  readonly encoding: DateEncoding;
  readonly patterns: readonly string[];
}

/**
 * `raised=dd/MM/yyyy`, several patterns with `|` between them, or `due=serial-1900`; `raised`
 * alone is ISO 8601.
 */
function readDateSpec(spec: string): DateSpec {
  const at = spec.indexOf("=");
  if (at < 0) return { name: spec, encoding: "text", patterns: [] };
  const [name, form] = [spec.slice(0, at), spec.slice(at + 1)];
  const encoding = DATE_ENCODINGS.find((each) => each === form);
  return encoding === undefined
    ? { name, encoding: "text", patterns: form.split("|") }
    : { name, encoding, patterns: [] };
}
