import { useEffect, useEffectEvent, useState } from "react";
import { FIRST_SEEN, type PageState } from "./state.js";

/** Milliseconds in which a reset can be undone. */
const UNDO_MS = 10_000;

/** Resets a page to how it is first seen, and undoes that for a while, by a button or Ctrl+Z; null where it cannot be. */
export function useReset(
  state: PageState,
  onGo: (state: PageState) => void,
): { readonly reset: () => void; readonly undo: (() => void) | null } {
  const [before, setBefore] = useState<PageState | null>(null);
  const undoNow = useEffectEvent(() => {
    if (before !== null) onGo(before);
    setBefore(null);
  });
  useEffect(() => {
    if (before === null) return;
    const ends = setTimeout(() => setBefore(null), UNDO_MS);
    const byKey = (event: KeyboardEvent) => {
      const isTyping = event.target instanceof Element && event.target.closest("input, textarea");
      if (isTyping || event.key !== "z" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      undoNow();
    };
    document.addEventListener("keydown", byKey);
    return () => {
      clearTimeout(ends);
      document.removeEventListener("keydown", byKey);
    };
  }, [before]);
  return {
    reset: () => {
      setBefore(state);
      onGo(FIRST_SEEN);
    },
    undo:
      before === null
        ? null
        : () => {
            setBefore(null);
            onGo(before);
          },
  };
}
