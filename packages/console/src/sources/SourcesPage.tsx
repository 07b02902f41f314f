import type { SourceDescription } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service.js";
import { BringFile } from "./BringFile.js";
import { recordsText } from "./records-text.js";

/** The sources that there are, and the place where files are brought in. */
export function SourcesPage() {
  const sources = useQuery({ queryKey: ["sources"], queryFn: () => service.sources() });
  useEffect(() => {
    document.title = "Sources – Orisma";
  }, []);
  return (
    <Frame>
      <div className="grid items-start gap-x-12 gap-y-8 xl:grid-cols-[minmax(22rem,30rem)_1fr]">
        <BringFile taken={(sources.data ?? []).map(({ name }) => name)} />
        <section aria-label="Sources">
          <h2 className="font-sentence text-2xl">What has been brought in</h2>
          {sources.isError ? (
            <Message kind="error" title="The sources could not be read">
              {sources.error.message}
            </Message>
          ) : null}
          {sources.data?.length === 0 ? (
            <p className="mt-3 opacity-75">Nothing yet. Drop a file beside here to begin.</p>
          ) : null}
          <ul className="mt-3 columns-[20rem] gap-8">
            {(sources.data ?? []).map((source) => (
              <SourceEntry key={source.name} source={source} />
            ))}
          </ul>
        </section>
      </div>
    </Frame>
  );
}

function SourceEntry({ source }: { readonly source: SourceDescription }) {
  const { name, attached, stacked, columns, loadedAt } = source;
  const dates = columns.filter(({ type }) => type === "date").length;
  return (
    <li className="break-inside-avoid border-t border-base-300 py-2">
      <Link to={`/sources/${name}`} className="link font-semibold link-hover">
        {name}
      </Link>
      <p className="text-sm tabular-nums opacity-80">
        {recordsText(source)}, {columns.length} columns
        {dates === 0 ? "" : `, ${dates} of dates`}
      </p>
      <p className="text-sm tabular-nums opacity-65">
        {loadedAt === null
          ? attached === null && stacked === null
            ? "no file yet"
            : "read there at every request"
          : `taken ${new Date(loadedAt).toLocaleString(undefined, { dateStyle: "long", timeStyle: "short" })}`}
      </p>
    </li>
  );
}
