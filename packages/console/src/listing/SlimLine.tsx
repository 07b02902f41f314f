import { useEffect, useRef, useState } from "react";

/** Pixels of the line that stays at the top. */
export const SLIM_LINE_PX = 36;

/**
 * The count and the sentence in one line at the top, once they are scrolled out of sight. It stands where they end, and
 * says nothing more to whoever has them read out.
 */
export function SlimLine(props: { readonly count: string; readonly sentence: string }) {
  const end = useRef<HTMLDivElement>(null);
  const [isOut, setOut] = useState(false);
  useEffect(() => {
    if (end.current === null) return;
    const watch = new IntersectionObserver(([entry]) =>
      setOut(entry !== undefined && !entry.isIntersecting && entry.boundingClientRect.top < 0),
    );
    watch.observe(end.current);
    return () => watch.disconnect();
  }, []);
  return (
    <>
      <div ref={end} aria-hidden />
      {isOut ? (
        <button
          type="button"
          tabIndex={-1}
          aria-hidden
          title="Back to the top"
          className="fixed inset-x-0 top-0 z-10 flex h-9 cursor-pointer items-center gap-4 border-b border-base-300 bg-base-200 px-8 text-start text-sm"
          onClick={() => scrollTo({ top: 0 })}
        >
          <span className="font-semibold whitespace-nowrap tabular-nums">{props.count}</span>
          <span className="truncate font-sentence">{props.sentence}</span>
        </button>
      ) : null}
    </>
  );
}
