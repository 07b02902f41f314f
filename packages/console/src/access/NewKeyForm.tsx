import type { Role } from "@orisma/client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy } from "lucide-react";
import { useState, type SubmitEvent } from "react";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";

const ROLES: readonly Role[] = ["reader", "author", "owner"];

/** Creates a key, which is shown this once. */
export function NewKeyForm() {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>("reader");
  const [picked, setPicked] = useState<readonly string[]>([]);
  const [expires, setExpires] = useState("");
  const [created, setCreated] = useState<{ readonly name: string; readonly key: string } | null>(
    null,
  );
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
      setCreated({ name, key });
      setName("");
      setPicked([]);
      await queries.invalidateQueries({ queryKey: ["keys"] });
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    }
  };

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
        <RolePicker role={role} onRole={setRole} />
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
      {created === null ? null : (
        <CreatedKey key={created.key} name={created.name} text={created.key} />
      )}
    </section>
  );
}

function RolePicker(props: { readonly role: Role; readonly onRole: (role: Role) => void }) {
  const { role, onRole } = props;
  return (
    <fieldset className="sm:col-span-2">
      <legend className="font-medium">Role</legend>
      <span className="flex gap-6">
        {ROLES.map((each) => (
          <label key={each} className="flex items-center gap-2">
            <input
              type="radio"
              name="role"
              className="radio radio-sm"
              checked={role === each}
              onChange={() => onRole(each)}
            />
            {each}
          </label>
        ))}
      </span>
    </fieldset>
  );
}

/** The listings that a reader's key is for. */
function ListingPicker(props: {
  readonly picked: readonly string[];
  readonly onPick: (names: readonly string[]) => void;
}) {
  const { picked, onPick } = props;
  const listings = useQuery({
    queryKey: ["listings"],
    queryFn: ({ signal }) => service.listings(signal),
  });
  return (
    <fieldset className="sm:col-span-2">
      <legend className="font-medium">Listings (all by default)</legend>
      <span className="flex flex-wrap gap-x-6 gap-y-1">
        {(listings.data ?? []).map((each) => (
          <label key={each.name} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={picked.includes(each.name)}
              onChange={() =>
                onPick(
                  picked.includes(each.name)
                    ? picked.filter((other) => other !== each.name)
                    : [...picked, each.name],
                )
              }
            />
            {each.name}
          </label>
        ))}
      </span>
    </fieldset>
  );
}

/** A key, which is shown this once. */
function CreatedKey({ name, text }: { readonly name: string; readonly text: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <div className="mt-3">
      <Message kind="info" title={`The key for “${name}”, shown this once`}>
        <code className="break-all">{text}</code>{" "}
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
        >
          <Copy className="size-4" aria-hidden /> {copied ? "Copied" : "Copy"}
        </button>
      </Message>
    </div>
  );
}
