import type { ListingDetails } from "@orisma/client";
import {
  ISO_CALENDAR,
  UTC,
  clausesOf,
  epochMs,
  evaluate,
  findZone,
  listingForms,
  planRequest,
  type Clause,
  type PlannedRequest,
  type Row,
} from "@orisma/core/internal";
import { CATALOGUE, COLUMNS } from "../../../test/trees.js";
import { searchOf, stateOf, type PageState } from "../src/listing/state.js";

const LONDON = findZone("Europe/London");
/** Where the listings here are. */
export const ZONE = LONDON.ok ? LONDON.value : UTC;

/** A listing over the columns of random records. */
export function listingWith(
  parameters: ListingDetails["parameters"],
  isCompound: boolean,
): ListingDetails {
  return {
    name: "all",
    title: "All",
    source: "all",
    zone: ZONE.id,
    mainDate: "of date",
    parameters,
    columns: [],
    order: { allowed: ["of date"], default: "of date" },
    page: { size: 50, max: 500 },
    reversed: "swap",
    ...(isCompound ? { filter: { columns: "all" } } : {}),
    version: 1,
    key: null,
    rights: { editable: [], actions: [] },
    overrides: [],
    shown: COLUMNS,
    filterColumns: isCompound ? COLUMNS : [],
    namedWindows: [],
  };
}

/** What a page asks of a listing, by way of its address; throws where it would be refused. */
function planned(listing: ListingDetails, state: PageState): PlannedRequest {
  const forms = listingForms(listing);
  const found = planRequest(listing, new Map(Object.entries(stateOf(searchOf(state)))), {
    asOf: epochMs(Date.UTC(2025, 1, 15)),
    zone: ZONE,
    calendar: ISO_CALENDAR,
    columns: CATALOGUE,
    caller: "upper-vale",
    allowed: [],
    forms: forms.ok ? forms.value : new Map(),
  });
  if (found.ok) return found.value;
  throw new Error(`${searchOf(state).toString()}: ${JSON.stringify(found.faults)}`);
}

/** Whether a page of a listing has a record. */
export function keeps(listing: ListingDetails, state: PageState, record: Row): boolean {
  return evaluate(planned(listing, state).requested.filter, record, CATALOGUE);
}

/** The clauses of a page's sentence that are conditions. */
export function clausesIn(listing: ListingDetails, state: PageState): readonly Clause[] {
  const all = clausesOf(listing, planned(listing, state));
  return all.filter(({ parameters }) => !parameters.includes("order"));
}
