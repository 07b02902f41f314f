import {
  MS_PER_DAY,
  civilDay,
  dayNumber,
  daysInMonth,
  epochMs,
  longDay,
  monthName,
  wallAt,
  type Interval,
  type WindowContext,
} from "@orisma/core";

/** The year of a window as twelve lines of days, with the days that it covers drawn full. */
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
          <div key={month} className="flex items-center gap-2">
            <span className="w-8 text-xs opacity-70">{monthName(month + 1).slice(0, 3)}</span>
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
  const colour = { none: "bg-base-300", part: "bg-secondary/50", all: "bg-primary" }[share];
  const title = longDay(day) + (hours === undefined ? "" : `, ${hours} hours`);
  return (
    <span
      title={title}
      className={`h-4 w-3 sm:w-4 ${colour} ${isToday ? "outline-2 outline-accent" : ""} ${hours === undefined ? "" : "border-b-4 border-warning"}`}
    />
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
    const at = (each: number) =>
      zone.offsetAt(epochMs(each * MS_PER_DAY - zone.offsetAt(epochMs(each * MS_PER_DAY))));
    const moved = at(day + 1) - at(day);
    if (moved !== 0) found.set(day, 24 - moved / 3_600_000);
  }
  return found;
}
