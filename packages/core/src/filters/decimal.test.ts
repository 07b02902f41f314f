import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { addDecimals, decimalOf, divideDecimal } from "./index.js";

const NUMBER = fc
  .tuple(fc.bigInt({ min: -(10n ** 20n), max: 10n ** 20n }), fc.integer({ min: 0, max: 12 }))
  .map(([size, decimals]) => ({ size, decimals, text: textOf(size, decimals) }));

function textOf(size: bigint, decimals: number): string {
  const digits = String(size < 0n ? -size : size).padStart(decimals + 1, "0");
  const at = digits.length - decimals;
  const text = digits.slice(0, at) + (decimals === 0 ? "" : `.${digits.slice(at)}`);
  return size < 0n ? `-${text}` : text;
}

describe("sums", () => {
  test("are exact, and in the one spelling of a number", () => {
    fc.assert(
      fc.property(NUMBER, NUMBER, (a, b) => {
        const decimals = Math.max(a.decimals, b.decimals);
        const whole = (each: typeof a) => each.size * 10n ** BigInt(decimals - each.decimals);
        const sum = textOf(whole(a) + whole(b), decimals);
        expect(addDecimals(a.text, b.text)).toBe(decimalOf(sum));
        expect(addDecimals(b.text, a.text)).toBe(addDecimals(a.text, b.text));
      }),
    );
  });

  test.each([
    ["0.1", "0.2", "0.3"],
    ["-1", "1", "0"],
    ["99999999999999999999", "0.00000000001", "99999999999999999999.00000000001"],
    ["1e3", "-0.5", "999.5"],
  ])("%s and %s are %s", (a, b, sum) => {
    expect(addDecimals(a, b)).toBe(sum);
  });
});

describe("quotients", () => {
  test.each<[string, number, number, string]>([
    ["10", 4, 6, "2.5"],
    ["1", 3, 6, "0.333333"],
    ["2", 3, 6, "0.666667"],
    ["-2", 3, 6, "-0.666667"],
    ["1", 2, 0, "1"],
    ["-1", 2, 0, "-1"],
    ["0.0000005", 1, 6, "0.000001"],
    ["0", 7, 6, "0"],
  ])("%s by %s to %s decimals is %s", (number, count, decimals, quotient) => {
    expect(divideDecimal(number, count, decimals)).toBe(quotient);
  });

  test("times their count are the number again, to half of the last decimal", () => {
    fc.assert(
      fc.property(NUMBER, fc.integer({ min: 1, max: 1_000_000 }), ({ text }, count) => {
        const quotient = divideDecimal(text, count, 6);
        const [whole = "0", fraction = ""] = quotient.replace("-", "").split(".");
        const size = BigInt(whole + fraction.padEnd(12, "0")) * BigInt(count);
        const [givenWhole = "0", given = ""] = text.replace("-", "").split(".");
        const wanted = BigInt(givenWhole + given.padEnd(12, "0"));
        const off = size > wanted ? size - wanted : wanted - size;
        expect(off * 2n <= BigInt(count) * 10n ** 6n).toBe(true);
      }),
    );
  });
});
