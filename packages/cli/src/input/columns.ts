import type { ColumnDeclaration } from "@orisma/client";
import {
  DATE_ENCODINGS,
  PARTIAL_POLICIES,
  type PartialPolicy,
  compileBooleanForm,
  numberFormOf,
  renderFault,
  type DateEncoding,
  type DateKind,
  type Fault,
} from "@orisma/core/internal";
import { InvalidArgumentError, type Command } from "commander";
import { collect } from "../context/context.js";
import { UsageError } from "../context/failure.js";

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
  readonly partial?: string;
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
    .option(
      "--date <column=pattern>",
      "a column of days, in ISO 8601 by default; repeat for more patterns",
      collect,
      [],
    )
    .option("--local <column=pattern>", "a column of dates with wall-clock times", collect, [])
    .option("--instant <column=pattern>", "a column of points in time", collect, [])
    .option("--integer <column=example>", "a column of whole numbers, such as 1.234", collect, [])
    .option(
      "--decimal <column=example>",
      "a column of decimal numbers, such as 1.234,56 €",
      collect,
      [],
    )
    .option("--boolean <column=yes/no>", "a column of yes and no, such as ja/nein", collect, [])
    .option("--text <column>", "a column of text, as it is by default", collect, [])
    .option("--blank <spelling>", "a spelling of “no date”", collect, [])
    .option("--two-digit-year-from <year>", "the first year that two digits can mean", readYear)
    .option(
      "--partial <policy>",
      "a month or year is its first day, or lies inside or overlaps (start)",
    )
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
      const { name, encoding, patterns: more } = readDateSpec(spec);
      const before = columns[name];
      const tried = before?.type === "date" && before.reading.kind === kind ? before.reading : null;
      // Of several, one without a pattern is ISO 8601.
      const patterns =
        tried === null ? more : [...patternsOrIso(tried.patterns), ...patternsOrIso(more)];
      columns[name] = {
        type: "date",
        reading: {
          kind,
          encoding,
          ...(patterns.length === 0 ? {} : { patterns }),
          ...(options.blank.length === 0 ? {} : { blanks: options.blank }),
          ...(options.locale.length === 0 ? {} : { locales: options.locale }),
          ...(options.zone === undefined ? {} : { zone: options.zone }),
          ...(options.partial === undefined ? {} : { partial: readPartial(options.partial) }),
          ...(options.twoDigitYearFrom === undefined
            ? {}
            : { twoDigitYearFrom: options.twoDigitYearFrom }),
        },
      };
    }
  }
  for (const spec of options.integer) addNumbers(columns, spec, "integer");
  for (const spec of options.decimal) addNumbers(columns, spec, "decimal");
  for (const spec of options.boolean) addBooleans(columns, spec);
  for (const name of options.text) columns[name] = { type: "text" };
  return columns;
}

/** `cost` alone is plain; `cost=1.234,56 €` has the form of its example. */
function addNumbers(
  columns: Record<string, ColumnDeclaration>,
  spec: string,
  type: "integer" | "decimal",
): void {
  const [name, example] = specParts(spec);
  if (example === null) {
    columns[name] = { type };
    return;
  }
  const form = numberFormOf(example, type);
  if (!form.ok) throw refusedOption(`--${type}`, spec, form.faults);
  columns[name] = { type, written: form.value };
}

/** `paid` alone is plain; `paid=ja/nein` has these words, several with `|` between them. */
function addBooleans(columns: Record<string, ColumnDeclaration>, spec: string): void {
  const [name, words] = specParts(spec);
  if (words === null) {
    columns[name] = { type: "boolean" };
    return;
  }
  const [yes = "", no = ""] = words.split("/");
  const written = { true: yes.split("|"), false: no.split("|") };
  const form = compileBooleanForm(written);
  if (!form.ok) throw refusedOption("--boolean", spec, form.faults);
  columns[name] = { type: "boolean", written };
}

function specParts(spec: string): readonly [name: string, form: string | null] {
  const at = spec.indexOf("=");
  return at < 0 ? [spec, null] : [spec.slice(0, at), spec.slice(at + 1)];
}

function refusedOption(option: string, spec: string, faults: readonly Fault[]): UsageError {
  const words = faults.map((each) => {
    const { message, accepted } = renderFault(each);
    return accepted === undefined ? message : `${message}; accepted: ${accepted}`;
  });
  return new UsageError(`${option} ${spec}: ${words.join("; ")}`);
}

function readPartial(text: string): PartialPolicy {
  const found = PARTIAL_POLICIES.find((each) => each === text);
  if (found !== undefined) return found;
  throw new UsageError(`--partial takes ${PARTIAL_POLICIES.join(" or ")}, not ${text}`);
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

function patternsOrIso(patterns: readonly string[] = []): readonly string[] {
  return patterns.length === 0 ? ["iso8601"] : patterns;
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
  const [name, form] = specParts(spec);
  if (form === null) return { name, encoding: "text", patterns: [] };
  const encoding = DATE_ENCODINGS.find((each) => each === form);
  return encoding === undefined
    ? { name, encoding: "text", patterns: form.split("|") }
    : { name, encoding, patterns: [] };
}
