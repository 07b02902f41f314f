import { type Row } from "./conditions/index.js";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { CATALOGUE, row, tree } from "../../../../test/trees.js";
import { withConstants } from "./constant.js";
import { evaluate } from "./evaluate.js";
import { isNothing, type Filter } from "./filter.js";

const SEED = 20_261_127;
const SHARED = ["of date", "task", "count"];

function shared(of: Row): Row {
  return Object.fromEntries(SHARED.flatMap((name) => (of[name] ? [[name, of[name]]] : [])));
}

describe("a filter on records that share some cells", () => {
  test("keeps the same records once those cells are known, and nothing speaks of them", () => {
    let [decided, nothing] = [0, 0];
    fc.assert(
      fc.property(
        tree,
        row,
        fc.array(row, { minLength: 5, maxLength: 5 }),
        (filter, one, others) => {
          const cells = shared(one);
          const remaining = withConstants(filter, cells, CATALOGUE);
          if (!remaining.ok) {
            expect(remaining.faults.every(({ code }) => code === "column.constant")).toBe(true);
            return;
          }
          decided++;
          if (isNothing(remaining.value)) nothing++;
          for (const other of others) {
            const record = { ...other, ...cells };
            expect(evaluate(remaining.value, record, CATALOGUE)).toBe(
              evaluate(filter, record, CATALOGUE),
            );
            // What is left is decided by the other cells alone.
            expect(evaluate(remaining.value, other, CATALOGUE)).toBe(
              evaluate(remaining.value, record, CATALOGUE),
            );
          }
        },
      ),
      { numRuns: 500, seed: SEED },
    );
    expect([decided > 300, nothing > 20]).toEqual([true, true]);
  });

  test("is refused where such a cell is compared with one of each record", () => {
    const filter: Filter = { kind: "columns", left: "task", comparison: "=", right: "note" };
    const cells: Row = { task: { state: "filled", value: "dredging" } };
    const found = withConstants({ kind: "not", of: filter }, cells, CATALOGUE);
    expect(found.ok ? [] : found.faults.map(({ code, facts }) => [code, facts])).toEqual([
      ["column.constant", { column: "task" }],
    ]);
  });
});
