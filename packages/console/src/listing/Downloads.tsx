import type { ListingDetails } from "@orisma/client";
import { searchOf, withParameters, type PageState } from "./state.js";

const FORMATS = [
  ["csv", "CSV"],
  ["xlsx", "Excel workbook"],
  ["ndjson", "NDJSON"],
] as const;

/** All that is found, whatever its size, in each format. */
export function Downloads(props: { readonly listing: ListingDetails; readonly state: PageState }) {
  const { listing, state } = props;
  const queryOf = (format: string) => {
    // A program for sheets would take text that begins like a formula for one.
    const extras = format === "csv" ? { with: ["escaped"] } : {};
    return searchOf(withParameters(state, { size: [], ...extras })).toString();
  };
  return FORMATS.map(([format, name]) => (
    <li key={format}>
      <a
        download
        href={`/v1/listings/${encodeURIComponent(listing.name)}/records.${format}?${queryOf(format)}`}
      >
        {name}
      </a>
    </li>
  ));
}
