import { z } from "zod";
import { describeCalls } from "./call.js";
import { SENT_VALUES } from "./declaration.js";
import type { Shown } from "./schema.js";

/** When records are delivered: when they or their window change, or once in a unit of time. */
export const DELIVERY_TIMES = ["records", "window", "hour", "day", "week", "month"] as const;
export type DeliveryTime = (typeof DELIVERY_TIMES)[number];

/** The forms of a delivered file. */
export const DELIVERY_FORMATS = ["csv", "ndjson", "xlsx"] as const;

const TARGET = z.union(
  [
    z.strictObject({
      file: z
        .string()
        .regex(
          /^[A-Za-z0-9][\w.{} -]{0,199}$/,
          "a file name; {date} and {time} stand for those of the run",
        )
        .describe("A name in the outbox; {date} and {time} stand for those of the run."),
    }),
    z.strictObject({
      url: z
        .url({ protocol: /^https?$/, error: "an http or https URL" })
        .max(2_000)
        .describe("Where records are sent by POST."),
    }),
  ],
  "a file of the outbox, or a URL",
);

const NEW_DELIVERY = z.strictObject({
  name: z.string().trim().min(1).max(64).describe("What it is for."),
  format: z.enum(DELIVERY_FORMATS, `one of ${DELIVERY_FORMATS.join(", ")}`),
  parameters: SENT_VALUES.default({}).describe("What is sent, by parameter."),
  when: z.enum(DELIVERY_TIMES, `one of ${DELIVERY_TIMES.join(", ")}`),
  at: z
    .string()
    .regex(/^(?:[01]\d|2[0-3]):[0-5]\d$/, "a time such as 06:30")
    .describe("The time of day in the zone of the listing; midnight by default.")
    .exactOptional(),
  to: TARGET,
});

const RUN = z
  .object({
    id: z.number(),
    event: z.string().describe("The same at each attempt, by which a receiver knows it again."),
    at: z.string().describe("When it was due."),
    state: z.enum(["waiting", "done", "failed"]),
    attempts: z.number(),
    nextAt: z.string().nullable().describe("When it is tried again; null for never."),
    records: z.number().nullable(),
    error: z.string().nullable(),
  })
  .meta({ id: "DeliveryRun", description: "One delivery, and what became of it." });
export type DeliveryRun = Shown<typeof RUN>;

export const DELIVERY_DESCRIPTION = z
  .object({
    id: z.number(),
    name: z.string(),
    listing: z.string(),
    format: z.enum(DELIVERY_FORMATS),
    parameters: z.record(z.string(), z.array(z.string())),
    when: z.enum(DELIVERY_TIMES),
    at: z.string().nullable(),
    to: TARGET,
    createdAt: z.string(),
    nextAt: z.string().nullable().describe("When it is due next, where that is known."),
    last: RUN.nullable(),
  })
  .meta({ id: "DeliveryDescription", description: "Records of a listing that are delivered." });
export type DeliveryDescription = Shown<typeof DELIVERY_DESCRIPTION>;

const tag = "deliveries";

/** Delivering the records of a listing: into a folder, or by HTTP. */
export const DELIVERY_CALLS = describeCalls({
  "GET /v1/listings/{name}/deliveries": {
    tag,
    summary: "The deliveries of a listing, and what became of the last",
    role: "author",
    answer: z.object({ deliveries: z.array(DELIVERY_DESCRIPTION) }),
  },
  "POST /v1/listings/{name}/deliveries": {
    tag,
    summary:
      "Deliver what a request keeps, from now on; a secret for signatures is shown this once",
    role: "author",
    body: NEW_DELIVERY,
    answer: DELIVERY_DESCRIPTION.extend({
      secret: z
        .string()
        .nullable()
        .describe("With which what is sent to a URL is signed (RFC 9421); null for a file."),
    }),
    status: 201,
    problems: ["not-allowed"],
  },
  "DELETE /v1/listings/{name}/deliveries/{id}": {
    tag,
    summary: "End a delivery",
    role: "author",
    answer: null,
  },
  "GET /v1/listings/{name}/deliveries/{id}/runs": {
    tag,
    summary: "What became of each, the latest first; the last 100 are kept",
    role: "author",
    answer: z.object({ runs: z.array(RUN) }),
  },
  "POST /v1/listings/{name}/deliveries/{id}/runs": {
    tag,
    summary: "Deliver now",
    role: "author",
    answer: RUN,
    status: 201,
  },
  "POST /v1/listings/{name}/deliveries/{id}/runs/{run}/retry": {
    tag,
    summary: "Try one that failed again",
    role: "author",
    answer: RUN,
  },
});
