import { describe, expect, test } from "@jest/globals";
import { drawTable } from "./table.js";

describe("drawTable", () => {
  test("lines columns up, numbers at the right", () => {
    expect(
      drawTable(
        [{ heading: "task" }, { heading: "cost", right: true }],
        [
          ["grease", "5"],
          ["", "14000"],
        ],
      ),
    ).toBe("task     cost\n──────  ─────\ngrease      5\n        14000\n");
  });

  test("cuts long cells, counts accented letters as one, and takes control characters out", () => {
    const drawn = drawTable([{ heading: "x" }], [["a".repeat(60)], ["e\u0301\u001b[31mred\n"]]);
    expect(drawn).toContain(`${"a".repeat(47)}…\n`);
    expect(drawn).toContain("e\u0301 [31mred\n");
    expect(drawn).not.toContain("\u001b");
  });
});
