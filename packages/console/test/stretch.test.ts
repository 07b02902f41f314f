import { describe, expect, test } from "@jest/globals";
import { stretchAround, zoomed, type Stretch } from "../src/listing/stretch.js";

const RECORDS: Stretch = { first: "2024-01-01", last: "2025-12-31" };
const windowOf = (first: string, end: string) => ({
  start: `${first}T00:00:00`,
  end: `${end}T00:00:00`,
});
const February = windowOf("2025-02-01", "2025-03-01");

describe("the stretch that a ribbon draws", () => {
  test("has as much before and after a window as it is long", () => {
    expect(stretchAround(February, RECORDS, null)).toEqual({
      first: "2025-01-04",
      last: "2025-03-28",
    });
  });

  test("ends where the records end", () => {
    const records = { first: "2025-01-31", last: "2025-03-02" };
    expect(stretchAround(windowOf("2025-02-20", "2025-03-02"), records, null)).toEqual({
      first: "2025-02-10",
      last: "2025-03-02",
    });
    expect(stretchAround(February, records, null)).toBeNull();
  });

  test.each([
    [null],
    [windowOf("2020-01-01", "2020-02-01")],
    [windowOf("2030-01-01", "2030-02-01")],
    [windowOf("2000-01-01", "2030-01-01")],
    [{ start: null, end: "2025-03-01T00:00:00" }],
  ])("is that of all records for %j", (window) => {
    expect(stretchAround(window, RECORDS, null)).toBeNull();
  });

  test("stays as it is while a window moves in it, and not once it is too short, or beyond", () => {
    const drawn = stretchAround(February, RECORDS, null);
    expect(stretchAround(windowOf("2025-01-10", "2025-03-10"), RECORDS, drawn)).toBe(drawn);
    expect(stretchAround(windowOf("2025-02-01", "2025-02-09"), RECORDS, drawn)).toBe(drawn);
    expect(stretchAround(windowOf("2025-02-01", "2025-02-03"), RECORDS, drawn)).not.toBe(drawn);
    expect(stretchAround(windowOf("2025-03-01", "2025-04-01"), RECORDS, drawn)).toEqual({
      first: "2025-01-29",
      last: "2025-05-01",
    });
  });

  test("is zoomed around a day, with all of the window, and to all of the records at most", () => {
    const window = February;
    const stretch = { first: "2025-01-01", last: "2025-04-10" };
    const near = zoomed(stretch, 0.5, "2025-02-10", { window, records: RECORDS });
    expect(near).toEqual({ first: "2025-01-21", last: "2025-03-11" });
    expect(zoomed(stretch, 0.01, "2025-02-10", { window, records: RECORDS })).toEqual({
      first: "2025-02-01",
      last: "2025-02-28",
    });
    expect(zoomed(stretch, 2, "2025-02-10", { window, records: RECORDS })).toEqual({
      first: "2024-11-12",
      last: "2025-05-30",
    });
    expect(zoomed(stretch, 50, "2025-02-10", { window, records: RECORDS })).toBeNull();
    expect(zoomed(stretch, 0.5, "2025-02-10", { window: null, records: RECORDS })).toEqual(near);
  });
});
