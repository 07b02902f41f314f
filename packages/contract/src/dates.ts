import {
  DATE_ENCODINGS,
  DATE_KINDS,
  PARTIAL_POLICIES,
  type CellState,
  type ReadAnswer,
  type Reading,
} from "@orisma/core/internal";
import { z } from "zod";
import { describeCalls } from "./call.js";
import { RENDERED_FAULT, RENDERED_NOTICE } from "./faults.js";
import { tied } from "./schema.js";

/** How stored values are understood as dates. */
export const READING = tied<Reading>()(
  z.strictObject({
    kind: z.enum(DATE_KINDS, `a kind is one of ${DATE_KINDS.join(", ")}`),
    encoding: z
      .enum(DATE_ENCODINGS, `an encoding is one of ${DATE_ENCODINGS.join(", ")}`)
      .default("text"),
    patterns: z
      .array(z.string().max(100))
      .max(20)
      .describe("For text: patterns of UTS #35, tried in order; none means ISO 8601.")
      .exactOptional(),
    locales: z
      .array(z.string().max(35))
      .max(20)
      .describe("The languages of month and day names; none means English.")
      .exactOptional(),
    zone: z
      .string()
      .max(64)
      .describe(
        "The zone in which wall-clock times become instants, or instants days; none means UTC.",
      )
      .exactOptional(),
    blanks: z
      .array(z.string().max(100))
      .max(100)
      .describe("Spellings of “no date”, compared without outer white space and letter case.")
      .exactOptional(),
    sentinels: z
      .array(z.string().max(100))
      .max(100)
      .describe(
        "Dates that stand for “no date”, in ISO 8601; each covers the whole of the time it names.",
      )
      .exactOptional(),
    twoDigitYearFrom: z
      .int()
      .min(1)
      .max(9_900)
      .describe("The first of the hundred years that two digits can mean.")
      .exactOptional(),
    partial: z
      .enum(PARTIAL_POLICIES, `one of ${PARTIAL_POLICIES.join(", ")}`)
      .describe(
        "How a month, a quarter or a year without a day lies to a window: as its first day, with start; with all of " +
          "its days, with inside; with any of them, with overlaps. No date by default.",
      )
      .exactOptional(),
    exact: z
      .boolean()
      .describe(
        "Whether only strings that are spelled just as the pattern writes them are dates, and only " +
          "blanks as they are listed: then a database that knows nothing of patterns can read them too.",
      )
      .exactOptional(),
  }),
);

/** A reading as it is returned. */
export const READING_SHOWN = READING.meta({
  id: "Reading",
  description: "How the stored values of a column are understood as dates.",
});

export const CELL_STATE = tied<CellState>()(
  z.enum(["dated", "blank", "unreadable"]).meta({
    id: "CellState",
    description: "The three states of a cell; every cell is in just one of them.",
  }),
);

export const READ_ANSWER = tied<ReadAnswer>()(
  z
    .object({
      state: CELL_STATE,
      value: z.union([z.string(), z.number()]).nullable().describe("The value as it came."),
      date: z
        .string()
        .describe(
          "`2024-03-05`, `2024-03-05T18:00:00`, or an instant with `Z`, by the kind of the reading.",
        )
        .exactOptional(),
      long: z.string().describe("The same in words: `5 March 2024`.").exactOptional(),
      fault: RENDERED_FAULT.exactOptional(),
      notices: z.array(RENDERED_NOTICE).exactOptional(),
    })
    .meta({ id: "ReadAnswer", description: "What one value is under a reading, as it is sent." }),
);

/** Values at most in one request. */
const MAX_VALUES = 10_000;

/** Reading values without a source. */
export const DATE_CALLS = describeCalls({
  "POST /v1/dates/read": {
    tag: "dates",
    summary: "Values under a reading: dates, blanks, and why the others cannot be read",
    role: "reader",
    isRead: true,
    body: z.strictObject({
      values: z
        .array(z.union([z.string(), z.number(), z.null()], "a value is a text, a number or null"))
        .max(MAX_VALUES, `${MAX_VALUES} values at most`),
      reading: READING,
    }),
    answer: z.object({ results: z.array(READ_ANSWER) }),
    example: {
      values: ["05/03/2024", "", "31/02/2024"],
      reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
    },
  },
});
