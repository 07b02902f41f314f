import { createContext, useContext, useEffect, useRef } from "react";

/** Something that can be done from the keyboard: by its name in the palette, some by a key of theirs. */
export interface Command {
  readonly name: string;
  /** A single character, pressed while nothing is being typed. */
  readonly key?: string;
  readonly run: () => void;
}

/** What the pages that are shown offer to do; each page adds its own and takes it away again. */
export class CommandBook {
  readonly #pages = new Map<object, () => readonly Command[]>();

  /** Every command, those of the page before those of all pages. */
  all(): readonly Command[] {
    return [...this.#pages.values()].reverse().flatMap((commands) => commands());
  }

  add(commands: () => readonly Command[]): () => void {
    const page = {};
    this.#pages.set(page, commands);
    return () => this.#pages.delete(page);
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

/** Offers commands for as long as the component is there. */
export function useCommands(commands: readonly Command[]): void {
  const book = useContext(Commands);
  const latest = useRef(commands);
  useEffect(() => {
    latest.current = commands;
  });
  useEffect(() => book.add(() => latest.current), [book]);
}
