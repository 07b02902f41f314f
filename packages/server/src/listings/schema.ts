import {
  BLANK_PLACES,
  BLANK_POLICIES,
  DATE_ENCODINGS,
  DATE_COMPARISONS,
  DATE_PARAMETER_TYPES,
  MOST_ORDERED,
  NESTED_ROWS,
  REVERSED_POLICIES,
} from "@orisma/core";
import { z } from "zod";
import { CALENDAR } from "../calendars/index.js";

const TEXT = z.string().min(1).max(128);

const FORMS = DATE_ENCODINGS.filter((encoding) => encoding !== "native");

/** A form in which callers may send dates. */
const FORM = z.strictObject({
  encoding: z.enum(FORMS, `one of ${FORMS.join(", ")}`),
  patterns: z.array(TEXT).max(20).optional(),
  locales: z.array(TEXT).max(20).optional(),
  twoDigitYearFrom: z.int().min(1).max(9_900).optional(),
});

const PARAMETER = z.strictObject({
  name: TEXT,
  type: z.enum(DATE_PARAMETER_TYPES, `one of ${DATE_PARAMETER_TYPES.join(", ")}`),
  column: TEXT,
  comparison: z.enum(DATE_COMPARISONS, `one of ${DATE_COMPARISONS.join(", ")}`),
  pair: TEXT.optional(),
  blanks: z.enum(BLANK_POLICIES, `one of ${BLANK_POLICIES.join(", ")}`).default("leave"),
  label: TEXT.optional(),
  accepts: FORM.optional(),
  fields: z
    .strictObject({ year: TEXT.optional(), month: TEXT.optional(), day: TEXT.optional() })
    .optional(),
  limits: z
    .strictObject({ earliest: TEXT.optional(), latest: TEXT.optional(), longest: TEXT.optional() })
    .optional(),
});

/** A listing as it is declared; its name is in the address. Meaning is checked by the core. */
export const LISTING = z.strictObject({
  title: TEXT.optional(),
  source: TEXT,
  zone: TEXT.default("UTC"),
  mainDate: TEXT,
  parameters: z.array(PARAMETER).max(200).default([]),
  columns: z.array(TEXT).max(1_000).default([]),
  order: z
    .strictObject({
      allowed: z.array(TEXT).max(200).optional(),
      default: TEXT.optional(),
      ties: z.array(TEXT).max(MOST_ORDERED).optional(),
      blanks: z.enum(BLANK_PLACES, `one of ${BLANK_PLACES.join(", ")}`).optional(),
    })
    .default({}),
  page: z.strictObject({ size: z.int().optional(), most: z.int().optional() }).default({}),
  calendar: CALENDAR.optional(),
  rows: z.enum(NESTED_ROWS, `one of ${NESTED_ROWS.join(", ")}`).optional(),
  filter: z.strictObject({ columns: z.array(TEXT).max(1_000).default([]) }).optional(),
  reversed: z.enum(REVERSED_POLICIES, `one of ${REVERSED_POLICIES.join(", ")}`).default("swap"),
});

export type ListingSent = z.output<typeof LISTING>;
