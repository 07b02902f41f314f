import type { NewSource } from "@orisma/client";
import {
  compileBooleanForm,
  compileNumberForm,
  decimalIn,
  formInWords,
  isCertainNumbers,
  isPlainNumber,
  nameOf,
  readBoolean,
  type BooleanForm,
  type ColumnProfile,
  type ColumnType,
  type NumberForm,
  type PartialPolicy,
  type Reading,
} from "@orisma/core/internal";

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
  /** Whether a month or year without a day is its first day. */
  /** How a month or a year without a day lies to a window; "" where it is no date. */
  readonly partial: PartialPolicy | "";
  /** How numbers are written: the separators, units between commas, and whether (12) is negative. */
  readonly decimal: "." | ",";
  readonly group: "" | NonNullable<NumberForm["group"]>;
  readonly units: string;
  readonly accounting: boolean;
  /** Words for yes and for no, between commas; none for the usual ones. */
  readonly yes: string;
  readonly no: string;
}

type DateFields = Omit<Draft, "type" | keyof ReturnType<typeof formFields>>;

/** The form of a column as it is understood, or as it most likely should be. */
export function draftOf(column: ColumnProfile): Draft {
  const { type, reading, form, written } = column;
  const [numbers] = written.candidates;
  const isWritten = type === "text" && isCertainNumbers(column) && reading === null;
  const holds = isWritten && numbers !== undefined ? numbers.type : typeOf(column);
  return {
    type: holds,
    ...fieldsOf(reading ?? { kind: "date", encoding: "text" }),
    ...formFields(isWritten ? numbers?.form : form),
  };
}

function typeOf({ type, reading, numbers, recognition }: ColumnProfile): ColumnType {
  if (type !== "text") return type;
  if (reading !== null) return "date";
  const filled = recognition.cells - numbers.blank;
  if (numbers.other === 0 && numbers.fractional > 0) return "decimal";
  if (numbers.other === 0 && numbers.whole > 0) return "integer";
  return filled > 0 && numbers.yesOrNo === filled ? "boolean" : "text";
}

/** The fields of how numbers, or yes and no, are written. */
export function formFields(form: NumberForm | BooleanForm | undefined) {
  const words = form !== undefined && "true" in form ? form : { true: [], false: [] };
  const numbers: NumberForm = form === undefined || "true" in form ? {} : form;
  return {
    decimal: decimalIn(numbers),
    group: numbers.group ?? ("" as const),
    units: (numbers.units ?? []).join(", "),
    accounting: numbers.accounting ?? false,
    yes: words.true.join(", "),
    no: words.false.join(", "),
  };
}

/** The fields of a reading of dates. */
export function fieldsOf(reading: Reading): DateFields {
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
    partial: reading.partial ?? "",
  };
}

/** A form as it is sent; fields that are empty are left to their defaults. */
export function sentOf(draft: Draft): ColumnSent {
  if (draft.type === "text") return { type: "text" };
  if (draft.type === "boolean") return { type: "boolean", ...wordsSent(draft) };
  if (draft.type !== "date") return { type: draft.type, ...numbersSent(draft) };
  const { kind, encoding, zone, twoDigitYearFrom, partial } = draft;
  const patterns = encoding === "text" ? linesOf(draft.patterns) : [];
  const [blanks, sentinels] = [linesOf(draft.blanks), linesOf(draft.sentinels)];
  const locales = partsOf(draft.locales);
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
      ...(partial !== "" && kind === "date" && encoding === "text" ? { partial } : {}),
      ...(/^\d{1,4}$/.test(twoDigitYearFrom) ? { twoDigitYearFrom: Number(twoDigitYearFrom) } : {}),
    },
  };
}

function wordsSent({ yes, no }: Draft) {
  const written = { true: partsOf(yes), false: partsOf(no) };
  return written.true.length + written.false.length === 0 ? {} : { written };
}

function numbersSent({ decimal, group, units, accounting }: Draft): {
  readonly written?: NumberForm;
} {
  const grouped = group === "" ? {} : { group };
  const named = partsOf(units);
  const form: NumberForm = {
    ...(decimal === decimalIn(grouped) ? {} : { decimal }),
    ...grouped,
    ...(named.length === 0 ? {} : { units: named }),
    ...(accounting ? { accounting } : {}),
  };
  return Object.keys(form).length === 0 ? {} : { written: form };
}

function partsOf(text: string): string[] {
  return text
    .split(",")
    .map((each) => each.trim())
    .filter((each) => each !== "");
}

/** A text of a column of numbers, or of yes and no, in plain form; null where it is none in the column's form. */
export function plainMeaning(text: string, sent: ColumnSent): string | null {
  if (sent.type === "boolean") {
    const form = sent.written === undefined ? null : compileBooleanForm(sent.written);
    const value = form === null ? readBoolean(text) : form.ok ? form.value(text) : null;
    return value === null ? null : value ? "yes" : "no";
  }
  if (sent.type !== "integer" && sent.type !== "decimal") return text;
  const form = sent.written === undefined ? null : compileNumberForm(sent.written);
  const plain = form === null ? text.trim() : form.ok ? form.value(text) : null;
  return plain !== null && isPlainNumber(plain, sent.type) ? plain : null;
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
export function heldInWords({
  type,
  reading,
  form,
}: Pick<ColumnProfile, "type" | "reading" | "form">): string {
  if (form !== undefined) {
    const as =
      "true" in form
        ? `${form.true.join(" or ")} / ${form.false.join(" or ")}`
        : formInWords(form, type === "integer" ? type : "decimal");
    return `${HELD[type]}, written ${as}`;
  }
  if (type === "date") return reading === null ? "dates" : readingInWords(reading);
  return HELD[type];
}

/** What a column of each type holds, in words. */
export const HELD: Readonly<Record<ColumnType, string>> = {
  text: "text",
  integer: "whole numbers",
  decimal: "decimal numbers",
  boolean: "yes and no",
  date: "dates",
};
