import { useContext, useEffect, useRef } from "react";
import { Commands, hasSingleKeys, setSingleKeys } from "./commands.js";

/** Keys that do not belong to a command. */
const OTHERS = [
  ["Ctrl K", "Search commands"],
  ["?", "Keyboard shortcuts"],
  ["Esc", "Close without changes"],
  ["arrows", "From cell to cell, from day to day, from unit to unit of the ribbon"],
  ["Page Up, Page Down", "A month, or seven units of the ribbon"],
  ["+, -", "On an edge of the ribbon: nearer by, farther off"],
] as const;

/** The keys that do something on this page. */
export function Shortcuts({ onClose }: { readonly onClose: () => void }) {
  const book = useContext(Commands);
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    dialog.current?.showModal();
  }, []);
  const own = book.all().flatMap(({ key, name }) => (key === undefined ? [] : [[key, name]]));
  return (
    <dialog
      ref={dialog}
      aria-labelledby="shortcuts"
      className="m-auto max-w-[calc(100vw-2rem)] border-s-4 border-accent bg-base-100 p-6 text-base-content backdrop:bg-neutral/40"
      onClose={onClose}
    >
      <h2 id="shortcuts" className="font-sentence text-xl">
        Keys
      </h2>
      <dl className="mt-3 grid grid-cols-[max-content_1fr] gap-x-6 gap-y-2">
        {[...own, ...OTHERS].map(([key, name]) => (
          <div key={`${key} ${name}`} className="contents">
            <dt>
              <kbd className="kbd">{key}</kbd>
            </dt>
            <dd>{name}</dd>
          </div>
        ))}
      </dl>
      <label className="mt-4 flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          defaultChecked={hasSingleKeys()}
          onChange={(event) => setSingleKeys(event.target.checked)}
        />
        Enable single-key shortcuts
      </label>
      <form method="dialog" className="mt-4">
        <button type="submit" className="btn" autoFocus>
          Close
        </button>
      </form>
    </dialog>
  );
}
