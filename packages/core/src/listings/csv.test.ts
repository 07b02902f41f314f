import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import Papa from "papaparse";
import { csvText } from "./csv.js";

describe("lines of values as CSV", () => {
  test("read back as the values that they were, whatever the delimiter", () => {
    const value = fc.oneof(
      fc.constantFrom('"', ",", ";", "\n", "\r\n", "a,b", 'the "old" lock', " "),
      fc.string(),
    );
    // A line of one empty value is no line to a reader.
    const row = fc.array(value, { minLength: 2, maxLength: 4 });
    fc.assert(
      fc.property(
        fc.array(row, { minLength: 1, maxLength: 5 }),
        fc.constantFrom(",", ";", "\t"),
        (rows, delimiter) => {
          const text = csvText(rows, { delimiter });
          expect(text.endsWith("\n")).toBe(true);
          const read = Papa.parse(text.slice(0, -1), { delimiter, newline: "\n" });
          expect(read.data).toEqual(rows);
        },
      ),
    );
  });

  test("have quotes only where they need them", () => {
    expect(csvText([["a", "b c", "d,e", 'f"g']])).toBe('a,b c,"d,e","f""g"\n');
    expect(csvText([["a", "b"]], { newline: "\r\n" })).toBe("a,b\r\n");
    expect(csvText([])).toBe("");
  });
});
