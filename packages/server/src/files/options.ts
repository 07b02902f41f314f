import { z } from "zod";
import { TEXT_ENCODINGS } from "./encoding.js";
import { FILE_FORMATS } from "./table.js";

const COUNT = z
  .string()
  .regex(/^\d{1,4}$/, "a whole number from 0 to 9999")
  .transform(Number);

const DELIMITERS: Readonly<Record<string, string>> = {
  comma: ",",
  semicolon: ";",
  tab: "\t",
  bar: "|",
  space: " ",
};

/** How a file is to be read, as parameters of a request; what is left out is found out. */
export const FILE_OPTIONS = z.strictObject({
  format: z.enum(FILE_FORMATS, { error: `one of ${FILE_FORMATS.join(", ")}` }).optional(),
  encoding: z.enum(TEXT_ENCODINGS, { error: `one of ${TEXT_ENCODINGS.join(", ")}` }).optional(),
  /** One sign, or its name. */
  delimiter: z
    .string()
    .transform((text) => DELIMITERS[text] ?? text)
    .refine((text) => text.length === 1 && !/["\r\n]/.test(text), {
      error: `one sign, or one of ${Object.keys(DELIMITERS).join(", ")}`,
    })
    .optional(),
  /** Lines above the headings that are left out. */
  skip: COUNT.optional(),
  /** Rows of headings; 0 where there are none. */
  headings: COUNT.optional(),
  /** A sheet's name, or its number counted from 1. */
  sheet: z.string().min(1, "a sheet's name or number").optional(),
  shortRows: z.enum(["refuse", "blank"], { error: "refuse or blank" }).default("refuse"),
});

export type FileOptions = z.output<typeof FILE_OPTIONS>;
