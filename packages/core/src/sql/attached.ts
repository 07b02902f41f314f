import { failure, fault, success, type Result } from "../faults/index.js";
import type { Column, DateColumn } from "../filters/index.js";
import { compileReading, type CompiledReading, type Reading } from "../reading/index.js";
import { attachedDates } from "./attached-cells.js";
import { epochEncoding, serialEncoding } from "./attached-numbers.js";
import { nativeEncoding } from "./attached-native.js";
import { INTERNET_PATTERNS, formEncoding, isoPatterns } from "./attached-forms.js";
import { digitsEncoding, textColumn, textEncoding } from "./attached-text.js";
import type { DatabaseType } from "./database-type.js";
import type { EncodedDates } from "./attached-cells.js";
import {
  filledOrBlank,
  type StoredBooleans,
  type StoredNumbers,
  type StoredStrings,
} from "./cells.js";
import { functionCall, literal, nameOf, sql, type Fragment } from "./fragment.js";
import type { AttachedCells, AttachedColumn } from "./storage.js";
import { clockZone, instantDates, wallClockDates } from "./zoned.js";

/** A column of a table that Orisma did not make, and how it is understood. */
export interface BareDeclared {
  /** Its name in its table. */
  readonly value: string;
  /**
   * Columns of the table whose values make up its own, with a hyphen between them: a year and a month. Blank where one
   * of them is NULL. What it holds is text then, and dates are read of it by patterns such as `yyyy-M`.
   */
  readonly parts?: readonly string[];
  readonly holding: DatabaseType;
  readonly type:
    | { readonly type: "text" | "integer" | "decimal" | "boolean" }
    | { readonly type: "date"; readonly reading: Reading };
}

/**
 * A column as statements ask for it: bounds are encoded as the column stores dates, and what else
 * must hold makes the answer just what the reading says.
 *
 * Strings are read exactly as their pattern is spelled (see {@link Reading.exact}). Fails with the
 * faults of the reading, and with `storage.reading` where no statement can say the same.
 */
export function attachedColumn(name: string, declared: BareDeclared): Result<AttachedColumn> {
  const { value, parts, holding, type } = declared;
  const text = parts === undefined ? null : partsText(parts);
  const build = (column: Column, cells: AttachedCells): Result<AttachedColumn> =>
    success({
      ...{ storage: "attached", column, value, holding, cells },
      ...(text === null || parts === undefined ? {} : { text, parts }),
    });
  switch (type.type) {
    case "text":
      return build(
        { name, type: "text" },
        { type: "text", strings: attachedStrings(text ?? nameOf(value), holding, text === null) },
      );
    case "integer":
    case "decimal": {
      if (!NUMBERS.has(holding.type)) {
        return failure(
          fault(
            "storage.reading",
            { column: name, reason: `it holds ${HOLDS[holding.type]}`, instead: "the type text" },
            { value: type.type },
          ),
        );
      }
      return build({ name, type: type.type }, { type: "number", numbers: attachedNumbers(value) });
    }
    case "boolean":
      if (holding.type !== "boolean" && holding.type !== "integer") {
        const reason = `it holds ${HOLDS[holding.type]}`;
        return failure(
          fault("storage.reading", { column: name, reason, instead: "the type text" }),
        );
      }
      return build(
        { name, type: "boolean" },
        { type: "boolean", booleans: attachedBooleans(value) },
      );
    case "date": {
      const reading = attachedReading(type.reading);
      const compiled = compileReading(reading);
      if (!compiled.ok) return compiled;
      const encoded = encodingOf(name, { value, text }, reading, holding, compiled.value);
      if (!encoded.ok) return encoded;
      const dates = attachedDates(encoded.value, reading, compiled.value, blanksAreDates(reading));
      return build(
        { name, type: "date", kind: reading.kind, ...partialOf(reading) },
        {
          type: "date",
          dates,
          orderKey: encoded.value.orderKey ?? null,
          reading: compiled.value,
        },
      );
    }
  }
}

function partialOf({ partial }: Reading): Pick<DateColumn, "partial"> {
  return partial === undefined || partial === "start" ? {} : { partial };
}

/**
 * A reading as it is of an attached column: strings are dates just as their pattern spells them, and ISO 8601 is its
 * patterns one by one, which a database can recognise too.
 */
export function attachedReading(reading: Reading): Reading {
  return { ...reading, ...spelledOut(reading), exact: true };
}

/** Values of several columns with a hyphen between them. */
function partsText(parts: readonly string[]): Fragment {
  const of = parts.flatMap((part, index) => {
    const shown = functionCall("shown", nameOf(part));
    return index === 0 ? [shown] : [literal("-"), shown];
  });
  return { kind: "concat", of };
}

/** The patterns of text, with those of a name in place of it: each is written in one way. */
function spelledOut(reading: Reading): Pick<Reading, "patterns"> {
  if (reading.encoding !== "text") return {};
  const patterns = reading.patterns?.length ? reading.patterns : ["iso8601"];
  return {
    patterns: patterns.flatMap((pattern) => {
      if (pattern === "iso8601") return isoPatterns(reading);
      return pattern === "rfc5322" ? INTERNET_PATTERNS : [pattern];
    }),
  };
}

/** Whether a spelling of a blank would be a date if it were not listed. */
function blanksAreDates({ blanks = [], ...reading }: Reading): boolean {
  const plain = compileReading(reading);
  const isText = reading.encoding === "text" || reading.encoding === "native";
  return blanks.some((blank) => {
    const value = isText ? blank : Number(blank);
    return plain.ok && plain.value.read(value).state === "dated";
  });
}

const NUMBERS: ReadonlySet<DatabaseType["type"]> = new Set(["integer", "decimal", "float"]);

const HOLDS: Readonly<Record<DatabaseType["type"], string>> = {
  text: "text",
  integer: "whole numbers",
  boolean: "yes and no",
  decimal: "decimal numbers",
  float: "floating-point numbers",
  date: "dates",
  timestamp: "dates with times",
  other: "something that is neither text, number nor date",
};

function encodingOf(
  column: string,
  { value, text }: { readonly value: string; readonly text: Fragment | null },
  reading: Reading,
  holding: DatabaseType,
  compiled: CompiledReading,
): Result<EncodedDates> {
  const refused = (reason: string, instead: string): Result<EncodedDates> =>
    failure(fault("storage.reading", { column, reason, instead }, { value: reading.encoding }));
  const zone = clockZone(reading);
  const isNumber = NUMBERS.has(holding.type);
  const isWhole = holding.type === "integer";
  const refusedNumbers = () =>
    refused(
      `numbers, where the column holds ${HOLDS[holding.type]}`,
      holding.type === "text" ? "the encoding text, or a column of numbers" : "native",
    );
  switch (reading.encoding) {
    case "native":
      if (holding.type === "date" || holding.type === "timestamp") {
        if (zone !== null && holding.type === "timestamp" && holding.zoned) {
          return refused("a zone for what is stored as points in time", "no zone, or UTC");
        }
        return success(
          wallClockDates(reading, compiled, (as) =>
            nativeEncoding(value, as, holding, reading.blanks ?? []),
          ),
        );
      }
      return refused(
        `native dates, where the column holds ${HOLDS[holding.type]}`,
        holding.type === "text" ? "the encoding text, with a pattern" : "an epoch or a serial",
      );
    case "text":
      if (isWhole) return digitsEncoding(column, value, reading, compiled);
      if (holding.type !== "text") {
        return refused(`text, where the column holds ${HOLDS[holding.type]}`, "another encoding");
      }
      return text === null
        ? textEncoding(column, nameOf(value), reading, compiled)
        : formEncoding(column, { ...textColumn(text), year: nameOf(value) }, reading, compiled);
    case "serial-1900":
    case "serial-1904": {
      if (!isNumber) return refusedNumbers();
      const { encoding } = reading;
      return success(
        wallClockDates(reading, compiled, (as) => serialEncoding(value, encoding, as, isWhole)),
      );
    }
    case "epoch-s":
    case "epoch-ms":
    case "epoch-us": {
      if (!isNumber) return refusedNumbers();
      const { encoding } = reading;
      return success(
        instantDates(reading, compiled, (as) => epochEncoding(value, encoding, as, isWhole)),
      );
    }
  }
}

function attachedStrings(value: Fragment, holding: DatabaseType, isPlain: boolean): StoredStrings {
  const column = holding.type === "text" ? value : functionCall("shown", value);
  const white = functionCall("isWhite", column);
  const isFilled = sql`(${value} IS NOT NULL AND NOT (${white}))`;
  const isBlank = sql`(${value} IS NULL OR ${white})`;
  return {
    ...filledOrBlank(isFilled, isBlank),
    exact: functionCall("exactOf", column),
    folded: functionCall("exactOf", functionCall("small", column)),
    blankIsNull: false,
    bare: holding.type === "text" && isPlain ? column : null,
    dictionary: null,
  };
}

function attachedBooleans(value: string): StoredBooleans {
  const column = nameOf(value);
  const [isTrue, isFalse] = [functionCall("isTrue", column), functionCall("isFalse", column)];
  return {
    ...filledOrBlank(sql`${column} IS NOT NULL`, sql`${column} IS NULL`),
    isTrue,
    isFalse,
    value: sql`CASE WHEN ${isTrue} THEN 1 WHEN ${isFalse} THEN 0 END`,
  };
}

function attachedNumbers(value: string): StoredNumbers {
  const column = nameOf(value);
  const [isFilled, isBlank] = [sql`${column} IS NOT NULL`, sql`${column} IS NULL`];
  return {
    ...filledOrBlank(isFilled, isBlank),
    value: column,
  };
}
