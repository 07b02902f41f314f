import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { isoWall } from "../calendar/index.js";
import { compilePattern } from "./pattern.js";

function reads(pattern: string, text: string): string {
  const compiled = compilePattern(pattern);
  if (!compiled.ok) return compiled.faults.map(({ code }) => code).join();
  const read = compiled.value.read(text);
  return read.kind === "fits" ? isoWall(read.wall) : read.kind;
}

describe("compilePattern", () => {
  test.each([
    ["dd/MM/yyyy", "05/03/2024", "2024-03-05T00:00:00"],
    ["d/M/yyyy", "5/3/2024", "2024-03-05T00:00:00"],
    ["d/M/yyyy", "05/03/2024", "2024-03-05T00:00:00"],
    ["MM/dd/yyyy", "03/05/2024", "2024-03-05T00:00:00"],
    ["yyyyMMdd", "20240305", "2024-03-05T00:00:00"],
    ["dd.MM.yyyy HH:mm:ss.SSS", "05.03.2024 14:30:05.250", "2024-03-05T14:30:05.250"],
    ["yyyy'T'MM'o''clock'dd", "2024T03o'clock05", "2024-03-05T00:00:00"],
    ["dd/MM/yyyy", "5/3/2024", "other"],
    ["dd/MM/yyyy", "05/03/24", "other"],
    ["dd/MM/yyyy", "05/03/2024x", "other"],
    ["dd/MM/yyyy", "31/02/2024", "impossible"],
    ["dd/MM/yyyy", "05/13/2024", "impossible"],
    ["dd/MM/yyyy", "00/00/0000", "impossible"],
    ["dd/MM/yyyy HH:mm", "05/03/2024 24:00", "impossible"],
    ["dd+MM+yyyy", "05+03+2024", "2024-03-05T00:00:00"],
    ["dd+MM+yyyy", "0503+2024", "other"],
  ])("%s reads %s as %s", (pattern, text, expected) => {
    expect(reads(pattern, text)).toBe(expected);
  });

  test.each([
    "",
    "dd/MM",
    "dd/MM/yy",
    "dd/dd/yyyy",
    "dd/MM/yyyy'",
    "dd/MM/yyyy qq",
    "ddd/MM/yyyy",
    "nonsense",
  ])("refuses the pattern “%s”", (pattern) => {
    expect(reads(pattern, "05/03/2024")).toBe("reading.pattern");
  });

  test("writes of a pattern are read back as the same day", () => {
    const day = fc.integer({ min: Date.UTC(1000, 0, 1), max: Date.UTC(9999, 11, 31) });
    fc.assert(
      fc.property(day, (ms) => {
        const iso = new Date(ms).toISOString().slice(0, 10);
        const [year, month, dayOfMonth] = iso.split("-");
        expect(
          reads("dd/MM/yyyy", `${dayOfMonth ?? ""}/${month ?? ""}/${year ?? ""}`).slice(0, 10),
        ).toBe(iso);
      }),
    );
  });

  test("a hostile text costs no more than its length", () => {
    expect(reads("d/M/yyyy", "1".repeat(1_000_000))).toBe("other");
    expect(reads("d/M/yyyy", "1/".repeat(500_000))).toBe("other");
  });
});
