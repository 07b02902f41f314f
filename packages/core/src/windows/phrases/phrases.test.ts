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
  test("is a window that is declared, by its name or label", () => {
    expect(read("the winter stoppage")).toBe("2026-11/2027-02");
    expect(read("Stoppage")).toBe("2026-11/2027-02");
    expect(read("last stoppage")).toBe("phrase.unknown");
  });

  test("that is too long is refused", () => {
    expect(read("x".repeat(5_000))).toBe("window.tooLong");
    expect(read("x ".repeat(5_000))).toBe("phrase.unknown");
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
