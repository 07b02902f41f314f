import { NAMED_WINDOWS, listWindows, type WindowContext } from "@orisma/core/internal";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";
import { withoutZone } from "../dates/words.js";

export interface NamedProps {
  readonly context: WindowContext;
  /** The window that is shown, as it is typed. */
  readonly window: string;
  readonly onPick: (window: string) => void;
}

/** Windows by name, each with its dates on the as-of day. */
export function Named({ context, window, onPick }: NamedProps) {
  const [sought, setSought] = useState("");
  const mayName = useMay("author");
  const queries = useQueryClient();
  // Their dates are worked out here, so that they follow the clock of the bench at each key.
  const named = useQuery({
    queryKey: ["named windows"],
    queryFn: () => service.namedWindows(),
    staleTime: 60_000,
  });
  const remove = useMutation({
    mutationFn: (name: string) => service.deleteWindow(name),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["named windows"] }),
  });
  const listed = listWindows(named.data ?? NAMED_WINDOWS, context);
  const found = (listed.ok ? listed.value : []).filter((each) =>
    `${each.label} ${each.window}`.toLowerCase().includes(sought.trim().toLowerCase()),
  );
  return (
    <section aria-label="Windows by name">
      <h2 className="font-sentence text-xl">By name</h2>
      <input
        type="search"
        className="input input-sm mt-2 w-full"
        aria-label="Find a name"
        placeholder="find a name"
        value={sought}
        onChange={(event) => setSought(event.target.value)}
      />
      {remove.isError ? (
        <p role="alert" className="mt-2 text-sm text-error">
          {remove.error.message}
        </p>
      ) : null}
      <ul className="mt-2">
        {found.map(({ name, label, window: each, sentence }) => (
          <li key={name} className="flex items-start gap-2 border-t border-base-300 py-1">
            <div className="min-w-0 flex-1">
              <button
                type="button"
                className={`link link-hover text-start ${each === window ? "font-semibold" : ""}`}
                aria-current={each === window}
                onClick={() => onPick(each)}
              >
                {label}
              </button>{" "}
              {each === label ? null : <code className="text-sm opacity-80">{each}</code>}
              <p className="text-sm opacity-80">{withoutZone(sentence)}</p>
            </div>
            {mayName && isAdded(name) ? (
              <button
                type="button"
                className="link text-sm"
                aria-label={`Delete ${label}`}
                disabled={remove.isPending}
                onClick={() => remove.mutate(name)}
              >
                Delete
              </button>
            ) : null}
          </li>
        ))}
      </ul>
      {found.length === 0 ? <p className="mt-2 text-sm">No window matches.</p> : null}
      {mayName ? <NewName key={window} window={window} /> : null}
    </section>
  );
}

/** Those that every service has keep their names. */
function isAdded(name: string): boolean {
  return !NAMED_WINDOWS.some((each) => each.name === name);
}

/** Gives the window that is shown a name of its own, for everybody. */
function NewName({ window }: { readonly window: string }) {
  const [label, setLabel] = useState("");
  const heading = useId();
  const queries = useQueryClient();
  const declare = useMutation({
    mutationFn: () => service.declareWindow(nameFrom(label), { label: label.trim(), window }),
    onSuccess: async () => {
      setLabel("");
      await queries.invalidateQueries({ queryKey: ["named windows"] });
    },
  });
  return (
    <form
      aria-labelledby={heading}
      className="mt-4 flex flex-col gap-2 border-t border-base-300 pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        declare.mutate();
      }}
    >
      <h3 id={heading} className="text-sm font-semibold">
        Name for <code className="break-all">{window}</code>
      </h3>
      <label className="flex flex-col gap-1 text-sm">
        Label
        <input
          className="input input-sm w-full"
          value={label}
          placeholder="the dredging season"
          required
          maxLength={80}
          onChange={(event) => setLabel(event.target.value)}
        />
      </label>
      <button
        type="submit"
        className="btn btn-sm self-start"
        disabled={nameFrom(label) === "" || declare.isPending}
      >
        Save{nameFrom(label) === "" ? "" : ` ${nameFrom(label)}`}
      </button>
      {declare.isError ? (
        <p role="alert" className="text-sm text-error">
          {declare.error.message}
        </p>
      ) : null}
    </form>
  );
}

/** A label as a name: lower case, with hyphens. */
function nameFrom(label: string): string {
  return label
    .toLowerCase()
    .replace(/^(?:the|a|an) /, "")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^[^a-z]+|-+$/g, "")
    .slice(0, 64);
}
