import {
  BLANK_POLICIES,
  DATE_COMPARISONS,
  DATE_PARAMETER_TYPES,
  REVERSED_POLICIES,
} from "@orisma/core";
import { z } from "zod";

const TEXT = z.string().min(1).max(128);

const PARAMETER = z.strictObject({
  name: TEXT,
  type: z.enum(DATE_PARAMETER_TYPES, `one of ${DATE_PARAMETER_TYPES.join(", ")}`),
  column: TEXT,
  comparison: z.enum(DATE_COMPARISONS, `one of ${DATE_COMPARISONS.join(", ")}`),
  pair: TEXT.optional(),
  blanks: z.enum(BLANK_POLICIES, `one of ${BLANK_POLICIES.join(", ")}`).default("leave"),
  label: TEXT.optional(),
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
    .strictObject({ allowed: z.array(TEXT).max(200).optional(), default: TEXT.optional() })
    .default({}),
  page: z.strictObject({ size: z.int().optional(), most: z.int().optional() }).default({}),
  reversed: z.enum(REVERSED_POLICIES, `one of ${REVERSED_POLICIES.join(", ")}`).default("swap"),
});

export type ListingSent = z.output<typeof LISTING>;
