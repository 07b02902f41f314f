import { ChevronLeft, ChevronRight } from "lucide-react";
import type { ReactNode } from "react";
import { numberText } from "../counts.js";

/** What is shown of a calendar, between the ways to what lies before and after it. */
export function CalendarHead(props: {
  readonly unit: "month" | "year";
  readonly onTurn: (sign: 1 | -1) => void;
  readonly children: ReactNode;
}) {
  const { unit, onTurn, children } = props;
  return (
    <div className="flex items-center gap-1">
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`The ${unit} before`}
        onClick={() => onTurn(-1)}
      >
        <ChevronLeft className="size-4 rtl:rotate-180" aria-hidden />
      </button>
      <h3 aria-live="polite" className="flex-1 text-center font-medium">
        {children}
      </h3>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`The ${unit} after`}
        onClick={() => onTurn(1)}
      >
        <ChevronRight className="size-4 rtl:rotate-180" aria-hidden />
      </button>
    </div>
  );
}

/** The records of a day or a month, as its button has them: a number, and a line as long as they are many. */
export function UnitCount(props: {
  /** Undefined until it is known. */
  readonly count: number | undefined;
  /** Records of the unit that has most. */
  readonly most: number;
}) {
  const { count, most } = props;
  return (
    <>
      <span className="text-[0.7rem] tabular-nums opacity-90">
        {count === undefined ? " " : count === 0 ? "·" : numberText(count)}
      </span>
      {count === undefined || count === 0 ? null : (
        <span
          aria-hidden
          className="absolute inset-x-1 bottom-0 h-0.5 bg-accent"
          style={{ width: `${(count / most) * 80}%` }}
        />
      )}
    </>
  );
}

/** `, 3 records`, after the name of a unit. */
export function recordsWords(count: number | undefined): string {
  if (count === undefined) return "";
  return `, ${numberText(count)} ${count === 1 ? "record" : "records"}`;
}
