import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { service } from "../service/service.js";
import { freeName } from "../sources/free-name.js";
import { NameAndKey } from "../sources/NameAndKey.js";
import type { UploadedFile } from "./UploadFile.js";
import { ImportProgress, ImportFailed } from "./ImportProgress.js";

/** Names a source and takes the file, with a bar that shows how far it has come. */
export function ImportNew(props: UploadedFile & { readonly taken: readonly string[] }) {
  const { file, inspection, options, taken, onDone } = props;
  const [name, setName] = useState(() => freeName(file.name, taken));
  const [key, setKey] = useState("");
  const [isCreated, setCreated] = useState(false);
  const abort = useRef(new AbortController());
  const queries = useQueryClient();
  const navigate = useNavigate();
  const take = useMutation({
    mutationFn: async () => {
      abort.current = new AbortController();
      setCreated(false);
      await service.createSource({ name, ...(key === "" ? {} : { key }) });
      setCreated(true);
      try {
        const sent = {
          ...options,
          file: file.name,
          ...(inspection.sheet === undefined ? {} : { sheet: inspection.sheet }),
        };
        return await service.importFile(name, file, sent, abort.current.signal);
      } catch (error) {
        // A source without records is what is left; the import itself has ended by now.
        await service.deleteSource(name).catch(() => undefined);
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
    service.cancelImport(name).catch(() => abort.current.abort());
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        take.mutate();
      }}
    >
      <NameAndKey
        name={name}
        onName={setName}
        keyColumn={key}
        onKey={setKey}
        none="none: number the records"
        columns={inspection.headings}
      />
      {take.isPending ? (
        <ImportProgress source={name} isThere={isCreated} onCancel={cancel} />
      ) : (
        <button type="submit" className="btn self-start btn-primary">
          Import {inspection.headings.length} columns as {name || "…"}
        </button>
      )}
      {take.isError ? <ImportFailed error={take.error} /> : null}
    </form>
  );
}
