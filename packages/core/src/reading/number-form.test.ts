import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  compileBooleanForm,
  compileNumberForm,
  numberFormOf,
  writeNumber,
  type NumberForm,
} from "./number-form.js";
import { recogniseNumbers } from "./recognise-numbers.js";

function read(text: string, form: NumberForm): string | null {
  const compiled = compileNumberForm(form);
  return compiled.ok ? compiled.value(text) : null;
}

const GERMAN = { decimal: ",", group: "." } as const;

describe("a number in a form", () => {
  test.each<[string, NumberForm, string]>([
    ["1.234,56", GERMAN, "1234.56"],
    ["1234,56", GERMAN, "1234.56"],
    ["-1.234.567,5", GERMAN, "-1234567.5"],
    ["−12,5", GERMAN, "-12.5"],
    [",5", GERMAN, "0.5"],
    ["1 234,56", { decimal: ",", group: " " }, "1234.56"],
    ["1\u00a0234,56", { decimal: ",", group: " " }, "1234.56"],
    ["1\u202f234", { decimal: ",", group: " " }, "1234"],
    ["1’234.50", { group: "'" }, "1234.50"],
    ["1'234", { group: "'" }, "1234"],
    ["12,34,567.89", { group: "," }, "1234567.89"],
    ["€ 1.234,56", { ...GERMAN, units: ["€"] }, "1234.56"],
    ["1.234,56 €", { ...GERMAN, units: ["€", "EUR"] }, "1234.56"],
    ["-€12", { units: ["€"] }, "-12"],
    ["€-12", { units: ["€"] }, "-12"],
    ["12 kg", { units: ["g", "kg"] }, "12"],
    ["12KG", { units: ["kg"] }, "12"],
    ["12,5 %", { decimal: ",", units: ["%"] }, "12.5"],
    ["Rs. 500", { units: ["Rs."] }, "500"],
    ["(1,234.50)", { group: ",", accounting: true }, "-1234.50"],
    ["($12)", { units: ["$"], accounting: true }, "-12"],
    ["$(12)", { units: ["$"], accounting: true }, "-12"],
    ["12,5-", { decimal: ",", accounting: true }, "-12.5"],
    ["99999999999999999999,000000000001", GERMAN, "99999999999999999999.000000000001"],
  ])("%s is read exactly", (text, form, plain) => {
    expect(read(text, form)).toBe(plain);
  });

  test.each<[string, NumberForm]>([
    ["1.23", GERMAN],
    ["1.2345", GERMAN],
    ["1.234.56", GERMAN],
    ["1,234.56", GERMAN],
    ["1,5,5", GERMAN],
    ["12 kg", GERMAN],
    ["12 kg kg", { units: ["kg"] }],
    ["(12)", GERMAN],
    ["(12", { accounting: true }],
    ["-(12)", { accounting: true }],
    ["(-12)", { accounting: true }],
    ["--12", {}],
    ["", GERMAN],
    ["€", { units: ["€"] }],
    [".", {}],
    ["1e5", {}],
    ["1".repeat(100), {}],
  ])("%s is no number", (text, form) => {
    expect(read(text, form)).toBeNull();
  });

  test.each<[NumberForm, string]>([
    [{ decimal: ",", group: "," }, "number.written"],
    [{ decimal: ".", group: "." }, "number.written"],
    [{ units: ["5"] }, "number.written"],
    [{ units: [" "] }, "number.written"],
    [{ units: ["-"] }, "number.written"],
  ])("a form in which none can be written is refused: %j", (form, code) => {
    expect(compileNumberForm(form)).toMatchObject({ ok: false, faults: [{ code }] });
  });

  test("whatever is written in a form reads back as the same", () => {
    const forms = fc.constantFrom<NumberForm>({}, GERMAN, { decimal: ",", units: ["€"] });
    const plain = fc
      .tuple(fc.bigInt({ min: -(10n ** 20n), max: 10n ** 20n }), fc.stringMatching(/^\d{0,9}$/))
      .map(([whole, fraction]) => `${whole}${fraction === "" ? "" : `.${fraction}`}`);
    fc.assert(
      fc.property(plain, forms, (text, form) => {
        expect(read(writeNumber(text, form), form)).toBe(text);
      }),
    );
  });

  test("grouped and with a unit it is the same number", () => {
    fc.assert(
      fc.property(fc.integer({ min: -999_999_999, max: 999_999_999 }), (number) => {
        const grouped = number.toLocaleString("de-DE");
        expect(read(`${grouped} kg`, { ...GERMAN, units: ["kg"] })).toBe(String(number));
      }),
    );
  });
});

describe("a form by an example", () => {
  test.each<[string, "integer" | "decimal", NumberForm]>([
    ["1.234,56", "decimal", GERMAN],
    ["0.125", "decimal", { decimal: "." }],
    ["1,234.56", "decimal", { decimal: ".", group: "," }],
    ["1 234,5 €", "decimal", { decimal: ",", group: " ", units: ["€"] }],
    ["12,5", "decimal", { decimal: "," }],
    ["1.234", "integer", { group: "." }],
    ["1’234", "integer", { group: "'" }],
    ["12 kg", "integer", { units: ["kg"] }],
    ["(1.234,5)", "decimal", { ...GERMAN, accounting: true }],
  ])("%s of %s", (example, type, form) => {
    expect(numberFormOf(example, type)).toEqual({ ok: true, value: form });
  });

  test.each<[string, "integer" | "decimal"]>([
    ["1.234", "decimal"],
    ["1,234", "decimal"],
    ["1.234.567", "decimal"],
    ["1.234,56", "integer"],
    ["1,2,3", "integer"],
    ["many", "decimal"],
  ])("%s of %s does not say it", (example, type) => {
    expect(numberFormOf(example, type)).toMatchObject({
      ok: false,
      faults: [{ code: "number.example" }],
    });
  });
});

describe("recognising numbers", () => {
  function recognised(...strings: readonly string[]) {
    return recogniseNumbers(strings.map((value) => ({ value, count: 1 })));
  }

  test.each<[string, readonly string[], NumberForm, string]>([
    ["decimal commas", ["1.234,56", "12,5", "-3"], { group: "." }, "decimal"],
    ["groups", ["1,234", "12,345,678", "5"], { group: "," }, "integer"],
    ["spaces", ["1 234,5", "12"], { decimal: ",", group: " " }, "decimal"],
    ["currencies", ["€ 12,50", "€ 3,00"], { decimal: ",", units: ["€"] }, "decimal"],
    ["units", ["12 kg", "1 kg"], { units: ["kg"] }, "integer"],
    ["accounting", ["(1.234,5)", "12,0"], { group: ".", accounting: true }, "decimal"],
    ["blanks beside them", ["12,5", "n/a", ""], { decimal: "," }, "decimal"],
  ])("%s", (_, strings, form, type) => {
    const { verdict, candidates } = recognised(...strings);
    expect({ verdict, form: candidates[0]?.form, type: candidates[0]?.type }).toEqual({
      ...{ verdict: "certain", form, type },
    });
  });

  test.each<[string, readonly string[], string]>([
    ["plain numbers", ["12", "1.5", "0.25"], "plain"],
    ["one group or three decimals", ["1.234", "5.678"], "ambiguous"],
    ["a comma before three digits", ["1,234", "5,678"], "ambiguous"],
    ["codes with zeros", ["0012,5", "0013,5"], "ambiguous"],
    ["grouped codes with zeros", ["01 234", "02 345"], "none"],
    ["letters before digits", ["K12", "K13"], "none"],
    ["codes of a letter and a hyphen", ["W-1", "W-2"], "none"],
    ["words before digits", ["Lock 12", "Lock 13"], "none"],
    ["unknown words", ["12 paces", "3 paces"], "ambiguous"],
    ["a unit behind a code", ["12 A", "13 B"], "ambiguous"],
    ["telephones", ["612 345 678", "700 123 456"], "ambiguous"],
    ["postcodes", ["BV1 2AA", "BV12 3AB", "BV4 1XY"], "none"],
    ["telephones with zeros", ["0161 496 0000", "020 7946 0958"], "none"],
    ["dates", ["01.02.2025", "13.02.2025"], "none"],
    ["times", ["12:30", "13:45"], "none"],
    ["words", ["Weir", "Lock"], "none"],
    ["a word among them", ["12,5", "13,5", "about 14"], "mixed"],
  ])("%s are not confirmed", (_, strings, verdict) => {
    expect(recognised(...strings).verdict).toBe(verdict);
  });

  test("says what would differ, and what does not fit", () => {
    const found = recogniseNumbers([
      { value: "1,234", count: 3 },
      { value: "7", count: 2 },
    ]);
    expect(found).toMatchObject({ verdict: "ambiguous", wouldChange: 3 });
    expect(found.evidence).toMatch(/would be other numbers/);
    const mixed = recognised("12,5", "13,5", "soon");
    expect(mixed.candidates[0]).toMatchObject({ fits: 2, misses: 1, examples: ["soon"] });
  });
});

describe("yes and no in words", () => {
  test("are those of the form, in any letter case, and nothing else", () => {
    const compiled = compileBooleanForm({ true: ["ja", "x"], false: ["nein"] });
    if (!compiled.ok) throw new Error("it was refused");
    const read = compiled.value;
    expect([" JA", "x", "Nein", "yes", "1", ""].map(read)).toEqual([
      ...[true, true, false, null, null, null],
    ]);
  });

  test.each([
    [{ true: ["ja"], false: [] }],
    [{ true: ["ja"], false: ["Ja "] }],
    [{ true: [" "], false: ["nein"] }],
  ])("that do not tell the two apart are refused: %j", (form) => {
    expect(compileBooleanForm(form)).toMatchObject({
      ok: false,
      faults: [{ code: "boolean.words" }],
    });
  });
});
