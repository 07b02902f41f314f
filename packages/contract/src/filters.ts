import {
  DATABASES,
  MAX_ORDERED,
  type TranslatedStatement,
  type Translation,
} from "@orisma/core/internal";
import { z } from "zod";
import { CALENDAR } from "./calendar.js";
import { describeCalls } from "./call.js";
import { READING } from "./dates.js";
import { tied } from "./schema.js";
import { INSTANT } from "./windows.js";

export const TRANSLATED_STATEMENT = tied<TranslatedStatement>()(
  z
    .object({ text: z.string(), values: z.array(z.union([z.string(), z.number()]).nullable()) })
    .meta({
      id: "TranslatedStatement",
      description:
        "A statement as it is sent: whole numbers beyond what JSON keeps exactly are strings of digits.",
    }),
);

export const TRANSLATION = tied<Translation>()(
  z
    .object({
      database: z.enum(DATABASES),
      sentence: z.string(),
      canonical: z.string().describe("The filter in CQL2, as it was understood."),
      contradictions: z
        .array(z.string())
        .describe("Why no record can satisfy it, where that can be seen."),
      where: TRANSLATED_STATEMENT.describe(
        "What stands after WHERE; the text is empty where every record is kept.",
      ),
      page: z
        .array(TRANSLATED_STATEMENT)
        .describe("The first page: statements to be run one after the other until it is full."),
      count: TRANSLATED_STATEMENT,
      remarks: z
        .array(z.string())
        .describe("What the statements rely on, and what would make them faster."),
    })
    .meta({ id: "Translation", description: "A filter as a database takes it." }),
);

const NAME = z
  .string({ error: "a name" })
  .min(1, "a name")
  .max(128, "a name of 128 characters at most")
  // No database takes it in a name, whatever the quotes.
  .refine((name) => !name.includes("\0"), "a name without NUL");

const STORED_AS = z.discriminatedUnion(
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
      holding: STORED_AS.exactOptional(),
    }),
    z.strictObject({
      type: z.literal("date"),
      reading: READING,
      holding: STORED_AS.exactOptional(),
    }),
  ],
  "a column has a type: text, integer, decimal, boolean or date",
);

const ORDER = z.string().min(1).max(129);
const ORDER_FORM = `a column with - before it for descending, or a list of ${MAX_ORDERED} at most`;

/** Columns at most in one request. */
const MAX_COLUMNS = 500;

/** A filter to be written for a database. */
export const TRANSLATE = z.strictObject({
  database: z.enum(DATABASES, `a database is one of ${DATABASES.join(", ")}`),
  table: NAME,
  key: NAME.default("id"),
  columns: z
    .record(NAME, COLUMN)
    .refine(
      (columns) => Object.keys(columns).length <= MAX_COLUMNS,
      `${MAX_COLUMNS} columns at most`,
    ),
  filter: z
    .union([z.string(), z.record(z.string(), z.unknown())], "CQL2, as text or as JSON")
    .describe("In CQL2: a text, or a document of the JSON form."),
  /** Columns with `-` before one for descending; one alone may stand without a list. */
  order: z
    .union([ORDER.transform((column) => [column]), z.array(ORDER).max(MAX_ORDERED)], ORDER_FORM)
    .exactOptional(),
  limit: z.int("records of a page").min(1).max(100_000).default(50),
  asOf: INSTANT.exactOptional(),
  zone: z.string({ error: "an IANA time zone, such as Europe/London" }).default("UTC"),
  calendar: CALENDAR.exactOptional(),
});

/** Writing filters for databases of one's own. */
export const FILTER_CALLS = describeCalls({
  "POST /v1/filters/translate": {
    tag: "dates",
    summary: "A filter in CQL2 as SQL and values for a database of your own; it is never run",
    role: "reader",
    isRead: true,
    body: TRANSLATE,
    answer: TRANSLATION,
    example: {
      database: "postgresql",
      table: "works",
      columns: {
        id: { type: "integer" },
        raised: { type: "date", reading: { kind: "date", encoding: "native" } },
      },
      filter: "raised >= DATE('2024-03')",
    },
  },
});
