import { z } from "zod";
import { describeCalls } from "./call.js";
import { EXPLANATION, WHY_ANSWER } from "./explanations.js";
import {
  CHOICES_ANSWER,
  COUNTS_ANSWER,
  EXTENT_ANSWER,
  RECORDS_ANSWER,
  RECORDS_COMPARISON,
  SUMMARY_ANSWER,
  TIMELINE_ANSWER,
} from "./records-answers.js";
import { RECORD_ANSWER } from "./record-values.js";

const PARAMETERS = z.record(
  z.string().max(200),
  z.union([z.string(), z.array(z.string()).max(1_000)], {
    error: "a string, or a list of strings",
  }),
);

/** The media types in which records can be exported, by the names of the formats. */
export const EXPORT_MEDIA = {
  csv: "text/csv",
  ndjson: "application/x-ndjson",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  ics: "text/calendar",
  atom: "application/atom+xml",
} as const;

const tag = "listings";
const BY =
  "Up to two columns, derived ones too, of dates with a unit such as raised:month; without any the total alone";

const PAGE = {
  tag,
  summary: "The records",
  role: "reader",
  takesParameters: true,
  answer: RECORDS_ANSWER,
  otherMedia: Object.values(EXPORT_MEDIA),
} as const;

/** The records in the format that the path ends with. */
function pageAs<const Summary extends string>(summary: Summary, otherMedia: readonly string[]) {
  return { ...PAGE, summary, otherMedia, isAlias: true } as const;
}

/** The records of listings, and what an interface needs around them. */
export const RECORD_CALLS = describeCalls({
  "GET /v1/listings/{name}/records": PAGE,
  "GET /v1/listings/{name}/records.json": pageAs("The records as JSON", []),
  "GET /v1/listings/{name}/records.csv": pageAs("The records as CSV", [EXPORT_MEDIA.csv]),
  "GET /v1/listings/{name}/records.ndjson": pageAs("The records as NDJSON", [EXPORT_MEDIA.ndjson]),
  "GET /v1/listings/{name}/records.xlsx": pageAs("The records as XLSX", [EXPORT_MEDIA.xlsx]),
  "GET /v1/listings/{name}/records.ics": pageAs("The records as a calendar", [EXPORT_MEDIA.ics]),
  "GET /v1/listings/{name}/records.atom": pageAs("The records as a feed", [EXPORT_MEDIA.atom]),
  "POST /v1/listings/{name}/records/query": {
    tag,
    summary: "The records, requested in a body, for what outgrows a URL",
    role: "reader",
    isRead: true,
    body: PARAMETERS,
    answer: RECORDS_ANSWER,
    otherMedia: Object.values(EXPORT_MEDIA),
  },
  "GET /v1/listings/{name}/records/{id}": {
    tag,
    summary: "One record",
    role: "reader",
    takesParameters: true,
    answer: RECORD_ANSWER,
  },
  "GET /v1/listings/{name}/why": {
    tag,
    summary: "Why there are no records, condition by condition",
    role: "reader",
    takesParameters: true,
    answer: WHY_ANSWER,
  },
  "GET /v1/listings/{name}/why/{id}": {
    tag,
    summary: "Why one record is in or out, condition by condition",
    role: "reader",
    takesParameters: true,
    answer: WHY_ANSWER,
  },
  "GET /v1/listings/{name}/choices/{column}": {
    tag,
    summary: "The values of a column to choose from",
    role: "reader",
    takesParameters: true,
    query: z.object({
      search: z.string().describe("Only values that contain the text").exactOptional(),
      limit: z.int().min(1).max(10_000).describe("Values at most").exactOptional(),
    }),
    answer: CHOICES_ANSWER,
  },
  "GET /v1/listings/{name}/extent": {
    tag,
    summary: "The first and last dates of what is found",
    role: "reader",
    takesParameters: true,
    answer: EXTENT_ANSWER,
  },
  "GET /v1/listings/{name}/timeline": {
    tag,
    summary: "Records counted along time",
    role: "reader",
    takesParameters: true,
    query: z.object({
      unit: z
        .enum(["hour", "day", "week", "month", "quarter", "year"])
        .describe("The unit of time; one that fits by default")
        .exactOptional(),
    }),
    answer: TIMELINE_ANSWER,
  },
  "GET /v1/listings/{name}/summary": {
    tag,
    summary: "Records grouped, with measures and totals",
    role: "reader",
    takesParameters: true,
    query: z.object({
      by: z.array(z.string()).max(2).describe(BY).exactOptional(),
      measure: z
        .array(z.string())
        .describe("Such as sum:cost, average:cost, min:cost, max:cost")
        .exactOptional(),
    }),
    answer: SUMMARY_ANSWER,
  },
  "GET /v1/listings/{name}/explain": {
    tag,
    summary: "How a request is understood and run",
    role: "author",
    takesParameters: true,
    answer: EXPLANATION,
  },
  "POST /v1/listings/{name}/compare": {
    tag,
    summary: "Two requests side by side: the records that only one of them keeps",
    role: "reader",
    isRead: true,
    body: z.strictObject({
      before: PARAMETERS.default({}),
      after: PARAMETERS.default({}),
      size: z
        .int()
        .min(1)
        .max(1_000)
        .describe("Records that are returned of each difference at most.")
        .exactOptional(),
    }),
    largestBody: "256kb",
    answer: RECORDS_COMPARISON,
  },
  "POST /v1/listings/{name}/counts": {
    tag,
    summary: "How many records each of several requests keeps",
    role: "reader",
    isRead: true,
    body: z.strictObject({ requests: z.array(PARAMETERS).min(1).max(100) }),
    largestBody: "256kb",
    answer: COUNTS_ANSWER,
  },
});
