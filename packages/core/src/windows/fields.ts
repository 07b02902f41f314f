import { failure, fault, success, type Fault, type Result } from "../faults/index.js";

/** Spellings of "nothing" that forms and platforms send, in lower case. */
const NOTHING = new Set(["", "null", "undefined"]);

/** Whether a text without outer white space says that nothing was given. */
export function isNothing(text: string): boolean {
  return NOTHING.has(text.toLowerCase());
}

/** The parts of a date that can be parameters of their own. */
export const DATE_FIELDS = ["year", "month", "day"] as const;
export type DateField = (typeof DATE_FIELDS)[number];

/** A field that was sent: the parameter that carried it, and its text. */
export interface SentField {
  readonly parameter: string;
  readonly raw: string;
}

const FIELD_LIMITS: Readonly<Record<DateField, readonly [least: number, most: number]>> = {
  year: [1, 9_999],
  month: [1, 12],
  day: [1, 31],
};

const FIELD_ACCEPTED: Readonly<Record<DateField, string>> = {
  year: "a year of four digits, such as 2025",
  month: "a month, 1 to 12",
  day: "a day, 1 to 31",
};

/**
 * The date that a year, a month and a day name together, as ISO 8601 text at the precision that
 * was sent: without a day it is the month, without a month the year; null where nothing was sent.
 * A month is read with or without a zero before it.
 *
 * Fails with `field.value`, which says where two seem to be exchanged, and `field.missing` for a
 * month without its year or a day without its month.
 */
export function dateOfFields(
  sent: Readonly<Partial<Record<DateField, SentField>>>,
): Result<string | null> {
  const faults: Fault[] = [];
  const values: Partial<Record<DateField, string>> = {};
  for (const field of DATE_FIELDS) {
    const { parameter, raw } = sent[field] ?? { parameter: field, raw: "" };
    const text = raw.trim();
    if (isNothing(text)) continue;
    if (isField(field, text)) values[field] = text.padStart(field === "year" ? 4 : 2, "0");
    else {
      const other = DATE_FIELDS.find(
        (each) =>
          each !== field && isField(each, text) && isField(field, (sent[each]?.raw ?? "").trim()),
      );
      const facts = { name: field, accepted: FIELD_ACCEPTED[field], fits: other ?? null };
      faults.push(fault("field.value", facts, { parameter, value: raw }));
    }
  }
  if (faults.length > 0) return failure(...faults);
  const { year, month, day } = values;
  const missing = (field: DateField, needs: DateField) => {
    const { parameter, raw } = sent[field] ?? { parameter: field, raw: "" };
    const facts = { name: parameter, needs: sent[needs]?.parameter ?? needs };
    return failure(fault("field.missing", facts, { parameter, value: raw }));
  };
  if (day !== undefined && month === undefined) return missing("day", "month");
  if (month !== undefined && year === undefined) return missing("month", "year");
  const parts = [year, month, day].filter((part) => part !== undefined);
  return success(parts.length === 0 ? null : parts.join("-"));
}

function isField(field: DateField, text: string): boolean {
  const [least, most] = FIELD_LIMITS[field];
  const isDigits = field === "year" ? /^\d{4}$/.test(text) : /^\d{1,2}$/.test(text);
  return isDigits && Number(text) >= least && Number(text) <= most;
}
