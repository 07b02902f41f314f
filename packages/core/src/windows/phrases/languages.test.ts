import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { PHRASE_ROWS } from "../../../../../test/phrases.js";
import { UTC, epochMs } from "../../calendar/index.js";
import { ENGLISH, namesOf } from "../../reading/index.js";
import { PHRASE_LOCALES } from "./languages.js";
import { readPhrase } from "./read.js";

/** Wednesday, 25 November 2026. */
const ASKED = { asOf: epochMs(Date.UTC(2026, 10, 25, 9)), zone: UTC };

function read(text: string, locale: string): string {
  const found = readPhrase(text, { ...ASKED, locale });
  return found.ok ? found.value.join(" or ") : String(found.faults[0]?.code);
}

describe("a phrase of another language", () => {
  test.each(PHRASE_LOCALES)("in %s has all months, weekdays and English beside", (locale) => {
    const names = namesOf([locale]);
    const months = names.ok ? names.value.wideMonths.written : [];
    expect(months.map((name) => read(`3 ${name} 2025`, locale))).toEqual(
      months.map((_, at) => `2025-${String(at + 1).padStart(2, "0")}-03`),
    );
    const weekdays = names.ok ? names.value.wideWeekdays.written : [];
    expect(weekdays.map((name) => read(name, locale))).toEqual(
      ENGLISH.wideWeekdays.written.map((name) => read(name, "en")),
    );
    expect(read("last 3 months", locale)).toBe("month-3/month-1");
    expect(read("month-1/now", locale)).toBe("month-1/now");
  });

  test("that it has not is refused, in another language too, and nothing is guessed", () => {
    expect(read("le mois dernier", "de")).toBe("phrase.unknown");
    expect(read("letzten Monat", "en")).toBe("phrase.unknown");
    expect(read("3/4/2025", "fr")).toBe("2025-04-03 or 2025-03-04");
    expect(read("Montag, 3. April 2025", "de")).toBe("phrase.weekday");
    expect(read("31. Februar 2025", "de")).toBe("date.impossible");
    expect(read("die letzten 0 Tage", "de")).toBe("phrase.nothing");
    expect(read("letzten Monat", "de-AT")).toBe("month-1");
    expect(read("förra månaden", "sv")).toBe("phrase.locale");
  });

  test("of any words at all is read or refused, in bounded time", () => {
    const words = fc.constantFrom(
      ...PHRASE_ROWS.flatMap(({ phrase }) => phrase.split(" ")),
      "1",
      "99",
    );
    fc.assert(
      fc.property(
        fc.array(words, { maxLength: 40 }),
        fc.constantFrom(...PHRASE_LOCALES),
        (some, locale) => {
          expect(typeof read(some.join(" "), locale)).toBe("string");
        },
      ),
      { numRuns: 200 },
    );
  });
});
