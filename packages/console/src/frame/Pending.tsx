import type { UseQueryResult } from "@tanstack/react-query";

type Asked = Pick<UseQueryResult, "fetchStatus" | "isPlaceholderData" | "isPending" | "refetch">;

/** Keeps the place of an answer that is not here yet; of one that was stopped it says so. */
export function Pending({ query, height }: { readonly query: Asked; readonly height: string }) {
  return query.fetchStatus === "idle" ? (
    <Stopped query={query} />
  ) : (
    <div role="status" className={`skeleton mt-4 w-full ${height}`}>
      <span className="sr-only">Loading</span>
    </div>
  );
}

/** Says that an answer was called off, and asks for it again. */
export function Stopped({ query }: { readonly query: Asked }) {
  const { fetchStatus, isPlaceholderData, isPending, refetch } = query;
  if (fetchStatus !== "idle" || !(isPending || isPlaceholderData)) return null;
  return (
    <p role="status" className="my-3">
      The request was stopped.{" "}
      <button type="button" className="link" onClick={() => void refetch()}>
        Try again
      </button>
    </p>
  );
}
