import {
  formatter,
  type RecordAnswer,
  type RecordValue,
  type RecordsMeta,
} from "@orisma/core/internal";
import { shownColumn, type ServedListing } from "../listings/index.js";

type Show = (value: Exclude<RecordValue, null>) => string;

/** What shows the values of the columns for which a listing declares a format. */
export function formattersOf(listing: ServedListing): ReadonlyMap<string, Show> {
  const held = derivedColumns.get(listing);
  if (held !== undefined) return held;
  const formats = Object.entries(listing.declaration.formats ?? {});
  const found = new Map(
    formats.map(([name, format]) => [
      name,
      formatter(format, shownColumn(name, listing), listing.zone),
    ]),
  );
  derivedColumns.set(listing, found);
  return found;
}

const derivedColumns = new WeakMap<ServedListing, ReadonlyMap<string, Show>>();

/** On request how the values of a page's records are shown, by record and column. */
export function displayOf(
  listing: ServedListing,
  records: readonly RecordAnswer[],
): NonNullable<RecordsMeta["display"]> {
  const formatters = [...formattersOf(listing)];
  if (formatters.length === 0) return {};
  return Object.fromEntries(
    records.map((record) => {
      const shown = formatters.flatMap(([name, show]) => {
        const value = record[name] ?? null;
        return value === null ? [] : [[name, show(value)] as const];
      });
      return [String(record.id), Object.fromEntries(shown)] as const;
    }),
  );
}

/** The letters of UTS #35 that sheets have another letter for, or none. */
const SHEET_LETTERS: readonly (readonly [RegExp, string])[] = [
  [/^y+$/, "y"],
  [/^M+$/, "m"],
  [/^d+$/, "d"],
  [/^E{1,3}$/, "ddd"],
  [/^E{4,}$/, "dddd"],
  [/^[Hh]+$/, "h"],
  [/^m+$/, "m"],
  [/^s+$/, "s"],
  [/^a+$/, "AM/PM"],
];

/**
 * A date pattern as the format of a cell (ECMA-376 part 1, 18.8.31); null where a sheet has no such
 * thing, as for quarters and weeks.
 */
export function sheetDateFormat(pattern: string): string | null {
  const pieces = pattern.match(/'(?:[^']|'')*'|([A-Za-z])\1*|[^A-Za-z']+/g) ?? [];
  const derivedColumns: string[] = [];
  for (const piece of pieces) {
    if (piece.startsWith("'")) {
      derivedColumns.push(`"${piece.slice(1, -1).replaceAll("''", "'").replaceAll('"', "")}"`);
      continue;
    }
    if (!/^[A-Za-z]/.test(piece)) {
      derivedColumns.push(piece.replace(/[^ \-/:.,]/g, (sign) => `\\${sign}`));
      continue;
    }
    const letter = SHEET_LETTERS.find(([form]) => form.test(piece))?.[1];
    if (letter === undefined) return null;
    derivedColumns.push(letter.length === 1 ? letter.repeat(piece.length) : letter);
  }
  return derivedColumns.join("");
}

/** The format of a cell with a number. */
export function sheetNumberFormat(format: {
  readonly decimals?: number;
  readonly prefix?: string;
  readonly suffix?: string;
}): string {
  const quoted = (text = "") => (text === "" ? "" : `"${text.replaceAll('"', "")}"`);
  const { decimals, prefix, suffix } = format;
  const digits =
    decimals === undefined
      ? "#,##0.##########"
      : `#,##0${decimals === 0 ? "" : `.${"0".repeat(decimals)}`}`;
  return quoted(prefix) + digits + quoted(suffix);
}
