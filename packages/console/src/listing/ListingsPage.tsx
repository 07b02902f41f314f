import type { ListingDescription } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";

/** The listings that the reader may see, each with its parameters. */
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

function Listings({ listings }: { readonly listings: readonly ListingDescription[] }) {
  const mayDeclare = useMay("author");
  const sources = [...new Set(listings.map(({ source }) => source))].sort();
  return (
    <>
      <div className="flex flex-wrap items-baseline justify-between gap-4">
        <h1 className="font-sentence text-2xl">Listings</h1>
        {mayDeclare ? (
          <Link to="/declare" className="link">
            Declare a listing
          </Link>
        ) : null}
      </div>
      <div className="mt-6 grid gap-x-12 gap-y-8 lg:grid-cols-2">
        {sources.map((source) => (
          <section key={source} aria-labelledby={`of-${source}`}>
            <h2 id={`of-${source}`} className="text-sm opacity-75">
              of {source}
            </h2>
            <ul className="mt-1 border-t-2 border-base-300">
              {listings
                .filter((each) => each.source === source)
                .map(({ name, title, mainDate, parameters, broken }) => (
                  <li key={name} className="border-b border-base-300 py-2">
                    <Link to={`/listings/${name}`} className="font-sentence text-lg underline">
                      {title}
                    </Link>
                    <p className="text-sm opacity-75">
                      date: {mainDate}
                      {filtersInWords(parameters.map((each) => each.label ?? each.name))}
                    </p>
                    {broken === undefined ? null : (
                      <p className="text-sm text-error">
                        Not available: it does not fit its source any more: {broken}
                      </p>
                    )}
                  </li>
                ))}
            </ul>
          </section>
        ))}
      </div>
    </>
  );
}

function filtersInWords(names: readonly string[]): string {
  return names.length === 0 ? "" : ` · filters: ${names.join(", ")}`;
}
