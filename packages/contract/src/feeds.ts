import { z } from "zod";
import { describeCalls } from "./call.js";
import { SENT_VALUES } from "./declaration.js";
import type { Shown } from "./schema.js";

const FEED_DESCRIPTION = z
  .object({
    id: z.number(),
    name: z.string().describe("For whom it is."),
    listing: z.string(),
    parameters: z.record(z.string(), z.array(z.string())),
    createdAt: z.string(),
    broken: z
      .string()
      .describe("Why it is refused now, where the listing was declared otherwise since.")
      .exactOptional(),
    delivered: z
      .object({
        at: z.string(),
        to: z.string().describe("The program, as it names itself."),
        address: z.string(),
        records: z.number(),
      })
      .nullable()
      .describe("What was delivered last; null for nothing yet."),
  })
  .meta({ id: "FeedDescription", description: "A private address of a listing." });
export type FeedDescription = Shown<typeof FEED_DESCRIPTION>;

const CREATED_FEED = FEED_DESCRIPTION.extend({
  calendar: z.string().describe("Its address as a calendar, shown this once."),
  feed: z.string().describe("Its address as an Atom feed, shown this once."),
}).meta({ id: "CreatedFeed", description: "A private address that was made." });
export type CreatedFeed = Shown<typeof CREATED_FEED>;

const NEW_FEED = z.strictObject({
  name: z.string().trim().min(1).max(64).describe("For whom it is."),
  parameters: SENT_VALUES.default({}).describe("What is sent, by parameter."),
});

const tag = "feeds";

/** Private addresses under which calendars and readers of feeds take what a request keeps. */
export const FEED_CALLS = describeCalls({
  "GET /v1/listings/{name}/feeds": {
    tag,
    summary: "The private addresses of a listing, and what was delivered last",
    role: "reader",
    answer: z.object({ feeds: z.array(FEED_DESCRIPTION) }),
  },
  "POST /v1/listings/{name}/feeds": {
    tag,
    summary: "Make a private address for a calendar or a reader of feeds, which needs no key",
    role: "reader",
    body: NEW_FEED,
    answer: CREATED_FEED,
    status: 201,
  },
  "DELETE /v1/listings/{name}/feeds/{id}": {
    tag,
    summary: "Revoke a private address",
    role: "reader",
    answer: null,
  },
  "GET /public/{name}": {
    tag,
    summary: "A public listing as a page of its own, which needs no scripts",
    role: null,
    answer: null,
    otherMedia: ["text/html"],
  },
  "GET /feeds/{address}": {
    tag,
    summary: "The records of a private address, as a calendar (.ics) or a feed (.atom)",
    role: null,
    answer: null,
    otherMedia: ["text/calendar", "application/atom+xml"],
  },
});
