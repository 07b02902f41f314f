import { z } from "zod";
import { describeCalls } from "./call.js";
import { SENT_VALUES } from "./declaration.js";
import type { Shown } from "./schema.js";

/** The name of a view. */
export const VIEW_NAME = z.string().trim().min(1, "a name").max(64, "64 characters at most");

const VIEW = z
  .object({
    name: z.string(),
    parameters: z
      .record(z.string(), z.array(z.string()))
      .describe("What is sent, by parameter: conditions, order and columns."),
    isDefault: z.boolean().describe("Whether the listing opens with it."),
    savedAt: z.string(),
  })
  .meta({ id: "View", description: "How somebody looks at a listing, kept under a name." });
export type View = Shown<typeof VIEW>;

const NEW_VIEW = z.strictObject({
  parameters: SENT_VALUES.default({}).describe("What is sent, by parameter."),
  isDefault: z
    .boolean()
    .default(false)
    .describe("Whether the listing opens with it: then no other view of one's own is."),
});

const tag = "views";

/** The views of a listing that whoever asks keeps: a person those of theirs, a key its own. */
export const VIEW_CALLS = describeCalls({
  "GET /v1/listings/{name}/views": {
    tag,
    summary: "One's own views of a listing, by name",
    role: "reader",
    answer: z.object({ views: z.array(VIEW) }),
  },
  "PUT /v1/listings/{name}/views/{view}": {
    tag,
    summary: "Keep a view of a listing, in place of the one of that name",
    role: "reader",
    body: NEW_VIEW,
    answer: VIEW,
    problems: ["too-large"],
  },
  "DELETE /v1/listings/{name}/views/{view}": {
    tag,
    summary: "Delete a view of one's own",
    role: "reader",
    answer: null,
  },
});
