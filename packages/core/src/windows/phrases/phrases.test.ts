import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { UTC, civilDay, dayNumber, epochMs, isoDay, longDay } from "../../calendar/index.js";
import { readWindow } from "../read.js";
import { resolveWindow } from "../resolve.js";
import { answerPhrase, readPhrase } from "./read.js";

/** Wednesday, 25 November 2026. */
const ASKED = { asOf: epochMs(Date.UTC(2026, 10, 25, 9)), zone: UTC };
const named = [{ name: "stoppage", label: "the winter stoppage", window: "2026-11/2027-02" }];

function read(text: string): string {
  const found = readPhrase(text, { ...ASKED, named });
  return found.ok ? found.value.join(" or ") : String(found.faults[0]?.code);
}

describe("a phrase", () => {
  test.each([
    // Units.
    ["last month", "month-1"],
    ["Last Month ", "month-1"],
    ["last-month", "month-1"],
    ["this quarter", "quarter"],
    ["next fiscal year", "fiscalyear+1"],
    ["previous week", "week-1"],
    ["last 3 months", "month-3/month-1"],
    ["the last three months", "month-3/month-1"],
    ["last30days", "day-30/yesterday"],
    ["last_7_days", "day-7/yesterday"],
    ["previous 5 working days", "workday-5/workday-1"],
    ["next 2 weeks", "week+1/week+2"],
    ["past 30 days", "P30D/now"],
    ["past 2 quarters", "P6M/now"],
    ["past hour", "hour-1"],
    ["past 90 minutes", "PT1H30M/now"],
    ["year to date", "year/now"],
    ["YTD", "year/now"],
    ["this month so far", "month/now"],
    // Days away.
    ["today", "today"],
    ["now()", "now"],
    ["3 days ago", "day-3"],
    ["a week ago", "today-P1W"],
    ["two months ago", "today-P2M"],
    ["in 2 weeks", "today+P2W"],
    ["5 years from now", "today+P5Y"],
    ["the day before yesterday", "day-2"],
    // Bounds.
    ["since Monday", "2026-11-23/.."],
    ["since Wednesday", "2026-11-25/.."],
    ["since Friday", "2026-11-20/.."],
    ["until Friday", "../2026-11-27"],
    ["until tomorrow", "../tomorrow"],
    ["before Friday", "../2026-11-26"],
    ["before today", "../yesterday"],
    ["after today", "tomorrow/.."],
    ["after April 2025", "2025-05/.."],
    ["after December 2025", "2026-01/.."],
    ["before 2025", "../2024"],
    ["after Q4 2025", "2025-Q4+P3M/.."],
    ["before 1 March 2024", "../2024-02-29"],
    ["after last month", "month/.."],
    ["after 2 weeks ago", "today-P2W+P1D/.."],
    ["since 3 April", "2026-04-03/.."],
    ["until 3 April", "../2027-04-03"],
    ["since December", "2025-12/.."],
    ["between 3 Apr 2025 and yesterday", "2025-04-03/yesterday"],
    ["from last month to today", "month-1/today"],
    ["April to June 2025", "2025-04/2025-06"],
    ["3 to 5 April 2025", "2025-04-03/2025-04-05"],
    ["3 Apr - 5 May 2025", "2025-04-03/2025-05-05"],
    ["2025-04-03 to 2025-04-09", "2025-04-03/2025-04-09"],
    // Dates.
    ["3 Apr 2025", "2025-04-03"],
    ["April 3, 2025", "2025-04-03"],
    ["3rd of April 2025", "2025-04-03"],
    ["the 3rd of April, 2025", "2025-04-03"],
    ["3-Apr-2025", "2025-04-03"],
    ["2025 April 3", "2025-04-03"],
    ["Sept. 1st 2025", "2025-09-01"],
    ["Thursday, 3 April 2025", "2025-04-03"],
    ["2025/04/03", "2025-04-03"],
    ["20250403", "2025-04-03"],
    ["2025-2-3", "2025-02-03"],
    ["13.4.2025", "2025-04-13"],
    ["3.4.2025", "2025-04-03"],
    ["13/04/2025", "2025-04-13"],
    ["04/13/2025", "2025-04-13"],
    ["4/4/2025", "2025-04-04"],
    ["3 Apr 25", "2025-04-03"],
    ["3 Apr '99", "1999-04-03"],
    ["April 2025", "2025-04"],
    ["Q1 2025", "2025-Q1"],
    ["2025 q1", "2025-Q1"],
    ["first quarter of 2025", "2025-Q1"],
    ["2025", "2025"],
    ["in 2025", "2025"],
    ["on 3 April 2025", "2025-04-03"],
    ["last Friday", "2026-11-20"],
    ["next Wednesday", "2026-12-02"],
    ["this Friday", "2026-11-27"],
    ["November", "2026-11"],
    // Names, and the notation itself.
    ["overdue", "../yesterday"],
    ["the 7 days before today", "day-7/yesterday"],
    ["the winter stoppage", "2026-11/2027-02"],
    ["month-1/now", "month-1/now"],
    ["any time", "../.."],
  ])("%s is %s", (text, expected) => {
    expect(read(text)).toBe(expected);
  });

  test.each([
    ["3/4/2025", "2025-04-03 or 2025-03-04"],
    ["Friday", "2026-11-20 or 2026-11-27"],
    ["3 April", "2026-04-03 or 2027-04-03"],
    ["April", "2026-04 or 2027-04"],
    ["December", "2025-12 or 2026-12"],
    ["Q4", "2026-Q4"],
    ["since 3/4/2025", "2025-04-03/.. or 2025-03-04/.."],
    ["29 February", "2024-02-29 or 2028-02-29"],
  ])("%s has several meanings, of which none is chosen: %s", (text, expected) => {
    expect(read(text)).toBe(expected);
  });

  test.each([
    ["Friday, 3 April 2025", "phrase.weekday"],
    ["31 April 2025", "date.impossible"],
    ["13/13/2025", "date.impossible"],
    ["2025/02/30", "date.impossible"],
    ["last 0 days", "phrase.nothing"],
    ["past zero months", "phrase.nothing"],
    ["last fortnight", "phrase.unknown"],
    ["since", "window.word"],
    ["2024-01/monht", "window.word"],
    ["2024-01 / monht", "window.word"],
    ["between April and", "phrase.unknown"],
    ["", "window.syntax"],
    ["constructor", "window.word"],
    ["x".repeat(5_000), "window.tooLong"],
    ["x ".repeat(5_000), "phrase.unknown"],
  ])("%s is refused", (text, code) => {
    expect(read(text)).toBe(code);
  });

  test("with several meanings is answered with each of them, as a window and in words", () => {
    const found = answerPhrase("3/4/2025", ASKED);
    if (found.ok) throw new Error("it was chosen");
    expect(found.faults[0]).toMatchObject({
      code: "phrase.ambiguous",
      facts: {
        readings: [
          { window: "2025-04-03", sentence: expect.stringContaining("3 April 2025") },
          { window: "2025-03-04", sentence: expect.stringContaining("4 March 2025") },
        ],
      },
    });
    const one = answerPhrase("last month", ASKED);
    expect(one).toMatchObject({
      ok: true,
      value: {
        window: "last month",
        canonical: "month-1",
        intervals: [{ startLocal: "2026-10-01T00:00:00" }],
      },
    });
  });

  test("that is a day written out is that day, in every form", () => {
    const days = fc.integer({ min: dayNumber(1950, 1, 1), max: dayNumber(2045, 12, 31) });
    fc.assert(
      fc.property(days, (day) => {
        const { year, month, day: ofMonth } = civilDay(day);
        const long = longDay(day);
        const [number, name] = long.split(" ");
        const strings = [
          long,
          `${name ?? ""} ${number ?? ""}, ${year}`,
          `${year}/${month}/${ofMonth}`,
          `${ofMonth}.${month}.${year}`,
          isoDay(day).replaceAll("-", ""),
        ];
        for (const text of strings) expect([text, read(text)]).toEqual([text, isoDay(day)]);
        expect(read(`${ofMonth}/${month}/${year}`).split(" or ")).toContain(isoDay(day));
      }),
    );
  });

  test("of any characters at all is a window that can be resolved, or a fault", () => {
    const words = fc.constantFrom(
      ..."last next past until since before after between and to from in 3 0 12 2025 99 april friday month days week quarter q1 ago - / .. of the now today 31 feb".split(
        " ",
      ),
    );
    const strings = fc.oneof(
      fc.string({ maxLength: 40 }),
      fc.array(words, { minLength: 1, maxLength: 7 }).map((each) => each.join(" ")),
    );
    fc.assert(
      fc.property(strings, (text) => {
        const found = readPhrase(text, ASKED);
        if (!found.ok) return;
        expect(found.value.length).toBeGreaterThan(0);
        for (const window of found.value) {
          const back = readWindow(window);
          if (!back.ok) throw new Error(`${text}: ${window}`);
          resolveWindow(back.value.window, ASKED);
        }
      }),
      { numRuns: 500 },
    );
  });
});
