import { z } from "zod";
import { describeCalls } from "./call.js";
import type { Shown } from "./schema.js";

const VALUE = z.union(
  [z.string().max(1_000), z.array(z.string().max(1_000)).min(1).max(100)],
  "a string, or a list of strings",
);

export const OVERRIDE_DESCRIPTION = z
  .object({
    parameter: z.string(),
    value: VALUE.describe("What applies where nothing is sent."),
    reason: z.string(),
    by: z.string().describe("The name of whoever set it."),
    at: z.string(),
    until: z.string().nullable().describe("Null until it is removed."),
  })
  .meta({
    id: "OverrideDescription",
    description: "A default that was set from outside the declaration.",
  });
export type OverrideDescription = Shown<typeof OVERRIDE_DESCRIPTION>;

const tag = "listings";

/** Defaults of a listing that are set for a time, from outside its declaration. */
export const OVERRIDE_CALLS = describeCalls({
  "GET /v1/listings/{name}/overrides": {
    tag,
    summary: "The defaults that were set from outside the declaration",
    role: "author",
    answer: z.object({
      overrides: z.array(
        OVERRIDE_DESCRIPTION.extend({
          state: z
            .enum(["applied", "expired", "unfit"])
            .describe("Unfit: the listing was declared otherwise since, and it is not applied."),
        }),
      ),
    }),
  },
  "PUT /v1/listings/{name}/overrides/{parameter}": {
    tag,
    summary: "Set what applies to a parameter where nothing is sent, for a time and with a reason",
    role: "author",
    body: z.strictObject({
      value: VALUE,
      reason: z.string().trim().min(1).max(200),
      until: z.iso
        .datetime({ offset: true, error: "an instant such as 2027-01-31T12:00:00Z" })
        .exactOptional(),
    }),
    answer: OVERRIDE_DESCRIPTION,
    example: { value: "month", reason: "Stoppage of the Brindle flight" },
  },
  "DELETE /v1/listings/{name}/overrides/{parameter}": {
    tag,
    summary: "Remove it: the default of the declaration applies again",
    role: "author",
    answer: null,
  },
});
