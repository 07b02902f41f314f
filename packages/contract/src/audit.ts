import { z } from "zod";
import { describeCalls } from "./call.js";
import type { Shown } from "./schema.js";

/** What an entry of the audit trail says of what was read or changed. */
export const AUDIT_DETAILS = z
  .object({
    windows: z
      .array(z.looseObject({}))
      .describe("The windows that were applied, by column, with their bounds.")
      .exactOptional(),
    masked: z
      .array(z.string())
      .describe("Parameters that were sent with values that are people's own: not kept.")
      .exactOptional(),
    total: z.number().nullable().describe("Records that the request found.").exactOptional(),
    records: z.number().describe("Records that were sent, or imported.").exactOptional(),
    format: z.string().exactOptional(),
    cut: z.literal(true).describe("The client went away before the end.").exactOptional(),
    lost: z.number().describe("Entries that could not be written.").exactOptional(),
  })
  .meta({ id: "AuditDetails" });
export type AuditDetails = Shown<typeof AUDIT_DETAILS>;

export const AUDIT_ENTRY = z
  .object({
    id: z.string(),
    at: z.string(),
    caller: z.string().nullable().describe("The id of the key, or session; null for nobody known."),
    name: z.string().nullable().describe("The name of the key at that time."),
    address: z.string().nullable(),
    action: z.string().describe("Method and path, as the call is declared."),
    target: z.string().nullable().describe("The listing, source or other name in its path."),
    status: z.number(),
    details: AUDIT_DETAILS.nullable(),
  })
  .meta({ id: "AuditEntry", description: "Who did what, and when." });
export type AuditEntry = Shown<typeof AUDIT_ENTRY>;

const INSTANT = z.union(
  [z.iso.datetime({ offset: true }), z.iso.date()],
  "a date or an instant such as 2027-01-31T12:00:00Z",
);
const LIMIT = "a whole number from 1 to 1000";

export const AUDIT_CALLS = describeCalls({
  "GET /v1/audit": {
    tag: "service",
    summary: "Who read, exported and changed what, and when; the latest first",
    role: "owner",
    query: z.strictObject({
      from: INSTANT.describe("Only entries from this date or instant on.").exactOptional(),
      before: INSTANT.describe("Only entries before this date or instant.").exactOptional(),
      caller: z.string().describe("The name of a key.").exactOptional(),
      action: z
        .string()
        .describe("Method and path, such as PUT /v1/listings/{name}.")
        .exactOptional(),
      target: z.string().describe("The listing, source or other name in the path.").exactOptional(),
      limit: z
        .string()
        .regex(/^\d{1,4}$/, LIMIT)
        .transform(Number)
        .refine((number) => number >= 1 && number <= 1_000, LIMIT)
        .exactOptional(),
      cursor: z.string().describe("What next of the page before was.").exactOptional(),
    }),
    answer: z.object({
      entries: z.array(AUDIT_ENTRY),
      next: z.string().nullable().describe("The cursor of the next page; null after the last."),
    }),
    otherMedia: ["application/x-ndjson"],
  },
});
