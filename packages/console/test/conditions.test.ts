import type { ListingDetails } from "@orisma/client";
import {
  ANY_RECORD,
  UTC,
  allOf,
  cql2Json,
  cql2Of,
  cql2OfQuery,
  cql2Text,
  decimalOf,
  epochMs,
  evaluate,
  queryOfTyped,
  readCql2,
  replacePart,
  typedCondition,
  type Filter,
  type Query,
  type TypedCondition,
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
  filterReading,
  filterText,
  partsOf,
  queryIn,
  typed,
  withConditionsOn,
  withParts,
} from "../src/listing/conditions.js";
import { ownFields, withOwnFields } from "../src/listing/own-conditions.js";
import { searchOf, stateOf, valueOf, type PageState } from "../src/listing/state.js";
import { valueLine, valuesIn } from "../src/listing/value-line.js";
import { listingWith } from "./asking.js";

const SEED = 52_006;
const CONTEXT = {
  window: { asOf: epochMs(Date.UTC(2025, 1, 15)), zone: UTC },
  columns: CATALOGUE,
};

/** Listings whose filter speaks of the columns of random records, and of some with other names. */
const LISTING = listingWith([], true);
const NAMED: ListingDetails = {
  ...LISTING,
  filterColumns: [
    ...LISTING.filterColumns,
    { name: "Next due", type: "date", kind: "date" },
    { name: "and", type: "text" },
    { name: 'the "old" ref', type: "text" },
    { name: "naïve", type: "decimal" },
  ],
};

const caseSensitive = fc.boolean();
const text = fc.oneof(
  fc.constantFrom(...TEXTS, "O'Neil, lock 2", "%", "_", "\\", "a%b"),
  fc.string({ maxLength: 8 }),
);
const filled = text.filter((each) => each !== "");
const isNegated = fc.boolean();
const strings = fc.constantFrom("task", "and", 'the "old" ref');

/** What editors can have typed, in the form in which a query gives it back. */
const condition: fc.Arbitrary<TypedCondition> = fc.oneof(
  fc
    .tuple(fc.constantFrom("2024-02", "../today", "month-1/now", "2023|2025-01"), isNegated)
    .map(([window, negated]) => typed("Next due", "on", [window], { isNegated: negated })),
  fc
    .tuple(strings, fc.array(text, { minLength: 1, maxLength: 3 }), isNegated, caseSensitive)
    .map(([column, values, negated, folded]) =>
      typed(column, "among", values, { isNegated: negated, caseSensitive: folded }),
    ),
  fc
    .tuple(
      fc.constantFrom("is" as const, "atLeast" as const, "above" as const, "below" as const),
      fc.constantFrom(...NUMBERS),
      isNegated,
    )
    .map(([comparison, value, negated]) =>
      typed("naïve", comparison, [value], { isNegated: negated }),
    ),
  fc
    .tuple(
      strings,
      fc.constantFrom("contains" as const, "begins" as const, "ends" as const),
      filled,
    )
    .map(([column, comparison, value]) =>
      typed(column, comparison, [value], { caseSensitive: false }),
    ),
  fc
    .tuple(fc.constantFrom("dated" as const, "blank" as const), isNegated)
    .map(([comparison, negated]) => typed("and", comparison, [], { isNegated: negated })),
  isNegated.map((negated) => typed("done", "yes", [], { isNegated: negated })),
);

function shared(state: PageState): PageState {
  return stateOf(new URLSearchParams(searchOf(state).toString()));
}

/** What a filter in CQL2 keeps of a record. */
function keeps(filter: string, record: Parameters<typeof evaluate>[1]): boolean {
  const read = readCql2(filter, CONTEXT);
  if (!read.ok) throw new Error(`${filter}: ${JSON.stringify(read.faults)}`);
  return evaluate(read.value, record, CATALOGUE);
}

function queryOf(filter: string, listing = NAMED): Query {
  const query = queryIn(filter, listing);
  if (query === null) throw new Error(`${filter} cannot be read`);
  return query;
}

function queryOfCondition(each: TypedCondition): Query {
  const found = queryOfTyped(each, filterReading(NAMED));
  if (!found.ok || found.value === null) throw new Error(JSON.stringify([each, found]));
  return found.value;
}

describe("conditions as they are edited", () => {
  test("are the same after they went through an address", () => {
    fc.assert(
      fc.property(fc.array(condition, { minLength: 1, maxLength: 4 }), (conditions) => {
        const parts = conditions.map(queryOfCondition);
        const page = shared(withParts({ size: ["20"] }, NAMED, parts));
        const found = partsOf(page, NAMED)?.map(typedCondition);
        expect(found).toEqual(conditions.map((each) => expect.objectContaining(asRead(each))));
        expect(valueOf(page, "size")).toBe("20");
      }),
      { seed: SEED, numRuns: 1_000 },
    );
  });

  test("keep the records of the text that they were read from", () => {
    const rows = fc.sample(row, { numRuns: 40, seed: SEED });
    let included = 0;
    fc.assert(
      fc.property(tree, (random: Filter) => {
        const written = cql2Text(cql2Of(onStandardClock(onWholeDays(random)), CATALOGUE));
        // An interval that ends where time begins has a last day that cannot be written.
        fc.pre(!written.includes("'0000-12-31'"));
        const edited = filterText(queryOf(written, LISTING), LISTING);
        for (const record of rows) {
          const expected = keeps(written, record);
          expect([written, edited, keeps(edited, record)]).toEqual([written, edited, expected]);
          if (expected) included++;
        }
      }),
      { seed: SEED, numRuns: 300 },
    );
    expect(included).toBeGreaterThan(300);
  });

  test("one that is typed again takes its own place, and the others stay as they are", () => {
    const query = queryOf("task = 'a' AND (done = TRUE OR inWindow(\"Next due\", 'last-month'))");
    const next = queryOfCondition(typed("task", "begins", ["b"], { caseSensitive: false }));
    const edited = replacePart(query, "filter.1.0", { ...next, id: "filter.1.0" });
    expect(filterText(edited, NAMED)).toBe(
      "task = 'a' AND (CASEI(task) LIKE CASEI('b%') OR inWindow(\"Next due\", 'last-month'))",
    );
    expect(filterText(replacePart(edited, "filter.0", null), NAMED)).toBe(
      "CASEI(task) LIKE CASEI('b%') OR inWindow(\"Next due\", 'last-month')",
    );
    const without = replacePart(replacePart(edited, "filter.1.0", null), "filter.1.1", null);
    expect(filterText(without, NAMED)).toBe("task = 'a'");
    expect(replacePart(without, "filter.0", null)).toBe(ANY_RECORD);
  });

  test.each<[string, Partial<TypedCondition> | null]>([
    ["done = TRUE", { column: "done", comparison: "yes", isNegated: false }],
    ["done = FALSE", { column: "done", comparison: "yes", isNegated: true }],
    ["NOT done = FALSE", { column: "done", comparison: "yes", isNegated: false }],
    ["cost >= 1.50", { column: "cost", comparison: "atLeast", values: ["1.5"] }],
    ["task LIKE '%50\\%'", { comparison: "ends", values: ["50%"], caseSensitive: true }],
    ["CASEI(task) LIKE CASEI('re%')", { comparison: "begins", caseSensitive: false }],
    ["inWindow(\"Next due\", 'today')", { comparison: "on", values: ["today"] }],
    ["inWindow(\"Next due\", 'last-month')", { comparison: "on", values: ["last-month"] }],
    ["\"Next due\" > DATE('2025-02-28')", { comparison: "on", values: ["2025-03-01/.."] }],
    ["task = 'Dredge'", { comparison: "among", values: ["Dredge"], caseSensitive: true }],
    ["NOT task IN ('a', 'b')", { comparison: "among", values: ["a", "b"], isNegated: true }],
    // What the editors of one column do not know stays as it was written.
    ["task LIKE 'a_b'", null],
    ["task = caller()", null],
    ['month("Next due") = 1', null],
    ["cost BETWEEN 1 AND 2", null],
  ])("%s is known to an editor, or left as it is", (written, expected) => {
    const found = typedCondition(queryOf(written));
    if (expected === null) expect(found).toBeNull();
    else expect(found).toMatchObject(expected);
  });

  test("that came as JSON are the same as those that came as text", () => {
    fc.assert(
      fc.property(fc.array(condition, { minLength: 2, maxLength: 3 }), (conditions) => {
        const whole = allOf(conditions.map(queryOfCondition), "filter");
        const expression = cql2OfQuery(whole, filterReading(NAMED).columns);
        const page = { filter: [JSON.stringify(cql2Json(expression))] };
        const found = partsOf(page, NAMED)?.map(typedCondition);
        expect(found).toEqual(conditions.map((each) => expect.objectContaining(asRead(each))));
      }),
      { seed: SEED, numRuns: 300 },
    );
    for (const filter of ["{", '{"op": 1}', "[]", "cost >"]) {
      expect(partsOf({ filter: [filter] }, NAMED)).toBeNull();
    }
  });

  test("nothing is requested by what was left empty, and no word typed for a number becomes a condition", () => {
    const costs = (value: string) => [typed("cost", "atLeast", [value])];
    expect(withConditionsOn({ filter: ["cost >= 5"] }, LISTING, "cost", costs(" "))).toEqual({});
    const page = withConditionsOn({}, LISTING, "cost", costs("1 OR TRUE"));
    expect(valueOf(page, "filter")).toBe("cost >= '1 OR TRUE'");
    expect(readCql2(valueOf(page, "filter"), CONTEXT).ok).toBe(false);
    expect(queryOfTyped(typed("cost", "atLeast", ["1 OR TRUE"]), filterReading(LISTING)).ok).toBe(
      false,
    );
  });

  test("what is requested of one column gives way, and of the others stays", () => {
    const page = { filter: ["task = 'a' AND cost > 5 AND (task = 'b' OR cost < 2)"], page: ["3"] };
    const blank = typed("task", "blank", [], { isNegated: true });
    expect(withConditionsOn(page, LISTING, "task", [blank])).toEqual({
      filter: ["cost > 5 AND (task = 'b' OR cost < 2) AND NOT task IS NULL"],
    });
    expect(withConditionsOn(page, LISTING, "of date", []).filter).toEqual([
      "task = 'a' AND cost > 5 AND (task = 'b' OR cost < 2)",
    ]);
  });
});

/** A condition as a query gives it back: numbers in their canonical spelling. */
function asRead({ comparison, values, caseSensitive: _case, ...rest }: TypedCondition) {
  const isNumber = ["is", "atLeast", "above", "below"].includes(comparison);
  return { ...rest, comparison, values: isNumber ? values.map(decimalOf) : values };
}

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
  ])("%s stays what it is where nothing new is typed", (filter) => {
    const rows = fc.sample(row, { numRuns: 200, seed: SEED });
    for (const column of [task, cost]) {
      const { fields } = ownFields(page(filter), LISTING, column.name);
      const shown = valueOf(withOwnFields(page(filter), LISTING, column, fields), "filter");
      for (const record of rows) expect(keeps(shown, record)).toBe(keeps(filter, record));
    }
  });

  test("takes the place of what its field showed, and of nothing else", () => {
    const numbers = page("cost > 5 AND cost <= 9 AND count = 1");
    expect(ownFields(numbers, LISTING, "cost").fields).toMatchObject({ least: "", most: "9" });
    const fields = { window: "", text: "", least: "7", most: "" };
    expect(withOwnFields(numbers, LISTING, cost, fields).filter).toEqual([
      "count = 1 AND cost > 5 AND cost >= 7",
    ]);
    const strings = page("task LIKE '%Lock%' AND CASEI(task) LIKE CASEI('%gate%')");
    expect(ownFields(strings, LISTING, "task").fields.text).toBe("gate");
    expect(withOwnFields(strings, LISTING, task, { ...fields, text: "" }).filter).toEqual([
      "task LIKE '%Lock%'",
    ]);
    expect(withOwnFields(page("cost = 5"), LISTING, cost, { ...fields, most: "9" }).filter).toEqual(
      ["cost >= 7 AND cost <= 9"],
    );
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
