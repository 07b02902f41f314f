import {
  TooManyRecords,
  compareWithExpected,
  type Expectation,
  type Expected,
  type ListingDetails,
} from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { numberText } from "./counts.js";
import { searchOf, withParameters, type PageState } from "./state.js";

/** Records that are looked at one by one at most. */
const MAX_RECORDS = 20_000;
/** Records named at most. */
const MAX_NAMED = 50;

/** Takes what is expected, as ids or a number, and shows what is missing and what is too much. */
export function AsExpected(props: { readonly listing: ListingDetails; readonly state: PageState }) {
  const { listing, state } = props;
  const [typed, setTyped] = useState("");
  const [requested, setRequested] = useState<Expected | null>(null);
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    setRequested(expectedOf(typed));
  };
  return (
    <>
      <form onSubmit={submit} className="flex flex-col items-start gap-2">
        <label className="flex w-full max-w-md flex-col text-sm font-medium">
          {listing.key ?? "Id"} of the records, one a line; or a number
          <textarea
            className="textarea w-full font-mono font-normal"
            rows={3}
            value={typed}
            spellCheck={false}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <button type="submit" className="btn" disabled={typed.trim() === ""}>
          Compare
        </button>
      </form>
      {requested === null ? null : (
        <Compared listing={listing} state={state} expected={requested} />
      )}
    </>
  );
}

/** One line with a number alone is how many there should be; anything else names them. */
function expectedOf(text: string): Expected {
  const lines = text
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "");
  const [only = ""] = lines;
  return lines.length === 1 && /^\d{1,9}$/.test(only)
    ? { ids: null, count: Number(only) }
    : { ids: lines, count: null };
}

function Compared(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly expected: Expected;
}) {
  const { listing, state, expected } = props;
  const own = withParameters(state, { cursor: [], page: [] });
  const found = useQuery({
    meta: { doing: "Comparing" },
    queryKey: ["expected", listing.name, listing.version, searchOf(own).toString(), expected],
    queryFn: ({ signal }) =>
      compareWithExpected(service, listing.name, own, expected, { most: MAX_RECORDS, signal }),
    retry: (_, error) => !(error instanceof TooManyRecords),
  });
  if (found.isError) {
    return (
      <p role="alert" className="mt-3 text-error">
        {found.error instanceof TooManyRecords
          ? `These are more than ${numberText(MAX_RECORDS)} records, which are not compared one by one: narrow them first.`
          : found.error.message}
      </p>
    );
  }
  if (found.data === undefined) return <Pending query={found} height="h-16" />;
  return <Told result={found.data} expected={expected} />;
}

function Told(props: { readonly result: Expectation; readonly expected: Expected }) {
  const { result, expected } = props;
  const { matches, records, missing, unexpected } = result;
  return (
    <div role="status" className="mt-3">
      {matches ? (
        <p className="font-semibold">Exact match: {numberText(records)} records.</p>
      ) : expected.count !== null ? (
        <p className="font-semibold">
          {numberText(records)} records, not {numberText(expected.count)}.
        </p>
      ) : null}
      <Named words="Missing" ids={missing ?? []} />
      <Named words="Not expected" ids={unexpected ?? []} />
    </div>
  );
}

function Named(props: { readonly words: string; readonly ids: readonly string[] }) {
  const { words, ids } = props;
  if (ids.length === 0) return null;
  const remaining = ids.length - MAX_NAMED;
  return (
    <p className="mt-1">
      <span className="font-semibold">
        {words} ({numberText(ids.length)}):
      </span>{" "}
      <code>{ids.slice(0, MAX_NAMED).join(", ")}</code>
      {remaining > 0 ? ` and ${numberText(remaining)} more` : null}
    </p>
  );
}
