import { OrismaError, type EditPolicy, type ImportProgress as Progress } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { keepFocus } from "../frame/keep-focus.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { countedRecords, sizeText } from "./counted.js";

/** How far an import has come, requested while it runs. */
export function ImportProgress(props: {
  readonly source: string;
  /** Whether the source is there by now, so that its imports can be read. */
  readonly isThere?: boolean;
  readonly onCancel: () => void;
}) {
  const { source, isThere = true, onCancel } = props;
  const found = useQuery({
    queryKey: ["imports", source, "running"],
    queryFn: ({ signal }) => service.imports(source, signal),
    enabled: isThere,
    refetchInterval: 300,
    gcTime: 0,
  });
  const running = found.data?.running ?? null;
  return (
    <div className="flex items-center gap-3">
      <progress
        className="progress flex-1 progress-primary"
        aria-label="Imported so far"
        {...(running === null || running.stage === "receiving"
          ? {}
          : { value: running.share, max: 1 })}
      />
      <span role="status" className="text-sm tabular-nums">
        {running === null ? "sending" : progressText(running)}
      </span>
      <button ref={keepFocus} type="button" className="btn btn-sm" onClick={onCancel}>
        Cancel
      </button>
    </div>
  );
}

function progressText({ stage, bytes, records }: Progress): string {
  return stage === "receiving" ? `${sizeText(bytes)} sent` : countedRecords(records);
}

/** Why a file was not imported, or that it was called off. */
export function ImportFailed(props: {
  readonly error: Error;
  readonly title?: string;
  /** Does it although listings would no longer be served, where that is why it was refused. */
  readonly onForce?: () => void;
  /** Does it with the edits made again, or lost, where it would overwrite them. */
  readonly onEdits?: (policy: EditPolicy) => void;
}) {
  const { error, title = "Import failed", onForce, onEdits } = props;
  const wasCancelled = isCancelled(error);
  const broken = onForce === undefined ? [] : brokenBy(error);
  if (broken.length > 0) {
    return (
      <Message kind="error" title="Listings would no longer be served">
        <ul className="list-disc pl-5">
          {broken.map((message) => (
            <li key={message}>{message}.</li>
          ))}
        </ul>
        <button type="button" className="btn btn-sm mt-2" onClick={onForce}>
          Continue anyway
        </button>
      </Message>
    );
  }
  if (onEdits !== undefined && problemTypeOf(error) === "/problems#overwrites-edits") {
    return (
      <Message kind="error" title="Edits would be overwritten">
        {error.message}.
        <span className="mt-2 flex flex-wrap gap-3">
          <button type="button" className="btn btn-sm" onClick={() => onEdits("preserve")}>
            Make the edits again
          </button>
          <button type="button" className="btn btn-sm" onClick={() => onEdits("overwrite")}>
            Overwrite the edits
          </button>
        </span>
      </Message>
    );
  }
  return (
    <Message kind={wasCancelled ? "info" : "error"} title={wasCancelled ? "Cancelled" : title}>
      {wasCancelled ? "Nothing was stored." : `${error.message}.`}
    </Message>
  );
}

/** The listings that an act would end, with why, where it was refused for that. */
function brokenBy(error: Error): readonly string[] {
  const faults = error instanceof OrismaError ? (error.problem?.faults ?? []) : [];
  return faults.filter(({ code }) => code === "listing.breaks").map(({ message }) => message);
}

function isCancelled(error: Error): boolean {
  return !(error instanceof OrismaError) || problemTypeOf(error) === "/problems#cancelled";
}

function problemTypeOf(error: Error): string | null {
  return error instanceof OrismaError ? (error.problem?.type ?? null) : null;
}
