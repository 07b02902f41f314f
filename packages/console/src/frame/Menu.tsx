import { ChevronDown } from "lucide-react";
import { useRef, useState, type ReactNode } from "react";
import { useOutside } from "./useOutside.js";

/** A button that opens a short list of things to do; a choice, Escape and a press outside close it. */
export function Menu(props: { readonly label: string; readonly children: ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  const place = useRef<HTMLDivElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  useOutside(place, () => setOpen(false), isOpen);
  return (
    <div
      ref={place}
      className="relative"
      onBlur={({ currentTarget, relatedTarget }) => {
        if (relatedTarget !== null && !currentTarget.contains(relatedTarget)) setOpen(false);
      }}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || !isOpen) return;
        event.stopPropagation();
        setOpen(false);
        button.current?.focus();
      }}
    >
      <button
        ref={button}
        type="button"
        className="btn btn-sm btn-ghost aria-expanded:bg-base-300"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        <span className="max-w-40 truncate">{props.label}</span>
        <ChevronDown className="size-4" aria-hidden />
      </button>
      {isOpen ? (
        <ul
          aria-label={props.label}
          className="absolute end-0 z-30 mt-1 w-max max-w-[80vw] border border-base-300 bg-base-100 py-1 shadow-xl [&_a]:block [&_a]:w-full [&_a]:px-4 [&_a]:py-1.5 [&_a]:text-start [&_a:hover]:bg-base-200 [&_button]:block [&_button]:w-full [&_button]:cursor-pointer [&_button]:px-4 [&_button]:py-1.5 [&_button]:text-start [&_button:hover]:bg-base-200"
          onClick={() => {
            setOpen(false);
            button.current?.focus();
          }}
        >
          {props.children}
        </ul>
      ) : null}
    </div>
  );
}
