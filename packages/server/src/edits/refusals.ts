import { MAX_CHANGED } from "@orisma/contract";
import { Problem } from "../http/index.js";

/** Ids that a problem names. */
const MAX_NAMED = 5;

/** What is said of a record that is in the listing no more. */
export const LEFT_LISTING =
  "The record left the listing, since it no longer satisfies its fixed filter.";

/** A listing that does not have some records. */
export function noRecord(...ids: readonly string[]): Problem {
  return new Problem("not-found", `The listing has no record ${named(ids)}`);
}

export function preconditionRequired(id: string): Problem {
  const detail =
    `An edit says which state of the record it is for: send If-Match with the ETag with which record ${id} ` +
    "was read, or If-Match: * to edit it whatever it is";
  return new Problem("precondition-required", detail);
}

export function changedMeanwhile(id: string): Problem {
  const detail = `Record ${id} was changed since it was read. Nothing was changed: read it again.`;
  return new Problem("changed-meanwhile", detail);
}

export function expectedRequired(action: string): Problem {
  const detail =
    `Say for how many records ${action} is: try it with "dryRun": true, and send their number as expected; ` +
    "or name the records as ids";
  return new Problem("precondition-required", detail);
}

export function otherCount(expected: number, found: number): Problem {
  const detail = `The request keeps ${found} records now, not ${expected}. Nothing was changed: look again.`;
  return new Problem("changed-meanwhile", detail);
}

export function tooMany(action: string): Problem {
  const detail =
    `The request keeps more than ${MAX_CHANGED} records, the most that ${action} changes at once. ` +
    "Nothing was changed: narrow the request.";
  return new Problem("too-large", detail);
}

export function changedSince(number: number, ids: readonly string[]): Problem {
  const detail =
    `What edit ${number} changed was changed since, in ${named(ids)}. Nothing was taken back: ` +
    "edit these records yourself";
  return new Problem("changed-meanwhile", detail);
}

function named(ids: readonly string[]): string {
  const rest = ids.length - MAX_NAMED;
  const first = ids.slice(0, MAX_NAMED).join(", ");
  return rest > 0 ? `${first} and ${rest} more` : first;
}
