import { useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { keepCsrf, service } from "../service/service.js";

/** Asks for the one-time code that the service printed when it started, or for a key. */
export function SignIn() {
  const queries = useQueryClient();
  const [code, setCode] = useState("");
  const [failure, setFailure] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  const submit = async (event: SubmitEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      keepCsrf((await service.signIn(code)).csrf);
      await queries.resetQueries();
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
      setBusy(false);
    }
  };

  return (
    <main className="grid min-h-screen place-items-center bg-base-200 p-4 text-base-content">
      <form
        onSubmit={(event) => void submit(event)}
        className="w-full max-w-md border-t-4 border-primary bg-base-100 p-8 shadow-sm"
      >
        <h1 className="flex items-center gap-3 font-sentence text-2xl font-semibold">
          <img src="/mark.svg" alt="" className="size-8" />
          Orisma
        </h1>
        <label htmlFor="code" className="mt-6 block font-medium">
          Sign-in code or key
        </label>
        <p id="code-help" className="mt-1 text-sm opacity-80">
          The service printed a code when it started; <code>npx orisma keys code</code> makes
          another. If you were given a key, sign in with it.
        </p>
        <input
          id="code"
          className="input mt-3 w-full font-mono text-lg"
          value={code}
          onChange={(event) => setCode(event.target.value)}
          placeholder="XXXX-XXXX-XXXX-XXXX"
          autoComplete="one-time-code"
          autoFocus
          spellCheck={false}
          aria-describedby="code-help code-failure"
          aria-invalid={failure !== null}
        />
        <p id="code-failure" role="alert" className="mt-2 min-h-6 text-error">
          {failure}
        </p>
        <button
          type="submit"
          className="btn btn-primary mt-2 w-full"
          disabled={busy || code === ""}
        >
          Sign in
        </button>
      </form>
    </main>
  );
}
