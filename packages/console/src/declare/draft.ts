import { useState } from "react";

/** A text that is worked on: kept through a reload and a page in between, until it is done with. */
export interface SavedDraft {
  readonly text: string;
  /** Whether it is from before this page was opened. */
  readonly isFromBefore: boolean;
  readonly change: (text: string) => void;
  /** Closes it, for what it began with. */
  readonly discard: () => void;
}

/**
 * The draft of something by its name, kept in this tab of the browser. One that began with another
 * text is left: what it was to change has been changed meanwhile.
 */
export function useSavedDraft(name: string, begun: string): SavedDraft {
  const key = `orisma-draft ${name}`;
  const [savedText, setSaved] = useState(() => storedText(key, begun));
  const [before] = useState(savedText);
  const keep = (text: string | null) => {
    setSaved(text);
    if (text === null || text === begun) sessionStorage.removeItem(key);
    else sessionStorage.setItem(key, JSON.stringify([begun, text]));
  };
  return {
    text: savedText ?? begun,
    isFromBefore: before !== null && savedText === before,
    change: keep,
    discard: () => keep(null),
  };
}

function storedText(key: string, begun: string): string | null {
  const stored = JSON.parse(sessionStorage.getItem(key) ?? "[]") as readonly unknown[];
  const [from, text] = stored;
  return from === begun && typeof text === "string" ? text : null;
}
