import {
  UTC,
  cql2Json,
  cql2Of,
  cql2Text,
  epochMs,
  evaluate,
  readCql2,
  readCql2Text,
  type Filter,
} from "@orisma/core/internal";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  CATALOGUE,
  NUMBERS,
  TEXTS,
  onStandardClock,
  onWholeDays,
  row,
  tree,
} from "../../../test/trees.js";
import {
  COMPARISONS,
  STATES,
  TEXT_MATCHES,
  conditionsOf,
  expressionOf,
  treeOf,
  withConditionOn,
  withConditions,
  type Leaf,
  type Tree,
} from "../src/listing/conditions.js";
import { ownFields, withOwnFields } from "../src/listing/own-conditions.js";
import { searchOf, stateOf, valueOf, type PageState } from "../src/listing/state.js";
import { valueLine, valuesIn } from "../src/listing/value-line.js";

const SEED = 52_006;
const CONTEXT = {
  window: { asOf: epochMs(Date.UTC(2025, 1, 15)), zone: UTC },
  columns: CATALOGUE,
};

/** Names as tables have them, words of CQL2 among them. */
const column = fc.constantFrom("task", "Next due", "and", 'the "old" ref', "naïve");
const folded = fc.boolean();
const text = fc.oneof(
  fc.constantFrom(...TEXTS, "O'Neil, lock 2", "%", "_", "\\", "a%b"),
  fc.string({ maxLength: 8 }),
);
const filled = text.filter((each) => each !== "");

const leaf: fc.Arbitrary<Leaf> = fc.oneof(
  fc.record({
    how: fc.constant("window" as const),
    column,
    window: fc.constantFrom("last3M", "2024-02", "../today", "it's"),
  }),
  fc.record({
    how: fc.constant("among" as const),
    column,
    values: fc.array(text, { minLength: 1, maxLength: 3 }),
    folded,
  }),
  fc.record({
    how: fc.constant("compare" as const),
    column,
    comparison: fc.constantFrom(...COMPARISONS),
    value: fc.constantFrom(...NUMBERS),
  }),
  fc.record({ how: fc.constantFrom(...TEXT_MATCHES), column, text: filled, folded }),
  fc.record({ how: fc.constantFrom(...STATES), column }),
);

const one: fc.Arbitrary<Tree> = fc
  .record({ leaf, negated: fc.boolean() })
  .map((each) => ({ id: 0, kind: "leaf", ...each }));
const { tree: condition } = fc.letrec<{ tree: Tree; group: Tree }>((tie) => ({
  tree: fc.oneof({ maxDepth: 3 }, one, tie("group")),
  group: fc.record({
    id: fc.constant(0),
    kind: fc.constantFrom("all" as const, "any" as const),
    negated: fc.boolean(),
    of: fc.array(tie("tree"), { minLength: 2, maxLength: 3 }),
  }),
}));

/** A tree without the numbers that tell its parts apart. */
function bare(of: Tree): unknown {
  const { id: _number, ...rest } = of;
  return rest.kind === "leaf" ? rest : { ...rest, of: rest.of.map(bare) };
}

function shared(state: PageState): PageState {
  return stateOf(new URLSearchParams(searchOf(state).toString()));
}

/** What a filter in CQL2 keeps of a record. */
function keeps(filter: string, record: Parameters<typeof evaluate>[1]): boolean {
  const read = readCql2(filter, CONTEXT);
  if (!read.ok) throw new Error(`${filter}: ${JSON.stringify(read.faults)}`);
  return evaluate(read.value, record, CATALOGUE);
}

describe("conditions as they are edited", () => {
  test("are the same after they went through an address", () => {
    fc.assert(
      fc.property(fc.array(condition, { minLength: 2, maxLength: 4 }), (conditions) => {
        const page = shared(withConditions({ size: ["20"] }, conditions));
        expect(conditionsOf(page)?.map(bare)).toEqual(conditions.map(bare));
        expect(valueOf(page, "size")).toBe("20");
      }),
      { seed: SEED, numRuns: 1_000 },
    );
  });

  test("keep the records of the text that they were read from", () => {
    const rows = fc.sample(row, { numRuns: 40, seed: SEED });
    let kept = 0;
    fc.assert(
      fc.property(tree, (random: Filter) => {
        const written = cql2Text(cql2Of(onStandardClock(onWholeDays(random)), CATALOGUE));
        const read = readCql2Text(written);
        // A stretch that ends where time begins has a last day that cannot be written.
        fc.pre(!written.includes("'0000-12-31'"));
        if (!read.ok) throw new Error(written);
        const expression = expressionOf(treeOf(read.value.expression));
        if (expression === null) throw new Error(`${written} has no tree`);
        const edited = cql2Text(expression);
        for (const record of rows) {
          const expected = keeps(written, record);
          expect([written, edited, keeps(edited, record)]).toEqual([written, edited, expected]);
          if (expected) kept++;
        }
      }),
      { seed: SEED, numRuns: 300 },
    );
    expect(kept).toBeGreaterThan(300);
  });

  test.each<[string, Leaf | null]>([
    ["done = TRUE", { how: "yes", column: "done" }],
    ["cost >= 1.50", { how: "compare", column: "cost", comparison: ">=", value: "1.50" }],
    ["task LIKE '%50\\%'", { how: "ends", column: "task", text: "50%", folded: false }],
    ["CASEI(task) LIKE CASEI('re%')", { how: "begins", column: "task", text: "re", folded: true }],
    ["inWindow(due, 'today')", { how: "window", column: "due", window: "today" }],
    ["task = 'Dredge'", { how: "among", column: "task", values: ["Dredge"], folded: false }],
    // What the editors of one column do not know stays as it was written.
    ["task LIKE 'a_b'", null],
    ["CASEI(task) = 'dredge'", null],
    ["raised > DATE('2025-02-28')", null],
    ["cost BETWEEN 1 AND 2", null],
  ])("%s is known to an editor, or left as it is", (written, expected) => {
    const read = readCql2Text(written);
    if (!read.ok) throw new Error(written);
    const found = treeOf(read.value.expression);
    if (found.kind !== "leaf") throw new Error(`${written} is a group`);
    expect(found.leaf).toEqual(expected ?? { how: "written", text: written });
  });

  test("that came as JSON are the same as those that came as text", () => {
    fc.assert(
      fc.property(fc.array(condition, { minLength: 2, maxLength: 3 }), (conditions) => {
        const expression = expressionOf({ id: 0, kind: "all", negated: false, of: conditions });
        if (expression === null) throw new Error("nothing is asked");
        const page = { filter: [JSON.stringify(cql2Json(expression))] };
        // A number of JSON is written in its own way: 1e-12.
        const found = JSON.stringify(conditionsOf(page)?.map(bare)).replaceAll(
          '"1e-12"',
          '"0.000000000001"',
        );
        expect(JSON.parse(found)).toEqual(conditions.map(bare));
      }),
      { seed: SEED, numRuns: 300 },
    );
    for (const filter of ["{", '{"op": 1}', "[]", "cost >"]) {
      expect(conditionsOf({ filter: [filter] })).toBeNull();
    }
  });

  test("no and yes are one condition, turned round", () => {
    const turned = (written: string) => {
      const read = readCql2Text(written);
      if (!read.ok) throw new Error(written);
      return bare(treeOf(read.value.expression));
    };
    const no = { kind: "leaf", negated: true, leaf: { how: "yes", column: "done" } };
    expect(turned("done = FALSE")).toEqual(no);
    expect(turned("NOT done = TRUE")).toEqual(no);
    expect(turned("NOT done = FALSE")).toEqual({ ...no, negated: false });
  });

  test("nothing is asked by what was left empty, and no word typed for a number becomes a condition", () => {
    const leafOf = (value: string): Tree => ({
      id: 0,
      kind: "leaf",
      negated: false,
      leaf: { how: "compare", column: "cost", comparison: ">=", value },
    });
    expect(withConditions({ filter: ["cost >= 5"] }, [leafOf(" ")])).toEqual({});
    const typed = withConditions({}, [leafOf("1 OR TRUE")]);
    expect(valueOf(typed, "filter")).toBe("cost >= '1 OR TRUE'");
    expect(readCql2(valueOf(typed, "filter"), CONTEXT).ok).toBe(false);
  });

  test("what is asked of one column gives way, and of the others stays", () => {
    const page = { filter: ["task = 'a' AND cost > 5 AND (task = 'b' OR cost < 2)"], page: ["3"] };
    const asked = { leaf: { how: "blank", column: "task" }, negated: true } as const;
    expect(withConditionOn(page, "task", [asked])).toEqual({
      filter: ["cost > 5 AND (task IN ('b') OR cost < 2) AND NOT task IS NULL"],
    });
    expect(withConditionOn(page, "due", []).filter).toEqual([
      "task IN ('a') AND cost > 5 AND (task IN ('b') OR cost < 2)",
    ]);
  });
});

describe("what is typed of a column without a parameter", () => {
  const task = { name: "task", type: "text" } as const;
  const cost = { name: "cost", type: "decimal" } as const;
  const page = (filter: string): PageState => ({ filter: [filter] });

  test.each([
    "cost > 5 AND cost <= 9.50",
    "cost = 5",
    "cost >= 1 AND cost >= 2 AND NOT cost IS NULL",
    "task LIKE '%lock%' AND NOT CASEI(task) LIKE CASEI('%gate%') AND CASEI(task) LIKE CASEI('%a%')",
    "task IN ('a', 'A') AND (task LIKE 'a%' OR cost < 2)",
  ])("%s stays what it is where nothing is typed anew", (filter) => {
    const rows = fc.sample(row, { numRuns: 200, seed: SEED });
    for (const column of [task, cost]) {
      const { fields } = ownFields(page(filter), column.name);
      const shown = valueOf(withOwnFields(page(filter), column, fields), "filter");
      for (const record of rows) expect(keeps(shown, record)).toBe(keeps(filter, record));
    }
  });

  test("takes the place of what its field showed, and of nothing else", () => {
    const numbers = page("cost > 5 AND cost <= 9 AND count = 1");
    expect(ownFields(numbers, "cost").fields).toMatchObject({ least: "", most: "9" });
    const typed = { window: "", text: "", least: "7", most: "" };
    expect(withOwnFields(numbers, cost, typed).filter).toEqual([
      "count = 1 AND cost > 5 AND cost >= 7",
    ]);
    const texts = page("task LIKE '%Lock%' AND CASEI(task) LIKE CASEI('%gate%')");
    expect(ownFields(texts, "task").fields.text).toBe("gate");
    expect(withOwnFields(texts, task, { ...typed, text: "" }).filter).toEqual([
      "task LIKE '%Lock%'",
    ]);
    expect(withOwnFields(page("cost = 5"), cost, { ...typed, most: "9" }).filter).toEqual([
      "cost >= 7 AND cost <= 9",
    ]);
  });
});

describe("a line of values", () => {
  test("reads back as the values it was made of, commas and quotes in them too", () => {
    fc.assert(
      fc.property(fc.array(text, { maxLength: 4 }), (values) => {
        expect(valuesIn(valueLine(values))).toEqual(values);
      }),
      { seed: SEED, numRuns: 2_000 },
    );
  });

  test.each([
    ["high, medium", ["high", "medium"]],
    [" high ,, medium,", ["high", "medium"]],
    ['"lock 2, upper", low', ["lock 2, upper", "low"]],
    ['the "old" one, 5"', ['the "old" one', '5"']],
    ['"not closed, low', ['"not closed', "low"]],
    ['""', [""]],
    ["", []],
  ])("%s", (line, values) => {
    expect(valuesIn(line)).toEqual(values);
  });
});
