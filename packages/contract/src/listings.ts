import {
  COLUMN_TYPES,
  DATE_COMPARISONS,
  DATE_KINDS,
  type AllowedKind,
} from "@orisma/core/internal";
import { z } from "zod";
import { describeCalls } from "./call.js";
import { CHANGE_RIGHTS_SHOWN } from "./edits.js";
import { LISTING_COPY, LISTING_DECLARATION, SENT_LISTING } from "./declaration.js";
import { DECLARATION_DIFFERENCE, RECORDS_ANSWER } from "./records-answers.js";
import { OVERRIDE_DESCRIPTION } from "./overrides.js";
import { tied, type Shown } from "./schema.js";
import { NAMED_WINDOW } from "./windows.js";

export const ALLOWED_KIND = tied<AllowedKind>()(
  z
    .object({
      kind: z.string(),
      example: z.string(),
      columns: z.array(
        z.object({
          column: z.string(),
          comparison: z.enum(DATE_COMPARISONS),
          parameter: z.string(),
        }),
      ),
    })
    .meta({
      id: "AllowedKind",
      description: "What a kind of window can be compared with in a listing.",
    }),
);

export const LISTING_VERSION = z
  .object({
    version: z.number(),
    at: z.string().nullable().describe("When it was declared; null where that is not known."),
    by: z
      .string()
      .nullable()
      .describe("The name of the key that declared it; null where that is not known."),
    changes: z
      .array(z.string())
      .describe("What it says otherwise than the one before, a line each."),
    isServing: z.boolean(),
  })
  .meta({ id: "ListingVersion", description: "A version of a listing." });
export type ListingVersion = Shown<typeof LISTING_VERSION>;

const DESCRIBED = LISTING_DECLARATION.extend({
  version: z.number(),
  broken: z
    .string()
    .describe("Why it cannot be served, where it no longer fits its source.")
    .exactOptional(),
  lastUsedAt: z
    .string()
    .nullable()
    .describe(
      "For authors, among all listings: when its records were last read, null until they are.",
    )
    .exactOptional(),
});

export const LISTING_DESCRIPTION = DESCRIBED.meta({
  id: "ListingDescription",
  description: "A listing as it is listed.",
});
export type ListingDescription = Shown<typeof LISTING_DESCRIPTION>;

export const COPIED_LISTING = z
  .object({
    listing: LISTING_DESCRIPTION,
    differences: z.array(z.string()).describe("What it says otherwise than its origin, in words."),
    alike: z
      .array(z.string())
      .describe("Other listings of the source with the very same conditions and defaults."),
  })
  .meta({ id: "CopiedListing", description: "A listing that was made from another." });
export type CopiedListing = Shown<typeof COPIED_LISTING>;

export const LISTING_RENAMING = z.strictObject({
  to: z.string().min(1).max(64),
  redirectDays: z
    .int()
    .min(0)
    .max(3_650)
    .default(90)
    .describe("For how many days calls of the old name are redirected to the new one."),
});

const TYPED_COLUMN = z.object({
  name: z.string(),
  type: z.enum(COLUMN_TYPES),
  kind: z.enum(DATE_KINDS).exactOptional(),
});

export const LISTING_DETAILS = DESCRIBED.extend({
  shown: z.array(TYPED_COLUMN).describe("The columns shown, in order."),
  filterColumns: z
    .array(TYPED_COLUMN)
    .describe("The columns of which the filter may speak; none where there is no filter."),
  namedWindows: z
    .array(NAMED_WINDOW)
    .describe("The windows that were given a name, beside those that are always there."),
  key: z.string().nullable(),
  rights: CHANGE_RIGHTS_SHOWN,
  overrides: z
    .array(OVERRIDE_DESCRIPTION)
    .describe("The defaults that are set from outside the declaration now."),
}).meta({ id: "ListingDetails", description: "A listing with what a page needs to draw it." });
export type ListingDetails = Shown<typeof LISTING_DETAILS>;

const tag = "listings";

/** Declaring listings. */
export const LISTING_CALLS = describeCalls({
  "GET /v1/listings": {
    tag,
    summary: "The listings that the key may read",
    role: "reader",
    answer: z.object({ listings: z.array(LISTING_DESCRIPTION) }),
  },
  "GET /v1/listings/{name}": {
    tag,
    summary: "A listing as it is declared, with the types of its columns",
    role: "reader",
    answer: LISTING_DETAILS,
  },
  "PUT /v1/listings/{name}": {
    tag,
    summary: "Declare a listing, or a new version of it",
    role: "author",
    body: SENT_LISTING,
    acceptsYaml: true,
    answer: LISTING_DESCRIPTION,
  },
  "DELETE /v1/listings/{name}": {
    tag,
    summary: "Delete a listing; its versions stay",
    role: "author",
    answer: null,
  },
  "POST /v1/listings/{name}/check": {
    tag,
    summary: "What a declaration would change, or all that is wrong with it; nothing is kept",
    role: "author",
    isRead: true,
    body: SENT_LISTING,
    acceptsYaml: true,
    answer: DECLARATION_DIFFERENCE,
  },
  "POST /v1/listings/{name}/check/records": {
    tag,
    summary: "What a declaration would return to a request; nothing is kept",
    role: "author",
    isRead: true,
    takesParameters: true,
    body: SENT_LISTING,
    acceptsYaml: true,
    answer: RECORDS_ANSWER,
  },
  "POST /v1/listings/{name}/copies": {
    tag,
    summary: "Make a listing from this one, narrowed by bound values, with defaults of its own",
    role: "author",
    body: LISTING_COPY,
    acceptsYaml: true,
    answer: COPIED_LISTING,
    status: 201,
  },
  "POST /v1/listings/{name}/rename": {
    tag,
    summary: "Give the listing another name; calls of the old one are redirected for a time",
    role: "author",
    body: LISTING_RENAMING,
    answer: LISTING_DESCRIPTION,
  },
  "GET /v1/listings/{name}/versions": {
    tag,
    summary: "Every version that there was",
    role: "author",
    answer: z.object({ versions: z.array(LISTING_VERSION) }),
  },
  "GET /v1/listings/{name}/versions/{version}": {
    tag,
    summary: "The listing as it was declared in a version",
    role: "author",
    answer: LISTING_DECLARATION,
  },
  "POST /v1/listings/{name}/versions/{version}/revert": {
    tag,
    summary: "Serve a version again, as a new version",
    role: "author",
    answer: LISTING_DESCRIPTION,
  },
  "GET /v1/listings/{name}/windows": {
    tag,
    summary: "Which kinds of windows go with which parameters",
    role: "reader",
    answer: z.object({ kinds: z.array(ALLOWED_KIND) }),
  },
});
