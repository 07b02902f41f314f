import type { ListingDetails } from "@orisma/client";
import { listWindows, NAMED_WINDOWS, type WindowContext } from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
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

const UNITS = ["day", "week", "month", "quarter", "year", "workday"] as const;

/** So many whole units before or after the current one, as a window. */
function WholeUnits(props: { readonly onPick: (window: string) => void }) {
  const [side, setSide] = useState<"last" | "next">("last");
  const [count, setCount] = useState("3");
  const [unit, setUnit] = useState<(typeof UNITS)[number]>("month");
  const size = Number(count);
  const isRight = Number.isInteger(size) && size >= 1 && size <= 999;
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    const sign = side === "last" ? "-" : "+";
    const [first, last] = side === "last" ? [size, 1] : [1, size];
    const [from, to] = [`${unit}${sign}${first}`, `${unit}${sign}${last}`];
    if (isRight) props.onPick(size === 1 ? from : `${from}/${to}`);
  };
  return (
    <form onSubmit={submit} className="mb-3 flex flex-wrap items-center gap-2">
      <select
        aria-label="Before or after now"
        className="select select-sm w-20"
        value={side}
        onChange={(event) => setSide(event.target.value === "next" ? "next" : "last")}
      >
        <option value="last">last</option>
        <option value="next">next</option>
      </select>
      <input
        aria-label="How many"
        type="number"
        min={1}
        max={999}
        className="input input-sm w-16 tabular-nums"
        value={count}
        aria-invalid={!isRight}
        onChange={(event) => setCount(event.target.value)}
      />
      <select
        aria-label="Units"
        className="select select-sm w-32"
        value={unit}
        onChange={(event) => setUnit(UNITS.find((each) => each === event.target.value) ?? "month")}
      >
        {UNITS.map((each) => (
          <option key={each} value={each}>
            {each === "workday" ? "working days" : `${each}s`}
          </option>
        ))}
      </select>
      <button type="submit" className="btn btn-sm btn-primary" disabled={!isRight}>
        Apply
      </button>
    </form>
  );
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
      <WholeUnits
        onPick={(window) => {
          const narrowed = withWindow(state, listing, column, window);
          if (narrowed !== null) onGo(narrowed);
        }}
      />
      <h3 className="text-sm font-medium">By name</h3>
      <ul
        className="mt-1 max-h-60 overflow-y-auto border-y border-base-300"
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
