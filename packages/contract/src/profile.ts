import {
  COLUMN_TYPES,
  DATE_ENCODINGS,
  type ColumnProfile,
  type ColumnSample,
  type Conspicuous,
  type DateQuality,
  type NumberCounts,
  type NumberRecognition,
  type ReadingCandidate,
  type ReadingRival,
  type Recognition,
  type RecordSample,
  type ShownDates,
  type SourceProfile,
  type TimeBucket,
} from "@orisma/core/internal";
import { z } from "zod";
import { CELL_STATE, READING_SHOWN, READ_ANSWER } from "./dates.js";
import { tied, type Shown } from "./schema.js";
import { BOOLEAN_FORM_SHOWN, NUMBER_FORM_SHOWN } from "./written.js";

export const RECORD_SAMPLE = tied<RecordSample>()(
  z
    .object({
      records: z.number(),
      of: z
        .number()
        .nullable()
        .describe("All that there are; null where they could not be counted in time."),
      drawn: z
        .enum(["evenly", "first"])
        .describe("Evenly from all of them, or the first that the database gave."),
    })
    .meta({
      id: "RecordSample",
      description: "Some of the records of a source, of which all that is said of a column is.",
    }),
);

export const READING_CANDIDATE = tied<ReadingCandidate>()(
  z
    .object({
      reading: READING_SHOWN,
      fits: z.number(),
      misses: z.number().describe("Neither dates under this reading nor blank."),
      examples: z.array(z.string()).describe("Some of the values that it does not fit."),
      earliest: z.string().describe("In the standard form of the reading's kind."),
      latest: z.string(),
    })
    .meta({
      id: "ReadingCandidate",
      description:
        "A reading that a column could have, with the evidence for it; counts are of cells.",
    }),
);

export const READING_RIVAL = tied<ReadingRival>()(
  z
    .object({
      reading: READING_SHOWN,
      onlyBest: z
        .number()
        .describe("Cells that only the best candidate fits, and only this rival."),
      onlyRival: z.number(),
      wouldChange: z
        .number()
        .describe("Cells that both fit, and that would be other dates under the rival."),
    })
    .meta({
      id: "ReadingRival",
      description:
        "How the best candidate stands to another one that fits much of the column as well.",
    }),
);

export const RECOGNITION = tied<Recognition>()(
  z
    .object({
      cells: z.number(),
      distinct: z.number(),
      blank: z.number(),
      verdict: z
        .enum(["certain", "ambiguous", "mixed", "few", "numbers", "none"])
        .describe(
          "`certain`: one reading, and nothing speaks for another; `ambiguous`: another fits as well and gives other dates; `mixed`: two layouts that cannot be read together, each with values that only it fits; `few`: dates are less than half of the values; `numbers`: bare numbers, which are dates only where a person or the file says so; `none`: the column holds no dates.",
        ),
      candidates: z.array(READING_CANDIDATE).describe("The likeliest first."),
      rivals: z.array(READING_RIVAL),
      suspects: z
        .array(z.object({ date: z.string(), count: z.number() }))
        .describe('Dates that often stand for "no date", with the number of their cells.'),
      evidence: z.string().describe("The evidence in a sentence."),
    })
    .meta({ id: "Recognition", description: "What a column of values most likely is." }),
);

export const NUMBER_COUNTS = tied<NumberCounts>()(
  z
    .object({
      blank: z.number(),
      whole: z.number(),
      fractional: z.number(),
      other: z.number().describe("Neither blank nor a number."),
      yesOrNo: z.number().describe("Yes or no in some spelling; `1` and `0` are numbers too."),
    })
    .meta({
      id: "NumberCounts",
      description:
        "What the values of a column are as numbers, and as yes and no; counts are of cells.",
    }),
);

export const NUMBER_RECOGNITION = tied<NumberRecognition>()(
  z
    .object({
      verdict: z
        .enum(["plain", "certain", "ambiguous", "mixed", "none"])
        .describe(
          "`plain`: digits with a point, which need no form; `certain`: one form; `ambiguous`: another fits as well, or the values may be codes; `mixed`: some values are no numbers; `none`: hardly any is one.",
        ),
      candidates: z
        .array(
          z.object({
            form: NUMBER_FORM_SHOWN,
            type: z.enum(["integer", "decimal"]),
            fits: z.number(),
            misses: z.number().describe("Neither numbers in this form nor blank."),
            examples: z.array(z.string()).describe("Some of the values that it does not fit."),
            read: z
              .array(z.object({ value: z.string(), number: z.string() }))
              .describe("The first values that it fits, and what they are."),
          }),
        )
        .describe("The likeliest first."),
      wouldChange: z
        .number()
        .describe("Cells that would be other numbers under the second candidate."),
      evidence: z.string().describe("The evidence in a sentence."),
    })
    .meta({
      id: "NumberRecognition",
      description: "What a column of values most likely is as numbers; counts are of cells.",
    }),
);

export const SHOWN_DATES = tied<ShownDates>()(
  z
    .object({
      count: z.number().describe("The cells that it shows as dates."),
      encoding: z.enum(DATE_ENCODINGS),
      zoned: z
        .number()
        .describe(
          "Those of them that are stored with a zone, which the program that shows them leaves out.",
        )
        .exactOptional(),
    })
    .meta({
      id: "ShownDates",
      description: "What a file says itself of cells that it shows as dates.",
    }),
);

export const TIME_BUCKET = tied<TimeBucket>()(
  z
    .object({
      start: z.string().describe("`2024`, `2024-03` or `2024-03-05` (ISO 8601)."),
      count: z.number(),
    })
    .meta({
      id: "TimeBucket",
      description:
        "An interval of time of a {@link DateQuality}'s timeline, and the cells that lie in it.",
    }),
);

export const CONSPICUOUS = tied<Conspicuous>()(
  z
    .object({ count: z.number(), examples: z.array(z.string()) })
    .meta({ id: "Conspicuous", description: "Cells that stand out, with some of their values." }),
);

export const DATE_QUALITY = tied<DateQuality>()(
  z
    .object({
      dated: z.number(),
      blank: z.number(),
      unreadable: z.number(),
      days: z
        .number()
        .describe(
          "Different days, and the first and the last date in the standard form of the kind.",
        ),
      earliest: z.string().nullable(),
      latest: z.string().nullable(),
      weekdays: z.array(z.number()).describe("From Monday on, and from January on."),
      months: z.array(z.number()),
      timeline: z
        .object({ unit: z.enum(["day", "month", "year"]), buckets: z.array(TIME_BUCKET) })
        .describe(
          "Over the plausible years, every bucket of it, empty ones too; see {@link PLAUSIBLE_YEARS}.",
        ),
      gaps: z
        .array(z.object({ after: z.string(), before: z.string(), days: z.number() }))
        .describe("The longest intervals of days without a date, between two days that have one."),
      farPast: CONSPICUOUS.describe("Dates before the plausible years, and after them."),
      farFuture: CONSPICUOUS,
      offsets: z
        .object({ with: z.number(), without: z.number() })
        .describe("Strings that say their UTC offset, and that do not."),
      unreadables: z
        .array(z.object({ value: z.string(), count: z.number() }))
        .describe("Cells that are not dates, the most frequent strings first."),
    })
    .meta({
      id: "DateQuality",
      description: "What the cells of a column come to under a reading; counts are of cells.",
    }),
);

export const COLUMN_SAMPLE = tied<ColumnSample>()(
  READ_ANSWER.extend({ state: CELL_STATE.exactOptional(), count: z.number() }).meta({
    id: "ColumnSample",
    description: "A text of a column, the number of its cells, and what it is under a reading.",
  }),
);

export const COLUMN_PROFILE = tied<ColumnProfile>()(
  z
    .object({
      name: z.string(),
      type: z.enum(COLUMN_TYPES),
      distinct: z.number().describe("Distinct strings that were looked at."),
      sample: RECORD_SAMPLE.nullable().describe("Of which records all of this is; null for all."),
      recognition: RECOGNITION.describe(
        "What its values most likely are, whatever they are read as now.",
      ),
      numbers: NUMBER_COUNTS.describe("What its values are as numbers."),
      form: z
        .union([NUMBER_FORM_SHOWN, BOOLEAN_FORM_SHOWN])
        .describe("The form that its numbers have, or its yes and no, where that is declared.")
        .exactOptional(),
      written: NUMBER_RECOGNITION.describe("How its numbers are written, where they are any."),
      dateCells: SHOWN_DATES.describe(
        "Cells that the sheet which they came from shows as dates.",
      ).exactOptional(),
      reading: READING_SHOWN.nullable().describe(
        "The reading that the column has, else the likeliest; null where neither is.",
      ),
      quality: DATE_QUALITY.nullable().describe("What its cells come to under that reading."),
      samples: z
        .array(COLUMN_SAMPLE)
        .describe(
          "The most frequent strings as they are stored, each with what it is under that reading.",
        ),
      unreadable: z
        .array(z.object({ id: z.union([z.string(), z.number()]), value: z.string() }))
        .describe("The first cells that could not be read, by record."),
    })
    .meta({ id: "ColumnProfile", description: "A column of a source, looked at." }),
);

export const SOURCE_PROFILE = tied<SourceProfile>()(
  z
    .object({ source: z.string(), records: z.number(), columns: z.array(COLUMN_PROFILE) })
    .meta({ id: "SourceProfile", description: "A source, looked at column by column." }),
);

export const COLUMN_PREVIEW = z
  .object({
    type: z.enum(COLUMN_TYPES),
    sample: RECORD_SAMPLE.nullable().describe("Of which records all of this is; null for all."),
    dated: z.number(),
    blank: z.number(),
    unreadable: z.number(),
    quality: DATE_QUALITY.nullable(),
    samples: z.array(COLUMN_SAMPLE),
  })
  .meta({ id: "ColumnPreview", description: "What a column would come to under another reading." });
export type ColumnPreview = Shown<typeof COLUMN_PREVIEW>;

export const READINGS_PREVIEW = z
  .object({
    columns: z.record(z.string(), COLUMN_PREVIEW),
    breaks: z
      .array(z.object({ listing: z.string(), reason: z.string() }))
      .describe("The listings that would no longer be served, and why."),
  })
  .meta({ id: "ReadingsPreview", description: "What columns would come to under other readings." });
export type ReadingsPreview = Shown<typeof READINGS_PREVIEW>;
