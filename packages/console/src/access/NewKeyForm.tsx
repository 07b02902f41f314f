import type { Role } from "@orisma/client";
import { useQueryClient } from "@tanstack/react-query";
import { Copy } from "lucide-react";
import { useState, type SubmitEvent } from "react";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { ListingPicker, RolePicker } from "./rights.js";

/** Creates a key, which is shown this once. */
export function NewKeyForm() {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>("reader");
  const [picked, setPicked] = useState<readonly string[]>([]);
  const [expires, setExpires] = useState("");
  const [created, setCreated] = useState<Created | null>(null);
  const [failure, setFailure] = useState<string | null>(null);

  const submit = async (event: SubmitEvent) => {
    event.preventDefault();
    setFailure(null);
    try {
      const { key } = await service.createKey({
        name,
        role,
        ...(role === "reader" && picked.length > 0 ? { listings: picked } : {}),
        // Until the end of that day, where the person is.
        ...(expires === "" ? {} : { expiresAt: new Date(`${expires}T23:59:59`).toISOString() }),
      });
      setCreated({ name, key, listing: role === "reader" ? (picked[0] ?? null) : null });
      setName("");
      setPicked([]);
      await queries.invalidateQueries({ queryKey: ["keys"] });
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    }
  };

  if (created !== null) {
    return (
      <section aria-labelledby="new-key" className="mt-8 max-w-3xl">
        <h2 id="new-key" className="font-sentence text-xl">
          New key
        </h2>
        <CreatedKey created={created} onAnother={() => setCreated(null)} />
      </section>
    );
  }
  return (
    <section aria-labelledby="new-key" className="mt-8 max-w-3xl">
      <h2 id="new-key" className="font-sentence text-xl">
        New key
      </h2>
      <form onSubmit={(event) => void submit(event)} className="mt-2 grid gap-4 sm:grid-cols-2">
        <label className="flex flex-col font-medium">
          Name
          <input
            className="input w-full font-normal"
            value={name}
            maxLength={64}
            required
            autoComplete="off"
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="flex flex-col font-medium">
          Last day (never expires by default)
          <input
            type="date"
            className="input w-full font-normal"
            value={expires}
            onChange={(event) => setExpires(event.target.value)}
          />
        </label>
        <RolePicker name="role" role={role} onRole={setRole} />
        {role === "reader" ? <ListingPicker picked={picked} onPick={setPicked} /> : null}
        <button type="submit" className="btn btn-primary justify-self-start">
          Create key
        </button>
      </form>
      {failure === null ? null : (
        <div className="mt-3">
          <Message kind="error">{failure}</Message>
        </div>
      )}
    </section>
  );
}

interface Created {
  readonly name: string;
  readonly key: string;
  /** A listing that it may read; null where it may read all. */
  readonly listing: string | null;
}

/** A key, which is shown this once, and a first call with it. */
function CreatedKey(props: { readonly created: Created; readonly onAnother: () => void }) {
  const { created, onAnother } = props;
  const { name, key, listing } = created;
  const path =
    listing === null ? "/v1/listings" : `/v1/listings/${encodeURIComponent(listing)}/records`;
  const call = `curl -H 'Authorization: Bearer ${key}' '${location.origin}${path}'`;
  return (
    <div className="mt-2">
      <Message kind="info" title={`The key for “${name}”, shown this once`}>
        <Copied text={key} />
        <p className="mt-3">A first call with it:</p>
        <Copied text={call} />
      </Message>
      <button type="button" className="btn btn-sm mt-3" onClick={onAnother}>
        Create another key
      </button>
    </div>
  );
}

function Copied({ text }: { readonly text: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <p className="mt-1 flex items-start gap-3">
      <code className="grow break-all">{text}</code>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
      >
        <Copy className="size-4" aria-hidden /> {copied ? "Copied" : "Copy"}
      </button>
    </p>
  );
}
