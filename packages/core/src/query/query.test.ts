import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { CATALOGUE, onStandardClock, onWholeDays, row, tree } from "../../../../test/trees.js";
import { UTC, epochMs, findZone } from "../calendar/index.js";
import { evaluate, type Catalogue, type Filter } from "../filters/index.js";
import {
  columnsOfQuery,
  conditionsIn,
  cql2Json,
  cql2Of,
  cql2OfQuery,
  cql2Text,
  dependsOnCaller,
  isConstant,
  nextChangeOf,
  queryInWords,
  readCql2Query,
  resolveQuery,
  timeDependence,
  type Query,
} from "./index.js";

const SEED = 4_211;
const COLUMNS: Catalogue = new Map([
  ["raised", { name: "raised", type: "date", kind: "date" }],
  ["passed", { name: "passed", type: "date", kind: "instant" }],
  ["place", { name: "place", type: "text" }],
  ["cost", { name: "cost", type: "integer" }],
]);
/** Wednesday 15 May 2024, 12:00. */
const WINDOW = { asOf: epochMs(Date.UTC(2024, 4, 15, 12)), zone: UTC };

function query(source: unknown, columns = COLUMNS): Query {
  const read = readCql2Query(source, { columns, knowsCaller: true, from: "filter" });
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return read.value;
}

function resolved(of: Query, caller = "upper-vale", columns = COLUMNS) {
  const found = resolveQuery(of, { window: WINDOW, columns, caller });
  if (!found.ok) throw new Error(JSON.stringify(found.faults));
  return found.value;
}

function filterOf(of: Query, columns = COLUMNS): Filter {
  return resolved(of, "upper-vale", columns).filter;
}

describe("what a query depends on", () => {
  test.each([
    ["inWindow(raised, '2024-01/2024-02')", "never"],
    ["inWindow(raised, 'month-1')", "steps"],
    ["inWindow(raised, 'month/now')", "steps"],
    ["inWindow(passed, 'month/now')", "always"],
    ["NOT (cost > 5 OR inWindow(passed, 'now/..'))", "always"],
    ["raised >= DATE('2024') AND month(passed) = 5", "never"],
    // It is written in a text, and is none.
    ["place = 'inWindow(raised, now)'", "never"],
  ])("%s depends on now: %s", (text, expected) => {
    expect(timeDependence(query(text), COLUMNS)).toBe(expected);
    // However the words are spelled in JSON, which is read before the query is looked at.
    const spelled = JSON.stringify(cql2Json(cql2OfQuery(query(text), COLUMNS))).replaceAll(
      "inWindow",
      "in\\u0057indow",
    );
    expect(timeDependence(query(JSON.parse(spelled)), COLUMNS)).toBe(expected);
  });

  test("it changes when its windows do, and never where none moves", () => {
    const change = (text: string) => nextChangeOf(query(text), COLUMNS, WINDOW);
    expect(change("cost > 5 OR inWindow(raised, 'month')")).toBe(Date.UTC(2024, 5, 1));
    expect(change("inWindow(raised, 'month') AND inWindow(raised, '2024/now')")).toBe(
      Date.UTC(2024, 4, 16),
    );
    expect(change("inWindow(passed, '2024/now')")).toBe(WINDOW.asOf);
    expect(change("inWindow(raised, '2024')")).toBeNull();
  });

  test("the caller is a condition of its own, and no spelling of a text is one", () => {
    const own = query("place = caller() OR place IN ('a', caller())");
    expect([dependsOnCaller(own), isConstant(own)]).toEqual([true, false]);
    const text = query("place = 'caller()'");
    expect([dependsOnCaller(text), isConstant(text)]).toEqual([false, true]);
    // A name is no pattern, whatever characters it has.
    const like = resolved(query("place LIKE caller()"), "a%").filter;
    const place = (value: string) => evaluate(like, { place: { state: "filled", value } }, COLUMNS);
    expect([place("a%"), place("ab")]).toEqual([true, false]);
  });

  test("what is known of a caller is one value or several; of whom it is not, nothing follows", () => {
    const own = query("NOT place = caller('lock')");
    expect([dependsOnCaller(own), isConstant(own)]).toEqual([true, false]);
    const context = { window: WINDOW, columns: COLUMNS, caller: "upper-vale" };
    const found = resolveQuery(own, { ...context, claims: { lock: ["a", "b"] } });
    if (!found.ok) throw new Error("not resolved");
    const place = (value: string) =>
      evaluate(found.value.filter, { place: { state: "filled", value } }, COLUMNS);
    expect([place("a"), place("b"), place("c")]).toEqual([false, false, true]);
    const unknown = resolveQuery(own, { ...context, claims: {} });
    expect(unknown).toMatchObject({ ok: false, faults: [{ code: "caller.noClaim" }] });
  });

  test("its columns are named once", () => {
    const found = query(
      "cost > 1 AND NOT (raised IS NULL OR cost < 9 OR daysBetween(raised, raised) > 1)",
    );
    expect(columnsOfQuery(found)).toEqual(["cost", "raised"]);
  });
});

describe("what a query is written back as", () => {
  test.each([
    "inWindow(raised, 'month-1/now')",
    "inWindow(raised, '../..;BYDAY=MO')",
    "NOT inWindow(raised, 'day-7')",
    "raised BETWEEN DATE('2024-01') AND DATE('2024-03')",
    "raised <> DATE('2024-02-29')",
    "passed > TIMESTAMP('2024-02-29T10:00:00Z')",
    "place = caller() AND cost > 5",
    "place = caller('lock') OR place IN ('a', caller('lock'), caller())",
    "month(raised) = 2 OR weekday(raised) <> 7",
    "T_DURING(INTERVAL(raised, raised), INTERVAL('2024-01-01', '..'))",
  ])("%s goes on meaning the same at any moment", (text) => {
    const first = query(text);
    const again = query(cql2Text(cql2OfQuery(first, COLUMNS)));
    expect(filterOf(again)).toEqual(filterOf(first));
    expect(timeDependence(again, COLUMNS)).toBe(timeDependence(first, COLUMNS));
  });

  test("random filters, written and read again, keep the same records", () => {
    fc.assert(
      fc.property(tree, row, (random, record) => {
        const plain = onStandardClock(onWholeDays(random));
        const first = query(cql2Text(cql2Of(plain, CATALOGUE)), CATALOGUE);
        const again = query(cql2Text(cql2OfQuery(first, CATALOGUE)), CATALOGUE);
        expect(evaluate(filterOf(again, CATALOGUE), record, CATALOGUE)).toBe(
          evaluate(plain, record, CATALOGUE),
        );
      }),
      { numRuns: 400, seed: SEED },
    );
  });

  test("in words it says what moves as it was written, with the dates of the moment", () => {
    const words = (text: string) => {
      const read = query(text);
      return queryInWords(read, resolved(read));
    };
    expect(words("inWindow(raised, 'day-7/now')")).toBe(
      "raised from 8 May 2024, until now (day-7/now)",
    );
    expect(words("cost > 5 OR NOT inWindow(raised, '2024')")).toBe(
      "cost above 5 or not raised in 2024",
    );
  });

  test("two fixed dates in reverse order are swapped in a window, and hold nothing in BETWEEN", () => {
    const window = resolved(query("inWindow(raised, '2024-03/2024-01')"));
    expect(window.notices.map(({ code }) => code)).toEqual(["window.swapped"]);
    expect(window.dates[0]?.filter.intervals).toHaveLength(1);
    const between = resolved(query("raised BETWEEN DATE('2024-03') AND DATE('2024-01')"));
    expect(between.dates[0]?.filter.intervals).toEqual([]);
  });

  test("a day that the zone omitted is reported, however the window is written", () => {
    const apia = findZone("Pacific/Apia");
    if (!apia.ok) throw new Error("no such zone");
    const codes = (text: string) => {
      const of = query(`inWindow(passed, '${text}')`);
      const window = { ...WINDOW, zone: apia.value };
      const found = resolveQuery(of, { window, columns: COLUMNS, caller: "upper-vale" });
      return found.ok ? found.value.notices.map(({ code }) => code) : found.faults;
    };
    expect(codes("2011-12-30")).toEqual(["window.skippedDay"]);
    expect(codes("2011-12-30/2011-12-30")).toEqual(["window.skippedDay"]);
    expect(codes("2011-12-29/2011-12-30")).toEqual([]);
  });

  test("ids distinguish conditions", () => {
    const ids = conditionsIn(query("cost > 1 AND (place = 'a' OR place = 'b')")).map(
      ({ id }) => id,
    );
    expect(ids).toEqual(["filter.0", "filter.1.0", "filter.1.1"]);
  });
});
