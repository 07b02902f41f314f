import type { KeyDescription } from "@orisma/client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { useSession } from "../service/session.js";
import { OwnPassword } from "./OwnPassword.js";
import { People } from "./People.js";
import { NewKeyForm } from "./NewKeyForm.js";
import { MAY } from "./rights.js";

/** What one may do, the people and the keys that there are. */
export default function AccessPage() {
  const session = useSession();
  useEffect(() => {
    document.title = "Access – Orisma";
  }, []);
  if (session.data === undefined) return <Frame>{null}</Frame>;
  const { role, key, person } = session.data;
  return (
    <Frame>
      <h1 className="font-sentence text-2xl">
        You are signed in as {role === "owner" ? "the owner" : `a ${role}`}
        {person !== null
          ? `: ${person.name}.`
          : key === null
            ? ", with a code."
            : `, with the key “${key.name}”.`}
      </h1>
      <ul className="mt-2 list-disc ps-5">
        {MAY[role].map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ul>
      {key?.listings == null ? null : <p className="mt-2">Only of {key.listings.join(", ")}.</p>}
      {key?.expiresAt == null ? null : (
        <p className="mt-2">It expires {timeText(key.expiresAt)}.</p>
      )}
      {person === null ? null : <OwnPassword />}
      {role === "owner" ? <People /> : null}
      {role === "owner" ? <Keys /> : null}
    </Frame>
  );
}

function Keys() {
  const keys = useQuery({ queryKey: ["keys"], queryFn: () => service.keys() });
  return (
    <>
      <section aria-labelledby="keys" className="mt-8">
        <h2 id="keys" className="font-sentence text-xl">
          Keys
        </h2>
        {keys.isError ? (
          <Message kind="error" title="The keys cannot be listed">
            {keys.error.message}
          </Message>
        ) : keys.data === undefined ? (
          <div className="skeleton mt-2 h-32 w-full" />
        ) : (
          <KeyTable keys={keys.data} />
        )}
      </section>
      <NewKeyForm />
      <SignInCode />
    </>
  );
}

function KeyTable({ keys }: { readonly keys: readonly KeyDescription[] }) {
  return (
    <div className="mt-2 overflow-x-auto" tabIndex={0} role="region" aria-label="Table of keys">
      <table className="table">
        <thead className="text-base-content">
          <tr>
            <th scope="col">name</th>
            <th scope="col">role</th>
            <th scope="col">listings</th>
            <th scope="col">created</th>
            <th scope="col">last used</th>
            <th scope="col">expires</th>
            <th scope="col">
              <span className="sr-only">revoke</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {keys.map((key) => (
            <tr key={key.id} className="border-base-300">
              <th scope="row" className="font-semibold">
                {key.name}
              </th>
              <td>{key.role}</td>
              <td>{key.listings?.join(", ") ?? "all"}</td>
              <td>{timeText(key.createdAt)}</td>
              <td>{key.lastUsedAt === null ? "never" : timeText(key.lastUsedAt)}</td>
              <td className={isPast(key.expiresAt) ? "text-error" : ""}>
                {key.expiresAt === null ? "never" : timeText(key.expiresAt)}
                {isPast(key.expiresAt) ? ", expired" : ""}
              </td>
              <td>
                <Revoke id={key.id} name={key.name} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Ends a key in two acts, since what shows it is refused at once. */
function Revoke({ id, name }: { readonly id: number; readonly name: string }) {
  const queries = useQueryClient();
  const [requested, setRequested] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const revoke = async () => {
    try {
      await service.revokeKey(id);
      await queries.invalidateQueries({ queryKey: ["keys"] });
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    }
  };
  if (!requested) {
    return (
      <button
        type="button"
        className="btn btn-sm"
        aria-label={`Revoke ${name}`}
        onClick={() => setRequested(true)}
      >
        Revoke
      </button>
    );
  }
  return (
    <span className="flex flex-wrap items-center gap-2">
      <button
        type="button"
        autoFocus
        className="btn btn-error btn-sm"
        onClick={() => void revoke()}
      >
        Revoke “{name}”
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => setRequested(false)}>
        Cancel
      </button>
      {failure === null ? null : (
        <span role="alert" className="text-error">
          {failure}
        </span>
      )}
    </span>
  );
}

function SignInCode() {
  const [code, setCode] = useState<{ readonly code: string; readonly expiresAt: string }>();
  return (
    <section aria-labelledby="code" className="mt-8">
      <h2 id="code" className="font-sentence text-xl">
        Add an owner
      </h2>
      <p className="mt-1">A code signs one person in as an owner, once, within an hour.</p>
      <button
        type="button"
        className="btn mt-2"
        onClick={() => void service.createSignInCode().then(setCode)}
      >
        Create a sign-in code
      </button>
      <p aria-live="polite" className="mt-2 min-h-8 text-lg">
        {code === undefined ? null : (
          <>
            <code className="font-semibold">{code.code}</code>, until {timeText(code.expiresAt)}
          </>
        )}
      </p>
    </section>
  );
}

function isPast(instant: string | null): boolean {
  return instant !== null && Date.parse(instant) <= Date.now();
}

function timeText(instant: string): string {
  return new Date(instant).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
}
