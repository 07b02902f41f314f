import { DATE_ENCODINGS, DATE_KINDS, type NumberForm, type Reading } from "@orisma/core/internal";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { fieldsOf, formFields, plainMeaning, sentOf, withLine } from "../src/sources/draft.js";

const SEED = 7_402;
const lines = (...of: readonly string[]) => fc.subarray([...of], { minLength: 1 });

/** A reading, each of its settings there or not. */
const reading = fc.record(
  {
    kind: fc.constantFrom(...DATE_KINDS),
    encoding: fc.constantFrom(...DATE_ENCODINGS),
    patterns: lines("dd/MM/yyyy", "d MMM yyyy", "dd.MM.yyyy HH:mm"),
    locales: lines("de", "fr-CA", "en-GB"),
    zone: fc.constantFrom("Europe/London", "America/St_Johns"),
    blanks: lines("n/a", "none, yet", "-"),
    sentinels: lines("9999-12-31", "1900-01-01"),
    twoDigitYearFrom: fc.constantFrom(1, 1950, 9_900),
  },
  { requiredKeys: ["kind", "encoding"] },
) as fc.Arbitrary<Reading>;

const PLAIN = formFields(undefined);
const DAYS = fieldsOf({ kind: "date", encoding: "text" });

describe("the form of a column of numbers, or of yes and no", () => {
  test.each<NumberForm>([
    {},
    { group: "." },
    { decimal: ",", group: " ", units: ["€", "EUR"] },
    { decimal: ",", accounting: true },
  ])("is sent as it was: %j", (written) => {
    const sent = sentOf({ type: "decimal", ...DAYS, ...formFields(written) });
    const isPlain = Object.keys(written).length === 0;
    expect(sent).toEqual({ type: "decimal", ...(isPlain ? {} : { written }) });
  });

  test.each([
    [{ type: "decimal", written: { group: "." } }, "1.234,5", "1234.5"],
    [{ type: "integer", written: { group: "." } }, "1.234,5", null],
    [{ type: "integer" }, " 12 ", "12"],
    [{ type: "integer" }, "soon", null],
    [{ type: "boolean", written: { true: ["ja"], false: ["nein"] } }, "Ja", "yes"],
    [{ type: "boolean", written: { true: ["ja"], false: ["nein"] } }, "yes", null],
    [{ type: "boolean" }, "no", "no"],
    [{ type: "text" }, "weir", "weir"],
  ] as const)("of %j: “%s” is %s", (column, text, meaning) => {
    expect(plainMeaning(text, column)).toBe(meaning);
  });

  test("has words of its own, or the usual ones", () => {
    const written = { true: ["ja", "x"], false: ["nein"] };
    const draft = { type: "boolean", ...DAYS, ...formFields(written) } as const;
    expect(sentOf(draft)).toEqual({ type: "boolean", written });
    expect(sentOf({ ...draft, yes: "", no: " " })).toEqual({ type: "boolean" });
    expect(sentOf({ ...draft, type: "text" })).toEqual({ type: "text" });
  });
});

describe("the form of a column of dates", () => {
  test("is sent as the reading that it was made of", () => {
    fc.assert(
      fc.property(reading, (of) => {
        const sent = sentOf({ type: "date", ...fieldsOf(of), ...PLAIN });
        // Patterns are those of strings: of numbers there are none.
        const { patterns, ...rest } = of;
        const expected = of.encoding === "text" && patterns !== undefined ? of : rest;
        expect(sent).toEqual({ type: "date", reading: expected });
      }),
      { seed: SEED, numRuns: 500 },
    );
  });

  test("what is no year is not sent, and a column of something else has no reading", () => {
    const draft = { type: "date", ...DAYS, ...PLAIN } as const;
    for (const twoDigitYearFrom of ["", "x", "19500", "-1"]) {
      expect(sentOf({ ...draft, twoDigitYearFrom })).toEqual({
        type: "date",
        reading: { kind: "date", encoding: "text" },
      });
    }
    expect(sentOf({ ...draft, type: "integer", zone: "Europe/London" })).toEqual({
      type: "integer",
    });
  });

  test("takes one more line where there are some, and where there are none", () => {
    const draft = { type: "date", ...DAYS, ...PLAIN } as const;
    const first = withLine(draft, "blanks", "n/a");
    expect(sentOf(first)).toMatchObject({ reading: { blanks: ["n/a"] } });
    const second = withLine(withLine(first, "blanks", "none, yet"), "patterns", "d.M.yyyy");
    expect(sentOf(second)).toMatchObject({
      reading: { blanks: ["n/a", "none, yet"], patterns: ["d.M.yyyy"] },
    });
  });
});
