import { DATE_ENCODINGS, DATE_KINDS } from "@orisma/core";
import { z } from "zod";

const NAME = z.string().regex(/^[A-Za-z][A-Za-z0-9_-]{0,63}$/, {
  error: "a name is a letter, then letters, digits, - or _, 64 at most",
});

/** How a date column is understood, as it is sent. */
export const READING = z.strictObject({
  kind: z.enum(DATE_KINDS, `a kind is one of ${DATE_KINDS.join(", ")}`),
  encoding: z
    .enum(DATE_ENCODINGS, `an encoding is one of ${DATE_ENCODINGS.join(", ")}`)
    .default("text"),
  patterns: z.array(z.string().max(100)).max(20).optional(),
  zone: z.string().max(64).optional(),
  blanks: z.array(z.string().max(100)).max(100).optional(),
  sentinels: z.array(z.string().max(100)).max(100).optional(),
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

export type NewSource = z.output<typeof NEW_SOURCE>;
export type NewColumn = z.output<typeof COLUMN>;
