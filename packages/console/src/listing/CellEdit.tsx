import type { ListingDetails } from "@orisma/client";
import type { RecordValue } from "@orisma/core/internal";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useId, useState, type SubmitEvent } from "react";
import { localText } from "../dates/zones.js";
import { Failed } from "../frame/Message.js";
import { service } from "../service/service.js";
import { useChanged } from "./changes.js";
import type { ShownColumn } from "./narrowing.js";
import { sentOf, type PageState } from "./state.js";

/** Gives one cell of a record another value; nothing empties it. */
export function CellEdit(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly column: ShownColumn;
  readonly id: string | number;
  readonly value: RecordValue;
  readonly onDone: () => void;
}) {
  const { listing, state, column, id, value, onDone } = props;
  const { name } = column;
  const label = listing.labels?.[name] ?? name;
  const field = useId();
  const [text, setText] = useState(() => textOf(value, column, listing.zone));
  const report = useChanged();
  // As it is now: whoever changed it since is not overwritten.
  const read = useQuery({
    queryKey: ["record-to-edit", listing.name, id],
    queryFn: ({ signal }) => service.recordToEdit(listing.name, String(id), {}, signal),
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  const save = useMutation({
    mutationFn: (etag: string) =>
      service.editRecord(
        listing.name,
        String(id),
        { [name]: text === "" ? null : text },
        { etag, parameters: sentOf(listing, state) },
      ),
    onSuccess: async ({ edit, notices }) => {
      const words =
        edit === null ? `${label} of ${id} was so already` : `${label} of ${id} was changed`;
      await report({ words, notices, edit });
      onDone();
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    if (read.data !== undefined) save.mutate(read.data.etag);
  };
  return (
    <form onSubmit={submit} className="mb-2 border-b border-base-300 pb-3">
      <label htmlFor={field} className="block font-medium">
        Edit {label}
      </label>
      <div className="mt-1 flex items-center gap-2">
        {column.type === "boolean" ? (
          <select
            id={field}
            className="select"
            value={text}
            onChange={(event) => setText(event.target.value)}
          >
            <option value="true">yes</option>
            <option value="false">no</option>
            <option value="">blank</option>
          </select>
        ) : (
          <input
            id={field}
            className="input w-52"
            type={inputType(column)}
            inputMode={isNumber(column) ? "decimal" : undefined}
            value={text}
            autoComplete="off"
            onChange={(event) => setText(event.target.value)}
          />
        )}
        <button
          type="submit"
          className="btn btn-sm btn-primary"
          disabled={save.isPending || read.data === undefined}
        >
          Save
        </button>
      </div>
      <Failed error={read.error} title="The record cannot be edited" />
      <Failed error={save.error} title="Nothing was changed" />
    </form>
  );
}

function isNumber({ type }: ShownColumn): boolean {
  return type === "integer" || type === "decimal";
}

/** Days and times of a wall clock have fields of the browser's own; an instant is written with its offset. */
function inputType(column: ShownColumn): "date" | "datetime-local" | "text" {
  if (column.type !== "date" || column.kind === "instant") return "text";
  return column.kind === "date" ? "date" : "datetime-local";
}

function textOf(value: RecordValue, column: ShownColumn, zone: string): string {
  if (value === null || Array.isArray(value)) return "";
  if (column.type !== "date" || typeof value !== "string") return String(value);
  if (column.kind === "date") return value.slice(0, 10);
  return column.kind === "local" ? localText(value, zone).slice(0, 19) : value;
}
