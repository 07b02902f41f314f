import type { ListingDetails } from "@orisma/client";
import { useMutation } from "@tanstack/react-query";
import { Failed } from "../frame/Message.js";
import { service } from "../service/service.js";
import { leftText, useChanged } from "./changes.js";
import { sentOf, type PageState } from "./state.js";

/** The changes by name that can be made of one record. */
export function RecordActions(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly id: string | number;
  readonly onDone: () => void;
}) {
  const { listing, state, id, onDone } = props;
  const report = useChanged();
  const act = useMutation({
    mutationFn: (action: { readonly name: string; readonly label: string }) =>
      service.act(listing.name, action.name, { ids: [String(id)] }, sentOf(listing, state)),
    onSuccess: async ({ edit, left }, { label }) => {
      const words = edit === null ? `${label}: ${id} was so already` : `${label}: ${id}`;
      await report({ words, notices: leftText(left), edit });
      onDone();
    },
  });
  return (
    <>
      {listing.rights.actions.map((action) => (
        <li key={action.name}>
          <button
            type="button"
            className="min-h-9 w-full cursor-pointer px-2 text-start font-medium hover:bg-base-300"
            disabled={act.isPending}
            onClick={() => act.mutate(action)}
          >
            {action.label}: {id}
          </button>
        </li>
      ))}
      {act.isError ? (
        <li>
          <Failed error={act.error} title="Nothing was changed" />
        </li>
      ) : null}
    </>
  );
}
