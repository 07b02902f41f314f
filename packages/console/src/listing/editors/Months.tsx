import type { ListingDetails } from "@orisma/client";
import { monthName } from "@orisma/core/internal";
import type { PageState } from "../state.js";
import { CalendarHead, UnitCount, recordsWords } from "./CalendarParts.js";
import { useUnitCounts } from "./unit-counts.js";

export interface MonthsProps {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly state: PageState;
  readonly year: number;
  readonly month: number;
  readonly onYear: (year: number) => void;
  /** Shows the days of a month. */
  readonly onMonth: (month: number) => void;
  readonly onPick: (window: string) => void;
}

/** The months of a year with the records of each, to get to one that is far, or to take the year. */
export function Months(props: MonthsProps) {
  const { listing, column, state, year, month, onYear, onMonth, onPick } = props;
  const text = String(year).padStart(4, "0");
  const countOf = useUnitCounts(listing, column, state, text, "month");
  const months = Array.from({ length: 12 }, (_, index) => index + 1);
  const ofMonth = (each: number) => countOf?.(`${text}-${String(each).padStart(2, "0")}`);
  const most = Math.max(1, ...months.map((each) => ofMonth(each) ?? 0));
  return (
    <section aria-label="Calendar" className="w-80 max-w-full">
      <CalendarHead unit="year" onTurn={(sign) => onYear(Math.min(Math.max(year + sign, 1), 9999))}>
        {year}
      </CalendarHead>
      <div role="group" aria-label={`Months of ${year}`} className="mt-1 grid grid-cols-3 gap-px">
        {months.map((each) => {
          const count = ofMonth(each);
          return (
            <button
              key={each}
              type="button"
              autoFocus={each === month}
              aria-label={`${monthName(each)} ${year}${recordsWords(count)}`}
              onClick={() => onMonth(each)}
              className="relative flex h-14 cursor-pointer flex-col items-center justify-center rounded-field bg-base-100 leading-tight outline-offset-[-2px] hover:bg-base-300"
            >
              <span>{monthName(each).slice(0, 3)}</span>
              <UnitCount count={count} most={most} />
            </button>
          );
        })}
      </div>
      <p className="mt-1 min-h-10 text-sm">A month shows its days.</p>
      <button type="button" className="btn btn-sm" onClick={() => onPick(text)}>
        All of {year}
      </button>
    </section>
  );
}
