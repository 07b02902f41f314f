import type { EditDescription, ListingDetails } from "@orisma/client";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { whenText } from "../dates/words.js";
import { Failed } from "../frame/Message.js";
import { countedRecords } from "../imports/counted.js";
import { service } from "../service/service.js";
import { useChanged } from "./changes.js";

/** Edits that are shown at first, and more each time. */
const STEP = 20;
/** Cells of an edit that are shown. */
const MAX_CELLS = 5;

/** What was changed in a listing, by whom, and the way back. */
export default function EditHistory({ listing }: { readonly listing: ListingDetails }) {
  const [limit, setLimit] = useState(STEP);
  const edits = useQuery({
    queryKey: ["edits", listing.name, limit],
    queryFn: ({ signal }) => service.edits(listing.name, { limit: limit + 1 }, signal),
  });
  const all = edits.data ?? [];
  return (
    <div className="max-w-4xl">
      <Failed error={edits.error} title="The edits cannot be shown" />
      {edits.data?.length === 0 ? <p>Nothing was edited in this listing.</p> : null}
      <ol aria-label="Edits">
        {all.slice(0, limit).map((edit) => (
          <OneEdit key={edit.number} listing={listing} edit={edit} />
        ))}
      </ol>
      {all.length > limit ? (
        <button type="button" className="link" onClick={() => setLimit(limit + STEP)}>
          Earlier edits
        </button>
      ) : null}
    </div>
  );
}

function OneEdit(props: { readonly listing: ListingDetails; readonly edit: EditDescription }) {
  const { listing, edit } = props;
  const { number, at, by, records, undoes, undoneBy, cells } = edit;
  const labels = listing.labels ?? {};
  const report = useChanged();
  const undo = useMutation({
    mutationFn: () => service.undoEdit(listing.name, number),
    onSuccess: ({ changed }) =>
      report({ words: `Taken back: ${countedRecords(changed)} changed`, notices: [], edit: null }),
  });
  const rest = cells.length - MAX_CELLS;
  return (
    <li className="border-t border-base-300 py-2">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-semibold">{whatText(edit, listing)}</span>
        <span>{countedRecords(records)}</span>
        <span className="opacity-80">
          {by}, {whenText(at)}
        </span>
        {undoneBy !== null ? (
          <span className="opacity-80">taken back</span>
        ) : undoes === null ? (
          <button
            type="button"
            className="link"
            disabled={undo.isPending}
            onClick={() => undo.mutate()}
          >
            Undo
          </button>
        ) : null}
      </p>
      <ul className="text-sm tabular-nums">
        {cells.slice(0, MAX_CELLS).map(({ id, column, before, after }) => (
          <li key={`${id} ${column}`}>
            {id}, {labels[column] ?? column}: {textIn(before)} → {textIn(after)}
          </li>
        ))}
        {rest > 0 ? <li>and more</li> : null}
      </ul>
      <Failed error={undo.error} title="It was not taken back" />
    </li>
  );
}

function textIn(cell: string | null): string {
  return cell === null || cell === "" ? "blank" : cell;
}

function whatText({ action, undoes }: EditDescription, { rights }: ListingDetails): string {
  if (undoes !== null) return "Undo";
  if (action === null) return "Edit";
  return rights.actions.find(({ name }) => name === action)?.label ?? action;
}
