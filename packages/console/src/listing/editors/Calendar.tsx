import type { ListingDetails } from "@orisma/client";
import { civilDay, dayNumber, daysInMonth, isoDay, monthName } from "@orisma/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { useRef, useState, type KeyboardEvent } from "react";
import { flushSync } from "react-dom";
import { service } from "../../service.js";
import { numberText } from "../counts.js";
import { withWindow } from "../narrowing.js";
import { searchOf, withParameters, type PageState } from "../state.js";

export interface CalendarProps {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly state: PageState;
  /** The day today, counted from 1970-01-01. */
  readonly today: number;
  /** The days shown now, both in; null where none are. */
  readonly chosen: { readonly first: number; readonly last: number } | null;
  readonly onPick: (window: string) => void;
}

/** A month of days with the records of each; two days make a stretch. */
export function Calendar({ listing, column, state, today, chosen, onPick }: CalendarProps) {
  const [focus, setFocus] = useState(chosen?.last ?? today);
  const [begun, setBegun] = useState<number | null>(null);
  const grid = useRef<HTMLDivElement>(null);
  const { year, month } = civilDay(focus);
  const counts = useDayCounts(listing, column, state, year, month);
  const first = dayNumber(year, month, 1);
  const length = daysInMonth(year, month);
  const before = weekdayOf(first);
  const days = Array.from({ length }, (_, index) => first + index);
  const most = Math.max(1, ...(counts?.values() ?? []));

  const move = (day: number) => {
    // At once, so that the next key finds the day that the last one led to.
    flushSync(() => setFocus(day));
    grid.current?.querySelector<HTMLElement>("[tabindex='0']")?.focus();
  };
  const pick = (day: number) => {
    setFocus(day);
    if (begun === null) {
      setBegun(day);
      return;
    }
    const [from, to] = [Math.min(begun, day), Math.max(begun, day)];
    setBegun(null);
    onPick(from === to ? isoDay(from) : `${isoDay(from)}/${isoDay(to)}`);
  };
  const byKey = (event: KeyboardEvent) => {
    const steps: Readonly<Record<string, number>> = {
      ArrowLeft: -1,
      ArrowRight: 1,
      ArrowUp: -7,
      ArrowDown: 7,
      PageUp: -daysInMonth(month === 1 ? year - 1 : year, month === 1 ? 12 : month - 1),
      PageDown: length,
      Home: first - focus,
      End: first + length - 1 - focus,
    };
    const step = steps[event.key];
    if (step === undefined) return;
    event.preventDefault();
    move(focus + (isRightToLeft(event.currentTarget) && step ** 2 === 1 ? -step : step));
  };
  const stepMonth = (sign: 1 | -1) => {
    const there = civilDay(sign === 1 ? first + length : first - 1);
    setFocus(dayNumber(there.year, there.month, 1));
  };
  const isIn = (day: number) => chosen !== null && chosen.first <= day && day <= chosen.last;
  return (
    <section aria-label="Calendar" className="w-80 max-w-full">
      <div className="flex items-center gap-1">
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label="The month before"
          onClick={() => stepMonth(-1)}
        >
          <ChevronLeft className="size-4 rtl:rotate-180" aria-hidden />
        </button>
        <h3 aria-live="polite" className="flex-1 text-center font-medium">
          {monthName(month)} {year}
        </h3>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label="The month after"
          onClick={() => stepMonth(1)}
        >
          <ChevronRight className="size-4 rtl:rotate-180" aria-hidden />
        </button>
      </div>
      <div
        ref={grid}
        role="group"
        aria-label={`Days of ${monthName(month)} ${year}`}
        className="mt-1 grid grid-cols-7 gap-px"
        onKeyDown={byKey}
      >
        {WEEKDAYS.map((day) => (
          <span key={day} aria-hidden className="text-center text-xs opacity-80">
            {day}
          </span>
        ))}
        {days.map((day, index) => {
          const count = counts?.get(day);
          const { day: ofMonth } = civilDay(day);
          const isBegun = begun === day;
          return (
            <button
              key={day}
              type="button"
              tabIndex={day === focus ? 0 : -1}
              style={index === 0 ? { gridColumnStart: before + 1 } : undefined}
              aria-pressed={isIn(day) || isBegun}
              aria-current={day === today ? "date" : undefined}
              aria-label={`${ofMonth} ${monthName(month)} ${year}${count === undefined ? "" : `, ${numberText(count)} ${count === 1 ? "record" : "records"}`}${isBegun ? ", the beginning" : ""}`}
              onClick={() => pick(day)}
              className="relative flex h-11 cursor-pointer flex-col items-center justify-center rounded-field bg-base-100 leading-tight outline-offset-[-2px] hover:bg-base-300 aria-[current=date]:font-bold aria-[current=date]:underline aria-pressed:bg-primary aria-pressed:text-primary-content"
            >
              <span>{ofMonth}</span>
              <span className="text-[0.7rem] tabular-nums opacity-90">
                {count === undefined ? " " : count === 0 ? "·" : numberText(count)}
              </span>
              {count === undefined || count === 0 ? null : (
                <span
                  aria-hidden
                  className="absolute inset-x-1 bottom-0 h-0.5 origin-left bg-accent"
                  style={{ width: `${(count / most) * 80}%` }}
                />
              )}
            </button>
          );
        })}
      </div>
      <p className="mt-1 min-h-10 text-sm" aria-live="polite">
        {begun === null
          ? "Pick a day for the beginning."
          : `From ${isoDay(begun)}: pick the last day, or the same once more.`}
      </p>
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => onPick(isoDay(first).slice(0, 7))}
        >
          All of {monthName(month)}
        </button>
        <button type="button" className="btn btn-sm" onClick={() => onPick(String(year))}>
          All of {year}
        </button>
      </div>
    </section>
  );
}

const WEEKDAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"];

/** Monday is 0; day 0 was a Thursday. */
function weekdayOf(day: number): number {
  return (((day + 3) % 7) + 7) % 7;
}

function isRightToLeft(element: Element): boolean {
  return getComputedStyle(element).direction === "rtl";
}

/** The records of each day of a month under the other conditions; those without any are 0. */
function useDayCounts(
  listing: ListingDetails,
  column: string,
  state: PageState,
  year: number,
  month: number,
): ReadonlyMap<number, number> | undefined {
  const window = isoDay(dayNumber(year, month, 1)).slice(0, 7);
  const narrowed = withWindow(state, listing, column, window);
  const asked = narrowed === null ? null : withParameters(narrowed, { order: [], size: [] });
  const found = useQuery({
    meta: { doing: "Counting the days" },
    queryKey: ["days", listing.name, listing.version, column, asked && searchOf(asked).toString()],
    queryFn: async ({ signal }) => {
      const by = `${column}:day`;
      const { groups } = await service.summary(listing.name, { ...asked, by }, signal);
      return new Map(groups.map(({ of: [day], records }) => [String(day).slice(0, 10), records]));
    },
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });
  if (found.data === undefined) return undefined;
  const first = dayNumber(year, month, 1);
  return new Map(
    Array.from({ length: daysInMonth(year, month) }, (_, index) => [
      first + index,
      found.data.get(isoDay(first + index)) ?? 0,
    ]),
  );
}
