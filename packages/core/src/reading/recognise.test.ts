import { describe, expect, test } from "@jest/globals";
import { wallMs } from "../calendar/index.js";
import { OTHER_NAMES } from "./all-names.generated.js";
import { datePattern } from "./date-pattern.js";
import { addNames, knownLocales } from "./names.js";
import { compileReading } from "./reading.js";
import { countNumbers } from "./number-counts.js";
import { isCertain, nameOf, recogniseColumn, type Recognition } from "./recognise.js";

addNames(OTHER_NAMES);

function recognised(...values: readonly (string | number | null)[]): Recognition {
  return recogniseColumn(values.map((value) => ({ value, count: 1 })));
}

function summary(...values: readonly (string | number | null)[]) {
  const { verdict, candidates } = recognised(...values);
  const [best] = candidates;
  return [verdict, best === undefined ? null : nameOf(best.reading), best?.reading.kind ?? null];
}

describe("recogniseColumn", () => {
  test.each([
    [
      ["2024-03-05", "2024-12-31"],
      ["certain", "yyyy-MM-dd", "date"],
    ],
    [
      // Days among times are their beginnings.
      ["2024-03-05", "2024-12-31T08:30:00", "2025-01-01 09:00", "2025-01-02"],
      ["certain", "ISO 8601", "local"],
    ],
    [
      ["05/03/2024", "31/12/2024"],
      ["certain", "dd/MM/yyyy", "date"],
    ],
    [
      ["03/05/2024", "12/31/2024"],
      ["certain", "MM/dd/yyyy", "date"],
    ],
    [
      ["5/3/2024", "31/12/2024"],
      ["certain", "d/M/yyyy", "date"],
    ],
    [
      ["05.03.2024 14:30", "31.12.2024 08:00"],
      ["certain", "dd.MM.yyyy HH:mm", "local"],
    ],
    [
      ["2024-03-05T14:30:05.250Z", "2024-12-31T00:00:00.000+01:00"],
      ["certain", "yyyy-MM-dd'T'HH:mm:ss.SSSXXX", "instant"],
    ],
    [
      ["Mar 5, 2024", "Dec 31, 2024"],
      ["certain", "MMM d, yyyy", "date"],
    ],
    [
      ["5. März 2024", "31. Oktober 2024"],
      ["certain", "d. MMMM yyyy in de", "date"],
    ],
    [["terça-feira, 5 de março de 2024"], ["certain", "EEEE, d 'de' MMMM 'de' yyyy in pt", "date"]],
    [
      ["20240305", "20241231"],
      ["numbers", "yyyyMMdd", "date"],
    ],
    [
      [45_292, 45_351],
      ["numbers", "serial-1900", "date"],
    ],
    [
      ["45292", "45351.75"],
      ["numbers", "serial-1900", "local"],
    ],
    [
      [1_709_649_005, "1709649006"],
      ["numbers", "epoch-s", "instant"],
    ],
    [[1_709_649_005_250], ["numbers", "epoch-ms", "instant"]],
    [[1_709_649_005_250_999], ["numbers", "epoch-us", "instant"]],
    [["Tue, 05 Mar 2024 14:30:05 +0100"], ["certain", "rfc5322", "instant"]],
    [
      ["high", "low"],
      ["none", null, null],
    ],
    [
      ["", null, "N/A"],
      ["none", null, null],
    ],
    [
      [17, 23, 5],
      ["none", null, null],
    ],
  ])("%j is %j", (values, expected) => {
    expect(summary(...values)).toEqual(expected);
  });

  test("amounts that mean some plausible days by chance are no dates", () => {
    expect(summary(1_500, 47_125, 36_000, 139_500, 20_000, 61_250)[0]).toBe("none");
  });

  test.each<[string, readonly (string | number)[]]>([
    ["salaries", [47_125, 36_000, 45_292]],
    ["postcodes", ["20095", "22769", "36110"]],
    ["order numbers", ["20240117", "20240118", "20240121"]],
    ["account numbers", ["1709649005", "1612345678"]],
    ["telephone numbers", ["1709649005250", "1612345678901"]],
  ])("%s are numbers first: a bare number is no date by itself", (_, values) => {
    const found = recognised(...values);
    expect(found.verdict).toBe("numbers");
    expect(found.evidence).toContain("only where you say so");
    expect(isCertain({ type: "text", recognition: found })).toBe(false);
    // A sheet that shows some of them as dates says nothing of the others.
    const counted = values.map((value) => ({ value, count: 1 }));
    const some = { count: values.length - 1, encoding: "serial-1900" } as const;
    expect(recogniseColumn(counted, some).verdict).not.toBe("certain");
  });

  test("sets nothing in silence: days and months that could be either are ambiguous", () => {
    const { verdict, rivals, evidence } = recogniseColumn([
      { value: "03/04/2024", count: 5 },
      { value: "04/04/2024", count: 2 },
      { value: "11/12/2023", count: 1 },
    ]);
    expect(verdict).toBe("ambiguous");
    expect(rivals).toMatchObject([{ onlyBest: 0, onlyRival: 0, wouldChange: 6 }]);
    expect(evidence).toBe(
      "8 cells fit dd/MM/yyyy; under MM/dd/yyyy 6 of them would be other dates; 0 do not fit",
    );
  });

  test("says how many values decide the order, and how many would change", () => {
    const { verdict, evidence, candidates } = recognised(
      "03/04/2024",
      "25/04/2024",
      "26/04/2024",
      "31/02/2024",
    );
    expect(verdict).toBe("certain");
    expect(evidence).toBe(
      "3 cells fit dd/MM/yyyy; under MM/dd/yyyy 1 of them would be other dates, 2 can only be dd/MM/yyyy; 1 does not fit",
    );
    expect(candidates[0]).toMatchObject({
      misses: 1,
      examples: ["31/02/2024"],
      earliest: "2024-04-03",
      latest: "2024-04-26",
    });
  });

  test("reads several layouts together where none of them can give another's text another date", () => {
    const found = recogniseColumn([
      { value: "3 Feb 25", count: 4 },
      { value: "2025-02-04", count: 2 },
      { value: "12 Mar 25", count: 1 },
      { value: "soon", count: 1 },
    ]);
    expect(found).toMatchObject({ verdict: "certain", rivals: [] });
    expect(found.candidates[0]).toMatchObject({
      reading: { patterns: ["d MMM yy", "yyyy-MM-dd"], twoDigitYearFrom: 1970 },
      ...{ fits: 7, misses: 1, examples: ["soon"] },
    });
    expect(found.evidence).toContain("d MMM yy 5, yyyy-MM-dd 2");
    expect(recognised("25/04/2024", "2024-04-26", "27/04/2024").verdict).toBe("certain");
    expect(recognised("25/04/2024", "04-26-2024", "5.6.2024").verdict).toBe("mixed");
  });

  test("knows the basic form of ISO 8601, in universal time or on the wall clock", () => {
    const utc = recognised("20110312T200000Z", "20110313T0800Z");
    expect(utc).toMatchObject({
      ...{ verdict: "certain", candidates: [{ reading: { kind: "instant" }, fits: 2 }] },
    });
    const local = recognised("20110312T200000", "20110313T080000");
    expect(local).toMatchObject({
      ...{ verdict: "certain", candidates: [{ reading: { kind: "local" }, fits: 2 }] },
    });
  });

  test("offers what fits few values, and never takes the column for dates by it", () => {
    const words = ["gate", "weir", "lock", "quay", "boat", "paddle", "sluice"];
    const found = recognised("2025-02-04", "12 March 2025", ...words);
    expect(found.verdict).toBe("few");
    expect(found.candidates[0]).toMatchObject({ fits: 2, misses: 7 });
    expect(recognised("12", "7", ...words, ...words.map((each) => `${each}s`)).verdict).toBe(
      "none",
    );
  });

  test("calls two layouts mixed, each with values that only it fits", () => {
    expect(recognised("25/04/2024", "26/04/2024", "04/27/2024", "04/28/2024").verdict).toBe(
      "mixed",
    );
  });

  test("leaves the century of two digits in doubt where it matters", () => {
    const doubtful = recognised("19.08.44", "27.09.89", "01.02.03");
    expect(doubtful.verdict).toBe("ambiguous");
    expect(doubtful.rivals.some(({ wouldChange }) => wouldChange === 1)).toBe(true);
    expect(doubtful.evidence).toContain("dd.MM.yy from 1930 on");
    expect(recognised("19.08.24", "27.09.89").verdict).toBe("certain");
  });

  test("takes a sheet's word for it that numbers are days, and from when they are counted", () => {
    const values = [
      { value: "12", count: 3 },
      { value: "43830.5", count: 1 },
      { value: "x", count: 1 },
    ];
    expect(recogniseColumn(values).verdict).toBe("none");
    const answer = recogniseColumn(values, { count: 4, encoding: "serial-1904" });
    expect(answer).toMatchObject({
      verdict: "certain",
      candidates: [
        { fits: 4, misses: 1, latest: "2024-01-01T12:00:00", reading: { kind: "local" } },
      ],
    });
    expect(recogniseColumn(values, { count: 4, encoding: "text" }).verdict).toBe("none");
  });

  test("finds a layout that only values outside of the first look have", () => {
    const values = Array.from({ length: 9_000 }, (_, index) => ({
      value:
        index === 7_003 ? "5 Mar 2024" : `2024-01-${String((index % 28) + 1).padStart(2, "0")}`,
      count: 1,
    }));
    const found = recogniseColumn(values);
    expect(found.candidates[0]).toMatchObject({ fits: 9_000, misses: 0, examples: [] });
    const more = values.map((each, index) =>
      index % 5 === 1 ? { value: "5 Mar 2024", count: 4 } : each,
    );
    expect(recogniseColumn(more).candidates[0]).toMatchObject({ fits: 14_400, misses: 0 });
  });

  test("counts blanks, proposes their spellings, and points at dates that may stand for none", () => {
    const found = recogniseColumn([
      { value: "25/04/2024", count: 90 },
      { value: "", count: 3 },
      { value: "tbc", count: 2 },
      { value: "01/01/1900", count: 4 },
      { value: "soon", count: 1 },
    ]);
    expect(found).toMatchObject({ cells: 100, distinct: 5, blank: 5, verdict: "certain" });
    expect(found.candidates[0]).toMatchObject({
      fits: 94,
      misses: 1,
      examples: ["soon"],
      reading: { blanks: ["tbc"] },
    });
    expect(found.suspects).toEqual([{ date: "1900-01-01", count: 4 }]);
  });

  test("looks at every value, not at the first ones: one that decides is enough", () => {
    const many = Array.from(
      { length: 5_000 },
      (_, index) =>
        `0${(index % 9) + 1}/0${(Math.floor(index / 9) % 9) + 1}/${2000 + (index % 25)}`,
    );
    expect(recognised(...new Set(many)).verdict).toBe("ambiguous");
    expect(recognised(...new Set(many), "31/01/2024").verdict).toBe("certain");
  });

  test("hostile columns cost no more than their size", () => {
    const found = recognised(
      "9".repeat(100_000),
      "/".repeat(100_000),
      "a".repeat(100_000),
      "1/".repeat(50_000),
      ...Array.from({ length: 500 }, (_, index) => `${"x".repeat(index % 60)} ${index}`),
    );
    expect(found.verdict).toBe("none");
  });
});

describe("countNumbers", () => {
  test("counts numbers, blanks and the rest, and yes and no beside them", () => {
    const counts = countNumbers([
      { value: "12", count: 3 },
      { value: 1, count: 2 },
      { value: "2.5", count: 1 },
      { value: " Yes", count: 4 },
      { value: "maybe", count: 1 },
      { value: null, count: 5 },
      { value: " ", count: 1 },
    ]);
    expect(counts).toEqual({ blank: 6, whole: 5, fractional: 1, other: 5, yesOrNo: 6 });
  });
});

describe("spellings of “no date” that a person confirmed", () => {
  test("are blank and no misfits, in whatever letter case; others stay what they were", () => {
    const values = [
      { value: "28/02/2025", count: 10 },
      { value: "not yet known", count: 3 },
      { value: "Not Yet Known ", count: 2 },
      { value: "soon", count: 1 },
    ];
    const before = recogniseColumn(values);
    expect([before.blank, before.candidates[0]?.misses]).toEqual([0, 6]);
    const after = recogniseColumn(values, undefined, ["not yet known"]);
    expect([after.blank, after.candidates[0]?.misses]).toEqual([5, 1]);
    expect(after.candidates[0]?.reading.blanks?.map((each) => each.toLowerCase())).toContain(
      "not yet known",
    );
  });
});

describe("patterns of one form", () => {
  test.each([
    [["5 Mar 2024", "15 March 2024", "25 Apr 2024"], ["d MMM yyyy"]],
    [["5/12/2024", "15/3/2024", "25/10/2024"], ["d/M/yyyy"]],
    [["05/12/2024", "15/03/2024"], ["dd/MM/yyyy"]],
    [["5/12/2024 9:30", "15/03/2024 10:30"], ["d/MM/yyyy H:mm"]],
  ])("%j are offered as one that reads them all", (strings, patterns) => {
    const { candidates } = recognised(...strings);
    const whole = candidates.filter(({ fits }) => fits === strings.length);
    expect(whole.map(({ reading }) => reading.patterns)).toEqual([patterns]);
  });

  test("dates among many notes are found, however the notes are written", () => {
    const notes = Array.from({ length: 30_000 }, (_, at) => `${"x".repeat(at % 60)} paddle ${at}`);
    const dates = Array.from({ length: 4_000 }, (_, at) =>
      new Date(Date.UTC(2010, 0, 1 + at)).toISOString().slice(0, 10),
    );
    const { verdict, candidates } = recognised(...notes, ...dates);
    expect([verdict, candidates[0]?.fits, candidates[0]?.misses]).toEqual(["few", 4_000, 30_000]);
  });
});

describe("dates with names", () => {
  test("are recognised in every language, each as the day that it is", () => {
    const failed: string[] = [];
    for (const locale of knownLocales()) {
      const pattern = datePattern("EEEE, d MMM yyyy", locale);
      if (!pattern.ok) throw new Error(locale);
      const days = Array.from({ length: 12 }, (_, at) => Date.UTC(2025, at, 1 + at * 2));
      const strings = days.map((day) => pattern.value.write(wallMs(day), 0));
      const { candidates, verdict } = recognised(...strings);
      const reading = candidates[0] === undefined ? null : compileReading(candidates[0].reading);
      const read = strings.map((text) => (reading?.ok === true ? reading.value.dateOf(text) : NaN));
      if (verdict !== "certain" || read.join() !== days.join()) {
        failed.push(`${locale}: ${verdict}, ${strings[0] ?? ""}`);
      }
    }
    expect(failed).toEqual([]);
  });

  test.each([
    [["3. listopada 2025", "14. listopada 2025"], "ambiguous", ["pl", "hr"]],
    [["3. listopada 2025", "14. prosinca 2025"], "certain", ["hr"]],
    [["3 listopada 2025", "14 grudnia 2025"], "certain", ["pl"]],
    // That “May” is another month in a language that is seldom written is no doubt.
    [["3 May 2025", "14 May 2025"], "certain", [undefined]],
    [["3 de abril de 2025", "14 de abril de 2025"], "certain", ["es"]],
    [["3 апреля 2025 г.", "14 мая 2025 г."], "certain", ["ru"]],
    [["2025年4月3日(木)", "2025年4月14日(月)"], "certain", ["ja"]],
    [["2025년 4월 3일", "2025년 12월 14일"], "certain", ["ko"]],
    [["3 เมษายน ค.ศ. 2025", "14 พฤษภาคม ค.ศ. 2025"], "certain", ["th"]],
  ] as const)("%j are %s", (strings, expected, languages) => {
    const { verdict, candidates, evidence } = recognised(...strings);
    expect(verdict).toBe(expected);
    const readings = candidates.filter(({ fits }) => fits === strings.length);
    expect(readings.map(({ reading }) => reading.locales?.[0])).toEqual(languages);
    if (verdict === "ambiguous") {
      expect(evidence).toMatch(/in pl.*under d. MMMM yyyy in hr 2 of them would be other dates/);
    }
  });
});
