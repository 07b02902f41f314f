import { describe, expect, test } from "@jest/globals";
import { dateQuality, type DateQuality } from "./quality.js";
import type { Reading } from "./reading.js";

const TODAY = Date.UTC(2026, 10, 25) / 86_400_000;
const DAY: Reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: ["tbc"] };

function quality(values: Readonly<Record<string, number>>, reading: Reading = DAY): DateQuality {
  const counts = Object.entries(values).map(([value, count]) => ({ value, count }));
  const found = dateQuality(counts, reading, TODAY);
  if (!found.ok) throw new Error("the reading has a fault");
  return found.value;
}

describe("dateQuality", () => {
  test("distinguishes dated, blank and unreadable cells, and names the unreadable ones", () => {
    const found = quality({ "05/03/2024": 3, "": 2, tbc: 1, "31/02/2024": 1, "32/01/2024": 4 });
    expect(found).toMatchObject({ dated: 3, blank: 3, unreadable: 5, days: 1 });
    expect(found.unreadables).toEqual([
      { value: "32/01/2024", count: 4 },
      { value: "31/02/2024", count: 1 },
    ]);
  });

  test("counts weekdays from Monday and months from January", () => {
    const found = quality({ "04/03/2024": 2, "10/03/2024": 5, "31/12/2024": 1 });
    expect(found.weekdays).toEqual([2, 1, 0, 0, 0, 0, 5]);
    expect(found.months).toEqual([0, 0, 7, 0, 0, 0, 0, 0, 0, 0, 0, 1]);
  });

  test("lays the dates out in days, months or years, empty buckets included", () => {
    expect(quality({ "01/03/2024": 1, "03/03/2024": 2 }).timeline).toEqual({
      unit: "day",
      buckets: [
        { start: "2024-03-01", count: 1 },
        { start: "2024-03-02", count: 0 },
        { start: "2024-03-03", count: 2 },
      ],
    });
    const months = quality({ "30/11/2023": 1, "01/02/2024": 2 }).timeline;
    expect(months.unit).toBe("month");
    expect(months.buckets.map(({ start, count }) => `${start} ${count}`)).toEqual([
      "2023-11 1",
      "2023-12 0",
      "2024-01 0",
      "2024-02 2",
    ]);
    const years = quality({ "30/11/2003": 1, "01/02/2024": 2 }).timeline;
    expect(years.unit).toBe("year");
    expect(years.buckets).toHaveLength(22);
  });

  test("sets far-off dates apart, so that they do not widen the timeline", () => {
    const found = quality({ "01/01/0001": 2, "05/03/2024": 3, "31/12/9999": 4, "01/01/2037": 1 });
    expect(found.farPast).toEqual({ count: 2, examples: ["01/01/0001"] });
    expect(found.farFuture).toEqual({ count: 5, examples: ["31/12/9999", "01/01/2037"] });
    expect(found).toMatchObject({ earliest: "0001-01-01", latest: "9999-12-31" });
    expect(found.timeline.buckets).toEqual([{ start: "2024-03-05", count: 3 }]);
  });

  test("finds the longest intervals without a date, and no weekends", () => {
    const found = quality({ "01/03/2024": 1, "04/03/2024": 1, "08/03/2024": 1, "20/03/2024": 1 });
    expect(found.gaps).toEqual([
      { after: "2024-03-08", before: "2024-03-20", days: 11 },
      { after: "2024-03-04", before: "2024-03-08", days: 3 },
    ]);
  });

  test("says whether the strings say their offset", () => {
    const reading: Reading = { kind: "instant", encoding: "text", zone: "Europe/London" };
    const values = {
      "2024-03-05T10:00:00+01:00": 2,
      "2024-03-05T10:00Z": 1,
      "2024-03-05T10:00": 4,
    };
    expect(quality(values, reading).offsets).toEqual({ with: 3, without: 4 });
    // The end of a day is no offset.
    const days = { "2024-03-05": 2, "20240305T200000Z": 1 };
    expect(quality(days, reading).offsets).toEqual({ with: 1, without: 2 });
  });

  test("has nothing to show of a column without dates", () => {
    expect(quality({ "": 3 })).toMatchObject({
      dated: 0,
      days: 0,
      earliest: null,
      latest: null,
      timeline: { buckets: [] },
      gaps: [],
    });
  });

  test("fails with the faults of the reading", () => {
    const found = dateQuality([], { kind: "date", encoding: "text", patterns: ["bb"] }, TODAY);
    expect(found.ok ? [] : found.faults.map(({ code }) => code)).toEqual(["reading.pattern"]);
  });
});
