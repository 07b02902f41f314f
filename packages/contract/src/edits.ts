import { CHANGE_RIGHTS } from "@orisma/core/internal";
import { z } from "zod";
import { describeCalls } from "./call.js";
import { EDIT_VALUE } from "./declaration.js";
import { RECORD_ANSWER } from "./record-values.js";
import type { Shown } from "./schema.js";

/** Records that one action changes at most. */
export const MAX_CHANGED = 10_000;

const EDITED_RECORD = z
  .object({
    record: RECORD_ANSWER.nullable().describe(
      "The record as it is now; null where the listing does not have it any more.",
    ),
    isIn: z.boolean().describe("Whether the request still keeps it."),
    edit: z.number().nullable().describe("The number of the edit; null where nothing changed."),
    notices: z.array(z.string()),
  })
  .meta({ id: "EditedRecord", description: "A record after an edit." });
export type EditedRecord = Shown<typeof EDITED_RECORD>;

const ACTION_REPORT = z
  .object({
    records: z.number().describe("Records that the action is for."),
    changed: z.number().describe("Those of them that it changes: the others are so already."),
    left: z
      .number()
      .nullable()
      .describe(
        "Those that the request does not keep any more; null where that was not looked at.",
      ),
    edit: z
      .number()
      .nullable()
      .describe("The number of the edit; null where nothing changed, or where it was only tried."),
  })
  .meta({ id: "ActionReport", description: "What an action changed, or would change." });
export type ActionReport = Shown<typeof ACTION_REPORT>;

export const EDIT_DESCRIPTION = z
  .object({
    number: z.number(),
    at: z.string(),
    by: z.string().describe("The name of whoever made it."),
    listing: z.string().nullable().describe("Null for a repair of the source."),
    action: z.string().nullable(),
    records: z.number().describe("Records that it changed."),
    undoes: z.number().nullable().describe("The edit that it takes back."),
    undoneBy: z.number().nullable().describe("The edit that takes it back."),
    cells: z
      .array(
        z.object({
          id: z.string(),
          column: z.string(),
          before: z.string().nullable().describe("The text as it was stored."),
          after: z.string().nullable(),
        }),
      )
      .describe("Of columns that are shown, 100 at most."),
  })
  .meta({ id: "EditDescription", description: "An edit, as the history of a listing has it." });
export type EditDescription = Shown<typeof EDIT_DESCRIPTION>;

/** What a caller may change in a listing. */
export const CHANGE_RIGHTS_SHOWN = z
  .object({
    editable: z.array(z.string()).describe("The columns that the caller may edit."),
    actions: z
      .array(z.object({ name: z.string(), label: z.string() }))
      .describe("The actions that the caller may use."),
  })
  .meta({
    id: "ChangeRights",
    description: `What the caller may do: ${CHANGE_RIGHTS.join(", ")}.`,
  });
export type ChangeRights = Shown<typeof CHANGE_RIGHTS_SHOWN>;

/** A number from 1 to `max` as it stands in a URL. */
function countText(max: number) {
  const words = `a whole number from 1 to ${max}`;
  return z
    .string()
    .regex(/^\d{1,9}$/, words)
    .transform(Number)
    .refine((number) => number >= 1 && number <= max, words);
}

const tag = "edits";

/** Changing the records of a listing: cells that it lets be edited, and actions that it names. */
export const EDIT_CALLS = describeCalls({
  "PATCH /v1/listings/{name}/records/{id}": {
    tag,
    summary:
      "Edit cells of a record, with If-Match: the ETag of the record as it was read, or * whatever it is",
    role: "reader",
    takesParameters: true,
    body: z.strictObject({
      values: z
        .record(z.string(), EDIT_VALUE)
        .describe("The value of each column; null empties the cell."),
    }),
    answer: EDITED_RECORD,
    problems: ["busy", "changed-meanwhile", "precondition-required", "already-there"],
    example: { values: { status: "finished", finished_on: "today" } },
  },
  "POST /v1/listings/{name}/actions/{action}": {
    tag,
    summary:
      "Make a change that the listing names, on some records or on all that the request keeps",
    role: "reader",
    takesParameters: true,
    body: z.strictObject({
      ids: z.array(z.string().min(1)).min(1).max(MAX_CHANGED).exactOptional(),
      expected: z
        .int()
        .min(0)
        .describe("How many records it is for, as shown before: required without ids.")
        .exactOptional(),
      dryRun: z.boolean().default(false).describe("Count them only."),
    }),
    answer: ACTION_REPORT,
    problems: ["busy", "changed-meanwhile", "precondition-required", "already-there"],
    example: { dryRun: true },
  },
  "GET /v1/listings/{name}/edits": {
    tag,
    summary: "The edits that were made in the listing, or those of one record; the latest first",
    role: "reader",
    query: z.object({
      record: z.string().describe("The id of a record.").exactOptional(),
      before: countText(999_999_999).describe("Only edits with a lower number").exactOptional(),
      limit: countText(1_000).describe("Edits at most; 100 by default").exactOptional(),
    }),
    answer: z.object({ edits: z.array(EDIT_DESCRIPTION) }),
  },
  "POST /v1/listings/{name}/edits/{number}/undo": {
    tag,
    summary: "Take an edit back, where its cells are still as it made them",
    role: "reader",
    answer: ACTION_REPORT,
    problems: ["busy", "changed-meanwhile", "already-there"],
  },
});
