import type { FileInspection, FileOptions } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useRef, useState, type DragEvent, type ReactNode } from "react";
import { Message } from "../frame/Message.js";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { sizeText } from "./counted.js";
import { Look, Otherwise } from "./FileInspection.js";

/** A file that was looked at, and how it was read. */
export interface UploadedFile {
  readonly file: File;
  readonly inspection: FileInspection;
  readonly options: FileOptions;
  /** Closes the file. */
  readonly onDone: () => void;
}

/** Uploads a file: dropped or picked, looked at, and then imported as its place has it. */
export function UploadFile(props: {
  /** What becomes of a file that can be taken. */
  readonly children: (uploaded: UploadedFile) => ReactNode;
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
          CSV and other delimited text, JSON, NDJSON, XLSX or ODS. The format is detected
          automatically.
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
        <Uploaded
          key={`${file.name} ${file.lastModified}`}
          file={file}
          onDone={() => setFile(null)}
        >
          {props.children}
        </Uploaded>
      )}
    </>
  );
}

function Uploaded(props: {
  readonly file: File;
  readonly onDone: () => void;
  readonly children: (uploaded: UploadedFile) => ReactNode;
}) {
  const { file, onDone, children } = props;
  const [options, setOptions] = useState<FileOptions>({});
  const inspection = useQuery({
    meta: { doing: "Inspecting the file" },
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
      {inspection.isPending ? <Pending query={inspection} height="h-40" /> : null}
      {inspection.isError ? (
        <Message kind="error" title="This file cannot be imported">
          {inspection.error.message}.
        </Message>
      ) : null}
      {inspection.data === undefined ? null : <Look inspection={inspection.data} />}
      <Otherwise inspection={inspection.data} options={options} onChange={setOptions} />
      {inspection.data === undefined || inspection.data.headings.length === 0
        ? null
        : children({ file, inspection: inspection.data, options, onDone })}
    </div>
  );
}
