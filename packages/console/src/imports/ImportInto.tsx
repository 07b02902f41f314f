import {
  OrismaError,
  type ImportMode,
  type ImportReport,
  type SourceDescription,
  type ImportOptions,
} from "@orisma/client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { counted, countedRecords } from "./counted.js";
import { ImportProgress, ImportFailed } from "./ImportProgress.js";
import type { UploadedFile } from "./UploadFile.js";

const MODES: readonly (readonly [mode: ImportMode, name: string, words: string])[] = [
  ["replace", "replace the records", "The previous records can be restored."],
  ["append", "append", "Existing records stay."],
  ["update", "update by key", "Records that are not in the file stay."],
];

export interface ImportIntoProps extends UploadedFile {
  readonly source: SourceDescription;
  readonly onImported: (report: ImportReport) => void;
}

/** Imports a file into a source that is there: instead of its records, after them, or over them. */
export function ImportInto({
  source,
  file,
  inspection,
  options,
  onDone,
  onImported,
}: ImportIntoProps) {
  const [mode, setMode] = useState<ImportMode>("replace");
  const group = useId();
  const abort = useRef(new AbortController());
  const queries = useQueryClient();
  const take = useMutation({
    mutationFn: (although: Pick<ImportOptions, "again" | "force" | "edits">) => {
      abort.current = new AbortController();
      const sent = {
        ...options,
        mode,
        file: file.name,
        ...(inspection.sheet === undefined ? {} : { sheet: inspection.sheet }),
        ...although,
      };
      return service.importFile(source.name, file, sent, abort.current.signal);
    },
    onSuccess: async (report) => {
      if (report.unchanged === true) return;
      await queries.invalidateQueries();
      onImported(report);
      onDone();
    },
  });
  const isSame = take.data?.unchanged === true || wasImportedBefore(take.error);
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
      <Headings source={source} headings={inspection.headings} />
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
          Import {inspection.records === null ? "the records" : countedRecords(inspection.records)}{" "}
          into {source.name}
        </button>
      )}
      {take.isError && !isSame ? (
        <ImportFailed
          error={take.error}
          onForce={() => take.mutate({ ...take.variables, force: true })}
          onEdits={(edits) => take.mutate({ ...take.variables, edits })}
        />
      ) : null}
      {isSame ? (
        <Message kind="info" title="This file was imported already">
          Nothing was done.{" "}
          <button type="button" className="link" onClick={() => take.mutate({ again: true })}>
            Import anyway
          </button>
        </Message>
      ) : null}
    </form>
  );
}

/** Appended a second time, a file would double its records. */
function wasImportedBefore(error: Error | null): boolean {
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
    <Message kind="notice" title="The columns differ">
      {lacking.length === 0 ? null : <p>Not in the file: {lacking.join(", ")}.</p>}
      {more.length === 0 ? null : <p>Only in the file: {more.join(", ")}.</p>}
    </Message>
  );
}

/** What came of an import, in words. */
export function reportInWords({ added, changed, refused, records }: ImportReport): string {
  const parts = [
    `${counted(added, "record is", "records are")} new`,
    ...(changed === 0 ? [] : [`${counted(changed, "is", "are")} changed`]),
    ...(refused === 0 ? [] : [`${counted(refused, "row was", "rows were")} refused`]),
  ];
  return `${parts.join(", ")}; there are ${countedRecords(records)} now`;
}
