import { useEffect, useEffectEvent, useLayoutEffect, useRef, type ReactNode } from "react";
import { useOutside } from "../frame/useOutside.js";

/** Pixels between a clause and its editor. */
const GAP = 6;

/**
 * Where a clause is changed: beneath it, over the records, which stay in sight. Escape and a press outside close it and
 * change nothing; with Escape the focus is at the clause again.
 */
export function ClauseEditor(props: {
  readonly onClose: () => void;
  readonly children: ReactNode;
}) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const first = place.current?.querySelector<HTMLElement>("[data-first], input, select, button");
    first?.focus();
  }, []);
  useLayoutEffect(() => {
    const editor = place.current;
    const sentence = editor?.parentElement;
    if (editor == null || sentence == null) return;
    const put = () => putBeneath(editor, sentence);
    put();
    const watch = new ResizeObserver(put);
    watch.observe(editor);
    watch.observe(sentence);
    return () => watch.disconnect();
  }, []);
  const close = () => {
    const clause = place.current?.parentElement?.querySelector<HTMLElement>("[aria-expanded=true]");
    props.onClose();
    clause?.focus();
  };
  // What had the focus may be gone with an answer: the page has it then.
  const closeFromPage = useEffectEvent((event: KeyboardEvent) => {
    if (event.key === "Escape" && document.activeElement === document.body) close();
  });
  useEffect(() => {
    const byKey = (event: KeyboardEvent) => closeFromPage(event);
    document.addEventListener("keydown", byKey);
    return () => document.removeEventListener("keydown", byKey);
  }, []);
  useOutside(place, (target) => {
    // A clause opens and closes by itself.
    if (target.closest("[aria-expanded]") === null) props.onClose();
  });
  return (
    <div
      ref={place}
      role="group"
      aria-label="Change"
      className="z-20 w-full overflow-y-auto border border-s-4 border-base-300 border-s-accent bg-base-200 p-3 font-sans text-base leading-normal shadow-xl sm:absolute sm:max-h-[22.5rem] sm:w-max sm:max-w-full"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        close();
      }}
    >
      {props.children}
    </div>
  );
}

/** Puts an editor beneath the clause that is open, or beneath all of them, within the width of the page. */
function putBeneath(editor: HTMLElement, sentence: HTMLElement): void {
  const around = sentence.getBoundingClientRect();
  const clause = sentence.querySelector("[role=button][aria-expanded=true]");
  // Of a clause on several lines the last is nearest.
  const line = [...(clause?.getClientRects() ?? [])].at(-1);
  const room = around.width - editor.offsetWidth;
  const wanted = line === undefined ? 0 : line.left - around.left;
  editor.style.left = `${Math.max(0, Math.min(wanted, room))}px`;
  const bottom = line === undefined ? around.height : line.bottom - around.top;
  editor.style.top = `${bottom + GAP}px`;
}
