import { useState, type FocusEvent, type PointerEvent, type SyntheticEvent } from "react";

interface Whole {
  readonly text: string;
  readonly top: number;
  readonly left: number;
}

/** The whole of a text that is cut, while it is pointed at or has the focus. */
export function useWholeText() {
  const [whole, setWhole] = useState<Whole | null>(null);
  const show = ({ target }: SyntheticEvent) => {
    const cell = target instanceof Element ? target.closest("td") : null;
    const cut = cell?.querySelector<HTMLElement>(".truncate");
    if (cell == null || cut == null || cut.scrollWidth <= cut.clientWidth) {
      setWhole(null);
      return;
    }
    const { bottom, left } = cell.getBoundingClientRect();
    setWhole({ text: cut.innerText, top: bottom, left });
  };
  const hide = () => setWhole(null);
  return {
    events: {
      onPointerOver: (event: PointerEvent) => show(event),
      onPointerLeave: hide,
      onFocus: (event: FocusEvent) => show(event),
      onBlur: hide,
    },
    hide,
    shown:
      whole === null ? null : (
        <div
          aria-hidden
          className="pointer-events-none fixed z-30 max-w-96 border border-base-300 bg-base-100 px-3 py-2 text-[0.9375rem] shadow-lg"
          style={{
            top: Math.min(whole.top, innerHeight - 80),
            left: Math.max(8, Math.min(whole.left, innerWidth - 400)),
          }}
        >
          {whole.text}
        </div>
      ),
  };
}
