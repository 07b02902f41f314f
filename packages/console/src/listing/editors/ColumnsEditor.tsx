import type { ListingDetails } from "@orisma/client";
import { ChevronDown, ChevronUp } from "lucide-react";

/** Which columns are shown, and in which order. */
export function ColumnsEditor(props: {
  readonly listing: ListingDetails;
  /** The names of those that are shown, in their order. */
  readonly shown: readonly string[];
  /** An empty list is what the listing shows by itself. */
  readonly onShow: (names: readonly string[]) => void;
}) {
  const { listing, shown, onShow } = props;
  const { labels = {} } = listing;
  const all = listing.shown.map(({ name }) => name);
  const listed = [...shown, ...all.filter((name) => !shown.includes(name))];
  const show = (names: readonly string[]) =>
    onShow(names.join("\n") === all.join("\n") ? [] : names);
  const move = (name: string, step: 1 | -1) => {
    const at = shown.indexOf(name);
    const next = shown.filter((each) => each !== name);
    next.splice(at + step, 0, name);
    show(next);
  };
  return (
    <>
      <ol className="flex flex-col gap-1">
        {listed.map((name) => {
          const label = labels[name] ?? name;
          const at = shown.indexOf(name);
          return (
            <li key={name} className="flex items-center gap-2">
              <label className="flex w-56 items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  checked={at >= 0}
                  disabled={at >= 0 && shown.length === 1}
                  onChange={() =>
                    show(at < 0 ? [...shown, name] : shown.filter((each) => each !== name))
                  }
                />
                {label}
              </label>
              <button
                type="button"
                className="btn btn-ghost btn-sm btn-square"
                aria-label={`${label} earlier`}
                disabled={at <= 0}
                onClick={() => move(name, -1)}
              >
                <ChevronUp className="size-4" aria-hidden />
              </button>
              <button
                type="button"
                className="btn btn-ghost btn-sm btn-square"
                aria-label={`${label} later`}
                disabled={at < 0 || at === shown.length - 1}
                onClick={() => move(name, 1)}
              >
                <ChevronDown className="size-4" aria-hidden />
              </button>
            </li>
          );
        })}
      </ol>
      <button
        type="button"
        className="btn btn-sm mt-3"
        disabled={shown.join("\n") === all.join("\n")}
        onClick={() => onShow([])}
      >
        All columns
      </button>
    </>
  );
}
