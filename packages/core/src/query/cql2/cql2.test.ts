import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { CATALOGUE, onStandardClock, onWholeDays, row, tree } from "../../../../../test/trees.js";
import { UTC, epochMs } from "../../calendar/index.js";
import { renderFault } from "../../faults/index.js";
import { evaluate, type Catalogue, type Filter, type Row } from "../../filters/index.js";
import { cql2Json, cql2Of, cql2Text, readCql2 } from "./index.js";

const SEED = 1_793;
const COLUMNS: Catalogue = new Map([
  ["raised", { name: "raised", type: "date", kind: "date" }],
  ["due", { name: "due", type: "date", kind: "date" }],
  ["passed", { name: "passed", type: "date", kind: "instant" }],
  ["starts", { name: "starts", type: "date", kind: "local" }],
  ["ends", { name: "ends", type: "date", kind: "local" }],
  ["task", { name: "task", type: "text" }],
  ["Next due", { name: "Next due", type: "date", kind: "date" }],
  ["cost", { name: "cost", type: "integer" }],
  ["length", { name: "length", type: "decimal" }],
]);
/** Wednesday 15 May 2024. */
const WINDOW = { asOf: epochMs(Date.UTC(2024, 4, 15, 12)), zone: UTC };
const CONTEXT = { window: WINDOW, columns: COLUMNS };

function read(source: unknown): Filter {
  const found = readCql2(source, CONTEXT);
  if (!found.ok) throw new Error(found.faults.map((each) => renderFault(each).message).join("; "));
  return found.value;
}

function faults(source: unknown) {
  const found = readCql2(source, CONTEXT);
  return found.ok ? [] : found.faults.map(renderFault);
}

const day = (text: string) => ({ state: "dated", ms: Date.parse(`${text}Z`) }) as const;
const BLANK = { state: "blank" } as const;
const filled = (value: string) => ({ state: "filled", value }) as const;

/** A record in May 2024 that has everything. */
const RECORD: Row = {
  raised: day("2024-05-10T00:00"),
  due: day("2024-05-31T00:00"),
  passed: day("2024-05-10T23:30"),
  starts: day("2024-05-01T08:00"),
  ends: day("2024-05-20T17:00"),
  task: filled("Gate repair"),
  "Next due": BLANK,
  cost: filled("1999"),
  length: filled("19.99"),
};

describe("the caller", () => {
  const context = { ...CONTEXT, caller: "it's" };

  test.each<[string, unknown]>([
    ["text", "task = caller()"],
    ["JSON", { op: "=", args: [{ property: "task" }, { op: "caller", args: [] }] }],
  ])("stands for its name in the form of %s", (_, source) => {
    expect(readCql2(source, context)).toEqual(readCql2("task = 'it''s'", CONTEXT));
    expect(readCql2(source, CONTEXT).ok).toBe(false);
  });
});

describe("CQL2 text", () => {
  test.each<[string, boolean]>([
    ["raised = DATE('2024-05-10')", true],
    ["raised <> DATE('2024-05-10')", false],
    ["passed = DATE('2024-05-10')", true],
    ["passed <= DATE('2024-05-10')", true],
    ["passed < DATE('2024-05-10')", false],
    ["passed > DATE('2024-05')", false],
    ["DATE('2024-05-09') < raised", true],
    ["passed >= TIMESTAMP('2024-05-10T23:30:00Z')", true],
    ["passed > TIMESTAMP('2024-05-10T23:30:00Z')", false],
    ["raised BETWEEN DATE('2024-05-10') AND DATE('2024-05-10')", true],
    ["due BETWEEN raised AND DATE('2024-05-31')", true],
    ["due BETWEEN DATE('2024-06-01') AND due", false],
    ["raised BETWEEN raised AND due", true],
    ["raised NOT BETWEEN DATE('2024-05-01') AND DATE('2024-05-31')", false],
    ["raised IN (DATE('2024-05-09'), DATE('2024-05-10'))", true],
    ["T_AFTER(raised, DATE('2024-05-09'))", true],
    ["T_BEFORE(DATE('2024-05-09'), raised)", true],
    ["T_DURING(raised, INTERVAL('2024-05-10', '2024-05-10'))", true],
    ["T_DURING(raised, INTERVAL('..', '2024-05-09'))", false],
    ["T_DISJOINT(raised, INTERVAL('2024-06-01', '..'))", true],
    ["T_INTERSECTS(INTERVAL(starts, ends), INTERVAL('2024-05-20', '2024-05-25'))", true],
    ["T_INTERSECTS(INTERVAL(starts, ends), INTERVAL('2024-05-21', '2024-05-25'))", false],
    ["T_CONTAINS(INTERVAL(starts, ends), DATE('2024-05-10'))", true],
    ["T_DURING(DATE('2024-05-10'), INTERVAL(starts, ends))", true],
    ["T_DURING(INTERVAL(starts, ends), INTERVAL('2024-05', '2024-05'))", true],
    ["inWindow(raised, 'month')", true],
    ["inWindow(raised, 'month-1/day-6')", false],
    ["inWindow(raised, '../..;BYDAY=FR')", true],
    ["NOT inWindow(raised, 'month')", false],
    ["month(raised) = 5", true],
    ["month(raised) = '05'", true],
    ["month(raised) IN (4, 6)", false],
    ["year(raised) >= 2024 AND day(raised) > 9", true],
    ["weekday(raised) BETWEEN 1 AND 4", false],
    ["hour(passed) = 23", true],
    ["daysBetween(raised, due) = 21", true],
    ["daysBetween(raised, due) < 21", false],
    ["raised < due", true],
    ["T_AFTER(raised, due)", false],
    ["cost = 1999 AND length = 19.99", true],
    ["length = 19.990000000000000000000000000001", false],
    ["cost BETWEEN 2000 AND 3000 OR -1 < cost", true],
    ["cost IN (1, 1999.0)", true],
    ["task = 'Gate repair'", true],
    ["task = 'gate repair'", false],
    ["CASEI(task) = CASEI('GATE REPAIR')", true],
    ["task LIKE 'Gate%'", true],
    ["task LIKE '_ate rep%'", true],
    ["task NOT LIKE '%REP%'", true],
    ["CASEI(task) LIKE CASEI('%REP%')", true],
    ["task IN ('Gate repair', 'x')", true],
    ["CASEI(task) IN (CASEI('gate REPAIR'))", true],
    ["task = 'it''s; -- '", false],
    ['"Next due" IS NULL AND raised IS NOT NULL', true],
    ["\"Next due\" < DATE('2030-01-01')", false],
    ["NOT \"Next due\" < DATE('2030-01-01')", false],
    ["unreadable(raised) OR NOT dated(raised)", false],
    ["(cost = 1 OR cost = 1999) AND NOT (task LIKE 'x%' OR cost < 0)", true],
    ["cost = 1 OR cost = 1999 AND task LIKE 'x%'", false],
    ["TRUE AND NOT FALSE", true],
  ])("%s: %s", (text, expected) => {
    expect(evaluate(read(text), RECORD, COLUMNS)).toBe(expected);
  });

  test.each<[string, object]>([
    ["rased = DATE('2024-05-10')", { code: "column.unknown", nearest: ["raised"] }],
    ["raised = '2024-05-10' AND", { code: "filter.syntax", value: "the end" }],
    ["raised = DATE('2024-02-30')", { code: "date.impossible" }],
    ["raised = DATE('03/04/2024')", { code: "date.ambiguous" }],
    ["raised = DATE('2024-05-10T10:00')", { code: "column.finerThanDay" }],
    ["raised = 'soon'", { code: "filter.value", accepted: expect.stringContaining("DATE('") }],
    ["cost = '5'", { code: "column.notText", value: "5" }],
    ["task = 5", { code: "column.notNumber", value: "5" }],
    ["task < 'b'", { code: "column.notOrdered" }],
    ["CASEI(task) = 'x'", { code: "filter.syntax", value: "x" }],
    ["T_DURNIG(raised, DATE('2024'))", { code: "filter.word", nearest: ["T_DURING"] }],
    ["raised >> DATE('2024')", { code: "filter.syntax" }],
    ["cost + 1 = 2", { code: "filter.syntax", value: "+" }],
    ["inWindow(raised, 'monht')", { code: "window.word", nearest: ["month"] }],
    ["inWindow(raised, 'hour')", { code: "column.finerThanDay" }],
    ["inWindow(cost, 'month')", { code: "column.notDate" }],
    ["hour(raised) = 5", { code: "column.finerThanDay" }],
    ["month(raised) = 13", { code: "filter.value", accepted: "month is 1 to 12" }],
    ["raised < passed", { code: "column.otherType" }],
    ["cost = length AND cost = task", { code: "column.otherType" }],
    ["T_OVERLAPS(raised, DATE('2024'))", { code: "filter.syntax", value: "T_OVERLAPS" }],
    ["unreadable(task)", { code: "column.noState" }],
    ["task = 'unended", { code: "filter.syntax" }],
    ["", { code: "filter.syntax", value: "the end" }],
    ["raised", { code: "filter.syntax" }],
    ["cost = 1e400", { code: "column.notNumber" }],
    ["(".repeat(60) + "TRUE" + ")".repeat(60), { code: "filter.tooLarge" }],
    ["NOT ".repeat(60) + "TRUE", { code: "filter.tooLarge" }],
    [`cost IN (${"1,".repeat(1_200)}1)`, { code: "filter.tooLarge" }],
    [`task = '${"x".repeat(30_000)}'`, { code: "filter.tooLarge" }],
  ])("%.60s is refused", (text, expected) => {
    const [found, ...others] = faults(text);
    expect(others).toEqual([]);
    expect(found).toMatchObject(expected);
    expect(found?.message.length).toBeLessThan(400);
  });

  test("faults say where they lie, and all of them are reported", () => {
    expect(faults("rased = DATE('2024') AND cots = 1 AND task LIKE 'a'")).toMatchObject([
      { value: "rased", nearest: ["raised"] },
      { value: "cots", nearest: ["cost"] },
    ]);
    expect(faults("cost = 1 ANT task = 'x'")[0]?.message).toContain("at 10: “ANT”");
  });

  test("a fault of a date or a window names the column of its condition, and only of its own", () => {
    const found = faults(
      "inWindow(raised, 'mnth-1') AND raised > DATE('2024-13') AND cost = 1 AND year(raised) = 1.5",
    );
    expect(found.map(({ code, column }) => `${code} ${column}`)).toEqual([
      "window.word raised",
      "date.impossible raised",
      "filter.value raised",
    ]);
    // What names its column itself, or speaks of two, is reported as it is.
    expect(faults("rased = DATE('2024')")[0]).not.toHaveProperty("column");
    expect(faults("daysBetween(raised, due) > 1.5")[0]).not.toHaveProperty("column");
  });

  test("hostile strings are faults or filters, in bounded time, and never an exception", () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ maxLength: 200 }),
          fc
            .array(
              fc.constantFrom(
                "raised",
                "=",
                "(",
                ")",
                "'x'",
                "AND",
                "NOT",
                "IN",
                ",",
                "1",
                "T_AFTER",
                "LIKE",
                "'%_'",
                "inWindow",
                '"',
                "''",
                "BETWEEN",
              ),
              { maxLength: 30 },
            )
            .map((words) => words.join(" ")),
        ),
        (text) => {
          const found = readCql2(text, CONTEXT);
          if (!found.ok) expect(found.faults.map(renderFault).length).toBeGreaterThan(0);
        },
      ),
      { numRuns: 2_000, seed: SEED },
    );
  });
});

describe("CQL2 JSON", () => {
  test("says the same as the text", () => {
    const document = {
      op: "and",
      args: [
        { op: ">=", args: [{ property: "raised" }, { date: "2024-05-01" }] },
        {
          op: "like",
          args: [
            { op: "casei", args: [{ property: "task" }] },
            { op: "casei", args: ["gate%"] },
          ],
        },
        { op: "in", args: [{ property: "cost" }, [1, 1999]] },
        { op: "not", args: [{ op: "isNull", args: [{ property: "raised" }] }] },
        {
          op: "t_intersects",
          args: [
            { interval: [{ property: "starts" }, { property: "ends" }] },
            { interval: ["2024-05-20", ".."] },
          ],
        },
      ],
    };
    const text =
      "raised >= DATE('2024-05-01') AND CASEI(task) LIKE CASEI('gate%') AND cost IN (1, 1999) AND " +
      "NOT raised IS NULL AND T_INTERSECTS(INTERVAL(starts, ends), INTERVAL('2024-05-20', '..'))";
    expect(read(document)).toEqual(read(text));
    expect(evaluate(read(document), RECORD, COLUMNS)).toBe(true);
  });

  test.each<[unknown, string]>([
    [{ op: "=", args: [{ property: "rased" }, 1] }, "args.0"],
    [{ op: "and", args: [true, { op: "=", args: [{ property: "cost" }, "x"] }] }, "args.1.args.1"],
    [{ op: "and", args: [{ prop: "x" }] }, "args.0"],
    [{ op: "=", args: [null, 1] }, "args.0"],
    [{ op: "t_after", args: [{ property: "raised" }, { date: "2024-02-30" }] }, "args.1"],
  ])("%j is refused with its path", (document, path) => {
    expect(faults(document)[0]?.path).toBe(path);
  });

  test("an operator that is none names the nearest, and no shape at all is an exception", () => {
    expect(faults({ op: "t_durnig", args: [] })[0]).toMatchObject({ nearest: ["t_during"] });
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 6 }), (value) => {
        expect(typeof readCql2(value, CONTEXT).ok).toBe("boolean");
      }),
      { numRuns: 500, seed: SEED },
    );
    let deep: unknown = true;
    for (let level = 0; level < 5_000; level++) deep = { op: "not", args: [deep] };
    expect(faults(deep)[0]?.code).toBe("filter.tooLarge");
  });
});

describe("writing CQL2", () => {
  const rows = fc.sample(row, { numRuns: 60, seed: SEED });
  const context = { window: WINDOW, columns: CATALOGUE };

  test("every tree reads back, from text and from JSON, as one that keeps the same records", () => {
    let included = 0;
    fc.assert(
      fc.property(tree, (random) => {
        const filter = onStandardClock(onWholeDays(random));
        const expression = cql2Of(filter, CATALOGUE);
        const text = cql2Text(expression);
        const [fromText, fromJson] = [text, cql2Json(expression)].map((source) =>
          readCql2(source, context),
        );
        if (fromText?.ok !== true || fromJson?.ok !== true) throw new Error(text);
        for (const record of rows) {
          const expected = evaluate(filter, record, CATALOGUE);
          expect([text, evaluate(fromText.value, record, CATALOGUE)]).toEqual([text, expected]);
          if (expected) included++;
        }
      }),
      { numRuns: process.env.TZ === undefined ? 400 : 40, seed: SEED },
    );
    expect(included).toBeGreaterThan(300);
  });

  test("text is written once: written again it is the same", () => {
    fc.assert(
      fc.property(tree, (random) => {
        const text = cql2Text(cql2Of(onWholeDays(random), CATALOGUE));
        const back = readCql2(text, context);
        if (!back.ok) throw new Error(text);
        expect(cql2Text(cql2Of(back.value, CATALOGUE))).toBeDefined();
      }),
      { numRuns: 100, seed: SEED },
    );
  });
});
