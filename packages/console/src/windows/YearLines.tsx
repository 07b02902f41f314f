import {
  MS_PER_DAY,
  MS_PER_HOUR,
  civilDay,
  dayNumber,
  daysInMonth,
  firstMoment,
  longDay,
  monthName,
  wallAt,
  type Interval,
  type WindowContext,
} from "@orisma/core/internal";

/** The year of a window as twelve lines, with a bar along each where it covers days. */
export function YearLines(props: {
  readonly intervals: readonly Interval[];
  readonly context: WindowContext;
}) {
  const { intervals, context } = props;
  const today = Math.floor(wallAt(context.zone, context.asOf) / MS_PER_DAY);
  const first = intervals.find(({ start }) => start !== null)?.start?.wall;
  const { year } = civilDay(first === undefined ? today : Math.floor(first / MS_PER_DAY));
  const changed = changedDays(year, context);
  return (
    <figure>
      <figcaption className="mb-1 text-sm font-semibold">{year}</figcaption>
      <div
        className="flex flex-col gap-0.5"
        role="img"
        aria-label={`Days of ${year} that are covered`}
      >
        {Array.from({ length: 12 }, (_, month) => (
          <div key={month} className="flex h-4 items-center">
            <span className="w-10 text-xs opacity-70">{monthName(month + 1).slice(0, 3)}</span>
            {Array.from({ length: daysInMonth(year, month + 1) }, (__, index) => {
              const day = dayNumber(year, month + 1, index + 1);
              return (
                <Day
                  key={day}
                  day={day}
                  share={shareOf(day, intervals)}
                  isToday={day === today}
                  hours={changed.get(day)}
                />
              );
            })}
          </div>
        ))}
      </div>
      {changed.size === 0 ? null : (
        <p className="mt-2 text-sm opacity-80">
          {[...changed].map(([day, hours]) => `${longDay(day)} has ${hours} hours`).join("; ")}.
        </p>
      )}
    </figure>
  );
}

function Day(props: {
  readonly day: number;
  readonly share: "none" | "part" | "all";
  readonly isToday: boolean;
  readonly hours: number | undefined;
}) {
  const { day, share, isToday, hours } = props;
  const bar = {
    none: "h-px bg-base-content/25",
    part: "h-1.5 bg-secondary",
    all: "h-2.5 bg-primary",
  }[share];
  const title = longDay(day) + (hours === undefined ? "" : `, ${hours} hours`);
  return (
    <span
      title={title}
      className={`flex h-4 w-3 items-center sm:w-5 ${isToday ? "bg-accent/50" : ""} ${hours === undefined ? "" : "shadow-[inset_0_-2px_0_var(--color-warning)]"}`}
    >
      <span className={`w-full ${bar}`} />
    </span>
  );
}

/** Whether a day is covered, on the wall clock. */
function shareOf(day: number, intervals: readonly Interval[]): "none" | "part" | "all" {
  const [from, to] = [day * MS_PER_DAY, (day + 1) * MS_PER_DAY];
  let isPart = false;
  for (const { start, end } of intervals) {
    const [first, last] = [start?.wall ?? -Infinity, end?.wall ?? Infinity];
    if (first <= from && last >= to) return "all";
    if (first < to && last > from) isPart = true;
  }
  return isPart ? "part" : "none";
}

/** The days of a year on which the clocks are changed, with their hours. */
function changedDays(year: number, { zone }: WindowContext): ReadonlyMap<number, number> {
  const found = new Map<number, number>();
  for (let day = dayNumber(year, 1, 1); day < dayNumber(year + 1, 1, 1); day++) {
    const hours = (firstMoment(day + 1, zone) - firstMoment(day, zone)) / MS_PER_HOUR;
    if (hours !== 24) found.set(day, hours);
  }
  return found;
}
