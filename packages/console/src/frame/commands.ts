import { createContext, useContext, useEffect, useRef } from "react";

/** Something that can be done from the keyboard: by its name in the palette, some by a key of theirs. */
export interface Command {
  readonly name: string;
  /** A single character, pressed while nothing is being typed. */
  readonly key?: string;
  readonly run: () => void;
}

/** What a page makes of what is typed, beside the commands that it always has. */
export type Suggest = (text: string) => readonly Command[];

/** What the pages that are shown offer to do; each page adds its own and takes it away again. */
export class CommandBook {
  readonly #pages = new Map<object, () => readonly Command[]>();
  readonly #suggests = new Set<Suggest>();

  /** Every command, those of the page before those of all pages. */
  all(): readonly Command[] {
    return [...this.#pages.values()].reverse().flatMap((commands) => commands());
  }

  /** What is made of what is typed. */
  suggested(text: string): readonly Command[] {
    return text.trim() === "" ? [] : [...this.#suggests].flatMap((suggest) => suggest(text.trim()));
  }

  add(commands: () => readonly Command[], suggest: Suggest): () => void {
    const page = {};
    this.#pages.set(page, commands);
    this.#suggests.add(suggest);
    return () => {
      this.#pages.delete(page);
      this.#suggests.delete(suggest);
    };
  }
}

export const Commands = createContext(new CommandBook());

const SINGLE_KEYS = "orisma-single-keys";

/** Whether single keys do something: whoever speaks to their machine may not want them to. */
export function hasSingleKeys(): boolean {
  return localStorage.getItem(SINGLE_KEYS) !== "off";
}

/** Switches single keys on or off, and remembers it. */
export function setSingleKeys(on: boolean): void {
  localStorage.setItem(SINGLE_KEYS, on ? "on" : "off");
}

/** Offers commands for as long as the component is there, and what it makes of what is typed. */
export function useCommands(commands: readonly Command[], suggest: Suggest = nothing): void {
  const book = useContext(Commands);
  const latest = useRef({ commands, suggest });
  useEffect(() => {
    latest.current = { commands, suggest };
  });
  useEffect(
    () =>
      book.add(
        () => latest.current.commands,
        (text) => latest.current.suggest(text),
      ),
    [book],
  );
}

function nothing(): readonly Command[] {
  return [];
}
