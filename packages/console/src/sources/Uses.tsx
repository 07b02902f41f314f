import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { service } from "../service/service.js";

/** What stands on a column: listings that speak of it, sources that are made of it, its edits. */
export function Uses({ source, column }: { readonly source: string; readonly column: string }) {
  const uses = useQuery({
    meta: { doing: "Looking for what stands on the column" },
    queryKey: ["uses", source, column],
    queryFn: ({ signal }) => service.columnUses(source, column, signal),
  });
  if (uses.data === undefined) return null;
  const { listings, sources, edits } = uses.data;
  if (listings.length + sources.length + edits === 0) return null;
  return (
    <div>
      <h3 className="font-semibold">Stands on this column</h3>
      <ul className="mt-1 list-disc pl-5">
        {listings.map(({ listing, places }) => (
          <li key={listing}>
            <Link className="link" to={`/listings/${encodeURIComponent(listing)}`}>
              {listing}
            </Link>
            : {places.join(", ")}
          </li>
        ))}
        {sources.map((each) => (
          <li key={each}>
            <Link className="link" to={`/sources/${encodeURIComponent(each)}`}>
              {each}
            </Link>
            : a source that is made of it
          </li>
        ))}
        {edits === 0 ? null : (
          <li>
            {edits.toLocaleString("en-GB")} edited {edits === 1 ? "cell" : "cells"}
          </li>
        )}
      </ul>
    </div>
  );
}
