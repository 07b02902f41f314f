import { useQuery } from "@tanstack/react-query";
import { useContext, useEffect, useId, useRef, useState, type KeyboardEvent } from "react";
import { useNavigate } from "react-router";
import { service } from "../service/service.js";
import { Commands, type Command } from "./commands.js";

/** Commands that are shown at once. */
const MAX = 12;

/** Finds anything that can be done by a part of its name. */
export function Palette({ onClose }: { readonly onClose: () => void }) {
  const book = useContext(Commands);
  const navigate = useNavigate();
  const dialog = useRef<HTMLDialogElement>(null);
  const [text, setText] = useState("");
  const [chosen, setChosen] = useState(0);
  const id = useId();
  const listings = useQuery({
    queryKey: ["listings"],
    queryFn: ({ signal }) => service.listings(signal),
    staleTime: 60_000,
  });
  useEffect(() => {
    dialog.current?.showModal();
  }, []);
  const known: readonly Command[] = [
    ...book.all(),
    ...(listings.data ?? []).map(({ name, title }) => ({
      name: `Listing: ${title}`,
      run: () => void navigate(`/listings/${name}`),
    })),
  ];
  const words = text.toLowerCase().split(/\s+/);
  const found = [
    ...book.suggested(text),
    ...known.filter(({ name }) => words.every((word) => name.toLowerCase().includes(word))),
  ].slice(0, MAX);
  const at = Math.min(chosen, found.length - 1);
  const run = (command: Command | undefined) => {
    if (command === undefined) return;
    onClose();
    command.run();
  };
  const byKey = (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    if (step !== 0 && found.length > 0) {
      event.preventDefault();
      setChosen((at + step + found.length) % found.length);
    }
    if (event.key !== "Enter") return;
    event.preventDefault();
    run(found[at]);
  };
  return (
    <dialog
      ref={dialog}
      aria-label="Search commands"
      className="m-auto mt-24 w-[36rem] max-w-[calc(100vw-2rem)] border-s-4 border-accent bg-base-100 p-4 text-base-content backdrop:bg-neutral/40"
      onClose={onClose}
      onClick={(event) => {
        if (event.target === dialog.current) onClose();
      }}
    >
      <input
        role="combobox"
        aria-label="Search commands"
        aria-expanded
        aria-controls={id}
        aria-activedescendant={at < 0 ? undefined : `${id}-${at}`}
        className="input w-full text-lg"
        placeholder="A page, a listing, a command, or a condition such as last month"
        value={text}
        autoComplete="off"
        autoFocus
        onKeyDown={byKey}
        onChange={(event) => {
          setText(event.target.value);
          setChosen(0);
        }}
      />
      <ul id={id} role="listbox" aria-label="Results" className="mt-2">
        {found.map((command, index) => (
          <li
            key={`${index} ${command.name}`}
            id={`${id}-${index}`}
            role="option"
            aria-selected={index === at}
            className="flex min-h-9 cursor-pointer items-center justify-between px-3 aria-selected:bg-base-300"
            onClick={() => run(command)}
          >
            {command.name}
            {command.key === undefined ? null : <kbd className="kbd kbd-sm">{command.key}</kbd>}
          </li>
        ))}
      </ul>
      {found.length === 0 ? <p className="p-3">No results.</p> : null}
    </dialog>
  );
}
