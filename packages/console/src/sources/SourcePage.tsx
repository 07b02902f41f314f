import type { LoadDescription, SourceDescription } from "@orisma/client";
import type { SourceProfile } from "@orisma/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service.js";
import { ColumnCard } from "./ColumnCard.js";
import { draftOf, isCertain, readingInWords, sentOf } from "./draft.js";
import { recordsText } from "./records-text.js";

/** A source: what it has taken, and how each of its columns is understood. */
export function SourcePage() {
  const { name = "" } = useParams();
  const source = useQuery({ queryKey: ["source", name], queryFn: () => service.source(name) });
  const profile = useQuery({
    queryKey: ["profile", name],
    queryFn: () => service.profile(name),
    enabled: source.data !== undefined && hasColumnsToLookAt(source.data),
  });
  useEffect(() => {
    document.title = `${name} – Orisma`;
  }, [name]);
  const failure = source.error ?? profile.error;
  return (
    <Frame>
      <p className="text-sm">
        <Link to="/sources" className="link">
          Sources
        </Link>
      </p>
      <h1 className="font-sentence text-3xl">{name}</h1>
      {failure === null ? null : (
        <Message kind="error" title="This source cannot be shown">
          {failure.message}.
        </Message>
      )}
      {source.data?.columns.some(({ type }) => type === "date") === true ? (
        <p className="mt-1">
          <Link to={`/declare?source=${encodeURIComponent(name)}`} className="link">
            Declare a listing over it
          </Link>
        </p>
      ) : null}
      {source.data === undefined ? null : <Loads source={source.data} />}
      {source.data === undefined ? null : <Parts source={source.data} />}
      {profile.isFetching && profile.data === undefined ? (
        <p role="status" className="mt-6">
          Looking at every column …
        </p>
      ) : null}
      {profile.data === undefined ? null : <Columns name={name} profile={profile.data} />}
    </Frame>
  );
}

/** One that is made of others is looked at there. */
function hasColumnsToLookAt({ loadedAt, attached }: SourceDescription): boolean {
  return loadedAt !== null || attached !== null;
}

/** Of a source of several tables or sources: what it is made of, and what is left out of it. */
function Parts({ source }: { readonly source: SourceDescription }) {
  const { tables, stacked, attached } = source;
  if (stacked !== null) {
    return (
      <PartsList
        words={`Its column ${stacked.column} says from which of them a record comes.`}
        leftOut={stacked.differences}
        links={stacked.of}
      />
    );
  }
  if (tables === undefined) return null;
  const { count, first, last, leftOut } = tables;
  const read =
    count === 0
      ? "No table is read at this moment"
      : `${count} tables are read, ${first} to ${last}`;
  return (
    <PartsList
      words={`${read}; the column ${attached?.dateColumn ?? ""} has the day in a table's name. The columns are shown as they are in the last.`}
      leftOut={leftOut.map(({ table, reason }) => `${table}: ${reason}`)}
      links={[]}
    />
  );
}

interface PartsListProps {
  readonly words: string;
  readonly leftOut: readonly string[];
  /** Names of sources. */
  readonly links: readonly string[];
}

function PartsList({ words, leftOut, links }: PartsListProps) {
  return (
    <div className="mt-2 max-w-prose text-sm">
      <p>{words}</p>
      {links.length === 0 ? null : (
        <p className="flex flex-wrap gap-x-4">
          {links.map((name) => (
            <Link key={name} to={`/sources/${name}`} className="link">
              {name}
            </Link>
          ))}
        </p>
      )}
      {leftOut.length === 0 ? null : (
        <>
          <p className="mt-2 font-semibold">Left out</p>
          <ul>
            {leftOut.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

/** The last load, and the way back to what was there before. */
function Loads({ source }: { readonly source: SourceDescription }) {
  const { name, before } = source;
  const queries = useQueryClient();
  const loads = useQuery({
    queryKey: ["loads", name],
    queryFn: ({ signal }) => service.loads(name, signal),
    enabled: source.loadedAt !== null,
  });
  const restore = useMutation({
    mutationFn: () => service.restoreRecords(name),
    onSuccess: () => queries.invalidateQueries(),
  });
  const current = loads.data?.loads.find(({ inUse }) => inUse);
  return (
    <div className="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1 tabular-nums">
      <p className="text-lg font-semibold">{recordsText(source)}</p>
      {current === undefined ? null : <LoadWords load={current} source={name} />}
      {before === null ? null : (
        <button
          type="button"
          className="btn btn-xs"
          disabled={restore.isPending}
          onClick={() => restore.mutate()}
        >
          Go back to the {before.records.toLocaleString("en-GB")} records before
        </button>
      )}
      {restore.isError ? <span role="alert">{restore.error.message}</span> : null}
    </div>
  );
}

function LoadWords({ load, source }: { readonly load: LoadDescription; readonly source: string }) {
  const { file, startedAt, refused, load: number } = load;
  const when = new Date(startedAt).toLocaleString(undefined, {
    dateStyle: "long",
    timeStyle: "short",
  });
  return (
    <>
      <p className="opacity-80">
        from {file ?? "a file"}, {when}
      </p>
      {refused === 0 ? null : (
        <p>
          {refused} {refused === 1 ? "row was" : "rows were"} refused:{" "}
          <button type="button" className="link" onClick={() => void saveRefused(source, number)}>
            save {refused === 1 ? "it" : "them"} to repair
          </button>
        </p>
      )}
    </>
  );
}

/** Saves the refused rows as a file; the session's cookie is not for a bare link to send. */
async function saveRefused(source: string, load: number): Promise<void> {
  const csv = await service.refusedCsv(source, load);
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([csv], { type: "text/csv" }));
  link.download = `${source}-refused-${load}.csv`;
  link.click();
  URL.revokeObjectURL(link.href);
}

function Columns({ name, profile }: { readonly name: string; readonly profile: SourceProfile }) {
  return (
    <>
      <Certain name={name} profile={profile} />
      <ul className="mt-6">
        {profile.columns.map((column) => (
          <ColumnCard key={column.name} source={name} column={column} />
        ))}
      </ul>
    </>
  );
}

/** Columns of text that can only be dates in one way, settled in one act. */
function Certain({ name, profile }: { readonly name: string; readonly profile: SourceProfile }) {
  const queries = useQueryClient();
  const certain = profile.columns.filter(isCertain);
  const settle = useMutation({
    mutationFn: () =>
      service.settleColumns(
        name,
        Object.fromEntries(certain.map((column) => [column.name, sentOf(draftOf(column))])),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (certain.length === 0) return null;
  return (
    <div className="mt-4 max-w-3xl border-l-4 border-accent bg-base-200 px-4 py-3">
      <p>These columns are text so far, and can only be dates in one way:</p>
      <ul className="my-2 list-inside list-disc">
        {certain.map(({ name: column, reading }) => (
          <li key={column}>
            <span className="font-semibold">{column}</span>{" "}
            {reading === null ? "" : readingInWords(reading)}
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="btn btn-sm btn-primary"
        disabled={settle.isPending}
        onClick={() => settle.mutate()}
      >
        Make dates of {["", "it", "both"][certain.length] ?? `all ${certain.length}`}
      </button>
      {settle.isError ? <p role="alert">{settle.error.message}</p> : null}
    </div>
  );
}
