import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing, QueryParameters } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

/** What a listing shows as worked out of dates can be filtered by, and means what is shown. */

let running: TestService;

/** Saturday 15 February 2025, 12:00 in London. */
const NOW = Date.UTC(2025, 1, 15, 12);

const PARTS = ["year", "quarter", "month", "day", "weekday", "hour"] as const;

const LISTING = {
  source: "repairs",
  zone: "Europe/London",
  mainDate: "began",
  columns: [
    "id",
    "began",
    "ended",
    "year",
    "quarter",
    "month",
    "day",
    "weekday",
    "hour",
    "took",
    "age",
    "left",
    "since",
    "ahead",
  ],
  derived: {
    ...Object.fromEntries(
      PARTS.map((part) => [
        part,
        { kind: "part", part, column: part === "hour" ? "at" : "began" } as const,
      ]),
    ),
    took: { kind: "days", from: "began", to: "ended" },
    age: { kind: "days", from: "began", to: "now" },
    left: { kind: "days", from: "now", to: "ended" },
    since: { kind: "days", from: "at", to: "now" },
    ahead: { kind: "days", from: "now", to: "at" },
    hidden: { kind: "days", from: "at", to: "now" },
  },
  parameters: [
    { name: "quarter", type: "integer", column: "quarter", comparison: "is" },
    { name: "weekday", type: "several", column: "weekday", comparison: "among" },
    { name: "tookAtLeast", type: "integer", column: "took", comparison: "atLeast", pair: "took" },
    { name: "tookAtMost", type: "integer", column: "took", comparison: "atMost", pair: "took" },
    { name: "age", type: "range", column: "age", comparison: "within" },
    { name: "notAged", type: "range", column: "age", comparison: "outside" },
    { name: "hour", type: "range", column: "hour", comparison: "within" },
  ],
  filter: { columns: "all" },
  order: { allowed: ["id", "began", "took", "age", "hour", "quarter", "weekday"], default: "id" },
  page: { size: 500, max: 500, numbered: true },
} satisfies NewListing;

type Shown = Readonly<Record<string, unknown>>;

beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
  const at = { type: "date", reading: { kind: "instant", encoding: "text" } } as const;
  await running.client.createSource({
    name: "repairs",
    key: "id",
    columns: { began: day, ended: day, at },
  });
  const lines = Array.from({ length: 400 }, (_, index) => {
    const date = (days: number) =>
      new Date(Date.UTC(2023, 0, 1) + days * 86_400_000).toISOString().slice(0, 10);
    const began = index % 17 === 0 ? "" : index % 19 === 0 ? "soon" : date(index * 3);
    const ended = index % 13 === 0 ? "" : date(index * 3 + ((index * 7) % 45) - 5);
    const moment =
      index % 11 === 0 ? "" : `${date(index * 3)}T${String(index % 24).padStart(2, "0")}:30:00Z`;
    return [`R-${String(index).padStart(3, "0")}`, began, ended, moment].join(",");
  });
  await running.client.importFile("repairs", ["id,began,ended,at", ...lines].join("\n"));
  await running.client.declareListing("repairs", LISTING);
});
afterAll(() => running.end());

async function found(sent: QueryParameters): Promise<readonly Shown[]> {
  const { records, meta } = await running.client.records("repairs", { ...sent, total: "exact" });
  expect(meta.total).toBe(records.length);
  return records;
}

const textOf = (value: unknown) => (typeof value === "string" ? value : "");
const number = (shown: Shown, column: string) =>
  typeof shown[column] === "number" ? shown[column] : null;
const is = (column: string, holds: (value: number) => boolean) => (shown: Shown) => {
  const value = number(shown, column);
  return value !== null && holds(value);
};

describe("a derived column", () => {
  test.each<[QueryParameters, (shown: Shown) => boolean]>([
    [{ quarter: "2" }, is("quarter", (value) => value === 2)],
    [{ quarter: "9" }, () => false],
    [{ weekday: ["6", "7"] }, is("weekday", (value) => value > 5)],
    [{ tookAtLeast: "10" }, is("took", (value) => value >= 10)],
    [{ tookAtLeast: "-3", tookAtMost: "4" }, is("took", (value) => value >= -3 && value <= 4)],
    [{ age: "100/200" }, is("age", (value) => value >= 100 && value <= 200)],
    [{ age: "-40/0" }, is("age", (value) => value >= -40 && value <= 0)],
    [{ age: "300/.." }, is("age", (value) => value >= 300)],
    [{ notAged: "100/500" }, is("age", (value) => value < 100 || value > 500)],
    [{ hour: "9/11" }, is("hour", (value) => value >= 9 && value <= 11)],
    [{ "quarter.blank": "only" }, (shown) => shown.began === null && shown.id !== "R-019"],
    [{ filter: "year = 2024" }, is("year", (value) => value === 2024)],
    [
      { filter: "year <> 2024 AND month > 10" },
      (shown) =>
        is("year", (value) => value !== 2024)(shown) && is("month", (value) => value > 10)(shown),
    ],
    [
      { filter: "month IN (2, 4) AND day < 8" },
      (shown) =>
        is("month", (value) => value === 2 || value === 4)(shown) &&
        is("day", (value) => value < 8)(shown),
    ],
    [{ filter: "NOT took > 5" }, is("took", (value) => value <= 5)],
    [
      { filter: "took BETWEEN 5 AND 7.5 OR age < 10" },
      (shown) =>
        is("took", (value) => value >= 5 && value <= 7)(shown) ||
        is("age", (value) => value < 10)(shown),
    ],
    [
      { filter: '"left" > 5' },
      (shown) => typeof shown.ended === "string" && shown.ended > "2025-02-20",
    ],
    [
      { filter: "took IS NULL AND quarter = 1" },
      (shown) => shown.ended === null && is("quarter", (value) => value === 1)(shown),
    ],
    [{ filter: "since >= 100" }, is("since", (value) => value >= 100)],
    [{ filter: "since BETWEEN -40 AND 0" }, is("since", (value) => value >= -40 && value <= 0)],
    [{ filter: "since BETWEEN 0 AND 30" }, is("since", (value) => value >= 0 && value <= 30)],
    [{ filter: "since < -5" }, is("since", (value) => value < -5)],
    [{ filter: "NOT since < 5" }, is("since", (value) => value >= 5)],
    [{ filter: "ahead >= 1" }, is("ahead", (value) => value >= 1)],
    [{ filter: "ahead BETWEEN -9 AND 9" }, is("ahead", (value) => Math.abs(value) <= 9)],
    [{ filter: "ahead <= -1" }, is("ahead", (value) => value <= -1)],
    [{ filter: "since IS NULL" }, (shown) => shown.since === null],
  ])("%j keeps the records of which it is shown so, and no others", async (sent, holds) => {
    const all = await found({});
    const expected = all.filter(holds).map(({ id }) => id);
    const kept = (await found(sent)).map(({ id }) => id);
    // Of unreadable dates "blank only" asks nothing.
    const blank = "quarter.blank" in sent;
    const unreadable = blank ? await unreadableIds() : [];
    expect(kept).toEqual(expected.filter((id) => !unreadable.includes(String(id))));
    if (!("quarter" in sent && sent.quarter === "9")) expect(kept.length).toBeGreaterThan(0);
    expect(kept.length).toBeLessThan(all.length);
  });

  test.each<[QueryParameters, (shown: Shown) => boolean]>([
    // What no number can be, and its other side: those without a number are on neither.
    [{ filter: "took = 1.5" }, () => false],
    [{ filter: "took <> 1.5" }, is("took", () => true)],
    [{ filter: "NOT took = 1.5" }, is("took", () => true)],
    [{ filter: "year <> 0" }, is("year", () => true)],
    [{ filter: "NOT quarter = 9" }, is("quarter", () => true)],
    [{ filter: "NOT age IN (1.5, 2.5)" }, is("age", () => true)],
    [{ notAged: "../.." }, () => false],
    [{ age: "../.." }, is("age", () => true)],
    // Numbers beyond any that there can be.
    [{ tookAtLeast: "9".repeat(18) }, () => false],
    [{ tookAtMost: "9".repeat(18) }, is("took", () => true)],
    [{ age: "9999999/.." }, () => false],
    [{ age: "../9999999" }, is("age", () => true)],
    [{ age: "-99999999999/3000000" }, is("age", () => true)],
    [{ notAged: "-3000000/3000000" }, () => false],
    [{ filter: "age <> 9999999" }, is("age", () => true)],
    [{ filter: "since <> 9999999" }, is("since", () => true)],
    [{ filter: "since > 3000000" }, () => false],
    [{ filter: "ahead > -9999999 AND ahead < 9999999" }, is("ahead", () => true)],
  ])("%.60j is of no number, or of every one", async (sent, holds) => {
    const expected = (await found({})).filter(holds).map(({ id }) => id);
    expect((await found(sent)).map(({ id }) => id)).toEqual(expected);
  });

  test("is explained, and served by the index of the date that it is worked out of", async () => {
    const explained = await running.client.explain("repairs", { age: "10/20" });
    expect(explained.values).toMatchObject([{ sentence: "age at least 10 and at most 20" }]);
    expect(explained.statements.page.text).toContain("WHERE (`c2` >= ? AND `c2` < ?)");
    const { meta } = await running.client.records("repairs", { age: "10/20" });
    expect(meta.values).toEqual({ age: ["10/20"] });
    expect(meta.sentence).toContain("age at least 10 and at most 20");
    expect(explained.narrowing.steps[0]?.condition).toContain("began 26 January – 5 February 2025");
  });

  test("that is a part of a date has its numbers as choices, in their order", async () => {
    const all = await found({});
    const offer = await running.client.choices("repairs", "quarter", { quarter: "2" });
    const inQuarter = (value: number) => all.filter((shown) => shown.quarter === value).length;
    expect(offer.choices).toEqual(
      [1, 2, 3, 4].map((value) => ({ value, records: inQuarter(value) })),
    );
    expect(offer.blank + offer.unreadable).toBe(
      all.filter(({ quarter }) => quarter === null).length,
    );
    const narrowed = await running.client.choices("repairs", "weekday", {
      quarter: "2",
      search: "7",
    });
    const sundays = all.filter(({ quarter, weekday }) => quarter === 2 && weekday === 7);
    expect(narrowed.choices).toEqual([{ value: 7, records: sundays.length }]);
    const two = await running.client.choices("repairs", "quarter", { limit: "2" });
    expect([two.choices.map(({ value }) => value), two.more]).toEqual([[1, 2], true]);
    const wrong = await refusal(running.client.choices("repairs", "quarter", { limit: "x" }));
    expect(wrong?.faults).toMatchObject([{ parameter: "limit" }]);
    const refused = await refusal(running.client.choices("repairs", "took"));
    expect(refused?.faults).toMatchObject([{ code: "column.notChosen" }]);
  });

  test.each(["year", "quarter", "month", "day", "weekday", "hour", "took", "age", "left"])(
    "%s groups records by the numbers that are shown",
    async (column) => {
      const wanted = new Map<number | null, number>();
      for (const shown of await found({})) {
        const value = number(shown, column);
        wanted.set(value, (wanted.get(value) ?? 0) + 1);
      }
      expect(wanted.size).toBeGreaterThan(2);
      const { groups, grand } = await running.client.summary("repairs", { by: [column] });
      expect(grand.records).toBe(400);
      expect(groups.every(({ of: [value] }) => value === null || typeof value === "number")).toBe(
        true,
      );
      expect(new Map(groups.map(({ of: [value], records }) => [value, records]))).toEqual(wanted);
    },
  );

  test("is measured as other numbers are, within a filter", async () => {
    const sent = { filter: "month <= 6", by: ["quarter"], measure: ["sum:took", "max:age"] };
    const { groups, grand } = await running.client.summary("repairs", sent);
    const records = await found({ filter: sent.filter });
    const numbers = (column: string, of: (shown: Shown) => boolean) =>
      records.filter(of).flatMap((shown) => number(shown, column) ?? []);
    const measured = (of: (shown: Shown) => boolean) => ({
      "sum:took": numbers("took", of).reduce((sum, each) => sum + each, 0),
      "max:age": Math.max(...numbers("age", of)),
    });
    expect(groups.map(({ of, measures }) => [of, measures])).toEqual(
      [1, 2].map((quarter) => [[quarter], measured((shown) => shown.quarter === quarter)]),
    );
    expect(grand.measures).toEqual(measured(() => true));
  });

  test.each([
    ["took"],
    ["-took"],
    ["age"],
    ["-hour"],
    ["quarter", "-took"],
    ["-weekday", "quarter"],
    ["-began", "took"],
  ])("orders records, page by page: %s %s", async (...order) => {
    const sent = { order, size: 37, zone: "America/New_York" };
    const whole = (await found({ ...sent, size: 500 })).map(({ id }) => id);
    const all = await found({ zone: "America/New_York" });
    const keys = order.map((each) => ({
      name: each.replace("-", ""),
      isDown: each.startsWith("-"),
    }));
    const rank = (shown: Shown, name: string) =>
      name === "began" ? Date.parse(textOf(shown[name])) : (number(shown, name) ?? NaN);
    const compared = (a: Shown, b: Shown) => {
      for (const { name, isDown } of keys) {
        const [x, y] = [rank(a, name), rank(b, name)].map((each) =>
          Number.isNaN(each) ? -Infinity : each,
        ) as [number, number];
        if (x !== y) return x < y === isDown ? 1 : -1;
      }
      // Days until now are ordered by their dates, the other way round, and so are the keys.
      const isDown = (keys[0]?.isDown === true) !== (keys[0]?.name === "age");
      return String(a.id) < String(b.id) === isDown ? 1 : -1;
    };
    expect(whole).toEqual([...all].sort(compared).map(({ id }) => id));
    const ids: unknown[] = [];
    let page = await running.client.records("repairs", sent);
    for (let count = 0; count < 20; count++) {
      ids.push(...page.records.map(({ id }) => id));
      if (page.links.next === undefined) break;
      page = await running.client.follow(page.links.next);
    }
    expect(ids).toEqual(whole);
    // The last page is followed back to the first.
    const back: unknown[] = page.records.map(({ id }) => id);
    while (page.links.previous !== undefined && back.length < 500) {
      page = await running.client.follow(page.links.previous);
      back.unshift(...page.records.map(({ id }) => id));
    }
    expect(back).toEqual(whole);
    const numbered = await running.client.records("repairs", { ...sent, page: 3 });
    expect(numbered.records.map(({ id }) => id)).toEqual(whole.slice(74, 111));
  });

  test("that orders is explained, and orders an export and the question of a record too", async () => {
    const sent = { order: "-took", tookAtLeast: "30" };
    const explained = await running.client.explain("repairs", sent);
    expect(explained.sentence).toContain("by took, descending");
    expect(JSON.stringify(explained.plan)).toContain("sorts what it finds");
    const took = (await found(sent)).map((shown) => number(shown, "took") ?? 0);
    expect(took).toEqual([...took].sort((a, b) => b - a));
    expect(took.length).toBeGreaterThan(5);
    const exported = await fetch(
      `${running.service.url}/v1/listings/repairs/records.csv?order=-took&tookAtLeast=30&columns=took`,
      { headers: { authorization: `Bearer ${running.service.key}` } },
    );
    expect((await exported.text()).trim().split(/\r?\n/)).toEqual(["took", ...took.map(String)]);
    const [first] = await found(sent);
    expect(first).toBeDefined();
    const why = await running.client.why("repairs", sent, String(first?.id));
    expect(why.record).toMatchObject({ isIn: true });
  });

  test("that has no number stands where the listing puts blanks", async () => {
    const order = { ...LISTING.order, blanks: "last" } as const;
    await running.client.declareListing("repairs-last", { ...LISTING, order });
    const pages: Shown[] = [];
    let page = await running.client.records("repairs-last", { order: "took", size: 90 });
    pages.push(...page.records);
    while (page.links.next !== undefined) {
      page = await running.client.follow(page.links.next);
      pages.push(...page.records);
    }
    const took = pages.map((shown) => number(shown, "took"));
    expect(took).toHaveLength(400);
    const first = took.indexOf(null);
    expect(took.slice(0, first)).toEqual(took.flatMap((each) => each ?? []).sort((a, b) => a - b));
    expect(took.slice(first).every((each) => each === null)).toBe(true);
  });

  test("that is not shown is no group", async () => {
    const refused = await refusal(running.client.summary("repairs", { by: ["hidden"] }));
    expect(refused?.status).toBe(422);
    expect(refused?.faults).toEqual([
      expect.objectContaining({ code: "column.unknown", value: "hidden" }),
    ]);
  });

  test("moves with the day where it counts to now", async () => {
    const headers = { authorization: `Bearer ${running.service.key}` };
    const { since: _since, ahead: _ahead, hidden: _hidden, ...derived } = LISTING.derived;
    const columns = LISTING.columns.filter((name) => name !== "since" && name !== "ahead");
    const cacheFor = { current: "P3D" };
    await running.client.declareListing("fresh", { ...LISTING, columns, derived, cacheFor });
    const kept = async (query: string) =>
      (
        await fetch(`${running.service.url}/v1/listings/fresh/records?columns=id&${query}`, {
          headers,
        })
      ).headers.get("cache-control");
    expect(await kept("age=10/20")).toBe("private, max-age=43200");
  });

  test("makes an answer that changes every moment where it counts to now from a point in time", async () => {
    const headers = { authorization: `Bearer ${running.service.key}` };
    await running.client.declareListing("moving", { ...LISTING, cacheFor: { current: "P3D" } });
    const address = `${running.service.url}/v1/listings/moving/records?filter=since%20%3E%205`;
    const answer = await fetch(address, { headers });
    expect([answer.status, answer.headers.get("cache-control")]).toEqual([
      200,
      "private, no-cache",
    ]);
  });
});

async function unreadableIds(): Promise<readonly string[]> {
  const { records } = await running.client.records("repairs", { filter: "unreadable(began)" });
  return records.map(({ id }) => String(id));
}
