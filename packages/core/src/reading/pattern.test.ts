import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { dayNumber, isoWall, wallMs } from "../calendar/index.js";
import { renderFault } from "../faults/index.js";
import { datePattern } from "./date-pattern.js";
import { OTHER_NAMES } from "./all-names.generated.js";
import { addNames, knownLocales, namesOf } from "./names.js";
import { CLDR_VERSION, OWN_NAMES } from "./names.generated.js";
import { compilePattern, type DatePattern } from "./pattern.js";
import { compileReading } from "./reading.js";

addNames(OTHER_NAMES);

function compiled(
  pattern: string,
  locales: readonly string[] = ["en"],
  twoDigitYearFrom: number | null = null,
) {
  const names = namesOf(locales);
  if (!names.ok) throw new Error(locales.join());
  return compilePattern(pattern, {
    names: names.value,
    locale: locales[0] ?? "en",
    twoDigitYearFrom,
  });
}

function patternOf(pattern: string, locales?: readonly string[]): DatePattern {
  const result = compiled(pattern, locales);
  if (!result.ok) throw new Error(JSON.stringify(result.faults));
  return result.value;
}

function reads(pattern: string, text: string, locales?: readonly string[], pivot?: number): string {
  const result = compiled(pattern, locales, pivot ?? null);
  if (!result.ok) return result.faults.map(({ code }) => code).join();
  const read = result.value.read(text);
  if (read.kind === "fault") return read.fault.code;
  if (read.kind === "other") return "other";
  return isoWall(read.wall) + (read.offset === null ? "" : ` ${read.offset / 60_000}`);
}

describe("compilePattern", () => {
  test.each([
    ["dd/MM/yyyy", "05/03/2024", "2024-03-05T00:00:00"],
    ["d/M/yyyy", "5/3/2024", "2024-03-05T00:00:00"],
    ["d/M/yyyy", "05/03/2024", "2024-03-05T00:00:00"],
    ["MM/dd/yyyy", "03/05/2024", "2024-03-05T00:00:00"],
    ["yyyyMMdd", "20240305", "2024-03-05T00:00:00"],
    ["yyyyDDD", "2024065", "2024-03-05T00:00:00"],
    ["D/y", "65/2024", "2024-03-05T00:00:00"],
    ["YYYY'W'ww-e", "2024W10-2", "2024-03-05T00:00:00"],
    ["E w/YYYY", "Tue 10/2024", "2024-03-05T00:00:00"],
    ["'Q'Q yyyy-MM-dd", "Q1 2024-03-05", "2024-03-05T00:00:00"],
    ["dd.MM.yyyy HH:mm:ss.SSS", "05.03.2024 14:30:05.250", "2024-03-05T14:30:05.250"],
    ["yyyy-MM-dd HH:mm:ss.SSSSSS", "2024-03-05 14:30:05.250999", "2024-03-05T14:30:05.250"],
    ["d MMM yyyy h:mm a", "5 Mar 2024 2:30 PM", "2024-03-05T14:30:00"],
    ["d MMM yyyy h:mm a", "5 Mar 2024 12:30 am", "2024-03-05T00:30:00"],
    ["d MMM yyyy h:mm a", "5 Mar 2024 12:30 p.m.", "2024-03-05T12:30:00"],
    ["yyyy-MM-dd'T'HH:mmXXX", "2024-03-05T14:30+05:30", "2024-03-05T14:30:00 330"],
    ["yyyy-MM-dd'T'HH:mmX", "2024-03-05T14:30Z", "2024-03-05T14:30:00 0"],
    ["EEEE, d MMMM yyyy", "Tuesday, 5 March 2024", "2024-03-05T00:00:00"],
    ["yyyy'T'MM'o''clock'dd", "2024T03o'clock05", "2024-03-05T00:00:00"],
    ["dd/MM/yyyy", "５/３", "other"],
    ["dd/MM/yyyy", "０５/０３/２０２４", "2024-03-05T00:00:00"],
    ["dd/MM/yyyy", "٠٥/٠٣/٢٠٢٤", "2024-03-05T00:00:00"],
    ["dd/MM/yyyy", "5/3/2024", "other"],
    ["dd/MM/yyyy", "05/03/24", "other"],
    ["dd/MM/yyyy", "05/03/2024x", "other"],
    ["dd/MM/yyyy", "05/03/2024 (late)", "date.trailing"],
    ["dd/MM/yyyy", "31/02/2024", "date.impossible"],
    ["dd/MM/yyyy", "05/13/2024", "date.impossible"],
    ["dd/MM/yyyy", "00/00/0000", "date.impossible"],
    ["dd/MM/yyyy HH:mm", "05/03/2024 24:00", "date.impossible"],
    ["E d MMM yyyy", "Mon 5 Mar 2024", "date.impossible"],
    ["'Q'Q yyyy-MM-dd", "Q2 2024-03-05", "date.impossible"],
    ["d MMM yyyy h:mm a", "5 Mar 2024 13:30 PM", "date.impossible"],
    ["d MMM yyyy", "5 Mrach 2024", "date.name"],
    ["dd+MM+yyyy", "05+03+2024", "2024-03-05T00:00:00"],
    ["dd+MM+yyyy", "0503+2024", "other"],
  ])("%s reads %s as %s", (pattern, text, expected) => {
    expect(reads(pattern, text)).toBe(expected);
  });

  test.each([
    ["de", "d. MMMM yyyy", "5. März 2024"],
    ["de", "d. MMM yyyy", "5. Sept. 2024"],
    ["de", "d. MMM yyyy", "5. Sep 2024"],
    ["fr", "d MMM yyyy", "5 févr. 2024"],
    ["fr", "d MMM yyyy", "5\u00a0févr\u202f2024"],
    ["es", "d 'de' MMMM 'de' yyyy", "5 de Marzo de 2024"],
    ["it", "d MMMM yyyy", "5 MARZO 2024"],
    ["pt", "EEEE, d 'de' MMMM 'de' yyyy", "terça-feira, 5 de março de 2024"],
    ["nl", "d MMM yyyy", "5 mrt 2024"],
    ["pl", "d MMMM yyyy", "5 marca 2024"],
    ["sv", "d MMM yyyy", "5 mars 2024"],
    ["cs", "d. MMMM yyyy", "5. března 2024"],
    ["tr", "d MMMM yyyy", "5 KASIM 2024"],
    ["tr", "d MMMM yyyy", "5 Nisan 2024"],
    ["tr", "d MMMM yyyy", "5 NİSAN 2024"],
    ["ja", "yyyy年M月d日", "2024年3月5日"],
    ["ja", "yyyy年M月d日(E)", "2024年3月5日(火)"],
  ])("in %s %s reads %s", (locale, pattern, text) => {
    expect(reads(pattern, text, [locale])).toMatch(/^2024-\d\d-05T/);
  });

  test("names of several locales are read, and one that two of them use differently is not", () => {
    expect(reads("d MMM yyyy", "5 mei 2024", ["en", "nl"])).toBe("2024-05-05T00:00:00");
    expect(reads("d MMM yyyy", "5 May 2024", ["en", "nl"])).toBe("2024-05-05T00:00:00");
    expect(namesOf(["xx", "EN-gb"])).toMatchObject({
      ok: false,
      faults: [{ code: "locale.unknown" }],
    });
  });

  test("two digits of a year are read only with a stated pivot", () => {
    expect(reads("dd/MM/yy", "05/03/24")).toBe("reading.pattern");
    expect(reads("dd/MM/yy", "05/03/49", undefined, 1950)).toBe("2049-03-05T00:00:00");
    expect(reads("dd/MM/yy", "05/03/50", undefined, 1950)).toBe("1950-03-05T00:00:00");
  });

  test.each([
    "",
    "dd/MM",
    "MM/yyyy",
    "dd/dd/yyyy",
    "dd/MM/yyyy'",
    "dd/MM/yyyy bb",
    "ddd/MM/yyyy",
    "dd/MM/yyyy h:mm",
    "dd/MM/yyyy mm",
    "dd/MM/yyyy HH:ss",
    "dd/MM/yyyyX",
    "w/YYYY",
    "nonsense",
    `dd/MM/yyyy'${"x".repeat(100)}'`,
  ])("refuses the pattern “%s”", (pattern) => {
    expect(reads(pattern, "05/03/2024")).toBe("reading.pattern");
  });

  test.each<[string, string | null]>([
    ["dd/mm/yyyy HH:MM", "dd/MM/yyyy HH:mm"],
    ["dd/mm/yyyy", "dd/MM/yyyy"],
    ["dd/mm/yyyy HH:mm", "dd/MM/yyyy HH:mm"],
    ["dd/MM/yyyy HH:MM", "dd/MM/yyyy HH:mm"],
    ["HH:MM dd/mm/yyyy", null],
    ["DD/MM/YYYY", "dd/MM/yyyy"],
    ["YYYY-MM-DD", "yyyy-MM-dd"],
    ["YYYY-MM-DDTHH:mm:ss", "yyyy-MM-dd'T'HH:mm:ss"],
    ["YYYY-MM-DD HH:MM:SS", "yyyy-MM-dd HH:mm:ss"],
    ["%d/%m/%Y", "dd/MM/yyyy"],
    ["%Y-%m-%dT%H:%M:%S", "yyyy-MM-dd'T'HH:mm:ss"],
    ["%d %b %Y, %I:%M %p", "dd MMM yyyy, hh:mm a"],
    ["%Q", null],
    ["nonsense", null],
  ])("refuses “%s”, for which “%s” was meant", (pattern, meant) => {
    const found = compileReading({ kind: "local", encoding: "text", patterns: [pattern] });
    expect(found.ok ? [] : found.faults).toMatchObject([{ code: "reading.pattern" }]);
    expect(found.ok ? null : found.faults.map(renderFault)[0]?.nearest).toEqual(
      meant === null ? undefined : [meant],
    );
    // A pattern in which dates are shown to people would print the minutes for the month.
    if (!pattern.includes("m")) return;
    expect(datePattern(pattern)).toMatchObject({ ok: false });
  });

  test("takes months and minutes where each belongs", () => {
    expect(reads("HH:mm dd/MM/yyyy", "14:30 05/03/2024")).toBe("2024-03-05T14:30:00");
    expect(reads("yyyyMMddHHmm", "202403051430")).toBe("2024-03-05T14:30:00");
    expect(reads("yyyy-MM-dd'T'HH'h'mm", "2024-03-05T14h30")).toBe("2024-03-05T14:30:00");
  });

  test("what is written reads back as the same, in every locale", () => {
    const shapes = [
      "dd/MM/yyyy",
      "EEEE d MMMM yyyy",
      "E, d MMM yyyy h:mm:ss.SSS a",
      "YYYY-'W'ww-e HH:mm:ss",
      "yyyyDDD'T'HHmmXX",
      "Q.yyyy.M.d",
    ];
    const whens = fc.integer({ min: dayNumber(1, 1, 8), max: dayNumber(9998, 12, 1) });
    fc.assert(
      fc.property(
        fc.constantFrom(...shapes),
        fc.constantFrom(...knownLocales()),
        whens,
        fc.nat(86_399),
        (shape, locale, day, second) => {
          const pattern = patternOf(shape, [locale]);
          const time =
            pattern.precision === "day"
              ? 0
              : shape.includes("s")
                ? second * 1_000
                : Math.floor(second / 60) * 60_000;
          const wall = wallMs(day * 86_400_000 + time);
          const text = pattern.write(wall, 5_400_000);
          expect([text, pattern.read(text)]).toEqual([
            text,
            { kind: "fits", wall, offset: pattern.hasOffset ? 5_400_000 : null },
          ]);
        },
      ),
      { numRuns: 1_000 },
    );
  });

  test("reading by place and by expression agree", () => {
    const fast = patternOf("dd/MM/yyyy HH:mm");
    // One letter of quoted text sends a pattern down the slow way.
    const slow = patternOf("d/MM/yyyy HH:mm");
    const digits = fc.constantFrom(...Array.from("0123456789/: x"));
    fc.assert(
      fc.property(
        fc.array(digits, { minLength: 16, maxLength: 16 }),
        fc.nat(9),
        (characters, place) => {
          const text = "05/03/2024 14:30"
            .split("")
            .map((character, index) =>
              index % 10 === place ? (characters[index] ?? "") : character,
            )
            .join("");
          const [one, other] = [fast.read(text), slow.read(text)];
          expect(one.kind).toBe(/^\d{2}\//.test(text) ? other.kind : one.kind);
          if (one.kind === "fits") expect(other).toEqual(one);
        },
      ),
    );
  });

  test("a hostile text costs no more than its length", () => {
    for (const text of [
      "1".repeat(300_000),
      "1/".repeat(150_000),
      "a".repeat(300_000),
      ".".repeat(300_000),
      "5 mar".padEnd(300_000, "."),
    ]) {
      expect(["other", "date.name", "date.trailing"]).toContain(reads("d/M/yyyy", text));
      expect(["other", "date.name", "date.trailing"]).toContain(reads("d MMM yyyy h:mm a", text));
    }
  });
});

describe("the names", () => {
  const languages = Object.entries({ ...OWN_NAMES, ...OTHER_NAMES });

  test("are those of all languages of the CLDR", () => {
    expect(CLDR_VERSION).toMatch(/^\d+/);
    expect(new Set(knownLocales())).toEqual(new Set(languages.map(([language]) => language)));
    expect(namesOf(["hr-BA", "zh_Hant_TW", "gsw"])).toMatchObject({ ok: true });
    const unknown = namesOf(["xx"]);
    expect(unknown.ok ? [] : unknown.faults.map(renderFault)).toMatchObject([
      { message: "the locale “xx” has no names of months and days here" },
    ]);
  });

  test("are read in every language and spelling, and written as they are read", () => {
    const failed: string[] = [];
    for (const [language, json] of languages) {
      const names = JSON.parse(json) as Record<string, readonly (readonly string[])[]>;
      const tried = (pattern: string, part: string, dayOf: (at: number) => number) => {
        const compiledPattern = patternOf(pattern, [language]);
        names[part]?.forEach((spellings, at) => {
          const wall = wallMs(dayOf(at));
          const own = compiledPattern.write(wall, 0);
          const usual = spellings[0] ?? "";
          if (!own.includes(usual)) failed.push(`${language} writes ${own}, not ${usual}`);
          for (const spelling of spellings) {
            const text = own.replace(usual, () => spelling);
            const found = compiledPattern.read(text);
            if (found.kind !== "fits" || found.wall !== wall) failed.push(`${language}: ${text}`);
          }
        });
      };
      const month = (at: number) => Date.UTC(2025, at, 14);
      // 3 March 2025 was a Monday.
      const weekday = (at: number) => Date.UTC(2025, 2, 3 + at);
      tried("d MMMM yyyy", "months", month);
      tried("yyyy MMM d", "abbreviatedMonths", month);
      tried("EEEE, yyyy-MM-dd", "weekdays", weekday);
      tried("dd/MM/yyyy E", "abbreviatedWeekdays", weekday);
      tried("yyyy-MM-dd h:mm a", "halves", (at) => Date.UTC(2025, 2, 3, 9 + 6 * at));
    }
    expect(failed).toEqual([]);
  });

  test.each([
    ["vi", "d MMMM, yyyy", "14 tháng 10, 2025", "2025-10-14T00:00:00"],
    ["vi", "d MMMM, yyyy", "14 tháng 1, 2025", "2025-01-14T00:00:00"],
    ["vi", "d MMMM, yyyy", "14 tha\u0301ng 1, 2025", "2025-01-14T00:00:00"],
    ["vi", "d MMMM, yyyy", "14 tháng 13, 2025", "other"],
    ["ca", "d MMMM 'de' yyyy", "14 d'abril de 2025", "2025-04-14T00:00:00"],
    ["fa", "yyyy/MM/dd", "\u200f۲۰۲۵/۰۴/۱۴", "2025-04-14T00:00:00"],
    ["hi", "d MMMM yyyy", "१४ अप्रैल २०२५", "2025-04-14T00:00:00"],
    ["hi", "d MMMM yyyy", "१४ अप्रल २०२५", "date.name"],
    ["ff", "d/M/yyyy", "𞥑𞥔/𞥔/𞥒𞥐𞥒𞥕", "2025-04-14T00:00:00"],
    ["de", "d. MMMM yyyy", "14. Jänner 2025", "2025-01-14T00:00:00"],
    ["ar", "d MMMM yyyy", "14 كانون الثاني 2025", "2025-01-14T00:00:00"],
    ["hr", "d. MMMM yyyy.", "14. listopada 2025.", "2025-10-14T00:00:00"],
    ["pl", "d MMMM yyyy", "14 listopada 2025", "2025-11-14T00:00:00"],
  ])("in %s %s reads %s as %s", (locale, pattern, text, expected) => {
    expect(reads(pattern, text, [locale])).toBe(expected);
  });
});

describe("zones and eras", () => {
  const zoned = patternOf("yyyy-MM-dd HH:mm VV");
  const hour = 3_600_000;

  test("a zone says which moment is meant, in any letter case, the first of two", () => {
    const offsetOf = (text: string) => {
      const read = zoned.read(text);
      return read.kind === "fits"
        ? (read.offset ?? 0) / hour
        : read.kind === "fault"
          ? read.fault.code
          : "other";
    };
    expect(offsetOf("2025-07-03 14:05 Europe/London")).toBe(1);
    expect(offsetOf("2025-01-03 14:05 europe/london")).toBe(0);
    expect(offsetOf("2025-01-03 14:05 America/Argentina/Ushuaia")).toBe(-3);
    expect(offsetOf("2025-01-03 14:05 UTC")).toBe(0);
    expect(offsetOf("2025-10-26 01:30 Europe/London")).toBe(1);
    expect(offsetOf("2025-03-30 01:30 Europe/London")).toBe("date.skipped");
    expect(offsetOf("2025-03-30 01:30 Europe/Lodnon")).toBe("zone.unknown");
    expect(offsetOf("2025-03-30 01:30")).toBe("other");
    expect(zoned.write(wallMs(Date.UTC(2025, 1, 3, 14, 5)), 0)).toBe("2025-02-03 14:05 UTC");
    const reading = compileReading({
      kind: "instant",
      encoding: "text",
      patterns: ["dd/MM/yyyy HH:mm VV"],
      zone: "Europe/London",
    });
    if (!reading.ok) throw new Error("the reading is refused");
    const ms = Date.UTC(2025, 6, 3, 13, 5);
    expect(reading.value.write(ms)).toBe("03/07/2025 14:05 Europe/London");
    expect(reading.value.read("03/07/2025 14:05 Europe/London")).toEqual({ state: "dated", ms });
    expect(reading.value.read("03/07/2025 09:05 America/New_York")).toEqual({ state: "dated", ms });
  });

  test("an era is ours, or is refused", () => {
    const pattern = patternOf("d MMMM yyyy G");
    expect(pattern.read("3 April 1985 AD")).toMatchObject({ kind: "fits" });
    expect(pattern.read("3 April 1985 A.D.")).toMatchObject({ kind: "fits" });
    expect(pattern.read("3 April 0044 BC")).toMatchObject({
      kind: "fault",
      fault: { code: "date.impossible" },
    });
    expect(pattern.write(wallMs(Date.UTC(1985, 3, 3)), 0)).toBe("3 April 1985 AD");
  });

  test("the name of a zone is read, and not written for people", () => {
    expect(datePattern("d MMMM yyyy HH:mm VV")).toMatchObject({ ok: false });
    expect(datePattern("d MMMM yyyy HH:mm XXX")).toMatchObject({ ok: true });
  });

  test.each(["yyyy-MM-dd VV", "yyyy-MM-dd HH:mm XXX VV", "yyyy-MM-dd HH:mm V", "yyyy-MM-dd GGGG"])(
    "%s is refused",
    (pattern) => {
      const found = compileReading({ kind: "instant", encoding: "text", patterns: [pattern] });
      expect(found.ok ? [] : found.faults).toMatchObject([{ code: "reading.pattern" }]);
    },
  );
});

describe("offsets in every letter", () => {
  test.each<[string, number, string]>([
    ["X", 0, "Z"],
    ["X", 60, "+01"],
    ["x", 0, "+00"],
    ["x", -90, "-0130"],
    ["xx", 0, "+0000"],
    ["xxx", 60, "+01:00"],
    ["xxx", 0, "+00:00"],
    ["Z", 0, "+0000"],
    ["ZZZ", 60, "+0100"],
    ["ZZZZZ", 0, "Z"],
    ["ZZZZZ", 60, "+01:00"],
  ])("%s of %s minutes is %s", (letters, minutes, text) => {
    const pattern = patternOf(`yyyy-MM-dd HH:mm${letters}`);
    const wall = wallMs(Date.UTC(2025, 1, 3, 14, 5));
    const stored = pattern.write(wall, minutes * 60_000);
    expect(stored).toBe(`2025-02-03 14:05${text}`);
    expect(pattern.read(stored)).toEqual({ kind: "fits", wall, offset: minutes * 60_000 });
  });
});
