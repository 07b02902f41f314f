import type { ListingDetails } from "@orisma/client";
import {
  dayOf,
  epochMs,
  isoDay,
  meantBy,
  readWindow,
  resolveWindow,
  type PhraseContext,
} from "@orisma/core/internal";
import { useState, type ReactNode, type SubmitEvent } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { dayText } from "../dates/words.js";
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
  /** The zone and the language in which a day may be written. */
  readonly context: PhraseContext;
  readonly onGo: (state: PageState) => void;
}

/** Moves the clock: what the page will hold on another day, beside what it holds today. */
export default function AnotherDay(props: AnotherDayProps) {
  const { listing, state, today, context, onGo } = props;
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
      <DayField key={day} day={day} context={context} onDay={go}>
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
      </DayField>
      {isToday ? (
        <p className="mt-3">Pick a day: windows such as month-1 are resolved as of that day.</p>
      ) : (
        <Beside listing={listing} state={state} day={day} />
      )}
    </section>
  );
}

/** A day as people write it, taken when it is entered; where it can be several, each is a button. */
function DayField(props: {
  readonly day: string;
  readonly context: PhraseContext;
  readonly onDay: (day: string) => void;
  readonly children: ReactNode;
}) {
  const { day, context, onDay, children } = props;
  const [text, setText] = useState(day);
  const days = daysOf(text, context);
  const [only, ...others] = days;
  const isOne = only !== undefined && others.length === 0;
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    if (isOne) onDay(only);
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
      <label className="flex flex-col text-sm font-medium">
        As it is on
        <input
          className="input w-44 aria-[invalid=true]:border-error"
          value={text}
          autoComplete="off"
          aria-invalid={only === undefined}
          aria-describedby="as-of-day"
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      {others.length === 0 ? (
        <button type="submit" className="btn btn-sm" disabled={!isOne || only === day}>
          Show
        </button>
      ) : (
        days.map((each) => (
          <button key={each} type="button" className="btn btn-sm" onClick={() => onDay(each)}>
            {dayText(each)}
          </button>
        ))
      )}
      {children}
      <p
        id="as-of-day"
        aria-live="polite"
        className={`w-full text-sm ${only === undefined ? "text-error" : "opacity-80"}`}
      >
        {only === undefined
          ? "Write a day: 2025-02-28, 28 Feb 2025, yesterday, 3 days ago."
          : others.length === 0
            ? dayText(only)
            : "This can mean:"}
      </p>
    </form>
  );
}

/** The days that a text can mean, by the clock of today: none, one, or each of several. */
function daysOf(text: string, context: PhraseContext): readonly string[] {
  const now = { ...context, asOf: epochMs(Date.now()) };
  const windows = readWindow(text.trim()).ok ? [text.trim()] : meantBy(text, "date", now);
  return windows.flatMap((each) => {
    const read = readWindow(each);
    const resolved = read.ok ? resolveWindow(read.value.window, now) : read;
    const [found, ...others] = resolved.ok ? resolved.value.intervals : [];
    if (!found?.start || !found.end || others.length > 0) return [];
    const day = dayOf(found.start.wall);
    // A longer period has no day of which it speaks.
    return dayOf(found.end.wall) - day > 1 ? [] : [isoDay(day)];
  });
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
