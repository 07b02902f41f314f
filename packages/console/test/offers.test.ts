import type { ListingDetails } from "@orisma/client";
import {
  compareDecimals,
  dateText,
  epochMs,
  foldText,
  isBlankText,
  isoWall,
  wallAt,
  wallMs,
  type Cell,
  type Column,
  type FilledCell,
  type ParameterDeclaration,
  type RecordValue,
  type Row,
} from "@orisma/core/internal";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { COLUMNS, row } from "../../../test/trees.js";
import { ZONE, keeps, listingWith } from "./asking.js";
import { cellOffers } from "../src/listing/cell-offers.js";
import { requestedYes } from "../src/listing/narrowing.js";
import { searchOf, type PageState } from "../src/listing/state.js";

/** How a listing lets a column be narrowed; none of its own leaves compound conditions. */
type Ways = readonly (Partial<ParameterDeclaration> & { readonly name: string })[];

const DATE_WAYS: readonly Ways[] = [
  [],
  [
    { name: "a", comparison: "from", pair: "p", type: "datetime" },
    { name: "b", comparison: "to", pair: "p", type: "datetime" },
  ],
  [{ name: "a", comparison: "on", type: "window" }],
  [{ name: "a", comparison: "on", type: "date" }],
  [{ name: "a", comparison: "from", type: "date" }],
  [
    {
      name: "a",
      comparison: "from",
      pair: "p",
      type: "date",
      accepts: { encoding: "text", patterns: ["dd/MM/yyyy"] },
    },
    { name: "b", comparison: "to", pair: "p", type: "date" },
  ],
  // Here ISO 8601 would be read with its days and months the other way round.
  [
    {
      name: "a",
      comparison: "on",
      type: "date",
      accepts: { encoding: "text", patterns: ["yyyy-dd-MM"] },
    },
  ],
  [
    {
      name: "a",
      comparison: "on",
      type: "date",
      fields: { year: "y", month: "m", day: "d" },
    },
  ],
];
const TEXT_WAYS: readonly Ways[] = [
  [],
  [{ name: "a", type: "oneOf", comparison: "is" }],
  [{ name: "a", type: "several", comparison: "among", caseSensitive: false }],
  [{ name: "a", type: "several", comparison: "noneOf" }],
  [{ name: "a", type: "oneOf", comparison: "isNot" }],
  [{ name: "a", type: "oneOf", comparison: "is", values: ["a", "A"] }],
  [{ name: "a", type: "text", comparison: "is" }],
  [
    { name: "a", type: "text", comparison: "isNot", caseSensitive: true },
    { name: "b", type: "text", comparison: "contains" },
  ],
];
const NUMBER_WAYS: readonly Ways[] = [
  [],
  [
    { name: "a", type: "decimal", comparison: "atLeast", pair: "p" },
    { name: "b", type: "decimal", comparison: "atMost", pair: "p" },
  ],
  [{ name: "a", type: "range", comparison: "within" }],
  [{ name: "a", type: "decimal", comparison: "is" }],
  [{ name: "a", type: "oneOf", comparison: "is" }],
  [{ name: "a", type: "oneOf", comparison: "is", values: ["1", "1.5"] }],
];
const BOOLEAN_WAYS: readonly Ways[] = [
  [],
  [{ name: "a", type: "boolean", comparison: "is" }],
  [{ name: "a", type: "boolean", comparison: "isNot" }],
];

const WAYS: Readonly<Record<Column["type"], readonly Ways[]>> = {
  date: DATE_WAYS,
  text: TEXT_WAYS,
  integer: NUMBER_WAYS,
  decimal: NUMBER_WAYS,
  boolean: BOOLEAN_WAYS,
};

function listingOf(column: Column, ways: Ways, isCompound: boolean): ListingDetails {
  const parameters = ways.map((way) => ({ column: column.name, blanks: "exclude", ...way }));
  return listingWith(parameters as ListingDetails["parameters"], isCompound);
}

function stateIn(cell: FilledCell | Cell | undefined): "filled" | "blank" | "unreadable" {
  if (cell === undefined || cell.state === "blank") return "blank";
  if (cell.state === "filled") return isBlankText(cell.value) ? "blank" : "filled";
  return cell.state === "dated" ? "filled" : "unreadable";
}

/** What an answer shows of a cell. */
function shownOf(column: Column, cell: FilledCell | Cell | undefined): RecordValue {
  if (cell === undefined || stateIn(cell) !== "filled") return null;
  if (cell.state === "dated") {
    return column.type === "date" ? dateText(cell.ms, column.kind) : null;
  }
  const value = cell.state === "filled" ? cell.value : "";
  return column.type === "boolean" ? value === "true" : value;
}

function offersOf(listing: ListingDetails, state: PageState, column: Column, record: Row) {
  const cell = record[column.name];
  const value = shownOf(column, cell);
  const unreadable = stateIn(cell) === "unreadable" ? "soon" : undefined;
  return cellOffers({ listing, state, column, value, unreadable });
}

/** The day of a cell where the listing is, in ISO 8601. */
function dayOf(column: Column, cell: FilledCell | Cell | undefined): string {
  if (column.type !== "date" || cell?.state !== "dated") return "";
  const wall = column.kind === "instant" ? wallAt(ZONE, epochMs(cell.ms)) : wallMs(cell.ms);
  return isoWall(wall).slice(0, 10);
}

/** Whether the words of an offer, made of one record's cell, hold for another's. */
function isMeant(words: string, column: Column, of: Row, other: Row, folds: boolean): boolean {
  const [own, cell] = [of[column.name], other[column.name]];
  const state = stateIn(cell);
  if (words === "only blank") return state === "blank";
  if (words === "none that is blank") return state !== "blank";
  if (words === "only unreadable") return state === "unreadable";
  if (words === "none that is unreadable") return state !== "unreadable";
  if (state !== "filled") return false;
  if (column.type === "date") {
    const [given, day] = [dayOf(column, own), dayOf(column, cell)];
    if (words === "that day") return day === given;
    if (words.startsWith("all of")) return day.slice(0, 7) === given.slice(0, 7);
    return words === "from that day on" ? day >= given : day <= given;
  }
  const [given, value] = [own, cell].map((each) =>
    each?.state === "filled" ? each.value : "",
  ) as [string, string];
  if (column.type === "text") {
    const same = folds ? foldText(given) === foldText(value) : given === value;
    return words.startsWith("only") ? same : !same;
  }
  if (column.type === "boolean") return value === given;
  const order = compareDecimals(value, given);
  if (words.startsWith("at least")) return order >= 0;
  return words.startsWith("at most") ? order <= 0 : order === 0;
}

/** Whether letter case does not count to a parameter. */
function isFolding({ type, ...way }: Ways[number]): boolean {
  const caseSensitive = "caseSensitive" in way ? way.caseSensitive : undefined;
  return !(caseSensitive ?? type !== "text");
}

/** Records with strings that mean something to parameters, addresses and conditions. */
const record = fc
  .tuple(row, fc.option(fc.constantFrom("..", "null", "a, b", "a/b", "x = 'y'", '"a"', "a+b&c")))
  .map(([cells, text]): Row => {
    return text === null ? cells : { ...cells, task: { state: "filled", value: text } };
  });

const SEED = 40_417;
const plan = fc
  .constantFrom(...COLUMNS)
  .chain((column) =>
    fc.tuple(fc.constant(column), fc.constantFrom(...WAYS[column.type]), fc.boolean()),
  );

describe("what a cell offers", () => {
  test("keeps the records that its words say, whatever was requested of the column before", () => {
    fc.assert(
      fc.property(
        plan,
        record,
        record,
        fc.nat(4),
        ([column, ways, isCompound], of, other, before) => {
          const listing = listingOf(column, ways, isCompound);
          const earlier = offersOf(listing, {}, column, other);
          const state = earlier[before % Math.max(earlier.length, 1)]?.state ?? {};
          for (const { words, state: offered } of offersOf(listing, state, column, of)) {
            // By a parameter letter case may not count, as it is declared.
            const folds = ways.some((way) => way.name in offered && isFolding(way));
            for (const each of [of, other]) {
              const got = [words, String(searchOf(offered)), keeps(listing, offered, each)];
              expect(got).toEqual([...got.slice(0, 2), isMeant(words, column, of, each, folds)]);
            }
          }
        },
      ),
      { seed: SEED, numRuns: 3_000 },
    );
  });
});

describe("yes and no", () => {
  const column = { name: "done", type: "boolean" } as const;
  const plain = [{ name: "a", type: "boolean", comparison: "is" }] as const;
  const turned = [{ name: "a", type: "boolean", comparison: "isNot" }] as const;
  const fallback = [{ ...plain[0], default: "no" }] as const;

  test.each<[string, Ways, PageState, boolean | null]>([
    ["not said", plain, {}, null],
    ["said", plain, { a: ["yes"] }, true],
    ["said of a negative", turned, { a: ["yes"] }, false],
    ["there by default", fallback, {}, false],
    ["there by default, and told otherwise", fallback, { a: ["yes"] }, true],
    ["there by default, and done without", fallback, { a: [".."] }, null],
    ["a condition", [], { filter: ["done = FALSE AND cost > 5"] }, false],
    ["a condition of a group", [], { filter: ["done = TRUE OR cost > 5"] }, null],
  ])("are requested where it is %s", (_, ways, state, expected) => {
    expect(requestedYes(state, listingOf(column, ways, true), column.name)).toBe(expected);
  });
});
