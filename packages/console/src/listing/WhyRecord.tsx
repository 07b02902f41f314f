import { OrismaError, type ListingDetails } from "@orisma/client";
import type { RecordVerdict, RecordsAnswer, WhyAnswer } from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { Check, X } from "lucide-react";
import { useState, type SubmitEvent } from "react";
import { useLocation, useNavigate } from "react-router";
import { Pending } from "../frame/Pending.js";
import { useInspected } from "../service/inspected.js";
import { service } from "../service/service.js";
import { placeOfRecord } from "./record-place.js";
import { searchOf, type PageState } from "./state.js";

/** One record: against each condition, which let it through and what it has there, and its cells. */
export default function WhyRecord(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly answer: RecordsAnswer;
}) {
  const { listing, state, answer } = props;
  const { hash, search } = useLocation();
  const navigate = useNavigate();
  const id = decodeURIComponent(hash.replace(/^#record=?/, ""));
  const [typed, setTyped] = useState(id);
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    void navigate({ search, hash: placeOfRecord(typed.trim()) }, { replace: true });
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
      {id === "" ? null : (
        <div className="flex flex-wrap gap-x-12">
          <Answered listing={listing} state={state} id={id} />
          <Cells key={id} listing={listing} answer={answer} id={id} />
        </div>
      )}
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

/** The cells of a record as they are read, and for those who may see the source as they came. */
function Cells(props: {
  readonly listing: ListingDetails;
  readonly answer: RecordsAnswer;
  readonly id: string;
}) {
  const { listing, answer, id } = props;
  const [isCopied, setCopied] = useState(false);
  const found = useInspected(listing, id);
  const record = answer.records.find((each) => String(each.id) === id);
  const stored = new Map(found.data?.cells.map((cell) => [cell.column, cell]));
  const columns = [...new Set([...listing.shown.map(({ name }) => name), ...stored.keys()])].filter(
    (name) => record?.[name] !== undefined || stored.has(name),
  );
  if (columns.length === 0) return null;
  const readOf = (name: string) => {
    const value = record?.[name];
    return value === undefined ? (stored.get(name)?.long ?? "") : String(value ?? "");
  };
  const copy = async () => {
    const values = Object.fromEntries(
      columns.map((name) => [name, record?.[name] ?? stored.get(name)?.raw ?? null]),
    );
    await navigator.clipboard.writeText(JSON.stringify(values, null, 2));
    setCopied(true);
  };
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="table w-auto text-sm [&_td]:py-1 [&_th]:py-1">
        <thead className="text-base-content">
          <tr>
            <th scope="col">column</th>
            <th scope="col">as read</th>
            {stored.size === 0 ? null : <th scope="col">as stored</th>}
          </tr>
        </thead>
        <tbody>
          {columns.map((name) => (
            <tr key={name}>
              <th scope="row" className="font-medium">
                {listing.labels?.[name] ?? name}
              </th>
              <td className="max-w-72 break-words">{readOf(name) || "–"}</td>
              {stored.size === 0 ? null : (
                <td className="max-w-72 font-mono break-all">{stored.get(name)?.raw ?? "–"}</td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <button type="button" className="btn btn-sm mt-2" onClick={() => void copy()}>
        Copy as JSON
      </button>
      <span role="status" className="ms-3 text-sm">
        {isCopied ? "Copied." : ""}
      </span>
    </div>
  );
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
