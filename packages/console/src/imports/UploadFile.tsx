import type { FileInspection, FileOptions } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useEffect, useEffectEvent, useRef, useState, type DragEvent, type ReactNode } from "react";
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
  const [isPasting, setPasting] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  usePasted(setFile);
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
          , or{" "}
          <button
            type="button"
            className="link font-semibold"
            aria-expanded={isPasting}
            onClick={() => setPasting(!isPasting)}
          >
            paste records
          </button>{" "}
          (Ctrl V).
        </p>
        {isPasting ? (
          <Pasting
            onPasted={(pasted) => {
              setPasting(false);
              setFile(pasted);
            }}
          />
        ) : null}
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

/** Takes what is pasted anywhere but into a field: a file, or records as text. */
function usePasted(onPasted: (file: File) => void): void {
  const pasted = useEffectEvent((event: ClipboardEvent) => {
    const isTyping = event.target instanceof Element && event.target.closest("input, textarea");
    if (isTyping || event.clipboardData === null) return;
    const [file] = event.clipboardData.files;
    const text = event.clipboardData.getData("text/plain");
    if (file !== undefined) onPasted(file);
    else if (text.trim() !== "") onPasted(fileOf(text));
    else return;
    event.preventDefault();
  });
  useEffect(() => {
    const listener = (event: ClipboardEvent) => pasted(event);
    document.addEventListener("paste", listener);
    return () => document.removeEventListener("paste", listener);
  }, []);
}

/** A file of pasted records; their format is detected like that of any other. */
function fileOf(text: string): File {
  return new File([text], "pasted.txt", { type: "text/plain", lastModified: Date.now() });
}

function Pasting({ onPasted }: { readonly onPasted: (file: File) => void }) {
  const [text, setText] = useState("");
  return (
    <form
      className="flex w-full flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onPasted(fileOf(text));
      }}
    >
      <textarea
        aria-label="Records, with their headings"
        className="textarea h-32 w-full font-mono text-sm"
        placeholder={"order\treported\nW-1\t3 Apr 2026"}
        value={text}
        autoFocus
        spellCheck={false}
        onChange={(event) => setText(event.target.value)}
      />
      <button type="submit" className="btn self-start btn-sm" disabled={text.trim() === ""}>
        Look at them
      </button>
    </form>
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
    <div className="mt-4 flex flex-col gap-4" data-looked-at>
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
