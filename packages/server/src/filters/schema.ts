import { DATABASES, MOST_ORDERED } from "@orisma/core/internal";
import { z } from "zod";
import { CALENDAR } from "../calendars/index.js";
import { READING } from "../dates/index.js";

const NAME = z
  .string({ error: "a name" })
  .min(1, "a name")
  .max(128, "a name of 128 signs at most")
  // No database takes it in a name, whatever the quotes.
  .refine((name) => !name.includes("\0"), "a name without NUL");

const HOLDING = z.discriminatedUnion(
  "type",
  [
    z.strictObject({ type: z.enum(["text", "integer", "decimal", "float", "boolean"]) }),
    z.strictObject({ type: z.literal("date") }),
    z.strictObject({
      type: z.literal("timestamp"),
      digits: z.int("digits of a second").min(0).max(6).default(0),
      zoned: z.boolean().default(false),
    }),
  ],
  "a column holds text, integer, decimal, float, boolean, date or timestamp",
);

const COLUMN = z.discriminatedUnion(
  "type",
  [
    z.strictObject({
      type: z.enum(["text", "integer", "decimal", "boolean"]),
      holding: HOLDING.optional(),
    }),
    z.strictObject({ type: z.literal("date"), reading: READING, holding: HOLDING.optional() }),
  ],
  "a column has a type: text, integer, decimal, boolean or date",
);

const ORDER = z.string().min(1).max(129);
const ORDER_FORM = `a column with - before it for descending, or a list of ${MOST_ORDERED} at most`;

/** Columns at most in one request. */
const MOST_COLUMNS = 500;

/** A filter to be written for a database. */
export const TRANSLATE = z.strictObject({
  database: z.enum(DATABASES, `a database is one of ${DATABASES.join(", ")}`),
  table: NAME,
  key: NAME.default("id"),
  columns: z
    .record(NAME, COLUMN)
    .refine(
      (columns) => Object.keys(columns).length <= MOST_COLUMNS,
      `${MOST_COLUMNS} columns at most`,
    ),
  /** In CQL2: a text, or a document of the JSON form. */
  filter: z.union([z.string(), z.record(z.string(), z.unknown())], "CQL2, as text or as JSON"),
  /** Columns with `-` before one for descending; one alone may stand without a list. */
  order: z
    .union([ORDER.transform((column) => [column]), z.array(ORDER).max(MOST_ORDERED)], ORDER_FORM)
    .optional(),
  limit: z.int("records of a page").min(1).max(100_000).default(50),
  asOf: z.iso
    .datetime({ offset: true, error: "an instant such as 2026-11-25T09:00:00Z" })
    .optional(),
  zone: z.string({ error: "an IANA time zone, such as Europe/London" }).default("UTC"),
  calendar: CALENDAR.optional(),
});

export type TranslateSent = z.output<typeof TRANSLATE>;
