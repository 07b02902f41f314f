import { describe, expect, test } from "@jest/globals";
import { holds, spanAround, zoomed, type DrawnSpan } from "../src/listing/ribbon/drawn-span.js";

const RECORDS: DrawnSpan = { first: "2024-01-01", last: "2025-12-31" };
const windowOf = (first: string, end: string) => ({
  start: `${first}T00:00:00`,
  end: `${end}T00:00:00`,
});
const February = windowOf("2025-02-01", "2025-03-01");

describe("the span that a ribbon draws", () => {
  test("has as much before and after a window as it is long", () => {
    expect(spanAround(February, RECORDS, null)).toEqual({
      first: "2025-01-04",
      last: "2025-03-28",
    });
  });

  test("ends where the records end", () => {
    const records = { first: "2025-01-31", last: "2025-03-02" };
    expect(spanAround(windowOf("2025-02-20", "2025-03-02"), records, null)).toEqual({
      first: "2025-02-10",
      last: "2025-03-02",
    });
    expect(spanAround(February, records, null)).toBeNull();
  });

  test.each([
    [null],
    [windowOf("2020-01-01", "2020-02-01")],
    [windowOf("2030-01-01", "2030-02-01")],
    [windowOf("2000-01-01", "2030-01-01")],
    [{ start: null, end: "2025-03-01T00:00:00" }],
  ])("is that of all records for %j", (window) => {
    expect(spanAround(window, RECORDS, null)).toBeNull();
  });

  test("stays as it is while a window moves in it, and not once it is too short, or beyond", () => {
    const drawn = spanAround(February, RECORDS, null);
    expect(spanAround(windowOf("2025-01-10", "2025-03-10"), RECORDS, drawn)).toBe(drawn);
    expect(spanAround(windowOf("2025-02-01", "2025-02-09"), RECORDS, drawn)).toBe(drawn);
    expect(spanAround(windowOf("2025-02-01", "2025-02-03"), RECORDS, drawn)).not.toBe(drawn);
    expect(spanAround(windowOf("2025-03-01", "2025-04-01"), RECORDS, drawn)).toEqual({
      first: "2025-01-29",
      last: "2025-05-01",
    });
  });

  test("is the very same where it is the same, also for a window of which little is seen", () => {
    const records = { first: "2025-01-01", last: "2035-12-31" };
    const early = windowOf("2020-01-01", "2025-01-03");
    const drawn = spanAround(early, records, null);
    expect(drawn).toEqual({ first: "2025-01-01", last: "2030-01-05" });
    expect(spanAround(early, records, drawn)).toBe(drawn);
  });

  test("is zoomed around a day, with all of the window, and to all of the records at most", () => {
    const window = February;
    const span = { first: "2025-01-01", last: "2025-04-10" };
    const near = zoomed(span, 0.5, "2025-02-10", { window, records: RECORDS });
    expect(near).toEqual({ first: "2025-01-21", last: "2025-03-11" });
    expect(zoomed(span, 0.01, "2025-02-10", { window, records: RECORDS })).toEqual({
      first: "2025-02-01",
      last: "2025-02-28",
    });
    expect(zoomed(span, 2, "2025-02-10", { window, records: RECORDS })).toEqual({
      first: "2024-11-12",
      last: "2025-05-30",
    });
    expect(zoomed(span, 50, "2025-02-10", { window, records: RECORDS })).toEqual(RECORDS);
    expect(holds(RECORDS, windowOf("2025-03-01", "2025-03-02"), RECORDS)).toBe(true);
    const seen = { first: "2025-02-01", last: "2025-02-28" };
    expect(holds(seen, window, RECORDS)).toBe(true);
    expect(holds(seen, windowOf("2025-02-01", "2025-03-02"), RECORDS)).toBe(false);
    expect(holds(seen, null, RECORDS)).toBe(true);
    expect(zoomed(span, 0.5, "2025-02-10", { window: null, records: RECORDS })).toEqual(near);
  });
});
