import type { ListingDetails } from "@orisma/client";
import type { Clause } from "@orisma/core/internal";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { row } from "../../../test/trees.js";
import { canRemove, requestedClauses, sayingIt, withoutClause } from "../src/listing/clauses.js";
import { partsOf, withParts } from "../src/listing/conditions.js";
import {
  cleared,
  corrected,
  namesOf,
  withParameters,
  type PageState,
} from "../src/listing/state.js";
import { clausesIn, keeps, listingWith } from "./asking.js";

const SEED = 61_244;
const date = { type: "date", column: "of date", pair: "of", blanks: "exclude" } as const;
const LISTING = listingWith(
  [
    { ...date, name: "from", comparison: "from" },
    { ...date, name: "to", comparison: "to" },
    { name: "in", type: "window", column: "to local", comparison: "on", blanks: "include" },
    {
      name: "task",
      type: "several",
      column: "task",
      comparison: "among",
      blanks: "exclude",
      default: ["a", "A"],
    },
    { name: "cost", type: "range", column: "cost", comparison: "within", blanks: "exclude" },
    { name: "done", type: "boolean", column: "done", comparison: "is", blanks: "exclude" },
    {
      name: "find",
      type: "search",
      columns: ["task", "note"],
      comparison: "contains",
      blanks: "exclude",
    },
  ],
  true,
);

const said = (name: string, ...values: readonly (readonly string[])[]) =>
  fc.constantFrom<PageState>({}, ...values.map((each) => ({ [name]: each })));
const page: fc.Arbitrary<PageState> = fc
  .tuple(
    said("from", ["2024-03"], ["2025-03-30"]),
    said("to", ["2024-10-27"], ["2025-03"]),
    said("from.blank", ["include"]),
    said("in", ["2024"], ["2023-12-31|2024-03"]),
    said("in.blank", ["only"]),
    said("task", [".."], ["a"], ["100%", "a"]),
    said("cost", ["0/1.5"], ["../-1"]),
    said("done", ["yes"], ["no"]),
    said("find", ["a"]),
    said(
      "filter",
      ["note IS NULL"],
      ["count > 0 AND paid = TRUE"],
      ["count > 0 OR done = FALSE"],
      ["NOT note LIKE 'a%' AND (count < 0 OR count > 1) AND unreadable(\"to instant\")"],
    ),
  )
  .map((parts): PageState => Object.assign({ size: ["20"] }, ...parts) as PageState);

/** The page that says nothing but one clause. */
function withClauseOnly(state: PageState, listing: ListingDetails, clause: Clause): PageState {
  const { asOf = [], filter = [] } = state;
  if (clause.parameters.includes("filter")) {
    const parts = partsOf(state, listing) ?? [];
    const own = parts.filter(({ id }) => id === clause.id);
    return own.length === 0 ? { asOf, filter } : withParts({ asOf }, listing, own);
  }
  const names = sayingIt(listing, clause).flatMap(namesOf);
  const said = names.map((name): [string, readonly string[]] => [name, state[name] ?? []]);
  return withParameters({ asOf }, Object.fromEntries(said));
}

describe("clauses of a sentence", () => {
  test("are together what the page keeps; without one the others are left", () => {
    let [included, excluded] = [0, 0];
    fc.assert(
      fc.property(page, fc.array(row, { minLength: 3, maxLength: 3 }), (state, records) => {
        const clauses = clausesIn(LISTING, state);
        for (const record of records) {
          const each = clauses.map((clause) =>
            keeps(
              onlyWithout(LISTING),
              withClauseOnly(withDefaults(state), LISTING, clause),
              record,
            ),
          );
          expect(keeps(LISTING, state, record)).toBe(each.every(Boolean));
          for (const [at, clause] of clauses.entries()) {
            const rest = withoutClause(state, LISTING, clause);
            const others = each.filter((_, index) => index !== at).every(Boolean);
            expect([state, clause, keeps(LISTING, rest, record)]).toEqual([state, clause, others]);
            if (others) included++;
            else excluded++;
          }
        }
      }),
      { seed: SEED, numRuns: 600 },
    );
    expect(Math.min(included, excluded)).toBeGreaterThan(80);
  });

  test("go one by one until the listing has every record that it can have", () => {
    fc.assert(
      fc.property(page, row, (state, record) => {
        let rest = state;
        for (let count = 0; count < 20; count++) {
          const clause = clausesIn(LISTING, rest).find((each) => canRemove(each, LISTING, rest));
          if (clause === undefined) break;
          rest = withoutClause(rest, LISTING, clause);
        }
        expect(clausesIn(LISTING, rest)).toEqual([]);
        expect(keeps(LISTING, rest, record)).toBe(true);
        // All at once it is as it was at first, with what is there by default.
        expect(cleared(state, LISTING)).toEqual({ size: ["20"] });
      }),
      { seed: SEED, numRuns: 300 },
    );
  });

  test("are shown as they were written before there is an answer, the ends of a pair as one", () => {
    const state = { to: ["2025-03"], from: ["2025-02"], done: ["yes"], filter: ["cost > 5"] };
    expect(requestedClauses(LISTING, state)).toEqual([
      { parameters: ["from", "to"], column: "of date", words: "of date 2025-02, 2025-03" },
      { parameters: ["done"], column: "done", words: "done yes" },
      { parameters: ["filter"], column: null, words: "cost > 5" },
    ]);
    expect(requestedClauses(LISTING, {})).toEqual([]);
  });
});

/** The page with what is there by default said aloud. */
function withDefaults(state: PageState): PageState {
  return { task: ["a", "A"], ...state };
}

/** The listing without anything that is there by default. */
function onlyWithout(listing: ListingDetails): ListingDetails {
  const parameters = listing.parameters.map(({ default: _fallback, ...rest }) => rest);
  return { ...listing, parameters: parameters };
}

describe("what was probably meant, in place of what is refused", () => {
  const fault = (
    code: "parameter.unknown" | "parameter.value",
    parameter: string,
    value: string,
  ) => ({
    ...{ code, parameter, value },
    message: "",
  });

  test("takes the place of one value, a name in a text, or a name; nothing else is touched", () => {
    const put = (state: PageState, found: ReturnType<typeof fault>, meant: string) =>
      corrected(state, found, meant);
    expect(put({ most: ["1", "11"] }, fault("parameter.value", "most", "1"), "2")).toEqual({
      most: ["2", "11"],
    });
    expect(
      put({ from: [" 3/4/2025 "] }, fault("parameter.value", "from", "3/4/2025"), "x"),
    ).toEqual({
      from: ["x"],
    });
    const filter = ["cots = 1 AND note = 'x'"];
    expect(put({ filter }, fault("parameter.value", "filter", "cots"), "cost")).toEqual({
      filter: ["cost = 1 AND note = 'x'"],
    });
    expect(put({ form: ["2025"] }, fault("parameter.unknown", "form", "2025"), "from")).toEqual({
      from: ["2025"],
    });
    expect(
      put({ form: ["2025"], from: ["2024"] }, fault("parameter.unknown", "form", "2025"), "from"),
    ).toEqual({ from: ["2024", "2025"] });
  });
});
