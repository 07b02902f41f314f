import type { CreatedFeed, FeedDescription, ListingDetails } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { whenText } from "../dates/words.js";
import { Failed, Message } from "../frame/Message.js";
import { countedRecords } from "../imports/counted.js";
import { service } from "../service/service.js";
import { searchOf, sentOf, withParameters, type PageState } from "./state.js";

/** What is found as a calendar or a feed: to be saved, or followed under an address that needs no key. */
export default function FeedAddresses(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const { name } = listing;
  const queries = useQueryClient();
  const [forWhom, setForWhom] = useState("");
  const feeds = useQuery({ queryKey: ["feeds", name], queryFn: () => service.feeds(name) });
  const create = useMutation({
    mutationFn: () =>
      service.createFeed(name, { name: forWhom, parameters: sentOf(listing, state) }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["feeds", name] }),
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    create.mutate();
  };
  const query = searchOf(withParameters(state, { size: [], columns: [] })).toString();
  const file = (format: string) =>
    `/v1/listings/${encodeURIComponent(name)}/records.${format}?${query}`;
  return (
    <div className="max-w-3xl">
      <p className="flex flex-wrap gap-x-3">
        <span>What is found now as</span>
        <a className="link" download href={file("ics")}>
          calendar
        </a>
        <a className="link" href={file("atom")}>
          Atom feed
        </a>
      </p>
      <form onSubmit={submit} className="mt-4 flex flex-wrap items-end gap-3">
        <label className="flex flex-col font-medium">
          A private address, for
          <input
            className="input font-normal"
            value={forWhom}
            maxLength={64}
            required
            autoComplete="off"
            placeholder="the crew's calendar"
            onChange={(event) => setForWhom(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-primary" disabled={create.isPending}>
          Make the address
        </button>
      </form>
      <p className="mt-1 text-sm opacity-80">
        Whoever has the address reads these records without a key, until it is revoked.
      </p>
      <Failed error={create.error} title="The address was not made" />
      {create.data === undefined ? null : <Made feed={create.data} />}
      <Failed error={feeds.error} title="The addresses cannot be shown" />
      <ul className="mt-4">
        {(feeds.data ?? []).map((feed) => (
          <Address key={feed.id} feed={feed} />
        ))}
      </ul>
    </div>
  );
}

function Made({ feed: { calendar, feed } }: { readonly feed: CreatedFeed }) {
  return (
    <div className="mt-3">
      <Message kind="info" title="The address is shown only now">
        <ul>
          {[
            ["calendar", calendar],
            ["Atom feed", feed],
          ].map(([what, address]) => (
            <li key={what} className="mt-1 flex flex-wrap items-baseline gap-x-3">
              <span>{what}</span>
              <code className="break-all">{address}</code>
            </li>
          ))}
        </ul>
      </Message>
    </div>
  );
}

function Address({ feed }: { readonly feed: FeedDescription }) {
  const { id, name, listing, delivered, broken } = feed;
  const queries = useQueryClient();
  const revoke = useMutation({
    mutationFn: () => service.revokeFeed(listing, id),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["feeds", listing] }),
  });
  return (
    <li className="flex flex-wrap items-baseline gap-x-3">
      <span className="font-semibold">{name}</span>
      <span className="opacity-80">
        {delivered === null
          ? "not read yet"
          : `read ${whenText(delivered.at)}: ${countedRecords(delivered.records)}`}
      </span>
      {broken === undefined ? null : <span className="text-error">refused now: {broken}</span>}
      <button
        type="button"
        className="link"
        disabled={revoke.isPending}
        onClick={() => revoke.mutate()}
      >
        Revoke the address
      </button>
      <Failed error={revoke.error} title="The address was not revoked" />
    </li>
  );
}
