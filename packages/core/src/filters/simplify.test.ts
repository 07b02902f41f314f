import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { CATALOGUE, onWholeDays, row, tree } from "../../../../test/trees.js";
import { UTC, epochMs } from "../calendar/index.js";
import type { Catalogue } from "./columns.js";
import { readCql2 } from "../query/index.js";
import { evaluate } from "./evaluate.js";
import { NOTHING, type Filter } from "./filter.js";
import { filterInWords } from "./sentence.js";
import { simplify } from "./simplify.js";

const SEED = 1_793;
const COLUMNS: Catalogue = new Map([
  ["raised", { name: "raised", type: "date", kind: "date" }],
  ["due", { name: "due", type: "date", kind: "date" }],
  ["starts", { name: "starts", type: "date", kind: "local" }],
  ["ends", { name: "ends", type: "date", kind: "local" }],
  ["task", { name: "task", type: "text" }],
  ["cost", { name: "cost", type: "integer" }],
]);

function filter(text: string): Filter {
  const window = { asOf: epochMs(Date.UTC(2024, 4, 15, 12)), zone: UTC };
  const read = readCql2(text, { window, columns: COLUMNS });
  if (!read.ok) throw new Error(`${text} was refused`);
  return read.value;
}

describe("simplifying a filter", () => {
  const rows = fc.sample(row, { numRuns: 60, seed: SEED });

  test("never changes which records it keeps", () => {
    let smaller = 0;
    fc.assert(
      fc.property(tree, (random) => {
        const before = onWholeDays(random);
        const { filter: after } = simplify(before, CATALOGUE);
        for (const record of rows) {
          expect(evaluate(after, record, CATALOGUE)).toBe(evaluate(before, record, CATALOGUE));
        }
        if (JSON.stringify(after).length < JSON.stringify(before).length) smaller++;
      }),
      { numRuns: process.env.TZ === undefined ? 500 : 50, seed: SEED },
    );
    expect(smaller).toBeGreaterThan(10);
  });

  test.each([
    ["raised >= DATE('2024-05-01') AND raised <= DATE('2024-05-31')", "raised 1–31 May 2024"],
    ["(cost > 1 AND (cost <= 5 AND cost > 2))", "cost above 2 and at most 5"],
    ["TRUE AND (FALSE OR cost = 1)", "cost 1"],
    ["cost = 1 OR TRUE", "every record"],
  ])("%s is %s", (text, words) => {
    expect(filterInWords(simplify(filter(text), COLUMNS).filter)).toBe(words);
  });

  test("says why nothing can be kept", () => {
    const { filter: none, contradictions } = simplify(
      filter("raised < DATE('2024-05') AND task = 'x' AND raised >= DATE('2024-05')"),
      COLUMNS,
    );
    expect(none).toEqual(NOTHING);
    expect(contradictions).toEqual([
      "nothing can be raised until 30 April 2024 and also raised from 1 May 2024",
    ]);
    expect(simplify(filter("cost > 5 AND cost < 5"), COLUMNS).contradictions).toEqual([
      "nothing can be cost above 5 and also cost below 5",
    ]);
    expect(simplify(filter("cost >= 5 AND cost <= 5"), COLUMNS).contradictions).toEqual([]);
    expect(simplify(filter("cost > 5 OR cost < 5"), COLUMNS).contradictions).toEqual([]);
  });
});

describe("a filter in words", () => {
  test.each([
    ["raised = DATE('2024-05-10')", "raised on 10 May 2024"],
    ["NOT raised = DATE('2024-05')", "not raised 1–31 May 2024"],
    ["inWindow(raised, '../..;BYMONTH=4..6')", "raised in April to June of each year"],
    ["cost BETWEEN 5 AND 10", "cost at least 5 and at most 10"],
    ["task LIKE '%lock%'", "task contains “lock”"],
    ["CASEI(task) LIKE CASEI('lock%')", "task begins with “lock” in any letter case"],
    ["task LIKE 'a_b'", "task has the form “a_b”"],
    ["task IN ('a', 'b')", "task one of “a”, “b”"],
    ["raised IS NULL", "raised blank"],
    ["raised <= due", "raised at most due"],
    ["daysBetween(raised, due) > 30", "at least 31 days from raised to due"],
    [
      "T_INTERSECTS(INTERVAL(starts, ends), INTERVAL('2024-05-01', '2024-05-31'))",
      "starts to ends overlapped 1–31 May 2024 (a blank ends means no end)",
    ],
    [
      "cost = 1 AND (task = 'x' OR unreadable(raised))",
      "cost 1 and (task is “x” or raised unreadable)",
    ],
  ])("%s is “%s”", (text, words) => {
    expect(filterInWords(filter(text))).toBe(words);
  });

  test("there are words for every tree", () => {
    fc.assert(
      fc.property(tree, (random) => {
        const words = filterInWords(random);
        expect(words.length).toBeGreaterThan(3);
        expect(words.replace(/“[^”]*”/gs, "“”")).not.toMatch(/undefined|null| {2}/);
      }),
      { numRuns: 300, seed: SEED },
    );
  });
});
