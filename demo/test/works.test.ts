import { describe, expect, test } from "@jest/globals";
import { DEMO_SEED, workOrders, worksCsv } from "@orisma/demo";

/** 25 November 2026. */
const TODAY = 20_782;

describe("the work orders", () => {
  const orders = workOrders(DEMO_SEED, TODAY);

  test("are 2,400 over four years, with some always ahead", () => {
    expect(orders).toHaveLength(2_400);
    expect(new Set(orders.map(({ order }) => order)).size).toBe(2_400);
    expect(orders[0]?.order.slice(0, 4)).toBe("W-22");
    expect(orders.filter(({ status }) => status === "planned").length).toBeGreaterThan(3);
    for (let day = TODAY; day < TODAY + 200; day += 20) {
      const ahead = workOrders(DEMO_SEED, day).filter(({ status }) => status === "planned");
      expect(ahead.length).toBeGreaterThan(0);
    }
  });

  test("are blank in three spellings, and a handful are on days that never were", () => {
    const odd = orders
      .map(({ reported_on: raised }) => raised)
      .filter((raised) => !/^\d/.test(raised));
    expect([...new Set(odd)].sort()).toEqual(["", "N/A", "tbc"]);
    const impossible = orders.filter(({ reported_on: raised }) =>
      /^(?:3[01]\/02|31\/(?:06|11))/.test(raised),
    );
    expect(impossible.length).toBeGreaterThanOrEqual(3);
    expect(impossible.length).toBeLessThanOrEqual(15);
  });

  test("are a function of seed and day: the past stays as it was", () => {
    expect(worksCsv(DEMO_SEED, TODAY)).toBe(worksCsv(DEMO_SEED, TODAY));
    expect(worksCsv(DEMO_SEED + 1, TODAY)).not.toBe(worksCsv(DEMO_SEED, TODAY));
    const february = (day: number) =>
      workOrders(DEMO_SEED, day).filter(({ reported_on: raised }) => raised.endsWith("/02/2025"));
    expect(february(TODAY).length).toBeGreaterThan(20);
    expect(february(TODAY + 100)).toEqual(february(TODAY));
  });
});
