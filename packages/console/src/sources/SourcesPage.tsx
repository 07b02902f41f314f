import type { SourceDescription } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";
import { whenText } from "../dates/words.js";
import { Folded } from "../frame/Folded.js";
import { AttachTable } from "./AttachTable.js";
import { UploadFile } from "../imports/UploadFile.js";
import { ImportNew } from "../imports/ImportNew.js";
import { counted } from "../imports/counted.js";
import { recordsText } from "../imports/records-text.js";

/** The sources that there are, and the place where files are imported. */
export function SourcesPage() {
  const sources = useQuery({
    queryKey: ["sources"],
    queryFn: ({ signal }) => service.sources(signal),
  });
  useEffect(() => {
    document.title = "Sources – Orisma";
  }, []);
  const mayImport = useMay("owner");
  const all = sources.data ?? [];
  const partsOf = ({ combine }: SourceDescription) =>
    all.filter(({ name }) => combine?.of.includes(name) === true);
  // What is a part of another stands under it.
  const parts = new Set(all.flatMap((source) => partsOf(source).map(({ name }) => name)));
  const shown = all.filter(({ name }) => !parts.has(name));
  return (
    <Frame>
      <div className="grid items-start gap-x-12 gap-y-8 xl:grid-cols-[minmax(22rem,30rem)_1fr]">
        {mayImport ? (
          <section aria-label="Import a file" className="xl:has-[[data-looked-at]]:col-span-2">
            <h1 className="font-sentence text-2xl">Import a file</h1>
            <UploadFile>
              {(uploaded) => (
                <ImportNew {...uploaded} taken={(sources.data ?? []).map(({ name }) => name)} />
              )}
            </UploadFile>
            <Folded place="#attach" open="Attach a table" close="Close the form">
              <AttachTable taken={(sources.data ?? []).map(({ name }) => name)} />
            </Folded>
          </section>
        ) : null}
        <section aria-label="Sources">
          <h2 className="font-sentence text-2xl">Imported and attached sources</h2>
          {sources.isError ? (
            <Message kind="error" title="The sources could not be read">
              {sources.error.message}
            </Message>
          ) : null}
          {sources.isPending ? <div className="skeleton mt-3 h-64 w-full" /> : null}
          {sources.data?.length === 0 ? (
            <p className="mt-3 opacity-75">
              No sources yet.{mayImport ? " Drop a file to import it." : ""}
            </p>
          ) : null}
          <ul className="mt-3 columns-[20rem] gap-8">
            {shown.map((source) => (
              <SourceEntry key={source.name} source={source} parts={partsOf(source)} />
            ))}
          </ul>
        </section>
      </div>
    </Frame>
  );
}

function SourceEntry(props: {
  readonly source: SourceDescription;
  /** The sources that it is made of. */
  readonly parts: readonly SourceDescription[];
}) {
  const { source, parts } = props;
  const { name, attached, combine, unnest, columns, importedAt } = source;
  const dates = columns.filter(({ type }) => type === "date").length;
  return (
    <li className="break-inside-avoid border-t border-base-300 py-2">
      <Link to={`/sources/${name}`} className="link font-semibold link-hover">
        {name}
      </Link>
      <p className="text-sm tabular-nums opacity-80">
        {recordsText(source)}, {columns.length} columns
        {dates === 0 ? "" : `, ${dates} ${dates === 1 ? "date column" : "date columns"}`}
      </p>
      <p className="text-sm tabular-nums opacity-65">
        {importedAt === null
          ? attached === null && combine === null && unnest === null
            ? "no file yet"
            : "read at every request"
          : `imported ${whenText(importedAt)}`}
      </p>
      {parts.length === 0 ? null : (
        <details className="text-sm">
          <summary className="cursor-pointer">its {counted(parts.length, "part", "parts")}</summary>
          <ul className="ms-4">
            {parts.map((part) => (
              <li key={part.name} className="tabular-nums">
                <Link to={`/sources/${part.name}`} className="link link-hover">
                  {part.name}
                </Link>{" "}
                <span className="opacity-80">{recordsText(part)}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </li>
  );
}
