import type { ListingDetails } from "@orisma/client";
import { listWindows, NAMED_WINDOWS, type WindowContext } from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { service } from "../../service/service.js";
import { withoutZone } from "../../dates/words.js";
import { totalText, useCounts } from "../counts.js";
import { takesUnions, withWindow } from "../narrowing.js";
import type { PageState } from "../state.js";

export interface WindowListProps {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly state: PageState;
  readonly context: WindowContext;
  readonly onGo: (state: PageState) => void;
}

/** Windows by name, each with its dates and what it would hold; several make a union. */
export function WindowList({ listing, column, state, context, onGo }: WindowListProps) {
  const [picked, setPicked] = useState<readonly string[]>([]);
  const named = useQuery({
    queryKey: ["named windows"],
    queryFn: () => service.namedWindows(),
    staleTime: 60_000,
  });
  const listed = listWindows(named.data ?? NAMED_WINDOWS, context);
  const unions = takesUnions(listing, column);
  const possible = (listed.ok ? listed.value : []).flatMap((each) => {
    const narrowed = withWindow(state, listing, column, each.window);
    return narrowed === null ? [] : [{ ...each, narrowed }];
  });
  const counts = useCounts(
    listing,
    possible.map(({ narrowed }) => narrowed),
  );
  const countText = (page: PageState) => {
    const count = counts.of(page);
    if (count === undefined) return counts.isComing ? "…" : "";
    return count.faults === undefined ? totalText(count) : "";
  };
  const union = withWindow(state, listing, column, picked.join("|"));
  return (
    <section aria-label="Windows by name" className="min-w-0">
      <h3 className="text-sm font-medium">By name</h3>
      <ul
        className="mt-1 max-h-72 overflow-y-auto border-y border-base-300"
        tabIndex={0}
        aria-label="Windows"
      >
        {possible.map(({ name, label, window, sentence, narrowed }) => (
          <li key={name} className="flex items-start gap-2 border-b border-base-300 py-1 pe-2">
            {unions ? (
              <input
                type="checkbox"
                className="checkbox checkbox-sm mt-1"
                aria-label={`Add ${label} to what is picked`}
                checked={picked.includes(window)}
                onChange={() =>
                  setPicked(
                    picked.includes(window)
                      ? picked.filter((each) => each !== window)
                      : [...picked, window],
                  )
                }
              />
            ) : null}
            <button
              type="button"
              className="grid flex-1 cursor-pointer grid-cols-[1fr_auto] gap-x-3 text-start hover:underline"
              onClick={() => onGo(narrowed)}
            >
              <span>{label}</span>
              <span className="text-end tabular-nums">{countText(narrowed)}</span>
              <span className="col-span-2 text-sm opacity-80">{withoutZone(sentence)}</span>
            </button>
          </li>
        ))}
      </ul>
      {picked.length > 1 && union !== null ? (
        <button type="button" className="btn btn-primary btn-sm mt-2" onClick={() => onGo(union)}>
          Apply {picked.length} windows
        </button>
      ) : null}
    </section>
  );
}
