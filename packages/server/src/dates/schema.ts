import { DATE_ENCODINGS, DATE_KINDS, type Reading } from "@orisma/core/internal";
import { z } from "zod";

/** How stored values are understood as dates, as it is sent. */
export const READING = z.strictObject({
  kind: z.enum(DATE_KINDS, `a kind is one of ${DATE_KINDS.join(", ")}`),
  encoding: z
    .enum(DATE_ENCODINGS, `an encoding is one of ${DATE_ENCODINGS.join(", ")}`)
    .default("text"),
  patterns: z.array(z.string().max(100)).max(20).optional(),
  locales: z.array(z.string().max(35)).max(20).optional(),
  zone: z.string().max(64).optional(),
  blanks: z.array(z.string().max(100)).max(100).optional(),
  sentinels: z.array(z.string().max(100)).max(100).optional(),
  twoDigitYearFrom: z.int().min(1).max(9_900).optional(),
  exact: z.boolean().optional(),
});

export type ReadingSent = z.output<typeof READING>;

/** A reading without the keys that were not sent. */
export function readingOf({ kind, encoding, ...details }: ReadingSent): Reading {
  const given = Object.entries(details).filter(([, value]) => value !== undefined);
  return { kind, encoding, ...Object.fromEntries(given) };
}

/** Values at most in one request. */
const MOST_VALUES = 10_000;

/** The body of a request to read values. */
export const READ_REQUEST = z.strictObject({
  values: z
    .array(z.union([z.string(), z.number(), z.null()], "a value is a text, a number or null"))
    .max(MOST_VALUES, `${MOST_VALUES} values at most`),
  reading: READING,
});
