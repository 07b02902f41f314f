import { COLUMN_TYPES } from "@orisma/core/internal";
import { z } from "zod";
import { describeCalls } from "./call.js";
import type { Shown } from "./schema.js";

/** The encodings of text that are read, by their names in the Encoding Standard. */
export const TEXT_ENCODINGS = [
  "utf-8",
  "utf-16le",
  "utf-16be",
  "windows-1252",
  "windows-1250",
  "windows-1251",
  "windows-1253",
  "windows-1254",
  "iso-8859-1",
  "iso-8859-2",
  "iso-8859-15",
  "shift_jis",
  "euc-jp",
  "gb18030",
  "big5",
] as const;
export type TextEncoding = (typeof TEXT_ENCODINGS)[number];

/** The forms in which a file's records can be written. */
export const FILE_FORMATS = ["delimited", "ndjson", "json", "xlsx", "ods"] as const;
export type FileFormat = (typeof FILE_FORMATS)[number];

/** A file as a body. All other media types are refused, so that a form is not taken for a file. */
export const FILE = {
  media: [
    "application/octet-stream",
    "text/csv",
    "text/tab-separated-values",
    "text/plain",
    "application/json",
    "application/x-ndjson",
    "application/gzip",
    "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "application/vnd.oasis.opendocument.spreadsheet",
  ],
  description: "The file itself. Its format is detected.",
} as const;

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

/** How a file is to be read, as parameters of a request; what is omitted is found out. */
export const FILE_OPTIONS = z.strictObject({
  format: z.enum(FILE_FORMATS, { error: `one of ${FILE_FORMATS.join(", ")}` }).exactOptional(),
  encoding: z
    .enum(TEXT_ENCODINGS, { error: `one of ${TEXT_ENCODINGS.join(", ")}` })
    .exactOptional(),
  /** One sign, or its name. */
  delimiter: z
    .string()
    .transform((text) => (Object.hasOwn(DELIMITERS, text) ? DELIMITERS[text] : undefined) ?? text)
    .refine((text) => text.length === 1 && !/["\r\n]/.test(text), {
      error: `one character, or one of ${Object.keys(DELIMITERS).join(", ")}`,
    })
    .exactOptional(),
  /** Lines above the headings that are omitted. */
  skip: COUNT.exactOptional(),
  /** The last row of a sheet, or line of a text, that is a record; what follows is omitted, and counted. */
  lastRow: z
    .string()
    .regex(/^[1-9]\d{0,7}$/, "a whole number from 1 to 99999999")
    .transform(Number)
    .exactOptional(),
  /** Rows of headings; 0 where there are none. */
  headings: COUNT.exactOptional(),
  /** A sheet's name, or its number counted from 1. */
  sheet: z.string().min(1, "a sheet's name or number").exactOptional(),
  /** Where a JSON document has its records, as JSONPath (RFC 9535); found where there is one list of objects. */
  records: z.string().min(1).max(500).exactOptional(),
  /** Whether the parts of objects in JSON are columns of their own, such as `address.city`. */
  flatten: z
    .enum(["yes", "no"], { error: "yes or no" })
    .default("no")
    .transform((text) => text === "yes"),
  /** What becomes of headings that repeat: the file is refused, or they are numbered. */
  duplicates: z.enum(["refuse", "number"], { error: "refuse or number" }).default("refuse"),
  shortRows: z.enum(["refuse", "blank"], { error: "refuse or blank" }).default("refuse"),
});

export type FileOptions = Shown<typeof FILE_OPTIONS>;

export const FILE_DESCRIPTION = z.object({
  format: z.enum(FILE_FORMATS),
  encoding: z.string().exactOptional(),
  delimiter: z.string().exactOptional(),
  sheet: z.string().exactOptional(),
  headingRows: z
    .number()
    .describe("Rows of headings, and the line on which they end; 0 for a file without any."),
  headingLine: z.number(),
  above: z.array(z.string()).describe("Strings above the headings."),
  remarks: z
    .array(z.string())
    .describe("What was decided about the file that its sender may want to know."),
});
export type FileDescription = Shown<typeof FILE_DESCRIPTION>;

export const FILE_INSPECTION = FILE_DESCRIPTION.extend({
  bytes: z.number(),
  sha256: z.string(),
  sheets: z.array(
    z.object({
      name: z.string(),
      hidden: z.boolean(),
      headings: z.array(z.string()),
      reason: z.string().nullable().describe("Why it cannot be imported as it is, or null."),
    }),
  ),
  headings: z.array(z.string()),
  records: z
    .number()
    .nullable()
    .describe(
      "Rows below the headings, and those of them that would be refused; null where too many.",
    ),
  refused: z.number().nullable(),
  looked: z.number().describe("The first records, of which all that is said of columns is."),
  key: z
    .string()
    .nullable()
    .describe(
      "A column whose values are all different and none is blank: one named id, else the first; null for none.",
    ),
  columns: z
    .array(
      z.object({
        name: z.string(),
        type: z.enum(COLUMN_TYPES).describe("What it would hold, if what is certain is read so."),
        written: z
          .string()
          .nullable()
          .describe("How its dates or numbers are written; null for plain text."),
        isCertain: z
          .boolean()
          .describe("Whether nothing speaks for another way, or the file itself says it."),
        misses: z.number().describe("Cells that could not be read so, and would keep their text."),
        evidence: z.string().nullable(),
      }),
    )
    .describe("What each column would be."),
  sample: z
    .array(z.object({ line: z.number(), cells: z.array(z.string().nullable()) }))
    .describe("The first records as they came."),
}).meta({ id: "FileInspection", description: "A file, looked at without anything being stored." });
export type FileInspection = Shown<typeof FILE_INSPECTION>;

/** Looking at files. */
export const FILE_CALLS = describeCalls({
  "POST /v1/files/inspect": {
    tag: "sources",
    summary: "What a file is, without importing it",
    role: "owner",
    query: FILE_OPTIONS,
    body: FILE,
    answer: FILE_INSPECTION,
  },
});
