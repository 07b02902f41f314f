import { declarationOf } from "@orisma/client/declaration";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { startTestService, type TestService } from "../../../test/service.js";

const PRIORITIES = ["high", "medium", "low", ""];

/** Works over three years, one a day and a half on average, with gaps, blanks and bad dates. */
const WORKS = Array.from({ length: 700 }, (_, index) => {
  const ms = Date.UTC(2023, 2, 20) + ((index * 7919) % 900) * 86_400_000;
  const day = new Date(ms).toISOString().slice(0, 10);
  return {
    ref: `W-${String(index).padStart(3, "0")}`,
    raised: index % 40 === 0 ? "" : index % 41 === 0 ? "soon" : day,
    priority: PRIORITIES[(index * 13) % 4] ?? "",
    cost: index % 10 === 0 ? "" : String((index * 37) % 5_000),
    secret: index % 3 === 0 ? "yes" : "no",
    // In London the clocks go forward on 26 March 2023.
    passed: new Date(Date.UTC(2023, 2, 25, 22) + index * 600_000).toISOString(),
  };
});
type Work = (typeof WORKS)[number];

/** A cost in pence that some work has which is shown, and the same in pounds. */
const PENCE = WORKS.find(({ cost, secret }) => secret === "no" && cost.length > 2)?.cost ?? "";
const DEAR = String(Number(PENCE) / 100);

let running: TestService;
beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 5, 1) });
  const { client } = running;
  const text = { encoding: "text" } as const;
  await client.createSource({
    name: "works",
    key: "ref",
    columns: {
      raised: { type: "date", reading: { kind: "date", ...text, patterns: ["yyyy-MM-dd"] } },
      passed: { type: "date", reading: { kind: "instant", ...text } },
      cost: { type: "integer" },
      secret: { type: "boolean" },
    },
  });
  const lines = WORKS.map((work) => JSON.stringify(work)).join("\n");
  await client.importFile("works", new TextEncoder().encode(lines));
  const listing = {
    source: "works",
    zone: "Europe/London",
    fixedFilter: "secret = FALSE",
    columns: ["ref", "raised", "priority", "cost", "passed"],
    units: { cost: { scale: 2 } },
    choices: {
      priority: { groups: { pressing: ["high", "medium"] }, disabled: ["low"] },
      cost: { groups: { free: [0], dear: [DEAR] }, hidden: [12_345] },
    },
    parameters: [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
      { name: "priority", type: "several", column: "priority", comparison: "among" },
      { name: "least", type: "decimal", column: "cost", comparison: "atLeast" },
      { name: "passed", type: "window", column: "passed", comparison: "on" },
    ],
  } as const;
  await client.declareListing("works", { ...listing, mainDate: "raised" });
  await client.declareListing("secrets", {
    source: "works",
    mainDate: "raised",
    choices: { secret: { groups: { both: ["yes", "no"] } } },
  });
  await client.declareListing("passed", { ...listing, mainDate: "passed" });
});
afterAll(() => running.end());

async function get<T>(path: string): Promise<T> {
  const headers = { authorization: `Bearer ${running.service.key}` };
  const response = await fetch(`${running.service.url}/v1/listings/${path}`, { headers });
  return (await response.json()) as T;
}

const OPEN = WORKS.filter(({ secret }) => secret === "no");
const count = (holds: (work: Work) => boolean) => OPEN.filter(holds).length;
const isIn = ({ raised }: Work, from: string, to: string) =>
  /^\d/.test(raised) && raised >= from && raised <= to;

interface Choices {
  readonly choices: readonly {
    readonly value: unknown;
    readonly records: number;
    readonly disabled?: true;
  }[];
  readonly groups: readonly unknown[];
  readonly blank: number;
  readonly more: boolean;
  readonly faults?: readonly { readonly code: string }[];
}

describe("choices", () => {
  test("follow the other conditions and not their own, inside what the listing fixes", async () => {
    const found = await get<Choices>("works/choices/priority?from=2024&to=2024&priority=low");
    const in2024 = (priority: string) =>
      count((work) => isIn(work, "2024-01-01", "2024-12-31") && work.priority === priority);
    const answer = Object.fromEntries(
      found.choices.map(({ value, records }) => [String(value), records] as const),
    );
    expect(answer).toEqual({ high: in2024("high"), medium: in2024("medium"), low: in2024("low") });
    expect(found.blank).toBe(in2024(""));
    expect(found.choices.find(({ value }) => value === "low")?.disabled).toBe(true);
    expect(found.groups).toEqual([
      { name: "pressing", values: ["high", "medium"], records: in2024("high") + in2024("medium") },
    ]);
  });

  test("of numbers and of yes and no are searched and grouped as what they are", async () => {
    const searched = await get<Choices>(`works/choices/cost?search=${DEAR}`);
    expect(searched.choices.map(({ value }) => value)).toEqual([Number(DEAR)]);
    expect((await get<Choices>("works/choices/cost?search=dear")).choices).toEqual([]);
    expect(searched.groups).toEqual([
      { name: "free", values: [0], records: count((work) => work.cost === "0") },
      { name: "dear", values: [Number(DEAR)], records: count((work) => work.cost === PENCE) },
    ]);
    const yes = await get<Choices>("secrets/choices/secret?search=YES");
    expect(yes.choices).toEqual([
      { value: true, records: WORKS.filter(({ secret }) => secret === "yes").length },
    ]);
    expect(yes.groups).toEqual([{ name: "both", values: [true, false], records: WORKS.length }]);
    expect((await get<Choices>("secrets/choices/secret?search=perhaps")).choices).toEqual([]);
  });

  test("are searched, cut with a word of it, and refused for dates and hidden columns", async () => {
    const found = await get<Choices>("works/choices/priority?search=ED&limit=1");
    expect(found.choices.map(({ value }) => value)).toEqual(["medium"]);
    const one = await get<Choices>("works/choices/priority?limit=1");
    expect([one.choices.length, one.more]).toEqual([1, true]);
    const costs = await get<Choices>("works/choices/cost?least=49");
    expect(costs.choices.every(({ value }) => typeof value === "number" && value < 50)).toBe(true);
    // Its own condition is not counted.
    expect(costs.more).toBe(true);
    expect((await get<Choices>("works/choices/raised")).faults?.[0]?.code).toBe("column.notChosen");
    expect((await get<Choices>("works/choices/secret")).faults?.[0]?.code).toBe("column.unknown");
  });
});

interface Timeline {
  readonly unit: string;
  readonly buckets: readonly {
    readonly startLocal: string;
    readonly start: string;
    readonly records: number;
  }[];
  readonly empty: number;
  readonly blank: number;
  readonly before: { readonly start: string; readonly records: number } | null;
  readonly faults?: readonly { readonly accepted?: string }[];
}

describe("long strings", () => {
  test("that begin alike are distinguished, in choices and in summaries", async () => {
    const { client } = running;
    const long = "The paddle gear is stiff. ".repeat(20);
    await client.createSource({
      name: "remarks",
      columns: { made: { type: "date", reading: { kind: "date", encoding: "text" } } },
    });
    const lines = [`${long}Grease it.`, `${long}Mend it.`, `${long}Mend it.`, "Short."];
    const csv = lines.map((line) => `2025-01-01,${line}`).join("\n");
    await client.importFile("remarks", `made,remark\n${csv}\n`);
    await client.declareListing("remarks", { source: "remarks", mainDate: "made" });
    const { choices } = await client.choices("remarks", "remark");
    expect(choices.map(({ records }) => records)).toEqual([2, 1, 1]);
    expect(choices[0]?.value).toBe(`${long}Mend it.`);
    const { groups, grand } = await client.summary("remarks", { by: "remark" });
    expect([groups.length, grand.records]).toEqual([3, 4]);
  });
});

describe("timeline", () => {
  test("counts every month of a window, empty days too, and the period before", async () => {
    const found = await get<Timeline>("works/timeline?from=2024-02&to=2024-04&unit=month");
    const month = (name: string) => count((work) => isIn(work, `${name}-01`, `${name}-31`));
    expect(
      found.buckets.map(({ startLocal, records }) => [startLocal.slice(0, 10), records]),
    ).toEqual([
      ["2024-02-01", month("2024-02")],
      ["2024-03-01", month("2024-03")],
      ["2024-04-01", month("2024-04")],
    ]);
    expect(found.blank).toBe(count(({ raised }) => raised === ""));
    expect(found.before?.records).toBe(month("2023-11") + month("2023-12") + month("2024-01"));
    const days = await get<Timeline>("works/timeline?from=2024-02&to=2024-02");
    expect([days.unit, days.buckets.length]).toEqual(["day", 29]);
    const empty = days.buckets.filter(({ startLocal }) => {
      const day = startLocal.slice(0, 10);
      return count((work) => work.raised === day) === 0;
    });
    expect(days.empty).toBe(empty.length);
  });

  test("without a window covers the dates that there are, and reports blanks", async () => {
    const found = await get<Timeline>("works/timeline");
    const total = found.buckets.reduce((sum, { records }) => sum + records, 0);
    expect(total).toBe(count(({ raised }) => /^\d/.test(raised)));
    expect(found.blank).toBe(count(({ raised }) => raised === ""));
    expect(found.before).toBe(null);
  });

  test("cuts days in the listing's zone: one of 23 hours when the clocks go forward", async () => {
    const found = await get<Timeline>("passed/timeline?passed=2023-03-26&unit=hour");
    expect(found.buckets).toHaveLength(23);
    const day = await get<Timeline>("passed/timeline?passed=2023-03-25/2023-03-27&unit=day");
    const at = (from: string, to: string) => count(({ passed }) => passed >= from && passed < to);
    expect(day.buckets.map(({ records }) => records)).toEqual([
      at("2023-03-25T00:00", "2023-03-26T00:00"),
      at("2023-03-26T00:00", "2023-03-26T23:00"),
      at("2023-03-26T23:00", "2023-03-27T23:00"),
    ]);
  });

  test("refuses more units than can be reported, and unknown ones", async () => {
    const hours = await get<Timeline>("works/timeline?from=2000&to=2024&unit=hour");
    expect(hours.faults?.[0]?.accepted).toContain("coarser");
    const odd = await get<Timeline>("works/timeline?unit=fortnight");
    expect(odd.faults?.[0]?.accepted).toContain("week");
  });
});

interface Summary {
  readonly groups: readonly {
    readonly of: readonly unknown[];
    readonly records: number;
    readonly measures: Readonly<Record<string, number | null>>;
  }[];
  readonly totals: readonly (readonly Summary["groups"][number][])[];
  readonly grand: Summary["groups"][number];
  readonly faults?: readonly { readonly code: string }[];
}

describe("summary", () => {
  test("has rows, columns and a grand total that add up, blanks as a group", async () => {
    const found = await get<Summary>(
      "works/summary?by=priority&by=raised:year&measure=sum:cost&measure=max:cost",
    );
    const sum = (groups: Summary["groups"]) =>
      groups.reduce((total, { records }) => total + records, 0);
    expect(sum(found.groups)).toBe(OPEN.length);
    expect(found.totals.map(sum)).toEqual([OPEN.length, OPEN.length]);
    expect(found.grand.records).toBe(OPEN.length);
    const cents = OPEN.reduce((total, { cost }) => total + Number(cost), 0);
    expect(found.grand.measures["sum:cost"]).toBe(cents / 100);
    const high = found.groups.filter(({ of }) => of[0] === "high" && of[1] === "2024-01-01");
    const wanted = OPEN.filter(
      (work) => work.priority === "high" && isIn(work, "2024-01-01", "2024-12-31"),
    );
    expect(high).toHaveLength(1);
    expect(high[0]?.records).toBe(wanted.length);
    expect(high[0]?.measures["max:cost"]).toBe(
      Math.max(...wanted.map(({ cost }) => Number(cost))) / 100,
    );
    expect(found.groups.some(({ of }) => of[0] === null)).toBe(true);
  });

  test("of nothing is nothing, and what is not shown is not summarised", async () => {
    const none = await get<Summary>("works/summary?by=priority&from=2030&measure=sum:cost");
    expect([none.groups, none.grand]).toEqual([
      [],
      { of: [], records: 0, measures: { "sum:cost": null } },
    ]);
    const codes = async (query: string) =>
      (await get<Summary>(`works/summary?${query}`)).faults?.map(({ code }) => code);
    expect(await codes("by=secret")).toEqual(["column.unknown"]);
    expect(await codes("by=raised")).toEqual(["parameter.value"]);
    expect(await codes("by=priority&measure=sum:priority")).toEqual(["column.notNumber"]);
    expect(await codes("by=priority&measure=sum:secret&measure=total:cost")).toEqual([
      "column.unknown",
      "parameter.value",
    ]);
    expect(await codes("by=priority&by=ref&by=priority")).toEqual(["parameter.value"]);
  });
});

describe("extent", () => {
  test("is that of the records requested, for every date that is shown", async () => {
    const found = await get<{ extent: Record<string, unknown> }>(
      "works/extent?from=2024&to=2024-06",
    );
    const dates = OPEN.map(({ raised }) => raised)
      .filter((raised) => raised >= "2024" && raised <= "2024-06-30" && /^\d/.test(raised))
      .sort();
    expect(found.extent.raised).toEqual({ first: dates[0], last: dates.at(-1) });
    expect(Object.keys(found.extent)).toEqual(["raised", "passed"]);
    const { meta } = await running.client.records("works", {
      from: "2024",
      to: "2024-06",
      with: "extent",
    });
    expect(meta.extent).toEqual({ first: dates[0], last: dates.at(-1) });
  });

  test("stands in parameters whose default it is, and is no condition until it is changed", async () => {
    const parameters = [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
      { name: "passed", type: "window", column: "passed", comparison: "on" },
    ] as const;
    await running.client.declareListing("extents", {
      source: "works",
      zone: "Europe/London",
      mainDate: "raised",
      fixedFilter: "secret = FALSE",
      parameters: parameters.map((each) => ({ ...each, default: "extent" })),
    });
    const days = OPEN.map(({ raised }) => raised).filter((raised) => /^\d/.test(raised));
    days.sort();
    const { meta } = await running.client.records("extents", { total: "exact" });
    expect(meta.shown).toMatchObject({ from: days[0], to: days.at(-1) });
    expect(meta.shown?.passed).toMatch(/^\d{4}-\d\d-\d\d\/\d{4}-\d\d-\d\d$/);
    // Blanks are in: nothing is requested.
    expect([meta.total, meta.windows]).toEqual([OPEN.length, []]);
    const requested = await running.client.records("extents", { from: days[0] ?? "" });
    expect(requested.meta.shown).not.toHaveProperty("from");
    expect(requested.meta.total).toBe(days.length);
  });
});

describe("the days of an answer", () => {
  test("are those of its window that have a record, and those that have none", async () => {
    const requested = { from: "2024-02", to: "2024-03" };
    const { meta } = await running.client.records("works", { ...requested, with: "days" });
    const days = new Set(
      OPEN.map(({ raised }) => raised).filter((day) => day >= "2024-02" && day < "2024-04"),
    );
    expect(days.size).toBeGreaterThan(0);
    expect(meta.days).toEqual({ present: days.size, absent: 60 - days.size });
    const { empty } = await running.client.timeline("works", { ...requested, unit: "day" });
    expect(meta.days?.absent).toBe(empty);
  });

  test("are none of an empty answer without a window", async () => {
    const { meta } = await running.client.records("works", { "from.blank": "only", with: "days" });
    expect(meta.days).toEqual({ present: 0, absent: 0 });
  });
});

describe("what a caller used recently", () => {
  const recent = async (client: OrismaClient, column = "priority") =>
    (await client.choices("works", column)).recent?.map(({ value }) => value);

  test("is shown to that caller only, the latest first, with what it would give now", async () => {
    const { client, service } = running;
    const { key } = await client.createKey({ name: "another", role: "reader" });
    const other = new OrismaClient({ url: service.url, key });
    expect(await recent(other)).toBeUndefined();
    await other.records("works", { priority: ["medium"] });
    await other.records("works", { priority: ["high", "medium"] });
    expect(await recent(other)).toEqual(["high", "medium"]);
    const { choices, recent: answer } = await other.choices("works", "priority", { from: "2025" });
    const high = choices.find(({ value }) => value === "high");
    expect(answer?.[0]).toEqual({ value: "high", records: high?.records });
    const { key: third } = await client.createKey({ name: "third", role: "reader" });
    expect(await recent(new OrismaClient({ url: service.url, key: third }))).toBeUndefined();
  });

  test("has neither what is disabled nor what there is not, and can be switched off", async () => {
    const { client, service } = running;
    const { key } = await client.createKey({ name: "fourth", role: "reader" });
    const other = new OrismaClient({ url: service.url, key });
    await other.records("works", { priority: ["low", "none such", "medium"] });
    expect(await recent(other)).toEqual(["medium"]);
    const works = declarationOf(await client.listing("works"));
    const choices = { ...works.choices, priority: { recent: false } };
    await client.declareListing("works", { ...works, choices });
    expect(await recent(other)).toBeUndefined();
    await client.declareListing("works", works);
    expect(await recent(other)).toEqual(["medium"]);
  });

  test("outlives the service", async () => {
    const { client, login } = running;
    const { key } = await client.createKey({ name: "fifth", role: "reader" });
    const other = new OrismaClient({ url: running.service.url, key });
    await other.records("works", { priority: ["high"] });
    await running.end();
    running = await startTestService({ now: () => Date.UTC(2025, 5, 1), login });
    expect(await recent(new OrismaClient({ url: running.service.url, key }))).toEqual(["high"]);
  });
});
