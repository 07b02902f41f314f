import type { ListingDetails } from "@orisma/client";
import { civilDay, dayNumber, daysInMonth, isoDay, monthName } from "@orisma/core/internal";
import { useRef, useState, type KeyboardEvent } from "react";
import { flushSync } from "react-dom";
import type { PageState } from "../state.js";
import { CalendarHead, UnitCount, recordsWords } from "./CalendarParts.js";
import { Months } from "./Months.js";
import { dayByKey, monthsOn, placeInWeek, weekFrom } from "./days.js";
import { useUnitCounts } from "./unit-counts.js";

export interface CalendarProps {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly state: PageState;
  /** The day today, counted from 1970-01-01. */
  readonly today: number;
  /** The day with which weeks begin, 1 for Monday to 7 for Sunday. */
  readonly weekStart: number;
  /** The days shown now, both in; null where none are. */
  readonly chosen: { readonly first: number; readonly last: number } | null;
  readonly onPick: (window: string) => void;
}

/** A month of days with the records of each; two days make an interval. */
export function Calendar(props: CalendarProps) {
  const { listing, column, state, today, weekStart, chosen, onPick } = props;
  const [focus, setFocus] = useState(chosen?.last ?? today);
  const [begun, setBegun] = useState<number | null>(null);
  const grid = useRef<HTMLDivElement>(null);
  const { year, month } = civilDay(focus);
  const [isYear, setYear] = useState(false);
  const first = dayNumber(year, month, 1);
  const countOf = useUnitCounts(listing, column, state, isoDay(first).slice(0, 7), "day");
  const length = daysInMonth(year, month);
  const before = placeInWeek(first, weekStart);
  const days = Array.from({ length }, (_, index) => first + index);
  const most = Math.max(1, ...days.map((day) => countOf?.(isoDay(day)) ?? 0));

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
    const next = dayByKey(event.key, focus, isRightToLeft(event.currentTarget));
    if (next === null) return;
    event.preventDefault();
    move(next);
  };
  if (isYear) {
    return (
      <Months
        listing={listing}
        column={column}
        state={state}
        year={year}
        month={month}
        onYear={(next) => setFocus(dayNumber(next, month, 1))}
        onMonth={(next) => {
          setFocus(dayNumber(year, next, 1));
          setYear(false);
        }}
        onPick={onPick}
      />
    );
  }
  const isIn = (day: number) => chosen !== null && chosen.first <= day && day <= chosen.last;
  return (
    <section aria-label="Calendar" className="w-80 max-w-full">
      <CalendarHead unit="month" onTurn={(sign) => setFocus(monthsOn(first, sign))}>
        <button
          type="button"
          className="link link-hover"
          title="The months of the year"
          onClick={() => setYear(true)}
        >
          {monthName(month)} {year}
        </button>
      </CalendarHead>
      <div
        ref={grid}
        role="group"
        aria-label={`Days of ${monthName(month)} ${year}`}
        className="mt-1 grid grid-cols-7 gap-px"
        onKeyDown={byKey}
      >
        {weekFrom(weekStart).map((day) => (
          <span key={day} aria-hidden className="text-center text-xs opacity-80">
            {day}
          </span>
        ))}
        {days.map((day, index) => (
          <Day
            key={day}
            day={day}
            count={countOf?.(isoDay(day))}
            most={most}
            column={index === 0 ? before + 1 : undefined}
            hasFocus={day === focus}
            isIn={isIn(day)}
            isBegun={begun === day}
            isToday={day === today}
            onPick={pick}
          />
        ))}
      </div>
      <Hint begun={begun} />
      <WholeUnits first={first} onPick={onPick} />
    </section>
  );
}

function Hint({ begun }: { readonly begun: number | null }) {
  return (
    <p className="mt-1 min-h-5 text-sm" aria-live="polite">
      {begun === null
        ? "Pick a day for the beginning."
        : `From ${isoDay(begun)}: pick the last day, or the same once more.`}
    </p>
  );
}

/** The month and the year of its first day as windows. */
function WholeUnits(props: { readonly first: number; readonly onPick: (window: string) => void }) {
  const { first, onPick } = props;
  const { year, month } = civilDay(first);
  return (
    <div className="flex flex-wrap gap-2">
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => onPick(isoDay(first).slice(0, 7))}
      >
        All of {monthName(month)}
      </button>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => onPick(String(year).padStart(4, "0"))}
      >
        All of {year}
      </button>
    </div>
  );
}

function Day(props: {
  readonly day: number;
  readonly count: number | undefined;
  readonly most: number;
  /** Where the first day of a month stands in its week. */
  readonly column: number | undefined;
  readonly hasFocus: boolean;
  readonly isIn: boolean;
  readonly isBegun: boolean;
  readonly isToday: boolean;
  readonly onPick: (day: number) => void;
}) {
  const { day, count, most, column, hasFocus, isIn, isBegun, isToday, onPick } = props;
  const { year, month, day: ofMonth } = civilDay(day);
  return (
    <button
      type="button"
      tabIndex={hasFocus ? 0 : -1}
      style={column === undefined ? undefined : { gridColumnStart: column }}
      aria-pressed={isIn || isBegun}
      aria-current={isToday ? "date" : undefined}
      aria-label={`${ofMonth} ${monthName(month)} ${year}${recordsWords(count)}${isBegun ? ", the beginning" : ""}`}
      onClick={() => onPick(day)}
      className="relative flex h-8 cursor-pointer flex-col items-center justify-center rounded-field bg-base-100 leading-tight outline-offset-[-2px] hover:bg-base-300 aria-[current=date]:font-bold aria-[current=date]:underline aria-pressed:bg-(--color-selected) aria-pressed:text-(--color-selected-content)"
    >
      <span>{ofMonth}</span>
      <UnitCount count={count} most={most} />
    </button>
  );
}

function isRightToLeft(element: Element): boolean {
  return getComputedStyle(element).direction === "rtl";
}
