import type { YearSpan, CalendarSettings } from "@orisma/core/internal";
import { capitalised } from "../dates/words.js";
import { YearPicture } from "./YearPicture.js";
import { useYear } from "./useYear.js";
import type { YearFound } from "./year.worker.js";

/** Intervals of days that are listed; the picture has all. */
const MAX_LISTED = 60;

export interface ThroughYearProps {
  readonly window: string;
  readonly year: number;
  readonly zone: string;
  readonly calendar: CalendarSettings;
  /** The as-of day. */
  readonly asOfDay: string;
  readonly onYear: (year: number) => void;
  /** Asks at noon of a day. */
  readonly onDay: (day: string) => void;
}

/** What a window covers as of every day of a year. */
export default function ThroughYear(props: ThroughYearProps) {
  const { window, year, zone, calendar, asOfDay: requested, onYear, onDay } = props;
  const found = useYear({ window, year, zone, calendar });
  return (
    <div className="flex flex-col gap-3">
      <p className="flex items-baseline gap-3">
        <button
          type="button"
          className="btn btn-sm"
          disabled={year <= 1}
          onClick={() => onYear(year - 1)}
        >
          {year - 1}
        </button>
        <span className="font-semibold tabular-nums">{year}</span>
        <button
          type="button"
          className="btn btn-sm"
          disabled={year >= 9999}
          onClick={() => onYear(year + 1)}
        >
          {year + 1}
        </button>
      </p>
      {found === undefined ? (
        <div role="status" className="skeleton h-64 w-full max-w-3xl">
          <span className="sr-only">As of every day of {year}</span>
        </div>
      ) : (
        <Found found={found} asOfDay={requested} onDay={onDay} />
      )}
    </div>
  );
}

function Found(props: Pick<ThroughYearProps, "asOfDay" | "onDay"> & { readonly found: YearFound }) {
  const { found, asOfDay: requested, onDay } = props;
  const { spans: intervals, words } = found;
  const remaining = intervals.length - MAX_LISTED;
  return (
    <>
      <YearPicture found={found} asOfDay={requested} onDay={onDay} />
      <p className="max-w-prose">{capitalised(words)}.</p>
      <details>
        <summary className="cursor-pointer">
          {intervals.length === 1
            ? "The bounds are the same on every day"
            : `The ${intervals.length} different bounds`}
        </summary>
        <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Bounds">
          <table className="table w-auto table-sm whitespace-nowrap tabular-nums">
            <thead>
              <tr>
                <th scope="col">as of</th>
                <th scope="col">from</th>
                <th scope="col">before</th>
                <th scope="col">to the day before</th>
              </tr>
            </thead>
            <tbody>
              {intervals.slice(0, MAX_LISTED).map((each) => (
                <Row key={each.first} span={each} />
              ))}
            </tbody>
          </table>
          {remaining > 0 ? <p className="text-sm">and {remaining} more</p> : null}
        </div>
      </details>
    </>
  );
}

function Row({ span }: { readonly span: YearSpan }) {
  const { first, last, intervals, since, notices } = span;
  const [interval, ...others] = intervals;
  return (
    <tr>
      <th scope="row" className="font-normal">
        {first === last ? first : `${first} to ${last}`}
      </th>
      <td>{interval === undefined ? "empty" : shown(interval.startLocal)}</td>
      <td>
        {interval === undefined ? "" : shown(interval.endLocal)}
        {others.length === 0 ? "" : ` and ${others.length} more`}
      </td>
      <td>
        {since === "gap" ? <strong className="text-warning">a gap</strong> : null}
        {since === "overlap" ? "overlaps" : null}
        {notices.map(({ message }) => message).join("; ")}
      </td>
    </tr>
  );
}

function shown(text: string | null): string {
  return text === null ? "open" : text.replace("T", " ").replace(/ 00:00:00$/, "");
}
