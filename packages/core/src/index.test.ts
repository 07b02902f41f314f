import { describe, expect, test } from "@jest/globals";
import {
  ISO_CALENDAR,
  MARIADB,
  attachedColumn,
  countStatement,
  epochMs,
  evaluate,
  findZone,
  planListing,
  sentenceOf,
  type PlanningContext,
  type AttachedColumn,
  type Catalogue,
  type Column,
  type KnownListing,
  type ListingDeclaration,
  type Row,
  type SentParameters,
  type StoredTable,
} from "./index.js";

/** What the public part of the core is enough for: a listing inside somebody's own application. */

const COLUMNS: Catalogue = new Map<string, Column>([
  ["raised", { name: "raised", type: "date", kind: "date" }],
  ["status", { name: "status", type: "text" }],
  ["cost", { name: "cost", type: "integer" }],
]);

const DECLARATION: ListingDeclaration = {
  name: "works",
  title: "Works",
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  columns: ["raised", "cost"],
  parameters: [
    { name: "from", type: "date", column: "raised", comparison: "from", blanks: "exclude" },
    { name: "cost", type: "decimal", column: "cost", comparison: "atLeast", blanks: "exclude" },
  ],
  order: { allowed: ["raised", "cost"], default: "-raised" },
  page: { size: 20, max: 100 },
  reversed: "swap",
  fixedFilter: "NOT status = 'cancelled'",
  units: { cost: { scale: 2 } },
  cacheFor: { current: "P1D" },
};

const zone = findZone("Europe/London");
if (!zone.ok) throw new Error("the zone is unknown");

const LISTING: KnownListing = {
  declaration: DECLARATION,
  version: 1,
  zone: zone.value,
  calendar: ISO_CALENDAR,
  forms: new Map(),
  columns: COLUMNS,
  shown: DECLARATION.columns,
  derivedColumns: new Map(),
  source: { id: 1, ids: "order", partitionColumn: null, unnest: null },
};

/** Saturday 15 February 2025, noon. */
const NOW = epochMs(Date.UTC(2025, 1, 15, 12));

const CONTEXT: PlanningContext = {
  now: NOW,
  caller: { id: "1", name: "upper-vale" },
  viewer: { isAuthor: false, columns: DECLARATION.columns },
  allowed: [],
  readCursor: () => null,
  hash: (text) => String(text.length),
};

const sent = (parameters: Readonly<Record<string, string>>): SentParameters =>
  new Map(Object.entries(parameters).map(([name, value]) => [name, [value]]));

function row(day: string, status: string, cost: string): Row {
  return {
    raised: { state: "dated", ms: Date.parse(`${day}T00:00:00Z`) },
    status: { state: "filled", value: status },
    cost: { state: "filled", value: cost },
  };
}

describe("a listing inside another application", () => {
  test("has no record that the listing hides, and its numbers in stored units", () => {
    const plan = planListing(LISTING, sent({ from: "month", cost: "19.99" }), CONTEXT);
    if (!plan.ok) throw new Error(JSON.stringify(plan.faults));
    const { whole, request, order, read, envelope, maxAgeMs, dependsOn } = plan.value;
    const keeps = (...cells: Parameters<typeof row>) => evaluate(whole, row(...cells), COLUMNS);
    expect(keeps("2025-02-01", "open", "1999")).toBe(true);
    expect(keeps("2025-02-01", "cancelled", "1999")).toBe(false);
    expect(keeps("2025-01-31", "open", "1999")).toBe(false);
    expect(keeps("2025-02-01", "open", "1998")).toBe(false);
    expect([order.column, order.descending, read, envelope.size]).toEqual([
      "raised",
      true,
      ["raised", "cost"],
      20,
    ]);
    // It may be kept for a day, since the month goes on for longer; and what it is moves with it.
    expect([maxAgeMs, dependsOn]).toEqual([86_400_000, NOW]);
    expect(sentenceOf(DECLARATION, request)).toBe(
      "Works: within this listing's own conditions; and raised from 1 February 2025 (month), " +
        "blank dates excluded; and cost at least 19.99; latest first.",
    );
  });

  test("is written for a table of its own, with values that are only bound", () => {
    const plan = planListing(LISTING, sent({ from: "2025-02" }), CONTEXT);
    if (!plan.ok) throw new Error(JSON.stringify(plan.faults));
    const day = { kind: "date", encoding: "native" } as const;
    const columns = new Map<string, AttachedColumn>();
    for (const [name, holding, type] of [
      ["raised", { type: "date" }, { type: "date", reading: day }],
      ["status", { type: "text" }, { type: "text" }],
    ] as const) {
      const attached = attachedColumn(name, { value: `${name}_on`, holding, type });
      if (attached.ok) columns.set(name, attached.value);
    }
    const table: StoredTable<AttachedColumn> = { table: "works", key: "id", columns };
    const statement = countStatement({ filter: plan.value.whole, cap: null }, table, MARIADB);
    expect(statement.text).toContain("FROM `works` WHERE");
    expect(statement.text).not.toContain("cancelled");
    expect(statement.values).toContain("cancelled");
    expect(statement.values).toContain("2025-02-01");
  });

  test("says all that is wrong with a request at once", () => {
    const plan = planListing(LISTING, sent({ from: "2025-02-30", cost: "x", size: "0" }), CONTEXT);
    expect(plan.ok ? [] : plan.faults.map(({ parameter }) => parameter).toSorted()).toEqual([
      "cost",
      "from",
      "size",
    ]);
  });
});
