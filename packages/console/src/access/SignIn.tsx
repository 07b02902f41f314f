import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState, type SubmitEvent } from "react";
import { noteSignIn } from "../service/connection.js";
import { keepCsrf, service } from "../service/service.js";

/** Asks who is here, in place of every page. */
export function SignIn() {
  const queries = useQueryClient();
  return (
    <main className="grid min-h-screen place-items-center bg-base-200 p-4 text-base-content">
      <SignInForm onSignedIn={() => queries.resetQueries()} />
    </main>
  );
}

/** Asks who is here over a page whose session ended: it stays as it is, with all that was typed. */
export function SignInAgain() {
  const queries = useQueryClient();
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  return (
    <dialog
      ref={dialog}
      aria-label="Sign in again"
      className="m-auto w-full max-w-md bg-transparent backdrop:bg-neutral/60"
      // Without a session the page has nothing to show: the dialog stays.
      onCancel={(event) => event.preventDefault()}
    >
      <SignInForm
        note="The session has ended. The page stays as it is."
        onSignedIn={async () => {
          await queries.invalidateQueries();
          // A refusal of before may have come meanwhile.
          noteSignIn();
        }}
      />
    </dialog>
  );
}

/** Asks for the one-time code that the service printed when it started, for a key, or for a name and a password. */
function SignInForm(props: {
  readonly note?: string;
  readonly onSignedIn: () => Promise<unknown>;
}) {
  const { note, onSignedIn } = props;
  const id = useId();
  const ways = useQuery({ queryKey: ["sign-in"], queryFn: () => service.signInWays() });
  const issuer = ways.data?.issuer ?? null;
  const [code, setCode] = useState("");
  const [isPerson, setPerson] = useState(false);
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [failure, setFailure] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  const submit = async (event: SubmitEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const signedIn = isPerson
        ? await service.signInAs(name, password)
        : await service.signIn(code);
      keepCsrf(signedIn.csrf);
      noteSignIn();
      await onSignedIn();
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
      setBusy(false);
    }
  };

  return (
    <form
      onSubmit={(event) => void submit(event)}
      className="w-full max-w-md border-t-4 border-primary bg-base-100 p-8 text-base-content shadow-sm"
    >
      <h1 className="flex items-center gap-3 font-sentence text-2xl font-semibold">
        <img src="/mark.svg" alt="" className="size-8" />
        Orisma
      </h1>
      {note === undefined ? null : <p className="mt-4">{note}</p>}
      {isPerson ? (
        <>
          <Field
            id={`${id}name`}
            label="Name"
            type="text"
            value={name}
            failureId={`${id}failure`}
            onValue={setName}
          />
          <Field
            id={`${id}password`}
            label="Password"
            type="password"
            value={password}
            failureId={`${id}failure`}
            onValue={setPassword}
          />
        </>
      ) : (
        <>
          <label htmlFor={`${id}code`} className="mt-6 block font-medium">
            Sign-in code or key
          </label>
          <p id={`${id}help`} className="mt-1 text-sm opacity-80">
            The service printed a code when it started; <code>npx orisma keys code</code> makes
            another. If you were given a key, sign in with it.
          </p>
          <input
            id={`${id}code`}
            className="input mt-3 w-full font-mono text-lg"
            value={code}
            onChange={(event) => setCode(event.target.value)}
            placeholder="XXXX-XXXX-XXXX-XXXX"
            autoComplete="one-time-code"
            autoFocus
            spellCheck={false}
            aria-describedby={`${id}help ${id}failure`}
            aria-invalid={failure !== null}
          />
        </>
      )}
      <p id={`${id}failure`} role="alert" className="mt-2 min-h-6 text-error">
        {failure}
      </p>
      <button
        type="submit"
        className="btn btn-primary mt-2 w-full"
        disabled={busy || (isPerson ? name === "" || password === "" : code === "")}
      >
        Sign in
      </button>
      <button
        type="button"
        className="link mt-4"
        onClick={() => {
          setFailure(null);
          setPerson(!isPerson);
        }}
      >
        {isPerson ? "Use a code or a key" : "Use a name and a password"}
      </button>
      {issuer === null ? null : (
        <a
          className="btn btn-outline mt-4 w-full"
          href={`/sign-in/issuer?to=${encodeURIComponent(`${location.pathname}${location.search}`)}`}
        >
          Sign in at {issuer}
        </a>
      )}
    </form>
  );
}

function Field(props: {
  readonly id: string;
  readonly label: string;
  readonly type: "text" | "password";
  readonly value: string;
  /** The element that says what was wrong. */
  readonly failureId: string;
  readonly onValue: (value: string) => void;
}) {
  const { id, label, type, value, failureId, onValue } = props;
  return (
    <>
      <label htmlFor={id} className="mt-4 block font-medium">
        {label}
      </label>
      <input
        id={id}
        type={type}
        className="input mt-1 w-full"
        value={value}
        onChange={(event) => onValue(event.target.value)}
        autoComplete={type === "text" ? "username" : "current-password"}
        autoFocus={type === "text"}
        aria-describedby={failureId}
      />
    </>
  );
}
