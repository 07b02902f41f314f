import type { NewSource } from "@orisma/client";
import { nameOf, type ColumnProfile, type ColumnType, type Reading } from "@orisma/core/internal";

/** How a column is to be understood, as it is sent. */
export type ColumnSent = NonNullable<NewSource["columns"]>[string];

/** The same as the fields of its form: strings, one spelling or pattern a line. */
export interface Draft {
  readonly type: ColumnType;
  readonly kind: Reading["kind"];
  readonly encoding: Reading["encoding"];
  readonly patterns: string;
  readonly locales: string;
  readonly zone: string;
  readonly blanks: string;
  readonly sentinels: string;
  readonly twoDigitYearFrom: string;
}

/** The form of a column as it is understood, or as it most likely should be. */
export function draftOf({ type, reading, numbers, recognition }: ColumnProfile): Draft {
  const isNumeric = reading === null && numbers.other === 0;
  const filled = recognition.cells - numbers.blank;
  const holds =
    type !== "text"
      ? type
      : reading !== null
        ? "date"
        : isNumeric && numbers.fractional > 0
          ? "decimal"
          : isNumeric && numbers.whole > 0
            ? "integer"
            : filled > 0 && numbers.yesOrNo === filled
              ? "boolean"
              : "text";
  return { type: holds, ...fieldsOf(reading ?? { kind: "date", encoding: "text" }) };
}

/** The fields of a reading. */
export function fieldsOf(reading: Reading): Omit<Draft, "type"> {
  const lines = (strings: readonly string[] | undefined) => (strings ?? []).join("\n");
  return {
    kind: reading.kind,
    encoding: reading.encoding,
    patterns: lines(reading.patterns),
    locales: (reading.locales ?? []).join(", "),
    zone: reading.zone ?? "",
    blanks: lines(reading.blanks),
    sentinels: lines(reading.sentinels),
    twoDigitYearFrom: reading.twoDigitYearFrom?.toString() ?? "",
  };
}

/** A form as it is sent; fields that are empty are left to their defaults. */
export function sentOf(draft: Draft): ColumnSent {
  if (draft.type !== "date") return { type: draft.type };
  const { kind, encoding, zone, twoDigitYearFrom } = draft;
  const patterns = encoding === "text" ? linesOf(draft.patterns) : [];
  const [blanks, sentinels] = [linesOf(draft.blanks), linesOf(draft.sentinels)];
  const locales = draft.locales
    .split(",")
    .map((each) => each.trim())
    .filter((each) => each !== "");
  return {
    type: "date",
    reading: {
      kind,
      encoding,
      ...(patterns.length === 0 ? {} : { patterns }),
      ...(locales.length === 0 ? {} : { locales }),
      ...(zone.trim() === "" ? {} : { zone: zone.trim() }),
      ...(blanks.length === 0 ? {} : { blanks }),
      ...(sentinels.length === 0 ? {} : { sentinels }),
      ...(/^\d{1,4}$/.test(twoDigitYearFrom) ? { twoDigitYearFrom: Number(twoDigitYearFrom) } : {}),
    },
  };
}

/** A draft with one more line in a field. */
export function withLine(
  draft: Draft,
  field: "blanks" | "patterns" | "sentinels",
  line: string,
): Draft {
  return { ...draft, [field]: [...linesOf(draft[field]), line].join("\n") };
}

function linesOf(text: string): string[] {
  return text
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "");
}

const KINDS = { date: "days", local: "wall-clock times", instant: "points in time" } as const;

/** `days, written dd/MM/yyyy`. */
export function readingInWords(reading: Reading): string {
  return `${KINDS[reading.kind]}, ${reading.encoding === "text" ? "written" : "stored as"} ${nameOf(reading)}`;
}

/** What a column holds now, in words. */
export function heldInWords({ type, reading }: Pick<ColumnProfile, "type" | "reading">): string {
  switch (type) {
    case "text":
      return "text";
    case "integer":
      return "whole numbers";
    case "decimal":
      return "decimal numbers";
    case "boolean":
      return "yes and no";
    case "date":
      return reading === null ? "dates" : readingInWords(reading);
  }
}
