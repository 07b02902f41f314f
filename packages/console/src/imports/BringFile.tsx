import type { FileLook, FileOptions } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useRef, useState, type DragEvent, type ReactNode } from "react";
import { Message } from "../frame/Message.js";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { sizeText } from "./counted.js";
import { Look, Otherwise } from "./FileLook.js";

/** A file that was looked at, and how it was read. */
export interface BroughtFile {
  readonly file: File;
  readonly look: FileLook;
  readonly options: FileOptions;
  /** Closes the file. */
  readonly onDone: () => void;
}

/** Brings a file in: dropped or picked, looked at, and then taken as its place has it. */
export function BringFile(props: {
  /** What becomes of a file that can be taken. */
  readonly children: (brought: BroughtFile) => ReactNode;
}) {
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
    <>
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
        <Brought key={`${file.name} ${file.lastModified}`} file={file} onDone={() => setFile(null)}>
          {props.children}
        </Brought>
      )}
    </>
  );
}

function Brought(props: {
  readonly file: File;
  readonly onDone: () => void;
  readonly children: (brought: BroughtFile) => ReactNode;
}) {
  const { file, onDone, children } = props;
  const [options, setOptions] = useState<FileOptions>({});
  const look = useQuery({
    meta: { doing: "Looking at the file" },
    queryKey: ["look", file.name, file.size, file.lastModified, options],
    queryFn: ({ signal }) => service.inspectFile(file, options, signal),
    staleTime: Infinity,
  });
  return (
    <div className="mt-4 flex flex-col gap-4">
      <p className="font-semibold">
        {file.name}
        <span className="font-normal opacity-75"> {sizeText(file.size)}</span>
      </p>
      {look.isPending ? <Pending query={look} height="h-40" /> : null}
      {look.isError ? (
        <Message kind="error" title="It cannot be taken like this">
          {look.error.message}.
        </Message>
      ) : null}
      {look.data === undefined ? null : <Look look={look.data} />}
      <Otherwise look={look.data} options={options} onChange={setOptions} />
      {look.data === undefined || look.data.headings.length === 0
        ? null
        : children({ file, look: look.data, options, onDone })}
    </div>
  );
}
