import { fault } from "@orisma/core/internal";
import { Problem } from "../http/index.js";
import type { KnownSource } from "./columns.js";

/** A listing that a change of its source would end, and what would not fit any more. */
export interface BrokenListing {
  readonly listing: string;
  readonly reason: string;
}

/** What stands on sources: reports which listings sources would break as they are to be, by name. */
export type Dependants = (changed: ReadonlyMap<string, KnownSource>) => readonly BrokenListing[];

/** Throws a problem that names the listings which would break. */
export function refuseBreaking(source: string, broken: readonly BrokenListing[]): void {
  if (broken.length === 0) return;
  const names = broken.map(({ listing }) => listing).join(", ");
  const detail =
    `Nothing was changed, since ${names} would no longer be served: ` +
    `${broken.map(({ listing, reason }) => `${listing}: ${reason}`).join("; ")}. ` +
    `Declare otherwise what needs these columns of ${source}, or say force to do it all the same`;
  const faults = broken.map((each) => fault("listing.breaks", each));
  throw new Problem("breaks-listings", detail, faults);
}
