import { type BlankPolicy } from "./conditions/index.js";
import { describe, expect, test } from "@jest/globals";
import { UTC, type Span } from "../calendar/index.js";
import { compileReading, readIsoDate, type Cell } from "../reading/index.js";
import { resolveSpan } from "../windows/index.js";
import { checkFilter } from "./check.js";
import type { Catalogue } from "./columns.js";
import { DATE_COMPARISONS, compareDates, type DateComparison } from "./compare.js";
import { evaluate } from "./evaluate.js";
import { EVERYTHING, type Filter } from "./filter.js";

const COLUMNS: Catalogue = new Map([
  ["raised", { name: "raised", type: "date", kind: "local" }],
  ["due", { name: "due", type: "date", kind: "date" }],
  ["task", { name: "task", type: "text" }],
]);

function spanOf(text: string): Span {
  const read = readIsoDate(text);
  if (!read.ok) throw new Error(`${text} is no date`);
  return resolveSpan(read.value, UTC).span;
}

const READING = compileReading({ kind: "local", encoding: "text" });

function cell(text: string): Cell {
  if (!READING.ok) throw new Error("the reading has a fault");
  return READING.value.read(text);
}

/** Three adjoining days with their edges, a blank and an unreadable. */
const STORED = [
  "2025-03-04T23:59:59.999",
  "2025-03-05T00:00",
  "2025-03-05T12:00",
  "2025-03-05T23:59:59.999",
  "2025-03-06T00:00",
  "",
  "31/02/2025",
];

function kept(filter: Filter): readonly string[] {
  return STORED.filter((text) => evaluate(filter, { raised: cell(text) }, COLUMNS));
}

const [BEFORE, START, NOON, LAST, NEXT, BLANK, UNREADABLE] = STORED as [string, ...string[]];

describe("evaluate", () => {
  test.each<[DateComparison, readonly (string | undefined)[]]>([
    ["on", [START, NOON, LAST]],
    ["notOn", [BEFORE, NEXT]],
    ["from", [START, NOON, LAST, NEXT]],
    ["after", [NEXT]],
    ["before", [BEFORE]],
    ["to", [BEFORE, START, NOON, LAST]],
  ])(
    "%s a day keeps just the right records, whatever their time of day",
    (comparison, expected) => {
      expect(kept(compareDates("raised", comparison, spanOf("2025-03-05")))).toEqual(expected);
    },
  );

  test("every comparison leaves blank and unreadable out, and so does its negation", () => {
    for (const comparison of DATE_COMPARISONS) {
      const condition = compareDates("raised", comparison, spanOf("2025-03-05"));
      const both = [...kept(condition), ...kept({ kind: "not", of: condition })];
      expect(both.sort()).toEqual([BEFORE, START, NOON, LAST, NEXT].sort());
    }
  });

  test.each<[BlankPolicy, readonly (string | undefined)[]]>([
    ["exclude", [START, NOON, LAST]],
    ["include", [START, NOON, LAST, BLANK]],
    ["only", [BLANK]],
  ])("the blank policy “%s” holds", (blanks, expected) => {
    expect(kept(compareDates("raised", "on", spanOf("2025-03-05"), blanks))).toEqual(expected);
  });

  test("a negated condition keeps its blank policy", () => {
    const keep = compareDates("raised", "on", spanOf("2025-03-05"), "include");
    expect(kept({ kind: "not", of: keep })).toEqual([BEFORE, NEXT, BLANK]);
  });

  test("dated, blank and unreadable add up to all", () => {
    const states = (["dated", "blank", "unreadable"] as const).map((state) =>
      kept({ kind: "state", column: "raised", state }),
    );
    expect(states).toEqual([STORED.slice(0, 5), [BLANK], [UNREADABLE]]);
    expect(
      kept({ kind: "not", of: { kind: "state", column: "raised", state: "blank" } }),
    ).toHaveLength(6);
  });

  test("all of nothing keeps everything, any of nothing keeps nothing", () => {
    expect(kept(EVERYTHING)).toEqual(STORED);
    expect(kept({ kind: "any", of: [] })).toEqual([]);
  });

  test("grouping distinguishes (a and b) or c from a and (b or c)", () => {
    const a = compareDates("raised", "from", spanOf("2025-03-05"));
    const b = compareDates("raised", "to", spanOf("2025-03-05"));
    const c = compareDates("raised", "before", spanOf("2025-03-05"));
    const first: Filter = { kind: "any", of: [{ kind: "all", of: [a, b] }, c] };
    const second: Filter = { kind: "all", of: [a, { kind: "any", of: [b, c] }] };
    expect(kept(first)).toEqual([BEFORE, START, NOON, LAST]);
    expect(kept(second)).toEqual([START, NOON, LAST]);
    expect(kept({ kind: "not", of: first })).toEqual([NEXT]);
  });
});

describe("checkFilter", () => {
  const codes = (filter: Filter) => checkFilter(filter, COLUMNS).map(({ code }) => code);

  test("names a column that is unknown, or holds no dates", () => {
    const day = spanOf("2025-03-05");
    expect(
      codes({
        kind: "any",
        of: [
          compareDates("rased", "on", day),
          { kind: "not", of: compareDates("task", "on", day) },
        ],
      }),
    ).toEqual(["column.unknown", "column.notDate"]);
    expect(codes({ kind: "state", column: "task", state: "blank" })).toEqual([]);
    expect(codes({ kind: "state", column: "task", state: "unreadable" })).toEqual([
      "column.noState",
    ]);
  });

  test("refuses an edge inside a day on a column of days, and takes it on one of times", () => {
    const moment = spanOf("2025-03-05T14:30");
    expect(codes(compareDates("due", "from", moment))).toEqual(["column.finerThanDay"]);
    expect(codes(compareDates("raised", "from", moment))).toEqual([]);
    expect(codes(compareDates("due", "from", spanOf("2025-03-05")))).toEqual([]);
  });
});
