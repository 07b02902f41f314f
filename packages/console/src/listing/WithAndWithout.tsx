import type { ListingDetails } from "@orisma/client";
import { useQuery } from "@tanstack/react-query";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { Difference } from "./Difference.js";
import { totalText } from "./counts.js";
import { cleared, searchOf, withParameters, type PageState } from "./state.js";

/** What the conditions remove, by the records that are only there without them. */
export function WithAndWithout(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const after = withParameters(state, { order: [], size: [] });
  const before = cleared(after, listing);
  const found = useQuery({
    meta: { doing: "Comparing" },
    queryKey: ["without", listing.name, listing.version, searchOf(after).toString()],
    queryFn: ({ signal }) => service.compare(listing.name, { before, after, size: 10 }, signal),
  });
  if (found.isError) return <p className="text-error">{found.error.message}</p>;
  if (found.data === undefined) return <Pending query={found} height="h-24" />;
  const { before: without, after: within, removed, added } = found.data;
  return (
    <dl className="grid gap-x-6 gap-y-1 sm:grid-cols-[max-content_max-content_1fr]">
      <dt>without</dt>
      <dd className="font-semibold tabular-nums">{totalText(without)}</dd>
      <dd />
      <dt>with</dt>
      <dd className="font-semibold tabular-nums">{totalText(within)}</dd>
      <dd />
      <Difference words="only without" answer={removed} />
      {added.total === 0 ? null : <Difference words="only with" answer={added} />}
    </dl>
  );
}
