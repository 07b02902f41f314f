import type { SourceDescription, SourceIndexes } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { keepFocus } from "../frame/keep-focus.js";
import { Failed } from "../frame/Message.js";
import { counted, sizeText } from "../imports/counted.js";
import { ImportFailed } from "../imports/ImportProgress.js";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";

/** Milliseconds between two looks while an index is being made. */
const LOOK_EVERY_MS = 2_000;
const PURPOSES = { requested: "requested", listings: "for listings", dates: "for its dates" };

/** The indexes of a source, and those that would have served slow requests: each is made in one act. */
export function Indexes({ source }: { readonly source: SourceDescription }) {
  const { name, importedAt } = source;
  const found = useQuery({
    queryKey: ["indexes", name],
    queryFn: () => service.indexes(name),
    enabled: importedAt !== null,
    refetchInterval: ({ state: { data } }) =>
      data?.indexes.some(({ state }) => state === "building") === true ? LOOK_EVERY_MS : false,
  });
  const { indexes = [], proposals = [] } = found.data ?? {};
  if (indexes.length + proposals.length === 0) return null;
  return (
    <section className="mt-8 max-w-3xl" aria-labelledby="indexes">
      <h2 id="indexes" className="font-sentence text-xl">
        Indexes
      </h2>
      {proposals.map((proposal) => (
        <Proposal key={proposal.columns.join()} source={name} proposal={proposal} />
      ))}
      <ul className="mt-1">
        {indexes.map((index) => (
          <Index key={index.columns.join()} source={name} index={index} />
        ))}
      </ul>
    </section>
  );
}

function Proposal({
  source,
  proposal: { columns, bytes, requests, slowestMs, column },
}: {
  readonly source: string;
  readonly proposal: SourceIndexes["proposals"][number];
}) {
  const queries = useQueryClient();
  const make = useMutation({
    mutationFn: () => service.addIndex(source, columns),
    onSuccess: () => queries.invalidateQueries(),
  });
  const isOwner = useMay("owner");
  const names = columns.join(" and ");
  return (
    <div className="my-2 border-l-4 border-warning bg-base-200 px-4 py-3">
      <p>
        {counted(requests, "request", "requests")} filtered by {column} took up to{" "}
        {slowestMs.toLocaleString("en-GB")} ms. An index on {names} would serve them; it takes about{" "}
        {sizeText(bytes)}, and records are read while it is made.
      </p>
      {make.isPending ? (
        <Building source={source} columns={columns} />
      ) : isOwner ? (
        <button
          ref={make.isError ? keepFocus : undefined}
          type="button"
          className="btn mt-2 btn-sm btn-primary"
          onClick={() => make.mutate()}
        >
          Make the index on {names}
        </button>
      ) : null}
      {make.isError ? <ImportFailed error={make.error} title="The index was not made" /> : null}
    </div>
  );
}

/** An index that is being made, for so many seconds by now, and can be cancelled: the database says no more. */
function Building(props: { readonly source: string; readonly columns: readonly string[] }) {
  const { source, columns } = props;
  const [seconds, setSeconds] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setSeconds((before) => before + 1), 1_000);
    return () => clearInterval(timer);
  }, []);
  return (
    <div className="mt-2 flex items-center gap-3">
      <progress
        className="progress flex-1 progress-primary"
        aria-label={`Making the index on ${columns.join(" and ")}`}
      />
      <span className="text-sm tabular-nums">{seconds} s</span>
      <button
        ref={keepFocus}
        type="button"
        className="btn btn-sm"
        onClick={() => void service.deleteIndex(source, columns).catch(() => undefined)}
      >
        Cancel
      </button>
    </div>
  );
}

function Index({
  source,
  index: { columns, purpose, state, bytes },
}: {
  readonly source: string;
  readonly index: SourceIndexes["indexes"][number];
}) {
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: () => service.deleteIndex(source, columns),
    onSuccess: () => queries.invalidateQueries(),
  });
  const mayRemove = useMay("owner") && purpose === "requested";
  return (
    <li className="flex flex-wrap items-baseline gap-x-3">
      <span className="font-semibold">{columns.join(", ")}</span>
      <span className="opacity-80">
        {state === "building" ? "is being made" : PURPOSES[purpose]}, about {sizeText(bytes)}
      </span>
      {mayRemove ? (
        <button
          type="button"
          className="link"
          disabled={remove.isPending}
          onClick={() => remove.mutate()}
        >
          Delete the index
        </button>
      ) : null}
      <Failed error={remove.error} title="The index was not deleted" />
    </li>
  );
}
