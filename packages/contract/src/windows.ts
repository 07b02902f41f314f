import type {
  IntervalText,
  ListedWindowAnswer,
  NamedWindow,
  RecurringText,
  WindowAnswer,
} from "@orisma/core/internal";
import { z } from "zod";
import { CALENDAR } from "./calendar.js";
import { describeCalls } from "./call.js";
import { RENDERED_NOTICE } from "./faults.js";
import { tied, type Shown } from "./schema.js";

export const INTERVAL_TEXT = tied<IntervalText>()(
  z
    .object({
      start: z.string().nullable(),
      end: z.string().nullable(),
      startLocal: z.string().nullable(),
      endLocal: z.string().nullable(),
    })
    .meta({
      id: "IntervalText",
      description:
        "An interval as it is sent: instants in UTC, and the wall clock in the zone; null is open.",
    }),
);

export const RECURRING_TEXT = tied<RecurringText>()(
  INTERVAL_TEXT.extend({ parts: z.array(z.string()) }).meta({
    id: "RecurringText",
    description: "Parts that recur within an interval, as they are sent.",
  }),
);

export const NAMED_WINDOW = tied<NamedWindow>()(
  z
    .object({
      name: z.string(),
      label: z.string(),
      window: z.string().describe("In the notation of windows."),
    })
    .meta({ id: "NamedWindow", description: "A window with a label, for people who pick." }),
);

export const LISTED_WINDOW_ANSWER = tied<ListedWindowAnswer>()(
  NAMED_WINDOW.extend({ sentence: z.string(), intervals: z.array(INTERVAL_TEXT) }).meta({
    id: "ListedWindowAnswer",
    description: "A named window with its dates, as it is sent.",
  }),
);

export const WINDOW_ANSWER = tied<WindowAnswer>()(
  z
    .object({
      window: z.string(),
      canonical: z.string(),
      sentence: z.string(),
      zone: z.string(),
      asOf: z.string(),
      intervals: z.array(INTERVAL_TEXT),
      recurring: z
        .array(RECURRING_TEXT)
        .describe("Parts that recur without end, each in its interval.")
        .exactOptional(),
      truncated: z.boolean().exactOptional(),
      nextChange: z
        .string()
        .nullable()
        .describe("Null for never; the instant of the request where it moves all the time."),
      notices: z.array(RENDERED_NOTICE),
    })
    .meta({ id: "WindowAnswer", description: "What a window comes to, as it is sent." }),
);

export const LADDER_DESCRIPTION = z
  .object({
    name: z.string(),
    label: z.string(),
    zone: z.string().describe("The zone in which it was seen to tile."),
    rungs: z.array(LISTED_WINDOW_ANSWER),
  })
  .meta({ id: "LadderDescription", description: "A ladder with the dates of its rungs." });
export type LadderDescription = Shown<typeof LADDER_DESCRIPTION>;

const ZONE = z.string({ error: "an IANA time zone, such as Europe/London" });
const WINDOW = z.string({ error: "a window, such as month-1/now" });
const LABEL = z.string().min(1).max(128);

/** An instant as it is sent; the moment of the request by default. */
export const INSTANT = z.iso.datetime({
  offset: true,
  error: "an instant such as 2026-11-25T09:00:00Z",
});

/** A moment at which windows are resolved, as parameters of a URL. */
const MOMENT = z.strictObject({
  asOf: INSTANT.describe("The instant; that of the request by default").exactOptional(),
  zone: ZONE.default("UTC").describe("The IANA time zone"),
});

/** A ladder to be declared. */
export const LADDER = z.strictObject({
  label: LABEL.exactOptional(),
  zone: ZONE.default("UTC"),
  calendar: CALENDAR.default({}),
  rungs: z
    .array(
      z.union(
        [
          z.string(),
          z.strictObject({
            name: z.string().min(1).max(64),
            label: LABEL.exactOptional(),
            window: WINDOW,
          }),
        ],
        { error: "the name of a window, or { name, window }" },
      ),
    )
    .min(2, "two rungs at least")
    .max(100, "100 rungs at most"),
});

const tag = "windows";

/** Resolving windows, and those that have a name. */
export const WINDOW_CALLS = describeCalls({
  "POST /v1/windows/resolve": {
    tag,
    summary: "What a window covers at an instant in a zone",
    role: "reader",
    isRead: true,
    body: z.strictObject({
      window: WINDOW,
      phrases: z
        .boolean()
        .describe(
          "Whether a phrase as people write it is read too: last month, since Monday, 3 Apr 2025. One with several meanings is refused, and nearest lists them.",
        )
        .exactOptional(),
      locale: z
        .string()
        .max(35)
        .describe(
          "The language of phrases, which are read in English too: de, fr, es, it, nl, pl or pt.",
        )
        .exactOptional(),
      asOf: INSTANT.exactOptional(),
      zone: ZONE,
      calendar: CALENDAR.exactOptional(),
    }),
    answer: WINDOW_ANSWER,
    example: { window: "month-1/now", asOf: "2026-11-25T09:00:00Z", zone: "UTC" },
  },
  "GET /v1/windows": {
    tag,
    summary: "The windows that have a name, with their dates",
    role: "reader",
    query: MOMENT,
    answer: z.object({ windows: z.array(LISTED_WINDOW_ANSWER) }),
  },
  "PUT /v1/windows/{name}": {
    tag,
    summary: "Give a window a name",
    role: "author",
    body: z.strictObject({ label: LABEL, window: WINDOW }),
    answer: NAMED_WINDOW,
    problems: ["breaks-listings"],
  },
  "DELETE /v1/windows/{name}": {
    tag,
    summary: "Delete the name of a window",
    role: "author",
    answer: null,
    problems: ["breaks-listings"],
  },
  "GET /v1/ladders": {
    tag,
    summary: "The ladders: sets of windows that tile a period",
    role: "reader",
    query: MOMENT,
    answer: z.object({ ladders: z.array(LADDER_DESCRIPTION) }),
  },
  "GET /v1/ladders/{name}": {
    tag,
    summary: "A ladder with the dates of its rungs",
    role: "reader",
    query: MOMENT,
    answer: LADDER_DESCRIPTION,
  },
  "PUT /v1/ladders/{name}": {
    tag,
    summary: "Declare a ladder, which is checked to tile",
    role: "author",
    body: LADDER,
    answer: LADDER_DESCRIPTION,
  },
  "DELETE /v1/ladders/{name}": {
    tag,
    summary: "Delete a ladder",
    role: "author",
    answer: null,
  },
});
