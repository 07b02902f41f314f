import type { ListingDetails } from "@orisma/client";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState } from "react";
import { Failed } from "../frame/Message.js";
import { countedRecords } from "../imports/counted.js";
import { service } from "../service/service.js";
import { leftText, useChanged } from "./changes.js";
import { searchOf, sentOf, type PageState } from "./state.js";

type Action = ListingDetails["rights"]["actions"][number];

/** The changes by name that can be made of all records that are found. */
export function ListingActions(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const [chosen, setChosen] = useState<Action | null>(null);
  return (
    <>
      {listing.rights.actions.map((action) => (
        <button
          key={action.name}
          type="button"
          className="btn btn-sm"
          aria-haspopup="dialog"
          onClick={() => setChosen(action)}
        >
          {action.label} …
        </button>
      ))}
      {chosen === null ? null : (
        <Confirm
          key={chosen.name}
          listing={listing}
          state={state}
          action={chosen}
          onClose={() => setChosen(null)}
        />
      )}
    </>
  );
}

/** Counts what an action is for, and makes it of as many. */
function Confirm(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly action: Action;
  readonly onClose: () => void;
}) {
  const { listing, state, action, onClose } = props;
  const dialog = useRef<HTMLDialogElement>(null);
  const title = useId();
  const report = useChanged();
  const sent = sentOf(listing, state);
  useEffect(() => dialog.current?.showModal(), []);
  const counted = useQuery({
    queryKey: ["counted", listing.name, action.name, searchOf(state).toString()],
    queryFn: () => service.act(listing.name, action.name, { dryRun: true }, sent),
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  const act = useMutation({
    mutationFn: (expected: number) => service.act(listing.name, action.name, { expected }, sent),
    onSuccess: async ({ changed, left, edit }) => {
      onClose();
      const words = `${action.label}: ${countedRecords(changed)} changed`;
      await report({ words, notices: leftText(left), edit });
    },
  });
  const { records = 0, changed = 0 } = counted.data ?? {};
  return (
    <dialog ref={dialog} aria-labelledby={title} className="modal" onClose={onClose}>
      <div className="modal-box max-w-lg rounded-none border-s-4 border-accent bg-base-100">
        <h2 id={title} className="font-sentence text-2xl">
          {action.label}
        </h2>
        <p className="mt-3" aria-live="polite">
          {counted.data === undefined
            ? counted.isError
              ? ""
              : "Counting …"
            : changed === records
              ? `This changes ${countedRecords(records)}: all that are found.`
              : `This changes ${countedRecords(changed)} of ${countedRecords(records)} found; the others are so already.`}
        </p>
        <Failed error={counted.error} title="It cannot be done" />
        <Failed error={act.error} title="Nothing was changed" />
        <div className="mt-5 flex gap-3">
          <button
            type="button"
            className="btn btn-primary"
            disabled={changed === 0 || act.isPending}
            onClick={() => act.mutate(records)}
          >
            {changed === 0 ? action.label : `${action.label}: ${countedRecords(changed)}`}
          </button>
          <button type="button" className="btn" onClick={() => dialog.current?.close()}>
            Cancel
          </button>
        </div>
      </div>
    </dialog>
  );
}
