import { describe, expect, test } from "@jest/globals";
import { nearest, nearestName } from "./nearest.js";

describe("nearest", () => {
  test("finds a word with two letters swapped, one missing, one wrong, or in other case", () => {
    expect(nearest("form", ["to", "from"])).toBe("from");
    expect(nearest("rased", ["due", "raised"])).toBe("raised");
    expect(nearest("raiset", ["due", "raised"])).toBe("raised");
    expect(nearest("FROM", ["from", "to"])).toBe("from");
  });

  test("finds nothing where no candidate is near", () => {
    expect(nearest("colour", ["from", "to"])).toBeNull();
    expect(nearest("x", [])).toBeNull();
  });

  test("looks only at the beginning of a hostile word", () => {
    expect(nearest("a".repeat(1_000_000), ["from"])).toBeNull();
  });

  test("among our own names knows what one of an earlier version is called now", () => {
    expect(nearestName("freshness", ["fixedFilter", "cacheFor"])).toBe("cacheFor");
    expect(nearestName("leave", ["exclude", "include", "only"])).toBe("exclude");
    expect(nearestName("freshness", ["from", "to"])).toBeNull();
    expect(nearestName("form", ["to", "from"])).toBe("from");
    // A value of somebody's records is no name of ours.
    expect(nearest("late", ["recent", "planned"])).toBeNull();
  });
});
