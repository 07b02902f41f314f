import {
  DATE_ENCODINGS,
  DATE_KINDS,
  readValues,
  renderFault,
  type DateEncoding,
  type DateKind,
  type ReadAnswer,
  type Reading,
} from "@orisma/core/internal";
import { InvalidArgumentError, type Command } from "commander";
import {
  collect,
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { readYear } from "../input/columns.js";

interface ReadOptions extends ListFormat {
  readonly kind: DateKind;
  readonly encoding: DateEncoding;
  readonly pattern: readonly string[];
  readonly locale: readonly string[];
  readonly blank: readonly string[];
  readonly sentinel: readonly string[];
  readonly zone?: string;
  readonly twoDigitYearFrom?: number;
}

/** `orisma read`, which needs no service. */
export function addRead(command: Command, context: Context): void {
  withFormats(command.command("read"))
    .description("Read strings or numbers as dates")
    .argument("<values...>", "values as they are stored")
    .option("--kind <kind>", DATE_KINDS.join(", "), oneOf(DATE_KINDS), "date")
    .option("--encoding <encoding>", DATE_ENCODINGS.join(", "), oneOf(DATE_ENCODINGS), "text")
    .option("--pattern <pattern>", "a UTS #35 pattern, iso8601 or rfc5322", collect, [])
    .option("--locale <language>", "a language of month and day names", collect, [])
    .option("--zone <zone>", "the zone of wall-clock times")
    .option("--blank <spelling>", "a spelling of “no date”", collect, [])
    .option("--sentinel <date>", "a date that stands for “no date”", collect, [])
    .option("--two-digit-year-from <year>", "the first year that two digits can mean", readYear)
    .addHelpText(
      "after",
      examples(
        "orisma read 31/02/2025 05/03/2025 N/A --pattern dd/MM/yyyy --blank N/A",
        "orisma read 45292 45292.75 --encoding serial-1900 --kind local",
        "orisma read '5. März 2025' --pattern 'd. MMMM yyyy' --locale de",
      ),
    )
    .action(async (values: string[], options: ReadOptions) => {
      const results = readValues(values, readingOf(options));
      if (!results.ok) {
        throw new UsageError(results.faults.map((each) => renderFault(each).message).join("; "));
      }
      const answer = { results: results.value };
      const headings = ["value", "is", "date", { heading: "in words", whole: true }];
      await context.print(listText(options, answer, headings, results.value.map(rowOf)));
    });
}

function rowOf({ value, state, date, long, fault, notices }: ReadAnswer): readonly string[] {
  const returned = [long ?? fault?.message ?? "", ...(notices ?? []).map(({ message }) => message)];
  return [String(value), state, date ?? "", returned.join("; ")];
}

function readingOf(options: ReadOptions): Reading {
  const { kind, encoding, pattern, locale, zone, blank, sentinel, twoDigitYearFrom } = options;
  return {
    kind,
    encoding,
    ...(pattern.length === 0 ? {} : { patterns: pattern }),
    ...(locale.length === 0 ? {} : { locales: locale }),
    ...(zone === undefined ? {} : { zone }),
    ...(blank.length === 0 ? {} : { blanks: blank }),
    ...(sentinel.length === 0 ? {} : { sentinels: sentinel }),
    ...(twoDigitYearFrom === undefined ? {} : { twoDigitYearFrom }),
  };
}

function oneOf<T extends string>(known: readonly T[]): (text: string) => T {
  return (text) => {
    const found = known.find((each) => each === text);
    if (found !== undefined) return found;
    throw new InvalidArgumentError(`One of ${known.join(", ")} is wanted.`);
  };
}
