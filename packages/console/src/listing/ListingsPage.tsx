import type { ListingDescription } from "@orisma/client";
import type { CountedAnswer, ExtentAnswer } from "@orisma/core/internal";
import { useQueries, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";
import { dayText } from "../dates/words.js";
import { OWN_ZONE, localText } from "../dates/zones.js";
import { totalText } from "./counts.js";

/** The listings that the reader may see: what each holds, and by what it is filtered. */
export function ListingsPage() {
  const listings = useQuery({
    queryKey: ["listings"],
    queryFn: ({ signal }) => service.listings(signal),
  });
  useEffect(() => {
    document.title = "Listings – Orisma";
  }, []);
  return (
    <Frame>
      {listings.isError ? (
        <Message kind="error" title="The listings could not be read">
          {listings.error.message}
        </Message>
      ) : listings.data === undefined ? (
        <div className="skeleton h-96 w-full" />
      ) : listings.data.length === 0 ? (
        <Message kind="info" title="There is no listing yet">
          <Link to="/sources" className="link">
            Import a file in
          </Link>
          , then{" "}
          <Link to="/declare" className="link">
            declare a listing
          </Link>{" "}
          over it.
        </Message>
      ) : (
        <Listings listings={listings.data} />
      )}
    </Frame>
  );
}

/** Rows up to which what a listing holds is asked for; beyond them a search narrows the rows. */
const MAX_ASKED = 40;

function Listings({ listings }: { readonly listings: readonly ListingDescription[] }) {
  const mayDeclare = useMay("author");
  const [search, setSearch] = useState("");
  const wanted = search.trim().toLowerCase();
  const hasUses = listings.some(({ lastUsedAt }) => lastUsedAt !== undefined);
  const found = listings
    .filter(({ name, title, source }) =>
      [name, title, source].some((each) => each.toLowerCase().includes(wanted)),
    )
    .toSorted((a, b) => a.source.localeCompare(b.source) || a.title.localeCompare(b.title));
  const held = useQueries({
    queries: found.slice(0, MAX_ASKED).map(({ name, version, broken }) => ({
      queryKey: ["held", name, version],
      queryFn: ({ signal }: { signal: AbortSignal }) => heldBy(name, signal),
      enabled: broken === undefined,
      staleTime: 60_000,
      // A listing that must be asked for something says so on its own page.
      retry: false,
    })),
  });
  return (
    <>
      <div className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="font-sentence text-2xl">Listings</h1>
        <div className="flex flex-wrap items-center gap-4">
          <input
            type="search"
            aria-label="Find a listing"
            placeholder="Find a listing"
            className="input input-sm w-64"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
          {mayDeclare ? (
            <Link to="/declare" className="btn btn-primary btn-sm">
              Declare a listing
            </Link>
          ) : null}
        </div>
      </div>
      <div className="mt-4 overflow-x-auto">
        <table className="table tabular-nums [&_td]:px-2 [&_td]:py-1 [&_th]:px-2 [&_th]:py-1.5">
          <thead className="text-base-content">
            <tr className="border-b-2 border-base-300">
              <th scope="col">Listing</th>
              <th scope="col">Source</th>
              <th scope="col" className="text-end">
                Records
              </th>
              <th scope="col">Date</th>
              <th scope="col">First</th>
              <th scope="col">Last</th>
              {hasUses ? <th scope="col">Last used</th> : null}
              <th scope="col">Filters</th>
            </tr>
          </thead>
          <tbody>
            {found.map((listing, row) => (
              <ListingRow
                key={listing.name}
                listing={listing}
                held={held[row]?.data}
                hasUses={hasUses}
              />
            ))}
          </tbody>
        </table>
      </div>
      {found.length === 0 ? <p className="mt-4">No listing has “{search}” in it.</p> : null}
      {found.length > MAX_ASKED ? (
        <p className="mt-4 text-sm">
          What they hold is shown of the first {MAX_ASKED}: find the others by name.
        </p>
      ) : null}
    </>
  );
}

/** How many records a listing has, and between which dates; nothing where it must be asked for something. */
async function heldBy(name: string, signal: AbortSignal): Promise<Held> {
  const [[count], { extent }] = await Promise.all([
    service.counts(name, [{}], signal),
    service.extent(name, {}, signal),
  ]);
  return { count, extent };
}

interface Held {
  readonly count: CountedAnswer | undefined;
  readonly extent: ExtentAnswer["extent"];
}

/** The day of an instant for whoever reads it, with the time where that is today. */
function sinceText(instant: string): string {
  const [day = "", time = ""] = localText(instant, OWN_ZONE).split("T");
  const [today] = localText(new Date().toISOString(), OWN_ZONE).split("T");
  return day === today ? `today, ${time.slice(0, 5)}` : dayText(day);
}

function ListingRow(props: {
  readonly listing: ListingDescription;
  /** What it holds; undefined until that is known. */
  readonly held: Held | undefined;
  /** Whether it is shown when it was last used, which only authors see. */
  readonly hasUses: boolean;
}) {
  const { listing, held, hasUses } = props;
  const { name, title, source, mainDate, parameters, broken, zone, lastUsedAt } = listing;
  const day = (edge: string | null | undefined) =>
    edge == null ? "–" : dayText(localText(edge, zone).split("T")[0] ?? "");
  return (
    <tr className="border-base-300 hover:bg-base-200">
      <th scope="row" className="font-normal">
        <Link
          to={`/listings/${name}`}
          className="font-sentence text-lg whitespace-nowrap underline"
        >
          {title}
        </Link>
        {broken === undefined ? null : (
          <p className="text-sm text-error">
            Not available: it does not fit its source any more: {broken}
          </p>
        )}
      </th>
      <td className="whitespace-nowrap">{source}</td>
      <td className="text-end whitespace-nowrap">
        {held?.count === undefined || held.count.faults !== undefined ? "" : totalText(held.count)}
      </td>
      <td className="whitespace-nowrap">{listing.labels?.[mainDate] ?? mainDate}</td>
      <td className="whitespace-nowrap">
        {held === undefined ? "" : day(held.extent[mainDate]?.first)}
      </td>
      <td className="whitespace-nowrap">
        {held === undefined ? "" : day(held.extent[mainDate]?.last)}
      </td>
      {hasUses ? (
        <td className="whitespace-nowrap" title={lastUsedAt ?? undefined}>
          {lastUsedAt == null ? "never" : sinceText(lastUsedAt)}
        </td>
      ) : null}
      <td className="text-sm">
        {parameters.map((each) => each.label ?? each.name).join(", ") || "–"}
      </td>
    </tr>
  );
}
