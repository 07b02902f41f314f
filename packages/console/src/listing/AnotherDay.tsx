import type { ListingDetails } from "@orisma/client";
import { isoDay } from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { Difference } from "./Difference.js";
import { totalText } from "./counts.js";
import { searchOf, valueOf, withParameters, type PageState } from "./state.js";

export interface AnotherDayProps {
  readonly listing: ListingDetails;
  readonly state: PageState;
  /** The day today in the listing's zone, counted from 1970-01-01. */
  readonly today: number;
  readonly onGo: (state: PageState) => void;
}

/** Moves the clock: what the page will hold on another day, beside what it holds today. */
export default function AnotherDay({ listing, state, today, onGo }: AnotherDayProps) {
  const day = valueOf(state, "asOf").slice(0, 10) || isoDay(today);
  const at = Date.parse(`${day}T00:00:00Z`) / 86_400_000;
  const go = (next: string) =>
    onGo(withParameters(state, { asOf: next === isoDay(today) ? [] : next }));
  const steps = [
    ["a week earlier", -7],
    ["a day earlier", -1],
    ["a day later", 1],
    ["a week later", 7],
    ["30 days later", 30],
  ] as const;
  const isToday = day === isoDay(today);
  return (
    <section aria-label="Another day" className="my-4 border-s-4 border-secondary bg-base-200 p-4">
      <div className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col text-sm font-medium">
          As it is on
          <input
            type="date"
            className="input w-44"
            value={day}
            onChange={(event) => event.target.value !== "" && go(event.target.value)}
          />
        </label>
        {steps.map(([words, step]) => (
          <button
            key={words}
            type="button"
            className="btn btn-sm"
            onClick={() => go(isoDay(at + step))}
          >
            {words}
          </button>
        ))}
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={isToday}
          onClick={() => go(isoDay(today))}
        >
          Today
        </button>
      </div>
      {isToday ? (
        <p className="mt-3">Pick a day: windows such as month-1 are resolved as of that day.</p>
      ) : (
        <Beside listing={listing} state={state} day={day} />
      )}
    </section>
  );
}

function Beside(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly day: string;
}) {
  const { listing, state, day } = props;
  const then = withParameters(state, { order: [], size: [] });
  const now = withParameters(then, { asOf: [] });
  const found = useQuery({
    meta: { doing: "Comparing the two days" },
    queryKey: ["compared", listing.name, listing.version, searchOf(then).toString()],
    queryFn: ({ signal }) =>
      service.compare(listing.name, { before: now, after: then, size: 5 }, signal),
    placeholderData: keepPreviousData,
  });
  if (found.isError) {
    return (
      <p role="alert" className="mt-3 text-error">
        {found.error.message}
      </p>
    );
  }
  if (found.data === undefined) return <Pending query={found} height="h-24" />;
  const { before, after, removed, added } = found.data;
  return (
    <dl className="mt-3 grid gap-x-6 gap-y-1 md:grid-cols-[max-content_max-content_1fr]">
      <dt>today</dt>
      <dd className="font-semibold tabular-nums">{totalText(before)} records</dd>
      <dd className="opacity-90">{before.sentence}</dd>
      <dt>on {day}</dt>
      <dd className="font-semibold tabular-nums">{totalText(after)} records</dd>
      <dd className="opacity-90">{after.sentence}</dd>
      <Difference words="added" answer={added} />
      <Difference words="removed" answer={removed} />
    </dl>
  );
}
