import { failure, fault, success, type Result } from "../faults/index.js";
import type { Column } from "../filters/index.js";
import { compileReading, type CompiledReading, type Reading } from "../reading/index.js";
import { attachedDates } from "./attached-cells.js";
import { epochEncoding, serialEncoding } from "./attached-numbers.js";
import { nativeEncoding } from "./attached-native.js";
import { digitsEncoding, textEncoding } from "./attached-text.js";
import type { DatabaseType } from "./database-type.js";
import type { EncodedDates } from "./attached-cells.js";
import {
  filledOrBlank,
  type StoredBooleans,
  type StoredNumbers,
  type StoredStrings,
} from "./cells.js";
import { functionCall, nameOf, sql } from "./fragment.js";
import type { AttachedCells, AttachedColumn } from "./storage.js";

/** A column of a table that Orisma did not make, and how it is understood. */
export interface BareDeclared {
  /** Its name in its table. */
  readonly value: string;
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
  const { value, holding, type } = declared;
  const build = (column: Column, cells: AttachedCells): Result<AttachedColumn> =>
    success({ storage: "attached", column, value, holding, cells });
  switch (type.type) {
    case "text":
      return build(
        { name, type: "text" },
        { type: "text", strings: attachedStrings(value, holding) },
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
      const reading = { ...type.reading, exact: true };
      const compiled = compileReading(reading);
      if (!compiled.ok) return compiled;
      const encoded = encodingOf(name, value, reading, holding, compiled.value);
      if (!encoded.ok) return encoded;
      const dates = attachedDates(encoded.value, reading, compiled.value, blanksAreDates(reading));
      return build(
        { name, type: "date", kind: reading.kind },
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
  value: string,
  reading: Reading,
  holding: DatabaseType,
  compiled: CompiledReading,
): Result<EncodedDates> {
  const refused = (reason: string, instead: string): Result<EncodedDates> =>
    failure(fault("storage.reading", { column, reason, instead }, { value: reading.encoding }));
  if (reading.zone !== undefined && compiled.kind !== "instant" && !isUtc(reading.zone)) {
    return refused("days and wall-clock times of a zone", "the kind instant, or no zone");
  }
  if (reading.zone !== undefined && !isUtc(reading.zone) && !reading.encoding.startsWith("epoch")) {
    return refused("wall-clock times of a zone as points in time", "the kind local, or UTC");
  }
  if (reading.partial !== undefined) {
    return refused("months and years without a day", "no partial, or the type text");
  }
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
        return success(nativeEncoding(value, compiled, holding, reading.blanks ?? []));
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
      return textEncoding(column, value, reading, compiled);
    case "serial-1900":
    case "serial-1904":
      if (!isNumber) return refusedNumbers();
      return success(serialEncoding(value, reading.encoding, compiled, isWhole));
    case "epoch-s":
    case "epoch-ms":
    case "epoch-us":
      if (!isNumber) return refusedNumbers();
      return success(epochEncoding(value, reading.encoding, compiled, isWhole));
  }
}

function isUtc(zone: string): boolean {
  return /^(?:etc\/)?(?:utc|uct|zulu|universal)$/i.test(zone);
}

function attachedStrings(value: string, holding: DatabaseType): StoredStrings {
  const column = holding.type === "text" ? nameOf(value) : functionCall("shown", nameOf(value));
  const white = functionCall("isWhite", column);
  const isFilled = sql`(${nameOf(value)} IS NOT NULL AND NOT (${white}))`;
  const isBlank = sql`(${nameOf(value)} IS NULL OR ${white})`;
  return {
    ...filledOrBlank(isFilled, isBlank),
    exact: functionCall("exactOf", column),
    folded: functionCall("exactOf", functionCall("small", column)),
    blankIsNull: false,
    bare: holding.type === "text" ? column : null,
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
