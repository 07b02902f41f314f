import { describe, expect, test } from "@jest/globals";
import { fault } from "./fault.js";
import { FAULT_CODES, renderFault } from "./render.js";

describe("renderFault", () => {
  test("says where, what came, what is accepted and what was meant", () => {
    const found = fault(
      "parameter.unknown",
      { name: "form", known: ["from", "to"] },
      { parameter: "form", value: "2025-01-01" },
    );
    expect(renderFault(found)).toEqual({
      parameter: "form",
      value: "2025-01-01",
      code: "parameter.unknown",
      message: "unknown parameter “form”",
      accepted: "from, to",
      nearest: ["from"],
    });
  });

  test("cuts a long value short", () => {
    const long = "9".repeat(10_000);
    const { value, message } = renderFault(fault("date.form", { text: long }, { value: long }));
    expect(value).toHaveLength(80);
    expect(message.length).toBeLessThan(150);
  });

  test("keeps the minus of an order whose column was misspelt", () => {
    const found = fault("order.unknown", { name: "-rased", allowed: ["raised", "due"] });
    expect(renderFault(found).nearest).toEqual(["-raised"]);
  });

  test("has prose for every code", () => {
    expect(FAULT_CODES.length).toBeGreaterThan(25);
  });
});
