/** A form in which windows are written. */
export interface WindowForm {
  /** The form, with what stands for any other of its kind. */
  readonly form: string;
  readonly covers: string;
  /** Two windows of the form, which anyone can try. */
  readonly examples: readonly [string, string];
}

/** Every form of the notation, from the plainest to the most particular. */
export const WINDOW_FORMS: readonly WindowForm[] = [
  {
    form: "a date of ISO 8601",
    covers:
      "all of what is written: a year, quarter, month, week or day, or an hour, minute or second",
    examples: ["2026-03", "2026-W09"],
  },
  {
    form: "today, yesterday, tomorrow",
    covers: "that day, in the zone",
    examples: ["today", "yesterday"],
  },
  {
    form: "week, month, quarter, year …",
    covers: "the current one; also minute, hour, day, fiscalquarter, fiscalyear and workday",
    examples: ["week", "quarter"],
  },
  {
    form: "month-1, quarter+2",
    covers: "so many units back, or on",
    examples: ["month-1", "quarter+2"],
  },
  {
    form: "workday-1",
    covers: "so many working days before today, or after it, days off left out",
    examples: ["workday-1", "workday+3"],
  },
  {
    form: "month.15, week.1",
    covers: "one day of a unit; counted from the unit's end with a minus",
    examples: ["month.15", "month-1.-1"],
  },
  {
    form: "A/B",
    covers: "all from the beginning of A to the end of B",
    examples: ["month-1/month", "day-6/today"],
  },
  {
    form: "A/.. and ../B",
    covers: "without an end on one side",
    examples: ["today/..", "../yesterday"],
  },
  {
    form: "…/now",
    covers: "up to the time of the request, which is not in it",
    examples: ["week/now", "year/now"],
  },
  {
    form: "P6W/A, A/P10D",
    covers: "a length of ISO 8601 that ends with A, or begins with it",
    examples: ["P6W/now", "tomorrow/P30D"],
  },
  {
    form: "A+P1M, A-P1W",
    covers: "a date shifted by a length; the end of a month stays one",
    examples: ["today+P1M", "today-P1W"],
  },
  {
    form: "A|B",
    covers: "A and B together",
    examples: ["month-1|month+1", "yesterday|tomorrow"],
  },
  {
    form: "A;BYDAY=…, A;BYMONTH=…",
    covers:
      "what recurs in A, by the names of RFC 5545: BYMONTH, BYMONTHDAY, BYYEARDAY, BYWEEKNO, BYDAY, BYHOUR",
    examples: ["month;BYDAY=SA..SU", "year;BYMONTH=4..6"],
  },
];
