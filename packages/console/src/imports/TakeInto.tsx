import {
  OrismaError,
  type ImportMode,
  type ImportReport,
  type SourceDescription,
  type TakeOptions,
} from "@orisma/client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { counted, countedRecords } from "./counted.js";
import { ImportProgress, NotTaken } from "./ImportProgress.js";
import type { BroughtFile } from "./BringFile.js";

const MODES: readonly (readonly [mode: ImportMode, name: string, words: string])[] = [
  ["replace", "in place of the records", "The records that are there can be gone back to."],
  ["append", "after the records", "Those that are there stay."],
  ["update", "over records of the same name", "Those that the file does not name stay."],
];

export interface TakeIntoProps extends BroughtFile {
  readonly source: SourceDescription;
  readonly onTaken: (report: ImportReport) => void;
}

/** Takes a file into a source that is there: instead of its records, after them, or over them. */
export function TakeInto({ source, file, look, options, onDone, onTaken }: TakeIntoProps) {
  const [mode, setMode] = useState<ImportMode>("replace");
  const group = useId();
  const abort = useRef(new AbortController());
  const queries = useQueryClient();
  const take = useMutation({
    mutationFn: (although: Pick<TakeOptions, "again" | "force">) => {
      abort.current = new AbortController();
      const sent = {
        ...options,
        mode,
        file: file.name,
        ...(look.sheet === undefined ? {} : { sheet: look.sheet }),
        ...although,
      };
      return service.importFile(source.name, file, sent, abort.current.signal);
    },
    onSuccess: async (report) => {
      if (report.unchanged === true) return;
      await queries.invalidateQueries();
      onTaken(report);
      onDone();
    },
  });
  const isSame = take.data?.unchanged === true || wasTakenAlready(take.error);
  // Ended by the service, so that the answer comes once it has; or not even begun there.
  const cancel = () => {
    service.cancelImport(source.name).catch(() => abort.current.abort());
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        take.mutate({});
      }}
    >
      <Headings source={source} headings={look.headings} />
      <fieldset className="flex flex-col gap-1">
        <legend className="font-medium">Import mode</legend>
        {MODES.filter(([each]) => each !== "update" || source.key !== null).map(
          ([each, name, words]) => (
            <label key={each} className="flex items-baseline gap-2">
              <input
                type="radio"
                className="radio radio-sm self-center"
                name={group}
                checked={mode === each}
                onChange={() => setMode(each)}
              />
              <span>
                {name} <span className="text-sm opacity-80">{words}</span>
              </span>
            </label>
          ),
        )}
      </fieldset>
      {take.isPending ? (
        <ImportProgress source={source.name} onCancel={cancel} />
      ) : (
        <button type="submit" className="btn self-start btn-primary">
          Take {look.records === null ? "the records" : countedRecords(look.records)} into{" "}
          {source.name}
        </button>
      )}
      {take.isError && !isSame ? (
        <NotTaken
          error={take.error}
          onForce={() => take.mutate({ ...take.variables, force: true })}
        />
      ) : null}
      {isSame ? (
        <Message kind="info" title="This file was imported already">
          Nothing was done.{" "}
          <button type="button" className="link" onClick={() => take.mutate({ again: true })}>
            Take it again all the same
          </button>
        </Message>
      ) : null}
    </form>
  );
}

/** Appended a second time, a file would double its records. */
function wasTakenAlready(error: Error | null): boolean {
  const faults = error instanceof OrismaError ? (error.problem?.faults ?? []) : [];
  return faults.some(({ code }) => code === "file.same");
}

/** How the file's columns differ from the source's. */
function Headings({
  source,
  headings,
}: {
  readonly source: SourceDescription;
  readonly headings: readonly string[];
}) {
  const names = source.columns.map(({ name }) => name);
  const lacking = names.filter((name) => !headings.includes(name));
  const more = headings.filter((heading) => !names.includes(heading));
  if (names.length === 0 || lacking.length + more.length === 0) return null;
  return (
    <Message kind="notice" title="Its columns are others">
      {lacking.length === 0 ? null : <p>Not in the file: {lacking.join(", ")}.</p>}
      {more.length === 0 ? null : <p>Only in the file: {more.join(", ")}.</p>}
    </Message>
  );
}

/** What came of a load, in words. */
export function reportInWords({ added, changed, refused, records }: ImportReport): string {
  const parts = [
    `${counted(added, "record is", "records are")} new`,
    ...(changed === 0 ? [] : [`${counted(changed, "is", "are")} changed`]),
    ...(refused === 0 ? [] : [`${counted(refused, "row was", "rows were")} refused`]),
  ];
  return `${parts.join(", ")}; there are ${countedRecords(records)} now`;
}
