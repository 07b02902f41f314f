import type { ImportReport, SourceDescription } from "@orisma/client";
import {
  formInWords,
  isCertain,
  isCertainNumbers,
  type SourceProfile,
} from "@orisma/core/internal";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { useCommands } from "../frame/commands.js";
import { Folded } from "../frame/Folded.js";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";
import { capitalised } from "../dates/words.js";
import { UploadFile } from "../imports/UploadFile.js";
import { ImportFailed, ImportProgress } from "../imports/ImportProgress.js";
import { Imports } from "../imports/Imports.js";
import { ImportInto, reportInWords } from "../imports/ImportInto.js";
import { ColumnCard } from "./ColumnCard.js";
import { Indexes } from "./Indexes.js";
import { Watch } from "./Watch.js";
import { draftOf, readingInWords, sentOf } from "./draft.js";

/** A source: what it has taken, what stands on it, and how each of its columns is understood. */
export function SourcePage() {
  const { name = "" } = useParams();
  const source = useQuery({
    queryKey: ["source", name],
    queryFn: ({ signal }) => service.source(name, signal),
  });
  const profile = useQuery({
    queryKey: ["profile", name],
    queryFn: ({ signal }) => service.profile(name, signal),
    enabled: source.data !== undefined && hasColumnsToLookAt(source.data),
    meta: { doing: `Looking at every column of ${name}` },
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
      {source.data === undefined ? (
        failure === null ? (
          <div className="skeleton mt-2 h-40 w-full" />
        ) : null
      ) : (
        <>
          <Imports source={source.data} />
          <Parts source={source.data} />
          <StandsOnIt source={source.data} />
          <Importing source={source.data} />
          {hasOwnFiles(source.data) ? <Watch source={source.data} /> : null}
        </>
      )}
      {profile.data !== undefined ? (
        <Columns name={name} profile={profile.data} />
      ) : source.data !== undefined && hasColumnsToLookAt(source.data) && !profile.isError ? (
        <Pending query={profile} height="h-96" />
      ) : null}
      {source.data === undefined ? null : (
        <>
          {source.data.attached === null ? <Indexes source={source.data} /> : null}
          <DeleteSource name={name} />
        </>
      )}
    </Frame>
  );
}

/** Another file into it, where files are what it has its records from. */
function Importing({ source }: { readonly source: SourceDescription }) {
  const navigate = useNavigate();
  const [report, setReport] = useState<ImportReport | null>(null);
  const isOwner = useMay("owner");
  const mayImport = isOwner && hasOwnFiles(source);
  useCommands(
    mayImport
      ? [{ name: `Import a file into ${source.name}`, key: "f", run: () => go("#import") }]
      : [],
  );
  const go = (place: string) => void navigate({ hash: place });
  if (!mayImport) return null;
  return (
    <>
      {report === null ? null : (
        <div className="mt-3">
          <Message kind="info" title="Imported">
            {capitalised(reportInWords(report))}.
          </Message>
        </div>
      )}
      <Folded place="#import" open="Import a file" close="Cancel">
        <div className="max-w-3xl">
          <UploadFile>
            {(uploaded) => (
              <ImportInto
                {...uploaded}
                source={source}
                onImported={(imported) => {
                  setReport(imported);
                  go("");
                }}
              />
            )}
          </UploadFile>
        </div>
      </Folded>
    </>
  );
}

/** Listings over it, sources that have it as a part, and the way to one more listing. */
function StandsOnIt({ source }: { readonly source: SourceDescription }) {
  const { name, columns } = source;
  const listings = useQuery({
    queryKey: ["listings"],
    queryFn: ({ signal }) => service.listings(signal),
  });
  const sources = useQuery({
    queryKey: ["sources"],
    queryFn: ({ signal }) => service.sources(signal),
  });
  const over = (listings.data ?? []).filter((listing) => listing.source === name);
  const parts = (sources.data ?? []).filter(
    ({ combine, unnest }) => combine?.of.includes(name) === true || unnest?.source === name,
  );
  return (
    <p className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
      {over.length === 0 ? null : <span className="opacity-80">listed as</span>}
      {over.map((listing) => (
        <Link key={listing.name} to={`/listings/${listing.name}`} className="link">
          {listing.title}
        </Link>
      ))}
      {parts.length === 0 ? null : <span className="opacity-80">part of</span>}
      {parts.map((part) => (
        <Link key={part.name} to={`/sources/${part.name}`} className="link">
          {part.name}
        </Link>
      ))}
      {columns.some(({ type }) => type === "date") ? (
        <Link to={`/declare?source=${encodeURIComponent(name)}`} className="link font-semibold">
          Declare a listing
        </Link>
      ) : null}
    </p>
  );
}

/** Deletes the source, in two acts; refused as long as something stands on it. */
function DeleteSource({ name }: { readonly name: string }) {
  const [isRequested, setRequested] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const end = useMutation({
    mutationFn: () => service.deleteSource(name),
    onSuccess: async () => {
      await navigate("/sources");
      await queries.invalidateQueries({ queryKey: ["sources"] });
    },
  });
  if (!useMay("owner")) return null;
  return (
    <div className="mt-8 border-t border-base-300 pt-4">
      {isRequested ? (
        <p className="flex flex-wrap items-baseline gap-3">
          This deletes its records, readings and repairs.
          <button
            type="button"
            className="btn btn-sm"
            disabled={end.isPending}
            onClick={() => end.mutate()}
          >
            Delete {name}
          </button>
          <button
            type="button"
            className="btn btn-sm btn-primary"
            onClick={() => setRequested(false)}
          >
            Cancel
          </button>
        </p>
      ) : (
        <button type="button" className="link" onClick={() => setRequested(true)}>
          Delete this source
        </button>
      )}
      {end.isError ? (
        <Message kind="error" title="The source was not deleted">
          {end.error.message}.
        </Message>
      ) : null}
    </div>
  );
}

/** Whether files are what a source has its records from. */
function hasOwnFiles({ attached, combine, unnest }: SourceDescription): boolean {
  return attached === null && combine === null && unnest === null;
}

/** One that is made of others is looked at there. */
function hasColumnsToLookAt({ importedAt, attached }: SourceDescription): boolean {
  return importedAt !== null || attached !== null;
}

/** Of a source of several tables or sources: what it is made of, and what is omitted of it. */
function Parts({ source }: { readonly source: SourceDescription }) {
  const { tables, combine, attached } = source;
  if (combine !== null) {
    return (
      <PartsList
        words={`Its column ${combine.column} says from which of them a record comes.`}
        omitted={combine.differences}
        links={combine.of}
      />
    );
  }
  if (tables === undefined) return null;
  const { count, first, last, omitted } = tables;
  const read =
    count === 0 ? "No tables are read now" : `${count} tables are read, ${first} to ${last}`;
  return (
    <PartsList
      words={`${read}; the column ${attached?.dateColumn ?? ""} has the day in a table's name. The columns are shown as they are in the last.`}
      omitted={omitted.map(({ table, reason }) => `${table}: ${reason}`)}
      links={[]}
    />
  );
}

interface PartsListProps {
  readonly words: string;
  readonly omitted: readonly string[];
  /** Names of sources. */
  readonly links: readonly string[];
}

function PartsList({ words, omitted, links }: PartsListProps) {
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
      {omitted.length === 0 ? null : (
        <>
          <p className="mt-2 font-semibold">Omitted</p>
          <ul>
            {omitted.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

/** The columns; the address says which of them is being confirmed. */
function Columns({ name, profile }: { readonly name: string; readonly profile: SourceProfile }) {
  const [search, setSearch] = useSearchParams();
  const open = search.get("column");
  const mayConfirm = useMay("owner");
  const save = (column: string | null) =>
    setSearch(column === null ? {} : { column }, { preventScrollReset: true });
  useCommands(
    mayConfirm
      ? profile.columns.map(({ name: column }) => ({
          name: `Set the reading of ${column}`,
          run: () => save(column),
        }))
      : [],
  );
  return (
    <>
      {mayConfirm ? <Certain name={name} profile={profile} /> : null}
      <ul className="mt-6">
        {profile.columns.map((column) => (
          <ColumnCard
            key={column.name}
            source={name}
            column={column}
            isOpen={open === column.name}
            onOpen={mayConfirm ? (isOpen) => save(isOpen ? column.name : null) : null}
          />
        ))}
      </ul>
    </>
  );
}

/** Columns of text that can be read in one way only, confirmed in one act. */
function Certain({ name, profile }: { readonly name: string; readonly profile: SourceProfile }) {
  const queries = useQueryClient();
  const certain = profile.columns.filter((column) => isCertain(column) || isCertainNumbers(column));
  const save = useMutation({
    mutationFn: (force: boolean) =>
      service.setReadings(
        name,
        Object.fromEntries(certain.map((column) => [column.name, sentOf(draftOf(column))])),
        { force, partly: true },
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (certain.length === 0) return null;
  return (
    <div className="mt-4 max-w-3xl border-l-4 border-accent bg-base-200 px-4 py-3">
      <p>These text columns can be read in one way only:</p>
      <ul className="my-2 list-inside list-disc">
        {certain.map(({ name: column, reading, written: { candidates } }) => (
          <li key={column}>
            <span className="font-semibold">{column}</span>{" "}
            {reading === null
              ? `numbers, written ${formInWords(candidates[0]?.form ?? {}, candidates[0]?.type)}`
              : readingInWords(reading)}
          </li>
        ))}
      </ul>
      {save.isPending ? (
        <ImportProgress source={name} onCancel={() => void service.cancelImport(name)} />
      ) : (
        <button type="button" className="btn btn-sm btn-primary" onClick={() => save.mutate(false)}>
          {["", "Read it", "Read both"][certain.length] ?? `Read all ${certain.length}`}
        </button>
      )}
      {save.isError ? (
        <ImportFailed
          error={save.error}
          title="The readings were not set"
          onForce={() => save.mutate(true)}
        />
      ) : null}
      {Object.entries(save.data?.omitted ?? {}).map(([column, [fault]]) => (
        <p key={column} className="mt-2" role="status">
          Not set: {fault?.message}
        </p>
      ))}
    </div>
  );
}
