import {
  yearSpans,
  findZone,
  yearInWords,
  yearOfWindow,
  type YearSpan,
  type CalendarSettings,
  type YearOfWindow,
} from "@orisma/core/internal";

/** What a year of a window is worked out from. */
export interface YearRequest {
  readonly window: string;
  readonly year: number;
  /** An IANA time zone. */
  readonly zone: string;
  readonly calendar: CalendarSettings;
}

/** A year of a window: the days of the same bounds together, and how these lie to one another. */
export interface YearFound {
  readonly spans: readonly YearSpan[];
  readonly covered: readonly Covered[];
  readonly words: string;
}

/** Time that is covered as of any of some days; null where it is open. */
export interface Covered {
  readonly first: string;
  readonly last: string;
  readonly start: string | null;
  readonly end: string | null;
}

// A year of a window that recurs can take seconds: the page must not stand still for it.
addEventListener("message", ({ data }: MessageEvent<YearRequest>) => {
  const { window, year, zone, calendar } = data;
  const found = findZone(zone);
  const answer = found.ok ? yearOfWindow(window, year, { zone: found.value, calendar }) : found;
  const sent: YearFound | null = answer.ok
    ? {
        spans: yearSpans(answer.value),
        covered: coveredIn(answer.value),
        words: yearInWords(answer.value),
      }
    : null;
  postMessage(sent);
});

/** What is covered, that of days one after the other together: few boxes to draw, not thousands. */
function coveredIn({ days }: YearOfWindow): readonly Covered[] {
  const found: Covered[] = [];
  let open = new Map<string, Covered>();
  for (const { day, intervals } of days) {
    const now = new Map<string, Covered>();
    for (const { startLocal: start, endLocal: end } of intervals) {
      const key = `${start}/${end}`;
      now.set(key, { first: open.get(key)?.first ?? day, last: day, start, end });
    }
    found.push(...[...open].flatMap(([key, covered]) => (now.has(key) ? [] : [covered])));
    open = now;
  }
  return [...found, ...open.values()];
}
