import {
  MOMENT_PARAMETERS,
  type ListingDeclaration,
  type MomentParameter,
  type Zone,
} from "@orisma/core";
import { mayAs } from "../access/index.js";
import type { Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";

/** Of the parameters that say when and where a request is understood those that a caller may send. */
export function permittedTo(
  caller: Caller,
  { permits = {} }: ListingDeclaration,
): readonly MomentParameter[] {
  return MOMENT_PARAMETERS.filter((name) => {
    const least = permits[name] ?? "maker";
    return least !== "nobody" && mayAs(least, caller);
  });
}

/** A listing whose days begin and end in another zone: its windows, its timeline, its words. */
export function inZone(listing: ServedListing, zone: Zone): ServedListing {
  if (zone.id === listing.zone.id) return listing;
  const zones = inZones.get(listing) ?? new Map<string, ServedListing>();
  inZones.set(listing, zones);
  const held = zones.get(zone.id);
  if (held !== undefined) return held;
  const made = { ...listing, zone, declaration: { ...listing.declaration, zone: zone.id } };
  zones.set(zone.id, made);
  return made;
}

/** Made once for each zone: what is read of a declaration is held by it. */
const inZones = new WeakMap<ServedListing, Map<string, ServedListing>>();
