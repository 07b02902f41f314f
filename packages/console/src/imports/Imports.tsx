import type { EditPolicy, ImportDescription, SourceDescription } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";
import { whenText } from "../dates/words.js";
import { counted, sizeText } from "./counted.js";
import { ImportFailed } from "./ImportProgress.js";
import { recordsText } from "./records-text.js";

/** Refused rows that are shown; the file has all. */
const MAX_REFUSED = 50;

/** The last import, those before, and the way back to what was there before. */
export function Imports({ source }: { readonly source: SourceDescription }) {
  const { name, before } = source;
  const queries = useQueryClient();
  const mayImport = useMay("owner");
  const found = useQuery({
    queryKey: ["imports", name],
    queryFn: ({ signal }) => service.imports(name, signal),
    enabled: source.importedAt !== null,
  });
  const restore = useMutation({
    mutationFn: (although: { readonly force?: boolean; readonly edits?: EditPolicy }) =>
      service.restoreRecords(name, although),
    onSuccess: () => queries.invalidateQueries(),
  });
  const all = found.data?.imports ?? [];
  const current = all.find(({ inUse }) => inUse);
  return (
    <>
      <div className="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1 tabular-nums">
        <p className="text-lg font-semibold">{recordsText(source)}</p>
        {current === undefined ? null : (
          <p className="opacity-80">
            from {current.file ?? "a file"}, {whenText(current.startedAt)}
          </p>
        )}
        {before === null || !mayImport ? null : (
          <button
            type="button"
            className="btn btn-xs"
            disabled={restore.isPending}
            onClick={() => restore.mutate({})}
          >
            Go back to the {before.records.toLocaleString("en-GB")} records before
          </button>
        )}
      </div>
      {restore.isError ? (
        <ImportFailed
          error={restore.error}
          title="Restore failed"
          onForce={() => restore.mutate({ ...restore.variables, force: true })}
          onEdits={(edits) => restore.mutate({ ...restore.variables, edits })}
        />
      ) : null}
      {current === undefined || current.refused === 0 ? null : (
        <Refused source={name} load={current} />
      )}
      {all.length < 2 ? null : (
        <details className="mt-2">
          <summary className="cursor-pointer">
            {counted(all.length, "import", "imports")} so far
          </summary>
          <History imports={all} />
        </details>
      )}
    </>
  );
}

const MODES = { replace: "replaced all", append: "appended", update: "updated by key" };
const STATES = { running: "runs", done: "", failed: "failed", cancelled: "cancelled" };

function History({ imports }: { readonly imports: readonly ImportDescription[] }) {
  return (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Imports">
      <table className="table w-auto table-sm whitespace-nowrap tabular-nums">
        <thead>
          <tr>
            <th scope="col">when</th>
            <th scope="col">file</th>
            <th scope="col">how</th>
            <th scope="col" className="text-end">
              records afterwards
            </th>
            <th scope="col" className="text-end">
              refused
            </th>
            <th scope="col">result</th>
          </tr>
        </thead>
        <tbody>
          {imports.map((each) => (
            <tr key={each.number} className={each.inUse ? "font-semibold" : ""}>
              <td>{whenText(each.startedAt)}</td>
              <td>
                {each.file ?? "a file"}{" "}
                <span className="font-normal opacity-80">{sizeText(each.bytes)}</span>
              </td>
              <td>{MODES[each.mode]}</td>
              <td className="text-end">{each.records?.toLocaleString("en-GB")}</td>
              <td className="text-end">{each.refused === 0 ? "" : each.refused}</td>
              <td className="whitespace-normal">
                {each.inUse ? "in use" : (each.problem ?? STATES[each.state])}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The rows that could not be imported, with why, and as a file to repair. */
function Refused(props: { readonly source: string; readonly load: ImportDescription }) {
  const { source, load } = props;
  const [isOpen, setOpen] = useState(false);
  const rows = useQuery({
    queryKey: ["refused", source, load.number],
    queryFn: ({ signal }) => service.refusedRows(source, load.number, signal),
    enabled: isOpen,
  });
  return (
    <details className="mt-1" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer">
        {counted(load.refused, "row was refused", "rows were refused")}
      </summary>
      {rows.isError ? (
        <p role="alert" className="text-error">
          {rows.error.message}
        </p>
      ) : null}
      <ol className="my-2 max-h-72 overflow-y-auto text-sm" tabIndex={0} aria-label="Refused rows">
        {(rows.data ?? []).slice(0, MAX_REFUSED).map(({ line, reason, cells }) => (
          <li key={line} className="border-t border-base-300 py-1">
            <span className="font-semibold">line {line}</span>: {reason}
            <code className="block break-all opacity-80">
              {cells.map((cell) => cell ?? "").join(" | ")}
            </code>
          </li>
        ))}
      </ol>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => void saveRefused(source, load.number)}
      >
        Save {load.refused === 1 ? "it" : `all ${load.refused.toLocaleString("en-GB")}`} to repair
      </button>
    </details>
  );
}

/** Saves the refused rows as a file; the session's cookie is not for a bare link to send. */
async function saveRefused(source: string, number: number): Promise<void> {
  const csv = await service.refusedCsv(source, number);
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([csv], { type: "text/csv" }));
  link.download = `${source}-refused-${number}.csv`;
  link.click();
  URL.revokeObjectURL(link.href);
}
