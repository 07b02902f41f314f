import { z } from "zod";
import { READING } from "../dates/index.js";

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
    z.strictObject({ type: z.literal("date"), reading: READING }),
  ],
  "a column has a type: text, integer, decimal or date",
);

/** A source, as it is declared before its file is taken. */
export const NEW_SOURCE = z.strictObject({
  name: NAME,
  /** The column whose value is a record's id. */
  key: z.string().min(1).max(128).optional(),
  /** The columns that are more than text, by name. */
  columns: z.record(z.string().min(1).max(128), COLUMN).default({}),
});

/** How the columns of a source are to be understood from now on; those not named stay. */
export const SETTLED = z.strictObject({
  columns: z
    .record(z.string().min(1).max(128), COLUMN)
    .refine((columns) => Object.keys(columns).length > 0, "one column at least"),
});

export type NewSource = z.output<typeof NEW_SOURCE>;
export type NewColumn = z.output<typeof COLUMN>;
