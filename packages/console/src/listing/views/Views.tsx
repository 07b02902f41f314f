import type { ListingDetails, View } from "@orisma/client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { Link } from "react-router";
import { Failed } from "../../frame/Message.js";
import { service } from "../../service/service.js";
import { useMay } from "../../service/session.js";
import type { PageState } from "../state.js";
import { searchOfView, useViews, viewShown, viewedOf } from "./views.js";

/** One's own views of a listing: kept under a name, opened, made the one that it opens with, deleted. */
export default function Views(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const views = useViews(listing.name);
  const shown = viewShown(views.data, listing, state);
  return (
    <div className="max-w-3xl">
      <KeepView listing={listing} state={state} shown={shown} />
      <Failed error={views.error} title="The views cannot be shown" />
      {views.data === undefined || views.data.length === 0 ? null : (
        <table className="table mt-4 w-auto">
          <thead>
            <tr>
              <th scope="col">View</th>
              <th scope="col">Opens with the listing</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {views.data.map((view) => (
              <Kept key={view.name} listing={listing.name} view={view} isShown={view === shown} />
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function KeepView(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly shown: View | undefined;
}) {
  const { listing, state, shown } = props;
  const [name, setName] = useState("");
  const [isDefault, setDefault] = useState(false);
  const keep = usePut(listing.name);
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    const view = { name: name.trim(), parameters: viewedOf(listing, state), isDefault };
    keep.mutate(view, { onSuccess: () => setName("") });
  };
  return (
    <>
      <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col font-medium">
          Keep what is shown now as
          <input
            className="input font-normal"
            value={name}
            maxLength={64}
            required
            autoFocus
            autoComplete="off"
            placeholder="Late works of the Weir"
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="flex h-10 items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={isDefault}
            onChange={(event) => setDefault(event.target.checked)}
          />
          the listing opens with it
        </label>
        <button
          type="submit"
          className="btn btn-primary"
          disabled={keep.isPending || name.trim() === ""}
        >
          Keep the view
        </button>
      </form>
      <p role="status" className="mt-1 text-sm opacity-80">
        {shown === undefined
          ? "Conditions, order and columns are kept, for you alone. Dates go on moving as they do now."
          : `What is shown now is kept as “${shown.name}”.`}
      </p>
      <Failed error={keep.error} title="The view was not kept" />
    </>
  );
}

function usePut(listing: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ name, parameters, isDefault }: Omit<View, "savedAt">) =>
      service.putView(listing, name, { parameters, isDefault }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["views", listing] }),
  });
}

function Kept(props: { readonly listing: string; readonly view: View; readonly isShown: boolean }) {
  const { listing, view, isShown } = props;
  const queries = useQueryClient();
  const mayDeclare = useMay("author");
  const put = usePut(listing);
  const remove = useMutation({
    mutationFn: () => service.deleteView(listing, view.name),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["views", listing] }),
  });
  const search = searchOfView(view);
  return (
    <tr>
      <th scope="row">
        <Link
          to={{ search, hash: "#views" }}
          className="link font-semibold"
          aria-current={isShown ? "true" : undefined}
        >
          {view.name}
        </Link>
      </th>
      <td>
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          aria-label={`The listing opens with ${view.name}`}
          checked={view.isDefault}
          disabled={put.isPending}
          onChange={(event) => put.mutate({ ...view, isDefault: event.target.checked })}
        />
        <Failed error={put.error ?? remove.error} title="The view was not changed" />
      </td>
      <td className="flex gap-3">
        {mayDeclare ? (
          <Link to={{ search, hash: "#save" }} className="link">
            Save as a listing
          </Link>
        ) : null}
        <button
          type="button"
          className="link"
          aria-label={`Delete the view ${view.name}`}
          disabled={remove.isPending}
          onClick={() => remove.mutate()}
        >
          Delete
        </button>
      </td>
    </tr>
  );
}
