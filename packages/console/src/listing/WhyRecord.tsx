import { OrismaError, type ListingDetails } from "@orisma/client";
import type { Clause, RecordAnswer } from "@orisma/core";
import { useQuery } from "@tanstack/react-query";
import { Check, X } from "lucide-react";
import { useState, type SubmitEvent } from "react";
import { Pending } from "../frame/Pending.js";
import { service } from "../service.js";
import { withClauseOnly } from "./clauses.js";
import { searchOf, type PageState } from "./state.js";

/** One record against each clause by itself: which let it through, and what it has there. */
export function WhyRecord(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly clauses: readonly Clause[];
}) {
  const { listing, state, clauses } = props;
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
      {id === "" ? null : <Answered listing={listing} state={state} clauses={clauses} id={id} />}
    </>
  );
}

function Answered(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly clauses: readonly Clause[];
  readonly id: string;
}) {
  const { listing, state, clauses, id } = props;
  const asked = searchOf(state).toString();
  const found = useQuery({
    meta: { doing: "Looking why a record is there" },
    queryKey: ["why", listing.name, listing.version, id, asked],
    queryFn: async ({ signal }) => {
      const among = async (of: PageState): Promise<RecordAnswer | null> => {
        try {
          return await service.record(listing.name, id, { ...of }, signal);
        } catch (error) {
          if (error instanceof OrismaError && error.status === 404) return null;
          throw error;
        }
      };
      const record = await among({});
      if (record === null) return null;
      const passed = await Promise.all(
        clauses.map(
          async (clause) => (await among(withClauseOnly(state, listing, clause))) !== null,
        ),
      );
      return { record, passed };
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
  const { record, passed } = found.data;
  const isIn = passed.every(Boolean);
  return (
    <div role="status" className="mt-3">
      <p className="font-semibold">
        {id} is {isIn ? "in" : "out"}.
      </p>
      <ul>
        {clauses.map(({ words, column }, index) => {
          const Mark = passed[index] === true ? Check : X;
          const value = column === null ? undefined : record[column];
          return (
            <li key={`${index} ${words}`} className="flex items-start gap-2">
              <Mark
                className={`mt-1 size-4 shrink-0 ${passed[index] === true ? "text-success" : "text-error"}`}
                aria-hidden
              />
              <span>
                {passed[index] === true ? "lets it through" : "leaves it out"}: {words}
                {value === undefined
                  ? ""
                  : `; it has ${value === null || value === "" ? "nothing" : String(value)} there`}
              </span>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
