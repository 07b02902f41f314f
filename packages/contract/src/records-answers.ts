import {
  BLANK_POLICIES,
  BUCKET_UNITS,
  type Choice,
  type ChoicesAnswer,
  type Clause,
  type ComparedAnswer,
  type CountedAnswer,
  type CountsAnswer,
  type DeclarationDifference,
  type ExtentAnswer,
  type RecordsAnswer,
  type RecordsComparison,
  type SummaryAnswer,
  type SummaryGroup,
  type TimelineAnswer,
  type WindowView,
} from "@orisma/core/internal";
import { z } from "zod";
import { RENDERED_FAULT, RENDERED_NOTICE } from "./faults.js";
import { tied } from "./schema.js";
import { WHY_ANSWER } from "./explanations.js";
import { RECORD_ANSWER, RECORD_VALUE, TOTAL_ANSWER } from "./record-values.js";
import { INTERVAL_TEXT, RECURRING_TEXT } from "./windows.js";

export const CHOICE = tied<Choice>()(
  z
    .object({
      value: RECORD_VALUE,
      records: z.number(),
      disabled: z
        .literal(true)
        .describe("Whether it is shown, and cannot be chosen.")
        .exactOptional(),
    })
    .meta({
      id: "Choice",
      description: "A value that can be chosen, with how many records it would give.",
    }),
);

export const CHOICES_ANSWER = tied<ChoicesAnswer>()(
  z
    .object({
      column: z.string(),
      choices: z.array(CHOICE),
      groups: z.array(
        z.object({ name: z.string(), values: z.array(RECORD_VALUE), records: z.number() }),
      ),
      recent: z
        .array(z.object({ value: RECORD_VALUE, records: z.number() }))
        .describe("What the caller used recently, the latest first; only what there still is.")
        .exactOptional(),
      blank: z.number(),
      unreadable: z.number(),
      more: z.boolean().describe("Whether there are more values than are returned."),
    })
    .meta({
      id: "ChoicesAnswer",
      description: "The values of a column in the records that pass all other conditions.",
    }),
);

export const COUNTED_ANSWER = tied<CountedAnswer>()(
  z
    .object({
      faults: z.array(RENDERED_FAULT).exactOptional(),
      ...TOTAL_ANSWER.shape,
    })
    .meta({
      id: "CountedAnswer",
      description:
        "How many records a request keeps; where it cannot be so, what is wrong with it.",
    }),
);

export const COUNTS_ANSWER = tied<CountsAnswer>()(
  z.object({ counts: z.array(COUNTED_ANSWER) }).meta({
    id: "CountsAnswer",
    description: "Several requests to one listing, counted, in the order in which they were sent.",
  }),
);

export const DECLARATION_DIFFERENCE = tied<DeclarationDifference>()(
  z
    .object({
      isNew: z.boolean().describe("Whether there is no listing of the name yet."),
      changes: z
        .array(z.string())
        .describe("What it says otherwise than the one that serves, a line each."),
      remarks: z
        .array(z.string())
        .describe("What is allowed in it, and seldom meant, a line each."),
      breaks: z
        .array(z.string())
        .describe(
          "Private addresses and defaults for a time that it would no longer serve, a line each.",
        ),
      records: z
        .object({ added: TOTAL_ANSWER, removed: TOTAL_ANSWER })
        .nullable()
        .describe(
          "On today's data, without filters: the records that would be added and removed. Null for a new listing, and where the two cannot be laid side by side.",
        ),
    })
    .meta({
      id: "DeclarationDifference",
      description: "What a declaration would change, were it applied.",
    }),
);

export const EXTENT_ANSWER = tied<ExtentAnswer>()(
  z
    .object({
      extent: z.record(
        z.string(),
        z.object({ first: z.string().nullable(), last: z.string().nullable() }),
      ),
    })
    .meta({ id: "ExtentAnswer", description: "The first and last dates of each date column." }),
);

export const WINDOW_VIEW = tied<WindowView>()(
  z
    .object({
      column: z.string(),
      canonical: z
        .string()
        .describe("The window in its notation, which goes on moving where it was written to."),
      side: z.enum(["inside", "outside"]).describe("Which side of it is requested."),
      zone: z.string().describe("The IANA name of the zone in which its days begin and end."),
      blanks: z.enum(BLANK_POLICIES),
      intervals: z
        .array(INTERVAL_TEXT)
        .describe(
          "The intervals, where there are more than one or none; `start` and `end` are then those of all.",
        )
        .exactOptional(),
      recurring: z
        .array(RECURRING_TEXT)
        .describe("Parts that recur in an interval.")
        .exactOptional(),
      start: z.string().nullable(),
      end: z.string().nullable(),
      startLocal: z.string().nullable(),
      endLocal: z.string().nullable(),
    })
    .meta({ id: "WindowView", description: "The window of a condition on dates, as it is sent." }),
);

export const CLAUSE = tied<Clause>()(
  z
    .object({
      parameters: z
        .array(z.string())
        .describe("The parameters that it comes from; none where it is known by its column alone."),
      column: z
        .string()
        .nullable()
        .describe("The column that it speaks of; null for one of several."),
      id: z
        .string()
        .describe("Of a condition of the filter: the id of its part of the query, to edit it.")
        .exactOptional(),
      isFixed: z
        .literal(true)
        .describe("Whether it is of the listing's own filter, which no caller can change.")
        .exactOptional(),
      words: z.string(),
    })
    .meta({
      id: "Clause",
      description: "One condition of a request, short enough to stand in a sentence.",
    }),
);

export const RECORDS_ANSWER = tied<RecordsAnswer>()(
  z
    .object({
      records: z.array(RECORD_ANSWER),
      meta: z.object({
        sentence: z.string(),
        windows: z
          .array(WINDOW_VIEW)
          .describe(
            "The windows of the conditions on dates, in order: the same however they were sent.",
          ),
        notices: z.array(RENDERED_NOTICE),
        defaults: z
          .record(z.string(), z.array(z.string()))
          .describe("The defaults that took effect because nothing was given, by parameter.")
          .exactOptional(),
        values: z
          .record(z.string(), z.array(z.string()))
          .describe("What was applied of each parameter, by name, in its canonical spelling.")
          .exactOptional(),
        unfiltered: TOTAL_ANSWER.describe(
          "On request: how many there are without the caller's own conditions.",
        ).exactOptional(),
        extent: z
          .object({ first: z.string().nullable(), last: z.string().nullable() })
          .describe("On request: the first and the last of the main date in what is found.")
          .exactOptional(),
        days: z
          .object({ present: z.number().nullable(), absent: z.number().nullable() })
          .describe(
            "On request: the days of the window, else of the interval from the first date to the last, that have a record and that have none; null where they are too many to tell.",
          )
          .exactOptional(),
        resume: z
          .object({
            token: z
              .string()
              .describe(
                "Sent as resume, gives the records that changed after those of this answer.",
              ),
            hasMore: z.boolean().describe("Whether there are more by now."),
            lag: z
              .string()
              .describe("Of an attached table: how long a change may take to become visible.")
              .exactOptional(),
            upTo: z
              .string()
              .describe("Of an attached table: the instant before which changes are returned.")
              .exactOptional(),
          })
          .describe("Of a request with resume: where to go on.")
          .exactOptional(),
        why: WHY_ANSWER.describe(
          "On request, where there is no record at all: why.",
        ).exactOptional(),
        shown: z
          .record(z.string(), z.string())
          .describe(
            "What parameters show whose default is the extent of the data; it is no condition.",
          )
          .exactOptional(),
        unnested: z
          .object({ records: TOTAL_ANSWER, values: TOTAL_ANSWER })
          .describe(
            "Of a source with values inside: how many records it is, and how many lines of values.",
          )
          .exactOptional(),
        clauses: z
          .array(CLAUSE)
          .describe("On request: the conditions of the request, one by one.")
          .exactOptional(),
        display: z
          .record(z.string(), z.record(z.string(), z.string()))
          .describe(
            "On request: how values are shown that have a declared format, by record id and column.",
          )
          .exactOptional(),
        unreadable: z
          .record(z.string(), z.record(z.string(), z.string()))
          .describe(
            "The strings of cells on this page that could not be read, by record id and column.",
          ),
        ...TOTAL_ANSWER.shape,
        readAt: z.string(),
      }),
      links: z.object({
        first: z.string(),
        next: z.string().exactOptional(),
        previous: z.string().exactOptional(),
      }),
    })
    .meta({
      id: "RecordsAnswer",
      description: "A page of records with the addresses of the pages beside it, as it is sent.",
    }),
);

export const COMPARED_ANSWER = tied<ComparedAnswer>()(
  z.object({ records: z.array(RECORD_ANSWER), ...TOTAL_ANSWER.shape }).meta({
    id: "ComparedAnswer",
    description: "Records that only one of two requests keeps: how many, and the first of them.",
  }),
);

export const RECORDS_COMPARISON = tied<RecordsComparison>()(
  z
    .object({
      before: z.object({ ...TOTAL_ANSWER.shape, sentence: z.string() }),
      after: z.object({ ...TOTAL_ANSWER.shape, sentence: z.string() }),
      removed: COMPARED_ANSWER.describe("Records of the first that the second does not have."),
      added: COMPARED_ANSWER.describe("Records that only the second has."),
    })
    .meta({ id: "RecordsComparison", description: "Two requests to one listing side by side." }),
);

export const SUMMARY_GROUP = tied<SummaryGroup>()(
  z
    .object({
      of: z
        .array(RECORD_VALUE)
        .describe(
          "A value or the beginning of a unit of time for each dimension; null for a blank.",
        ),
      records: z.number(),
      measures: z.record(z.string(), RECORD_VALUE),
    })
    .meta({ id: "SummaryGroup", description: "Records of one group." }),
);

export const SUMMARY_ANSWER = tied<SummaryAnswer>()(
  z
    .object({
      by: z.array(z.string()),
      groups: z.array(SUMMARY_GROUP),
      totals: z
        .array(z.array(SUMMARY_GROUP))
        .describe(
          "For each of two dimensions the totals over the other; for one the groups are that already.",
        ),
      grand: SUMMARY_GROUP,
    })
    .meta({ id: "SummaryAnswer", description: "Records grouped, with totals that add up." }),
);

const BUCKET = INTERVAL_TEXT.extend({ records: z.number() });

export const TIMELINE_ANSWER = tied<TimelineAnswer>()(
  z
    .object({
      column: z.string(),
      unit: z.enum(BUCKET_UNITS),
      zone: z.string(),
      buckets: z.array(BUCKET),
      empty: z.number().describe("Units without any record."),
      blank: z.number(),
      unreadable: z.number(),
      before: BUCKET.nullable().describe(
        "The same number of records in the interval before, where the window has two ends.",
      ),
    })
    .meta({ id: "TimelineAnswer", description: "Records counted along time." }),
);
