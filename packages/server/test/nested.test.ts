import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { QueryParameters } from "@orisma/client";
import {
  evaluate,
  type Catalogue,
  type Column,
  type Filter,
  type Row,
} from "@orisma/core/internal";
import { cql2Of, cql2Text } from "@orisma/core/internal";
import fc from "fast-check";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { onWholeDays, treesOver } from "../../../test/trees.js";

const SEED = 20_261_127;
const TREES = 150;

/** A passage, and the locks that the boat stopped at. */
interface Passage {
  readonly ref: string;
  readonly sent: string;
  readonly boat: string;
  readonly stops: unknown;
}

const DAYS = ["2025-03-04", "2025-03-05", "2025-03-06", "2024-02-29"];
const BOATS = ["Heron", "heron", "Otter"];
const LOCKS = ["Bramble", "Kestrel Top", "", "bramble"];

const stop = fc.record(
  {
    lock: fc.constantFrom(...LOCKS, 5, null),
    on: fc.constantFrom(...DAYS, "soon", null, "2025-02-31"),
    out: fc.constantFrom(...DAYS, ""),
    wait: fc.constantFrom(0, 12, -3, 1.5, 1e3, "long", null),
    boats: fc.constantFrom(1, 2, "many", null),
    manned: fc.constantFrom(true, false, "perhaps", null),
    paid: fc.constantFrom(true, false),
  },
  { requiredKeys: ["on"] },
);
const passages: readonly Passage[] = fc
  .sample(
    fc.record({
      sent: fc.constantFrom(...DAYS),
      boat: fc.constantFrom(...BOATS),
      stops: fc.oneof(
        { weight: 6, arbitrary: fc.array(stop, { maxLength: 4 }) },
        { weight: 1, arbitrary: fc.constantFrom(null, [], "not a list", { on: "2025-03-05" }) },
      ),
    }),
    { numRuns: 120, seed: SEED },
  )
  .map((each, index) => ({ ref: `P-${String(index + 1).padStart(3, "0")}`, ...each }));

const COLUMNS: readonly Column[] = [
  { name: "ref", type: "text" },
  { name: "boat", type: "text" },
  { name: "sent", type: "date", kind: "date" },
  { name: "stop lock", type: "text" },
  { name: "stop on", type: "date", kind: "date" },
  { name: "stop out", type: "date", kind: "date" },
  { name: "stop wait", type: "decimal" },
  { name: "stop boats", type: "integer" },
  { name: "stop manned", type: "boolean" },
  { name: "stop paid", type: "boolean" },
];
const CATALOGUE: Catalogue = new Map(COLUMNS.map((column) => [column.name, column]));
const DATE = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;

let running: TestService;
beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  await client.createSource({
    name: "passages",
    key: "ref",
    columns: { sent: { type: "date", reading: DATE } },
  });
  const lines = passages.map((each) => JSON.stringify(each)).join("\n");
  await client.importFile("passages", new TextEncoder().encode(lines));
  await client.createSource({
    name: "stops",
    unnest: {
      source: "passages",
      column: "stops",
      values: {
        "stop lock": { path: "$.lock", column: { type: "text" } },
        "stop on": { path: "$['on']", column: { type: "date", reading: DATE } },
        "stop out": { path: "$.out", column: { type: "date", reading: DATE } },
        "stop wait": { path: "$.wait", column: { type: "decimal" } },
        "stop boats": { path: "$.boats", column: { type: "integer" } },
        "stop manned": { path: "$.manned", column: { type: "boolean" } },
        "stop paid": { path: "$.paid", column: { type: "boolean" } },
      },
    },
  });
  await client.declareListing("stops", {
    source: "stops",
    mainDate: "stop on",
    parameters: [{ name: "on", type: "date", column: "stop on", comparison: "on" }],
    order: { allowed: ["sent", "stop on"], default: "sent" },
    page: { size: 40 },
    filter: { columns: "all" },
  });
});
afterAll(() => running.end());

/** Every line of a passage as its readings have it: one where it has no stops. */
function linesOf({ ref, sent, boat, stops }: Passage): readonly Row[] {
  const list: readonly unknown[] = Array.isArray(stops) && stops.length > 0 ? stops : [null];
  return list.map((each) => {
    const of = (each ?? {}) as Readonly<Record<string, Plain>>;
    return {
      ref: { state: "filled", value: ref },
      boat: { state: "filled", value: boat },
      sent: { state: "dated", ms: Date.parse(sent) },
      "stop lock": textCell(of.lock),
      "stop on": dateCell(of.on),
      "stop out": dateCell(of.out),
      "stop wait": typedCell(of.wait, (value) => typeof value === "number"),
      "stop boats": typedCell(of.boats, (value) => Number.isInteger(value)),
      "stop manned": typedCell(of.manned, (value) => typeof value === "boolean"),
      "stop paid": typedCell(of.paid, (value) => typeof value === "boolean"),
    };
  });
}

type Plain = string | number | boolean | null | undefined;

const UNREADABLE = { state: "unreadable", fault: { code: "date.form" } } as unknown as Row[string];

function textCell(value: Plain): Row[string] {
  const text = value == null ? "" : String(value);
  return text.trim() === "" ? { state: "blank" } : { state: "filled", value: text };
}

function typedCell(value: Plain, isRight: (value: Plain) => boolean): Row[string] {
  if (value == null) return { state: "blank" };
  return isRight(value) ? { state: "filled", value: String(value) } : UNREADABLE;
}

function dateCell(value: Plain): Row[string] {
  if (value == null || value === "") return { state: "blank" };
  return DAYS.includes(String(value))
    ? { state: "dated", ms: Date.parse(String(value)) }
    : UNREADABLE;
}

/** What a filter keeps: the records of which some line has it, and the lines that have it. */
function expected(filter: Filter) {
  const lines = passages.map((passage) =>
    linesOf(passage).flatMap((line, index) => {
      const isEmpty = !Array.isArray(passage.stops) || passage.stops.length === 0;
      return evaluate(filter, line, CATALOGUE) ? [isEmpty ? 0 : index + 1] : [];
    }),
  );
  return {
    records: passages.flatMap(({ ref }, at) => (lines[at]?.length === 0 ? [] : [ref])),
    values: passages.flatMap(({ ref }, at) => (lines[at] ?? []).map((place) => `${ref}:${place}`)),
  };
}

/** The ids of every page, which must each come once. */
async function idsOf(query: Record<string, string>): Promise<readonly string[]> {
  const { client } = running;
  let page = await client.records("stops", query);
  const ids = page.records.map(({ id }) => String(id));
  while (page.links.next !== undefined) {
    page = await client.follow(page.links.next);
    ids.push(...page.records.map(({ id }) => String(id)));
  }
  return ids;
}

describe("values inside a column of JSON strings", () => {
  test(`records once and a line a value are what the evaluator keeps, under ${TREES} random trees`, async () => {
    const tree = treesOver({ columns: COLUMNS, strings: [...BOATS, ...LOCKS], folds: true });
    let some = 0;
    for (const filter of fc.sample(tree, { numRuns: TREES, seed: SEED })) {
      const whole = onWholeDays(filter, CATALOGUE);
      const written = cql2Text(cql2Of(whole, CATALOGUE));
      const wanted = expected(whole);
      const requested = { filter: written, size: "500" };
      const once = await running.client.records("stops", requested).catch(() => null);
      // What the check of a filter refuses is none of this test's.
      if (once === null) continue;
      const ids = once.records.map(({ id }) => String(id));
      expect([written, [...ids].sort()]).toEqual([written, wanted.records]);
      const each = await idsOf({ ...requested, rows: "values" });
      expect([written, [...each].sort()]).toEqual([written, wanted.values]);
      expect(once.meta.unnested).toEqual({
        records: { total: wanted.records.length, totalExact: true },
        values: { total: wanted.values.length, totalExact: true },
      });
      if (wanted.records.length > 0 && wanted.records.length < passages.length) some++;
    }
    expect(some).toBeGreaterThan(TREES / 3);
  });

  test("conditions on two values are about one element; a record is counted once", async () => {
    const filter = "\"stop lock\" = 'Bramble' AND \"stop on\" = DATE('2025-03-05')";
    const both = passages.filter(
      ({ stops }) =>
        Array.isArray(stops) &&
        stops.some(({ lock, on }) => lock === "Bramble" && on === "2025-03-05"),
    );
    const apart = passages.filter(
      ({ stops }) =>
        Array.isArray(stops) &&
        stops.some(({ lock }) => lock === "Bramble") &&
        stops.some(({ on }) => on === "2025-03-05"),
    );
    // There are passages that have each of the two, but of two stops: they must be out.
    expect(apart.length).toBeGreaterThan(both.length);
    const { records, meta } = await running.client.records("stops", { filter });
    expect(records.map(({ id }) => id)).toEqual(expect.arrayContaining(both.map(({ ref }) => ref)));
    expect(meta.total).toBe(both.length);
    expect(Object.keys(records[0] ?? {})).not.toContain("stop on");
  });

  test("lines have their values, and pages of them joined are all of it once", async () => {
    const lines = passages.flatMap((passage) => linesOf(passage));
    const ids = await idsOf({ rows: "values", order: "-stop on" });
    expect([ids.length, new Set(ids).size]).toEqual([lines.length, lines.length]);
    const { records, meta } = await running.client.records("stops", {
      rows: "values",
      on: "2025-03-05",
    });
    expect(records.length).toBeGreaterThan(0);
    expect(records.every((record) => record["stop on"] === "2025-03-05")).toBe(true);
    expect(meta.sentence).toContain("stop on");
    const waits = new Set(records.map((record) => record["stop wait"]));
    expect([...waits].every((wait) => wait === null || typeof wait === "number")).toBe(true);
    expect(Object.values(meta.unreadable).flatMap((cells) => Object.keys(cells))).toContain(
      "stop manned",
    );
  });

  test("a count, and what would not be clear, are refused with what is accepted", async () => {
    const { client } = running;
    const order = await refusal(client.records("stops", { order: "stop on" }));
    expect(order?.faults).toMatchObject([{ code: "order.perValue", parameter: "order" }]);
    const rows = await refusal(client.records("stops", { rows: "each" }));
    expect(rows?.faults).toMatchObject([{ code: "parameter.value", accepted: "records, values" }]);
    const bad = (inside: object) =>
      refusal(client.createSource({ name: "bad", unnest: { ...UNNEST, ...inside } }));
    expect(await bad({ column: "stps" })).toMatchObject({
      faults: [{ code: "column.unknown", nearest: ["stops"] }],
    });
    expect(await bad({ each: "stops[*]" })).toMatchObject({ faults: [{ code: "path.form" }] });
    expect(await bad({ each: "$.x')]" })).toMatchObject({ faults: [{ code: "path.form" }] });
    expect(await bad({ source: "stops" })).toMatchObject({ faults: [{ code: "source.unnest" }] });
    const epoch = { kind: "instant", encoding: "epoch-s" } as const;
    const values = { at: { path: "$.at", column: { type: "date", reading: epoch } } };
    expect(await bad({ values })).toMatchObject({ faults: [{ code: "storage.reading" }] });
    expect(await refusal(client.deleteSource("passages"))).toMatchObject({ status: 409 });
  });

  test("what is made of values inside is shown line by line, and not of a record that has many", async () => {
    const { client } = running;
    const source = (await client.listing("stops")).source;
    await client.declareListing("made-inside", {
      source,
      mainDate: "sent",
      parameters: [],
      columns: ["ref", "late", "month"],
      derived: {
        late: { kind: "days", from: "sent", to: "stop on" },
        month: { kind: "part", part: "month", column: "sent" },
      },
      order: { allowed: ["sent", "late"] },
    });
    const once = await client.records("made-inside", { rows: "records", size: "2" });
    expect(once.records.map((record) => Object.keys(record))).toEqual([
      ["id", "ref", "month"],
      ["id", "ref", "month"],
    ]);
    const lines = await client.records("made-inside", { rows: "values", size: "200" });
    expect(lines.records.some(({ late }) => typeof late === "number")).toBe(true);
    const everyLine = async (sent: QueryParameters) => {
      let page = await client.records("made-inside", { ...sent, rows: "values", size: "200" });
      const late = page.records.map((record) => record.late ?? null);
      while (page.links.next !== undefined) {
        page = await client.follow(page.links.next);
        late.push(...page.records.map((record) => record.late ?? null));
      }
      return late;
    };
    const all = await everyLine({});
    const counted = new Map<unknown, number>();
    for (const late of all) counted.set(late, (counted.get(late) ?? 0) + 1);
    const { groups } = await client.summary("made-inside", { by: ["late"] });
    expect(new Map(groups.map(({ of: [late], records }) => [late, records]))).toEqual(counted);
    const rank = (late: unknown) => (typeof late === "number" ? late : -Infinity);
    expect(await everyLine({ order: "late" })).toEqual([...all].sort((x, y) => rank(x) - rank(y)));
    const sent = { order: "late", rows: "records" };
    const many = await refusal(client.records("made-inside", sent));
    expect(many?.faults).toMatchObject([{ code: "order.perValue", parameter: "order" }]);
    await client.deleteListing("made-inside");
  });

  test("explain counts in records, and in lines where these are requested", async () => {
    const { client } = running;
    const once = await client.explain("stops", { on: "2025-03-05" });
    const lines = await client.explain("stops", { on: "2025-03-05", rows: "values" });
    const wanted = expected({
      kind: "date",
      column: "stop on",
      side: "inside",
      intervals: [{ start: edge("2025-03-05"), end: edge("2025-03-06") }],
      recurring: [],
      blanks: "exclude",
    });
    expect(once.narrowing.steps.at(-1)?.inTurn).toBe(wanted.records.length);
    expect(lines.narrowing.steps.at(-1)?.inTurn).toBe(wanted.values.length);
    expect(once.statements.page.text).toContain("EXISTS");
  });
});

const UNNEST = {
  source: "passages",
  column: "stops",
  values: { at: { path: "$.at", column: { type: "text" } } },
} as const;

function edge(day: string) {
  return { wall: Date.parse(day), instant: Date.parse(day) } as never;
}
