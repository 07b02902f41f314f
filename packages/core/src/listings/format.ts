import { epochMs, wallAt, wallMs, type Zone } from "../calendar/index.js";
import { fault, type Fault } from "../faults/index.js";
import type { Column } from "../filters/index.js";
import { knownLocales, datePattern, dateTextMs } from "../reading/index.js";
import type { RecordValue } from "./answers.js";
import type { ColumnFormat } from "./columns.js";
import type { ListingDeclaration } from "./declaration.js";

/** The settings that each type of column takes. */
const TAKEN: Readonly<Record<Column["type"], readonly (keyof ColumnFormat)[]>> = {
  date: ["pattern", "locale"],
  integer: ["decimals", "locale", "prefix", "suffix"],
  decimal: ["decimals", "locale", "prefix", "suffix"],
  boolean: ["yes", "no"],
  text: ["prefix", "suffix"],
};

/** Decimals of a number that is shown at most. */
const MAX_DECIMALS = 20;

/** Every fault of a listing's formats, each with the path of its place. */
export function formatFaults(
  { formats = {} }: ListingDeclaration,
  columns: ReadonlyMap<string, Column>,
): readonly Fault[] {
  return Object.entries(formats).flatMap(([name, format]) => {
    const path = `formats.${name}`;
    const column = columns.get(name);
    if (column === undefined) {
      const facts = { name, known: [...columns.keys()] };
      return [fault("column.unknown", facts, { path, value: name })];
    }
    const faults: Fault[] = Object.keys(format)
      .filter((each) => !(TAKEN[column.type] as readonly string[]).includes(each))
      .map((each) => {
        const reason = `${name} holds ${column.type === "date" ? "dates" : column.type}, which takes ${TAKEN[column.type].join(", ")}`;
        return fault("parameter.setting", { name: each, reason }, { path: `${path}.${each}` });
      });
    const { decimals = 0, locale, pattern } = format;
    if (!Number.isInteger(decimals) || decimals < 0 || decimals > MAX_DECIMALS) {
      const reason = `it is a whole number from 0 to ${MAX_DECIMALS}`;
      const place = { path: `${path}.decimals` };
      faults.push(fault("parameter.setting", { name: "decimals", reason }, place));
    }
    if (column.type === "date" && pattern === undefined) {
      const reason = "dates are shown in a pattern, such as d MMMM yyyy";
      faults.push(fault("parameter.setting", { name, reason }, { path }));
    }
    if (column.type === "date" && pattern !== undefined) {
      const compiled = datePattern(pattern, locale);
      const place = { path: `${path}.pattern` };
      if (!compiled.ok) faults.push(...compiled.faults.map((each) => ({ ...each, ...place })));
    } else if (locale !== undefined && numberFormat(locale, 0) === null) {
      faults.push(
        fault("locale.unknown", { locale, known: knownLocales() }, { path: `${path}.locale` }),
      );
    }
    return faults;
  });
}

/**
 * What shows the values of a column in a format, which has no faults; a value that cannot be so
 * shown is shown as it is.
 */
export function formatter(
  format: ColumnFormat,
  column: Column,
  zone: Zone,
): (value: Exclude<RecordValue, null>) => string {
  const { prefix = "", suffix = "" } = format;
  switch (column.type) {
    case "date": {
      const compiled = datePattern(format.pattern ?? "yyyy-MM-dd", format.locale);
      return (value) => {
        const text = String(value);
        const ms = dateTextMs(text);
        if (!compiled.ok || Number.isNaN(ms)) return text;
        if (column.kind !== "instant") return compiled.value.write(wallMs(ms), 0);
        const wall = wallAt(zone, epochMs(ms));
        return compiled.value.write(wall, wall - ms);
      };
    }
    case "integer":
    case "decimal": {
      const numbers = numberFormat(format.locale, format.decimals);
      // Digits as text are rounded as they are, however many there are.
      return (value) =>
        prefix + (numbers?.format(String(value) as never) ?? String(value)) + suffix;
    }
    case "boolean": {
      const { yes = "yes", no = "no" } = format;
      return (value) => (value === true ? yes : value === false ? no : String(value));
    }
    case "text":
      return (value) => prefix + String(value) + suffix;
  }
}

/** Null for a language that is not known. */
function numberFormat(locale = "en", decimals?: number): Intl.NumberFormat | null {
  try {
    return new Intl.NumberFormat(locale, {
      maximumFractionDigits: decimals ?? MAX_DECIMALS,
      ...(decimals === undefined ? {} : { minimumFractionDigits: decimals }),
    });
  } catch {
    return null;
  }
}
