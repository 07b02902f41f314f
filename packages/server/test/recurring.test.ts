import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;

/** A century of Saturdays is in no list: one date far off on either side made all of it a fault. */
const RECORDS = [
  ["sunday", "2025-02-16", "2025-02-16T12:30:00Z"],
  ["monday", "2025-02-17", "2025-02-17T00:30:00Z"],
  ["saturday", "2024-06-01", "2024-06-01T23:30:00Z"],
  ["first", "1800-01-01", "1800-01-01T12:00:00Z"],
  ["last", "9999-12-31", "9999-12-31T23:59:59.999Z"],
  ["never", "", ""],
] as const;

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 1, 18, 12) });
  await running.client.createSource({
    name: "far",
    key: "id",
    columns: {
      day: { type: "date", reading: { kind: "date", encoding: "text" } },
      at: { type: "date", reading: { kind: "instant", encoding: "text" } },
    },
  });
  const csv = ["id,day,at", ...RECORDS.map((each) => each.join(","))].join("\n");
  await running.client.importFile("far", csv);
  await running.client.declareListing("far", {
    source: "far",
    zone: "Europe/London",
    mainDate: "day",
    order: { allowed: ["day", "at"], default: "day" },
    parameters: [
      { name: "day", type: "window", column: "day", comparison: "on" },
      { name: "at", type: "window", column: "at", comparison: "on" },
    ],
    filter: { columns: "all" },
  });
});
afterAll(() => running.end());

async function kept(parameters: Readonly<Record<string, string>>): Promise<string> {
  const { records, meta } = await running.client.records("far", { ...parameters, total: "exact" });
  expect(meta.total).toBe(records.length);
  return records.map(({ id }) => id).join(" ");
}

describe("recurring rules over dates that lie far apart", () => {
  test.each([
    ["weekday(day) IN (6, 7)", "saturday sunday"],
    ["weekday(day) = 3", "first"],
    ["day >= DATE('2024') AND weekday(day) = 6", "saturday"],
    ["day >= DATE('2024') AND weekday(day) = 5", "last"],
    ["hour(at) = 12", "sunday"],
    // The clocks of London were 75 seconds behind.
    ["hour(at) = 11", "first"],
    // In London it is an hour later in summer, and the last moment is one of winter.
    ["hour(at) = 0", "saturday monday"],
    ["hour(at) = 23", "last"],
    ["weekday(at) = 7", "saturday sunday"],
    ["NOT inWindow(day, '1990/2099;BYDAY=MO,WE,FR')", "first saturday sunday last"],
    ["NOT inWindow(at, '1700/9999;BYHOUR=9..23')", "saturday monday"],
  ])("%s keeps %s", async (filter, expected) => {
    expect(await kept({ filter })).toBe(expected);
  });

  test.each([
    ["../..;BYDAY=SA,SU", "saturday sunday"],
    ["0001/9999;BYMONTH=12", "last"],
    ["1960/2030;BYDAY=MO,WE,FR", "monday"],
    ["2010/2030;BYWEEKNO=7", "sunday"],
    ["../..;BYYEARDAY=-1,1", "first last"],
  ])("the window %s keeps %s", async (day, expected) => {
    expect(await kept({ day })).toBe(expected);
    expect(await kept({ filter: `inWindow(day, '${day}')` })).toBe(expected);
  });

  test("pages of one record each are the same records, in either direction", async () => {
    for (const order of ["day", "-day"]) {
      const ids: unknown[] = [];
      let page = await running.client.records("far", {
        day: "../..;BYMONTHDAY=1..31",
        order,
        size: "1",
      });
      for (;;) {
        ids.push(...page.records.map(({ id }) => id));
        if (page.links.next === undefined) break;
        page = await running.client.follow(page.links.next);
      }
      const expected = ["first", "saturday", "sunday", "monday", "last"];
      expect(ids).toEqual(order === "day" ? expected : expected.reverse());
    }
  });

  test("are explained, counted and compared as every other condition", async () => {
    const explained = await running.client.explain("far", { day: "1960/9999;BYDAY=SA,SU" });
    expect(explained.narrowing.steps).toMatchObject([{ alone: 2, inTurn: 2 }]);
    expect(explained.conditions[0]?.recurring).toMatchObject([{ parts: ["BYDAY=SA,SU"] }]);
    expect(explained.neighbours).toMatchObject([{ edge: "start" }, { edge: "end" }]);
    const timeline = await running.client.timeline("far", {
      day: "1960/9999;BYDAY=SA",
      unit: "year",
    });
    expect(timeline.buckets.reduce((sum, { records }) => sum + records, 0)).toBe(1);
  });
});
