import type { CopiedListing, ListingDetails } from "@orisma/client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { Link } from "react-router";
import { Message } from "../../frame/Message.js";
import { service } from "../../service/service.js";
import { namesOf, valueOf, type PageState } from "../state.js";

/** Whether the conditions of a view can be changed in the listing that is made of it. */
type Kept = "bound" | "defaults";

/** Makes a listing of what is seen now: its conditions, order and columns. */
export default function SaveView(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const queries = useQueryClient();
  const [title, setTitle] = useState("");
  const [name, setName] = useState("");
  const [kept, setKept] = useState<Kept>("bound");
  const shownName = name === "" ? nameFrom(title) : name;
  const save = useMutation({
    mutationFn: () =>
      service.copyListing(listing.name, {
        name: shownName,
        title: title === "" ? shownName : title,
        ...viewOf(listing, state, kept),
      }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["listings"] }),
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <div className="max-w-3xl">
      <form onSubmit={submit} className="grid gap-4 sm:grid-cols-2">
        <label className="flex flex-col font-medium">
          Title
          <input
            className="input w-full font-normal"
            value={title}
            maxLength={128}
            autoComplete="off"
            onChange={(event) => setTitle(event.target.value)}
          />
        </label>
        <label className="flex flex-col font-medium">
          Name in its address
          <input
            className="input w-full font-normal"
            value={shownName}
            maxLength={64}
            required
            autoComplete="off"
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <fieldset className="sm:col-span-2">
          <legend className="font-medium">The conditions</legend>
          <KeptChoice value="bound" kept={kept} onKept={setKept}>
            cannot be changed by anybody who reads it
          </KeptChoice>
          <KeptChoice value="defaults" kept={kept} onKept={setKept}>
            apply until something else is chosen
          </KeptChoice>
        </fieldset>
        <button
          type="submit"
          className="btn btn-primary justify-self-start"
          disabled={save.isPending || shownName === ""}
        >
          Save the listing
        </button>
      </form>
      {save.isError ? (
        <Message kind="error" title="The listing was not saved">
          {save.error.message}.
        </Message>
      ) : null}
      {save.data === undefined ? null : <Saved copied={save.data} origin={listing.title} />}
    </div>
  );
}

function KeptChoice(props: {
  readonly value: Kept;
  readonly kept: Kept;
  readonly onKept: (kept: Kept) => void;
  readonly children: string;
}) {
  const { value, kept, onKept, children } = props;
  return (
    <label className="flex items-center gap-2">
      <input
        type="radio"
        name="kept"
        className="radio radio-sm"
        checked={kept === value}
        onChange={() => onKept(value)}
      />
      {children}
    </label>
  );
}

function Saved(props: { readonly copied: CopiedListing; readonly origin: string }) {
  const { listing, differences, alike } = props.copied;
  return (
    <div className="mt-3">
      <Message kind="info" title="Saved">
        <Link to={`/listings/${listing.name}`} className="link font-semibold">
          {listing.title}
        </Link>
        {differences.length === 0 ? ` is like ${props.origin} in all but its name.` : " has:"}
        <ul className="list-inside list-disc">
          {differences.map((each) => (
            <li key={each}>{each}</li>
          ))}
        </ul>
        {alike.length === 0 ? null : `The same conditions and defaults: ${alike.join(", ")}.`}
      </Message>
    </div>
  );
}

/** A name in an address from a title: letters, digits and hyphens. */
function nameFrom(title: string): string {
  return title
    .normalize("NFD")
    .replace(/[^\w\s-]/g, "")
    .trim()
    .toLowerCase()
    .replace(/[\s_]+/g, "-")
    .replace(/^[^a-z]+/, "")
    .slice(0, 64);
}

/** What a view says of a listing: its conditions, and its order and columns where they are others. */
function viewOf(listing: ListingDetails, state: PageState, kept: Kept) {
  const own = new Set(listing.parameters.flatMap(namesOf));
  const defaultable = new Set(listing.parameters.map(({ name }) => name));
  const mayBind = (name: string) => own.has(name) || name === "filter";
  const [bound, defaults]: [Record<string, string[]>, Record<string, string[]>] = [{}, {}];
  for (const [name, values] of Object.entries(state)) {
    if (!mayBind(name)) continue;
    // Blanks and conditions in CQL2 have no default.
    const into = kept === "defaults" && defaultable.has(name) ? defaults : bound;
    into[name] = [...values];
  }
  const [order, columns] = [valueOf(state, "order"), valueOf(state, "columns")];
  return {
    bound,
    defaults,
    ...(order === "" ? {} : { order }),
    ...(columns === "" ? {} : { columns: columns.split(",") }),
  };
}
