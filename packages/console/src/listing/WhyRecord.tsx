import { OrismaError, type ListingDetails } from "@orisma/client";
import type { RecordVerdict, WhyAnswer } from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { Check, X } from "lucide-react";
import { useState, type SubmitEvent } from "react";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { searchOf, type PageState } from "./state.js";

/** One record against each condition: which let it through, and what it has there. */
export default function WhyRecord(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const [typed, setTyped] = useState("");
  const [id, setId] = useState("");
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    setId(typed.trim());
  };
  return (
    <>
      <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col text-sm font-medium">
          Record{listing.key === null ? "" : `, by its ${listing.key}`}
          <input
            className="input w-56 font-mono font-normal"
            value={typed}
            autoComplete="off"
            spellCheck={false}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <button type="submit" className="btn" disabled={typed.trim() === ""}>
          Ask
        </button>
      </form>
      {id === "" ? null : <Answered listing={listing} state={state} id={id} />}
    </>
  );
}

function Answered(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly id: string;
}) {
  const { listing, state, id } = props;
  const { cursor: _page, page: _number, ...requested } = state;
  const found = useQuery({
    meta: { doing: "Checking the record" },
    queryKey: ["why", listing.name, listing.version, id, searchOf(requested).toString()],
    queryFn: async ({ signal }): Promise<WhyAnswer | null> => {
      try {
        return await service.why(listing.name, requested, id, signal);
      } catch (error) {
        if (error instanceof OrismaError && error.status === 404) return null;
        throw error;
      }
    },
  });
  if (found.isError) return <p className="mt-3 text-error">{found.error.message}</p>;
  if (found.data === undefined) return <Pending query={found} height="h-24" />;
  if (found.data === null) {
    return (
      <p className="mt-3" role="status">
        The listing has no record {id}: none of the source is called so, or what the listing always
        asks for leaves it out.
      </p>
    );
  }
  const { record } = found.data;
  return record === undefined ? null : <Verdict record={record} />;
}

function Verdict({ record: { id, isIn, conditions } }: { readonly record: RecordVerdict }) {
  return (
    <div role="status" className="mt-3">
      <p className="font-semibold">
        {id} is {isIn ? "in" : "out"}.
      </p>
      {conditions.length === 0 ? <p>No conditions.</p> : null}
      <ul>
        {conditions.map(({ condition, isMet, values }, index) => {
          const Mark = isMet ? Check : X;
          return (
            <li key={`${index} ${condition}`} className="flex items-start gap-2">
              <Mark
                className={`mt-1 size-4 shrink-0 ${isMet ? "text-success" : "text-error"}`}
                aria-hidden
              />
              <span>
                {isMet ? "passes" : "leaves it out"}: {condition}
                {Object.entries(values).map(([column, value]) => (
                  <span key={column}>
                    ; it has {value === null || value === "" ? "nothing" : String(value)} in{" "}
                    {column}
                  </span>
                ))}
              </span>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
