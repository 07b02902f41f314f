import {
  BLANK_PLACES,
  BLANK_POLICIES,
  DATE_ENCODINGS,
  DATE_COMPARISONS,
  DATE_PARAMETER_TYPES,
  DERIVED_PARTS,
  MOST_ORDERED,
  NESTED_ROWS,
  PERMITS,
  REVERSED_POLICIES,
  VALUE_COMPARISONS,
  VALUE_PARAMETER_TYPES,
} from "@orisma/core/internal";
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

/** What every parameter has. */
const COMMON = {
  name: TEXT,
  pair: TEXT.optional(),
  blanks: z.enum(BLANK_POLICIES, `one of ${BLANK_POLICIES.join(", ")}`).default("leave"),
  label: TEXT.optional(),
  description: z.string().max(1_000).optional(),
  example: TEXT.optional(),
  required: z.boolean().optional(),
  default: z.union([z.string().max(1_000), z.array(z.string().max(1_000)).max(100)]).optional(),
};

const VALUE_PARAMETER = z.strictObject({
  ...COMMON,
  type: z.enum(VALUE_PARAMETER_TYPES),
  comparison: z.enum(VALUE_COMPARISONS, `one of ${VALUE_COMPARISONS.join(", ")}`),
  column: TEXT.optional(),
  columns: z.array(TEXT).min(1).max(20).optional(),
  letterCase: z.enum(["exact", "folded"], "exact or folded").optional(),
  values: z.array(z.string().max(1_000)).min(1).max(1_000).optional(),
});

const DATE_PARAMETER = z.strictObject({
  ...COMMON,
  type: z.enum(DATE_PARAMETER_TYPES),
  column: TEXT,
  comparison: z.enum(DATE_COMPARISONS, `one of ${DATE_COMPARISONS.join(", ")}`),
  accepts: FORM.optional(),
  fields: z
    .strictObject({ year: TEXT.optional(), month: TEXT.optional(), day: TEXT.optional() })
    .optional(),
  limits: z
    .strictObject({ earliest: TEXT.optional(), latest: TEXT.optional(), longest: TEXT.optional() })
    .optional(),
});

const TYPES = [...DATE_PARAMETER_TYPES, ...VALUE_PARAMETER_TYPES];
const PARAMETER = z.discriminatedUnion(
  "type",
  [DATE_PARAMETER, VALUE_PARAMETER],
  `a parameter has a type: one of ${TYPES.join(", ")}`,
);

const DERIVED = z.discriminatedUnion(
  "kind",
  [
    z.strictObject({ kind: z.literal("days"), from: TEXT, to: TEXT }),
    z.strictObject({
      kind: z.literal("part"),
      part: z.enum(DERIVED_PARTS, `one of ${DERIVED_PARTS.join(", ")}`),
      column: TEXT,
    }),
  ],
  "a column that is made is of the kind days or part",
);

const FORMAT = z.strictObject({
  pattern: TEXT.optional(),
  locale: TEXT.optional(),
  decimals: z.int().optional(),
  prefix: TEXT.optional(),
  suffix: TEXT.optional(),
  yes: TEXT.optional(),
  no: TEXT.optional(),
});

const PERMIT = z.enum(PERMITS, `one of ${PERMITS.join(", ")}`);

/** A listing as it is declared; its name is in the address. Meaning is checked by the core. */
export const LISTING = z.strictObject({
  title: TEXT.optional().describe("What people call the listing; its name unless told."),
  source: TEXT.describe("The source whose records it shows."),
  zone: TEXT.default("UTC").describe("The IANA zone in which days begin and end."),
  mainDate: TEXT.optional().describe(
    "The date column that its window and timeline speak of; the only one of the source unless told.",
  ),
  parameters: z
    .array(PARAMETER)
    .max(200)
    .optional()
    .describe(
      "Its typed inputs; from and to of the main date and one for each column unless told.",
    ),
  columns: z
    .array(TEXT)
    .max(1_000)
    .default([])
    .describe("The columns shown, in order; all of them unless told."),
  order: z
    .strictObject({
      allowed: z.array(TEXT).max(200).optional(),
      default: TEXT.optional(),
      ties: z.array(TEXT).max(MOST_ORDERED).optional(),
      blanks: z.enum(BLANK_PLACES, `one of ${BLANK_PLACES.join(", ")}`).optional(),
    })
    .default({}),
  derived: z
    .record(TEXT, DERIVED)
    .optional()
    .describe("Columns that are worked out of others, by name."),
  relations: z
    .record(
      TEXT,
      z.strictObject({ source: TEXT, by: TEXT, columns: z.array(TEXT).min(1).max(1_000) }),
    )
    .optional(),
  formats: z.record(TEXT, FORMAT).optional().describe("How values are shown to people, by column."),
  labels: z.record(TEXT, TEXT).optional().describe("What headings are called, by column."),
  choices: z
    .record(
      TEXT,
      z.strictObject({
        groups: z.record(TEXT, z.array(z.string()).min(1).max(1_000)).optional(),
        hidden: z.array(z.string()).max(1_000).optional(),
        barred: z.array(z.string()).max(1_000).optional(),
        late: z.boolean().optional(),
        values: z.boolean().optional(),
        blanks: z.boolean().optional(),
        calendar: z.boolean().optional(),
        windows: z.boolean().optional(),
      }),
    )
    .optional(),
  page: z
    .strictObject({
      size: z.int().optional(),
      most: z.int().optional(),
      numbered: z.boolean().optional(),
    })
    .default({}),
  calendar: CALENDAR.optional().describe(
    "How weeks, financial years and working days are counted.",
  ),
  rows: z.enum(NESTED_ROWS, `one of ${NESTED_ROWS.join(", ")}`).optional(),
  fixed: z
    .string()
    .min(1)
    .max(10_000)
    .optional()
    .describe("A condition in CQL2 that no caller can change."),
  describeFixedFilter: z
    .union([z.boolean(), z.string().max(1_000)], "true, false, or words of its own")
    .optional()
    .describe(
      "Whether readers are shown that condition in words, or other words in its place; by default " +
        "where they may see all of its columns.",
    ),
  units: z.record(TEXT, z.strictObject({ scale: z.int() })).optional(),
  freshness: z.strictObject({ current: TEXT.optional(), past: TEXT.optional() }).optional(),
  origins: z
    .array(TEXT)
    .max(100)
    .optional()
    .describe("The places on the web whose pages may read it."),
  permits: z.strictObject({ asOf: PERMIT.optional(), zone: PERMIT.optional() }).optional(),
  unknown: z.enum(["refuse", "ignore"], "refuse or ignore").optional(),
  filter: z
    .strictObject({
      columns: z
        .union([z.literal("all"), z.array(TEXT).max(1_000)], '"all", or a list of columns')
        .describe("The columns that callers may speak of: all that are shown, or these."),
    })
    .optional(),
  reversed: z.enum(REVERSED_POLICIES, `one of ${REVERSED_POLICIES.join(", ")}`).default("swap"),
});

export type ListingSent = z.output<typeof LISTING>;

/** A declaration as it stands in a file. */
const LISTING_FILE = LISTING.extend({
  $schema: z.string().optional(),
  name: TEXT.describe("The name in the listing's address: a letter, then letters, digits, - or _."),
});

/**
 * The schema of a declaration's file, with which editors complete it; what it means is checked
 * against the source.
 *
 * @see JSON Schema, draft 2020-12
 */
export function declarationSchema(): object {
  return {
    ...z.toJSONSchema(LISTING_FILE, { io: "input", target: "draft-2020-12" }),
    title: "A listing of Orisma",
  };
}
