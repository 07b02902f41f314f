import { useQueryClient, type QueryKey } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/** How long a request runs before it is shown. */
const LONG_MS = 1_000;

interface Asked {
  readonly key: QueryKey;
  readonly doing: string;
  /** When it was begun, in milliseconds since 1970. */
  readonly since: number;
}

/** What takes long at this moment, in a corner of its own; each can be stopped. */
export function Running() {
  const queries = useQueryClient();
  const [now, setNow] = useState(0);
  const [requested, setRequested] = useState<ReadonlyMap<string, Asked>>(new Map());
  useEffect(
    () =>
      queries.getQueryCache().subscribe(({ query: { queryHash, queryKey, state, meta } }) => {
        const runs = state.fetchStatus === "fetching";
        // The cache notifies of changes while a page is being drawn; nothing is changed then.
        queueMicrotask(() => {
          setRequested((before) => {
            if (runs === before.has(queryHash)) return before;
            const next = new Map(before);
            const doing = meta?.doing ?? "Loading";
            if (runs) next.set(queryHash, { key: queryKey as QueryKey, doing, since: Date.now() });
            else next.delete(queryHash);
            return next;
          });
        });
      }),
    [queries],
  );
  useEffect(() => {
    if (requested.size === 0) return undefined;
    const timer = setInterval(() => setNow(Date.now()), LONG_MS / 2);
    return () => clearInterval(timer);
  }, [requested]);
  const long = [...requested].filter(([, { since }]) => now - since >= LONG_MS);
  if (long.length === 0) return null;
  return (
    <ul
      aria-label="Slow requests"
      className="fixed end-4 bottom-4 z-20 flex max-w-sm flex-col gap-2 rounded-box border border-primary bg-base-200 p-3 text-sm shadow"
    >
      {long.map(([hash, { key, doing, since }]) => (
        <li key={hash} className="flex items-baseline gap-3">
          <span className="flex-1" role="status">
            {doing}
          </span>
          <span className="tabular-nums opacity-80">{Math.floor((now - since) / 1_000)} s</span>
          <button
            type="button"
            className="btn btn-xs"
            aria-label={`Stop: ${doing}`}
            onClick={() => void queries.cancelQueries({ queryKey: key, exact: true })}
          >
            Stop
          </button>
        </li>
      ))}
    </ul>
  );
}

declare module "@tanstack/react-query" {
  interface Register {
    queryMeta: {
      /** What is done, in words: `Counting the records`. */
      readonly doing?: string;
    };
  }
}
