import { z } from "zod";
import { READING } from "../dates/index.js";
import { FILE_OPTIONS } from "../files/index.js";
import { LOAD_MODES } from "./modes.js";

const NAME = z.string().regex(/^[A-Za-z][A-Za-z0-9_-]{0,63}$/, {
  error: "a name is a letter, then letters, digits, - or _, 64 at most",
});

/** A column that is more than text, as it is sent. */
export const COLUMN = z.discriminatedUnion(
  "type",
  [
    z.strictObject({ type: z.literal("text") }),
    z.strictObject({ type: z.literal("integer") }),
    z.strictObject({ type: z.literal("decimal") }),
    z.strictObject({ type: z.literal("boolean") }),
    z.strictObject({ type: z.literal("date"), reading: READING }),
  ],
  "a column has a type: text, integer, decimal, boolean or date",
);

/** A path into a JSON text. */
const PATH = z.string().min(1).max(500);

/** A source, as it is declared before its file is taken. */
export const NEW_SOURCE = z
  .strictObject({
    name: NAME,
    /** The column whose value is a record's id. */
    key: z.string().min(1).max(128).optional(),
    /** The columns that are more than text, by name. */
    columns: z.record(z.string().min(1).max(128), COLUMN).default({}),
    /** A table or view of an attached database that it is to be, in place of a file. */
    attached: z
      .strictObject({
        database: z.string().max(64),
        /** With a date in braces it is a pattern for several: `gauges_{yyyyMMdd}`. */
        table: z.string().min(1).max(128),
        /** The column that has the dates of a pattern's tables. */
        dateColumn: z.string().min(1).max(64).optional(),
        /** Whether the table of the day that has not ended is read too. */
        runningDay: z.boolean().optional(),
      })
      .optional(),
    /** Sources of like columns that it is to be, one after the other, in place of a file. */
    stacked: z
      .strictObject({
        of: z.array(z.string()).min(2, "two sources at least").max(50, "50 sources at most"),
        /** The column that says from which of them a record comes. */
        column: z.string().min(1).max(64).default("source"),
      })
      .optional(),
    /** The values inside a column of JSON texts of another source that it is to be. */
    inside: z
      .strictObject({
        source: z.string(),
        column: z.string(),
        /** Where the elements are, as a path into a text. */
        each: PATH.default("$[*]"),
        /** The values of an element, by the name of their column. */
        values: z
          .record(z.string().min(1).max(64), z.strictObject({ path: PATH, column: COLUMN }))
          .refine((values) => Object.keys(values).length > 0, "one value at least")
          .refine((values) => Object.keys(values).length <= 100, "100 values at most"),
      })
      .optional(),
  })
  .refine(
    ({ attached, stacked, inside }) =>
      [attached, stacked, inside].filter((each) => each !== undefined).length <= 1,
    "a source is a table of an attached database, several sources, or the values inside one: not two of these",
  )
  .refine(
    ({ stacked, inside, key, columns }) =>
      (stacked === undefined && inside === undefined) ||
      (key === undefined && Object.keys(columns).length === 0),
    "a source that is made of others has their columns and keys",
  );

/** How the columns of a source are to be understood from now on; those not named stay. */
export const SETTLED = z.strictObject({
  columns: z
    .record(z.string().min(1).max(128), COLUMN)
    .refine((columns) => Object.keys(columns).length > 0, "one column at least"),
  /** Settle them although listings would no longer be served. */
  force: z.boolean().default(false),
});

/** How records are restored. */
export const RESTORED = z.strictObject({ force: z.boolean().default(false) });

export type NewSource = z.output<typeof NEW_SOURCE>;
export type NewColumn = z.output<typeof COLUMN>;

/** A column of a source, and whether it has its type from the file alone. */
export type KeptColumn = NewColumn & { readonly isStated?: true };

const YES_OR_NO = z
  .enum(["yes", "no"], { error: "yes or no" })
  .default("no")
  .transform((text) => text === "yes");

/** How a file is taken, as parameters of the request. */
export const TAKE = FILE_OPTIONS.extend({
  columns: z.array(z.string()).default([]),
  again: YES_OR_NO,
  /** Take a file although listings would no longer be served. */
  force: YES_OR_NO,
  /** The name of the file, for people. */
  file: z.string().min(1, "a file's name").optional(),
});

/** A cell to be given another text; null empties it. */
export const REPAIR = z.strictObject({
  id: z.union([z.string(), z.number()], { error: "a record's id" }),
  column: z.string(),
  value: z.string().max(4_000_000, "4,000,000 signs at most").nullable(),
});

/** A file that the service takes by itself. */
export const WATCH = z.strictObject({
  file: z.string().min(1, "a path within the inbox"),
  mode: z.enum(LOAD_MODES, { error: `one of ${LOAD_MODES.join(", ")}` }).default("replace"),
  every: z
    .int("seconds")
    .min(5, "5 seconds at least")
    .max(7 * 86_400, "a week at most")
    .default(60),
  options: z.record(z.string(), z.string()).default({}),
});
