import { OrismaError, type FileLook, type FileOptions, type LoadProgress } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useRef, useState, type DragEvent } from "react";
import { useNavigate } from "react-router";
import { Message } from "../frame/Message.js";
import { service } from "../service.js";

/** Brings a file in: dropped or picked, looked at, named, taken. */
export function BringFile({ taken }: { readonly taken: readonly string[] }) {
  const [file, setFile] = useState<File | null>(null);
  const [isOver, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const [dropped] = event.dataTransfer.files;
    if (dropped !== undefined) setFile(dropped);
  };
  return (
    <section aria-label="Bring a file">
      <h1 className="font-sentence text-2xl">Bring a file</h1>
      <div
        className={`mt-3 flex flex-col items-start gap-2 rounded-box border-2 border-dashed p-6 ${isOver ? "border-accent bg-base-200" : "border-base-300"}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <FileUp className="size-6 text-primary" aria-hidden />
        <p>
          Drop a file here, or{" "}
          <button
            type="button"
            className="link font-semibold"
            onClick={() => picker.current?.click()}
          >
            pick one
          </button>
          .
        </p>
        <p className="text-sm opacity-75">
          CSV and other delimited text, JSON, NDJSON, XLSX or ODS. What it is, is found out.
        </p>
        <input
          ref={picker}
          type="file"
          className="hidden"
          aria-label="File"
          onChange={(event) => setFile(event.target.files?.[0] ?? null)}
        />
      </div>
      {file === null ? null : (
        <Brought
          key={`${file.name} ${file.lastModified}`}
          file={file}
          taken={taken}
          onDone={() => setFile(null)}
        />
      )}
    </section>
  );
}

function Brought(props: {
  readonly file: File;
  readonly taken: readonly string[];
  readonly onDone: () => void;
}) {
  const { file, taken, onDone } = props;
  const [options, setOptions] = useState<FileOptions>({});
  const look = useQuery({
    queryKey: ["look", file.name, file.size, file.lastModified, options],
    queryFn: ({ signal }) => service.lookAtFile(file, options, signal),
    staleTime: Infinity,
  });
  return (
    <div className="mt-4 flex flex-col gap-4">
      <p className="font-semibold">
        {file.name}
        <span className="font-normal opacity-75"> {sizeText(file.size)}</span>
      </p>
      {look.isPending ? <p role="status">Looking at it …</p> : null}
      {look.isError ? (
        <Message kind="error" title="It cannot be taken like this">
          {look.error.message}.
        </Message>
      ) : null}
      {look.data === undefined ? null : <Look look={look.data} />}
      <Otherwise look={look.data} options={options} onChange={setOptions} />
      {look.data === undefined || look.data.headings.length === 0 ? null : (
        <Take file={file} look={look.data} options={options} taken={taken} onDone={onDone} />
      )}
    </div>
  );
}

const DELIMITERS: Readonly<Record<string, string>> = {
  ",": "commas",
  ";": "semicolons",
  "\t": "tabs",
  "|": "bars",
  " ": "spaces",
};

/** What a file is, with its first records. */
function Look({ look }: { readonly look: FileLook }) {
  const { format, delimiter, encoding, sheet, headingLine, remarks, headings, sample } = look;
  const { records, refused } = look;
  const facts = [
    format === "delimited"
      ? `text with ${DELIMITERS[delimiter ?? ""] ?? delimiter}`
      : format.toUpperCase(),
    encoding,
    sheet === undefined ? null : `sheet “${sheet}”`,
    headingLine === 0 ? null : `headings on line ${headingLine}`,
    records === null ? "more than 200,000 records" : recordsText(records),
    (refused ?? 0) > 0 ? `${refused} of them would be refused` : null,
  ].filter((fact) => fact != null);
  return (
    <div className="flex flex-col gap-2">
      <p className="text-sm">{facts.join(", ")}</p>
      {remarks.map((remark) => (
        <Message key={remark} kind="notice">
          {remark}.
        </Message>
      ))}
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="First records">
        <table className="table table-xs whitespace-nowrap">
          <thead>
            <tr>
              {headings.map((heading) => (
                <th key={heading}>{heading}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sample.slice(0, 6).map(({ line, cells }) => (
              <tr key={line}>
                {headings.map((heading, index) => (
                  <td key={heading} className="max-w-48 truncate">
                    {cells[index] ?? <span className="opacity-50">nothing</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

/** How a file is to be read where it was not read as it should be. */
function Otherwise(props: {
  readonly look: FileLook | undefined;
  readonly options: FileOptions;
  readonly onChange: (options: FileOptions) => void;
}) {
  const { look, options, onChange } = props;
  const set = (name: keyof FileOptions, text: string) => {
    const { [name]: _, ...others } = options;
    const value = name === "skip" || name === "headings" ? Number(text) : text;
    onChange(text === "" ? others : { ...others, [name]: value });
  };
  const sheets = look?.sheets ?? [];
  return (
    <details className="text-sm" open={look === undefined || look.headings.length === 0}>
      <summary className="cursor-pointer">Read it otherwise</summary>
      <div className="mt-2 grid grid-cols-2 gap-3">
        {sheets.length > 1 ? (
          <label className="col-span-2 flex flex-col gap-1">
            Sheet
            <select
              className="select select-sm"
              value={options.sheet ?? look?.sheet ?? ""}
              onChange={(event) => set("sheet", event.target.value)}
            >
              {sheets.map(({ name, reason }) => (
                <option key={name} value={name}>
                  {name}
                  {reason === null ? "" : ` (${reason})`}
                </option>
              ))}
            </select>
          </label>
        ) : null}
        <Option label="Lines above the headings" name="skip" type="number" onSet={set} />
        <Option label="Rows of headings" name="headings" type="number" onSet={set} />
        <Option label="Delimiter" name="delimiter" type="text" onSet={set} />
        <Option label="Encoding" name="encoding" type="text" onSet={set} />
      </div>
    </details>
  );
}

function Option(props: {
  readonly label: string;
  readonly name: keyof FileOptions;
  readonly type: "number" | "text";
  readonly onSet: (name: keyof FileOptions, text: string) => void;
}) {
  const { label, name, type, onSet } = props;
  return (
    <label className="flex flex-col gap-1">
      {label}
      <input
        type={type}
        min={0}
        className="input input-sm w-full"
        placeholder="found out"
        onBlur={(event) => onSet(name, event.target.value.trim())}
        onKeyDown={(event) => {
          if (event.key === "Enter") onSet(name, event.currentTarget.value.trim());
        }}
      />
    </label>
  );
}

/** Names the source and takes the file, with a bar that shows how far it has come. */
function Take(props: {
  readonly file: File;
  readonly look: FileLook;
  readonly options: FileOptions;
  readonly taken: readonly string[];
  readonly onDone: () => void;
}) {
  const { file, look, options, taken, onDone } = props;
  const [name, setName] = useState(() => nameFrom(file.name, taken));
  const [key, setKey] = useState("");
  const abort = useRef(new AbortController());
  const queries = useQueryClient();
  const navigate = useNavigate();
  const take = useMutation({
    mutationFn: async () => {
      abort.current = new AbortController();
      await service.createSource({ name, ...(key === "" ? {} : { key }) });
      try {
        const sent = {
          ...options,
          file: file.name,
          ...(look.sheet === undefined ? {} : { sheet: look.sheet }),
        };
        return await service.takeFile(name, file, sent, abort.current.signal);
      } catch (error) {
        // A source without records is what is left; the load itself has ended by now.
        await service.removeSource(name).catch(() => undefined);
        throw error;
      }
    },
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["sources"] });
      await navigate(`/sources/${name}`);
      onDone();
    },
  });
  // Ended by the service, so that the answer comes once it has; or not even begun there.
  const cancel = () => {
    service.cancelLoad(name).catch(() => abort.current.abort());
  };
  const wasCancelled = take.error !== null && isCancelled(take.error);
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        take.mutate();
      }}
    >
      <div className="grid grid-cols-2 gap-3 text-sm">
        <label className="flex flex-col gap-1">
          Name of the source
          <input
            className="input input-sm w-full"
            value={name}
            required
            pattern="[A-Za-z][A-Za-z0-9_\-]{0,63}"
            title="A letter, then letters, digits, - or _"
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="flex flex-col gap-1">
          Column that names a record
          <select
            className="select select-sm w-full"
            value={key}
            onChange={(event) => setKey(event.target.value)}
          >
            <option value="">none: number them</option>
            {look.headings.map((heading) => (
              <option key={heading}>{heading}</option>
            ))}
          </select>
        </label>
      </div>
      {take.isPending ? (
        <Progress source={name} onCancel={cancel} />
      ) : (
        <button type="submit" className="btn self-start btn-primary">
          Take {look.headings.length} columns as {name || "…"}
        </button>
      )}
      {take.isError ? (
        <Message
          kind={wasCancelled ? "info" : "error"}
          title={wasCancelled ? "Cancelled" : "It was not taken"}
        >
          {wasCancelled ? "Nothing was stored." : `${take.error.message}.`}
        </Message>
      ) : null}
    </form>
  );
}

function isCancelled(error: Error): boolean {
  return !(error instanceof OrismaError) || error.problem?.type === "/problems#cancelled";
}

/** How far a load has come, asked for while it runs. */
function Progress({
  source,
  onCancel,
}: {
  readonly source: string;
  readonly onCancel: () => void;
}) {
  const loads = useQuery({
    queryKey: ["loads", source, "running"],
    queryFn: ({ signal }) => service.loads(source, signal),
    refetchInterval: 300,
    gcTime: 0,
  });
  const running = loads.data?.running ?? null;
  return (
    <div className="flex items-center gap-3">
      <progress
        className="progress flex-1 progress-primary"
        aria-label="Taken so far"
        {...(running === null || running.stage === "receiving"
          ? {}
          : { value: running.share, max: 1 })}
      />
      <span role="status" className="text-sm tabular-nums">
        {running === null ? "sending" : progressText(running)}
      </span>
      <button type="button" className="btn btn-sm" onClick={onCancel}>
        Cancel
      </button>
    </div>
  );
}

function recordsText(records: number): string {
  return records === 1 ? "1 record" : `${records.toLocaleString("en-GB")} records`;
}

function progressText({ stage, bytes, records }: LoadProgress): string {
  return stage === "receiving" ? `${sizeText(bytes)} sent` : recordsText(records);
}

/** A name that is not taken, from that of a file. */
function nameFrom(file: string, taken: readonly string[]): string {
  const bare = file
    .replace(/\.[^.]*$/, "")
    .replace(/[^A-Za-z0-9_-]+/g, "-")
    .replace(/^[^A-Za-z]+|-+$/g, "");
  const name = (bare === "" ? "source" : bare).slice(0, 56);
  const lower = new Set(taken.map((each) => each.toLowerCase()));
  for (let count = 1; ; count++) {
    const found = count === 1 ? name : `${name}-${count}`;
    if (!lower.has(found.toLowerCase())) return found;
  }
}

function sizeText(bytes: number): string {
  if (bytes < 1_000) return `${bytes} bytes`;
  return bytes < 1e6 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
