import { createHash } from "node:crypto";
import type { ServedListing } from "../listings/index.js";
import type { StoredRecord } from "../sources/index.js";

/** The columns whose change makes a record another to whoever edits it: those that are shown and stored. */
export function taggedColumns({ shown, ofSource }: ServedListing): readonly string[] {
  const stored = new Set(ofSource.table?.columns.keys() ?? []);
  return shown.filter((name) => stored.has(name));
}

/** A hash of what the shown cells of a record hold. */
export function recordTag({ id, cells }: StoredRecord): string {
  const content = JSON.stringify([id, ...cells]);
  return createHash("sha256").update(content).digest("base64url").slice(0, 22);
}

/**
 * Whether a record is still as whoever edits it has read it (RFC 9110, section 13.1.1). The entity tag of a record
 * ends with the hash of its cells, which alone counts here: what is worked out of other records may have changed.
 */
export function isAsRead(ifMatch: string, tag: string): boolean {
  const tags = ifMatch.split(",").map((each) => each.trim());
  return tags.some((each) => each === "*" || each.endsWith(`.${tag}"`));
}
