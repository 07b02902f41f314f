import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaError, type QueryParameters } from "@orisma/client";
import type { RecordsAnswer } from "@orisma/core/internal";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

function ids({ records }: RecordsAnswer): readonly (string | number)[] {
  return records.map(({ id }) => id);
}

async function raised(parameters: QueryParameters) {
  return ids(await running.client.records("works-raised", { size: "100", ...parameters }));
}

async function problem(listing: string, parameters: QueryParameters) {
  const failure: unknown = await running.client
    .records(listing, parameters)
    .catch((error: unknown) => error);
  if (!(failure instanceof OrismaError)) throw new Error("the request was not refused");
  return failure.problem;
}

const ALL = ["W-01", "W-02", "W-03", "W-04", "W-05", "W-06", "W-07", "W-08", "W-09", "W-10"];
const FEBRUARY = ["W-02", "W-03", "W-04", "W-05"];

describe("records of days", () => {
  test("the last day is in, the days around are out, blank and unreadable are out", async () => {
    expect(await raised({ from: "2025-02-01", to: "2025-02-28" })).toEqual(FEBRUARY);
    expect(await raised({ from: "2025-02", to: "2025-02" })).toEqual(FEBRUARY);
  });

  test("one end alone is open on the other side", async () => {
    expect(await raised({ from: "2025-02-28" })).toEqual(["W-04", "W-05", "W-06"]);
    expect(await raised({ to: "2025-02-01" })).toEqual(["W-01", "W-02"]);
  });

  test.each([
    {},
    { from: "" },
    { from: "", to: "" },
    { from: "null" },
    { from: "..", to: ".." },
    { from: "0001-01-01" },
  ])("%j is no condition: everything is there, blanks and unreadables too", async (parameters) => {
    expect([...(await raised(parameters))].sort()).toEqual(ALL);
  });

  test("reversed dates are swapped, and the answer says so", async () => {
    for (const [from, to] of [
      ["2025-02-28", "2025-02-01"],
      ["2025-03-06", "2025-03-05"],
    ] as const) {
      const answer = await running.client.records("works-raised", { from, to });
      expect(answer.meta.notices.map(({ code }) => code)).toEqual(["window.swapped"]);
      expect(answer.meta.values).toEqual({ from: [to], to: [from] });
    }
    expect(await raised({ from: "2025-02-28", to: "2025-02-01" })).toEqual(FEBRUARY);
  });

  test("blanks can be kept, or requested alone; unreadable is never among them", async () => {
    expect(await raised({ from: "2025-03", "from.blank": "include" })).toEqual([
      "W-07",
      "W-08",
      "W-09",
      "W-06",
    ]);
    expect(await raised({ "from.blank": "only" })).toEqual(["W-07", "W-08", "W-09"]);
  });

  test("values have their types, and what could not be read is shown as it came", async () => {
    const answer = await running.client.records("works-raised", { size: "100" });
    const byId = new Map(answer.records.map((record) => [record.id, record]));
    expect(byId.get("W-01")).toEqual({
      id: "W-01",
      order: "W-01",
      raised: "2025-01-31",
      passed: "2025-01-31T23:59:59.999Z",
      cost: 1999,
      note: "the day before",
    });
    expect(byId.get("W-09")).toMatchObject({
      raised: null,
      passed: "2025-02-03T04:30:00Z",
      cost: null,
    });
    expect(byId.get("W-03")).toMatchObject({ passed: "2025-02-14T12:00:00Z", cost: 0 });
    expect(answer.meta.unreadable).toEqual({
      "W-09": { cost: "x9" },
      "W-10": { raised: "31/02/2025", passed: "soon" },
    });
  });
});

describe("records of instants", () => {
  const passed = async (parameters: QueryParameters) =>
    ids(await running.client.records("works-passed", parameters));

  test("the end day is in to its last millisecond, the next midnight is out", async () => {
    expect([...(await passed({ from: "2025-02-01", to: "2025-02-28" }))].sort()).toEqual([
      "W-02",
      "W-03",
      "W-04",
      "W-05",
      "W-09",
    ]);
  });

  test("a bound covers the time that it names, at the precision in which it is written", async () => {
    expect(await passed({ from: "2025-02-28T23:59:59", to: "2025-02-28T23:59:59" })).toEqual([
      "W-05",
    ]);
    expect(
      await passed({ from: "2025-02-28T23:59:59.999", to: "2025-02-28T23:59:59.999Z" }),
    ).toEqual(["W-05"]);
    expect(await passed({ from: "2025-02-28T23:59", to: "2025-02-28T23:59:59.998" })).toEqual([]);
    expect(await passed({ from: "2025-03-01T00:00" })).toEqual(["W-06"]);
  });

  test("a negation leaves the blanks out", async () => {
    const all = await passed({ not: "2025-02-28" });
    expect(all).toContain("W-06");
    expect(all).not.toContain("W-04");
    expect(all).not.toContain("W-07");
    expect(all).not.toContain("W-10");
  });

  test("only declared columns are in the answer, and the newest come first", async () => {
    const { records } = await running.client.records("works-passed", { from: "2025-02-28" });
    expect(records.map((record) => Object.keys(record))).toEqual(
      Array(3).fill(["id", "order", "passed"]),
    );
    expect(records.map(({ id }) => id)).toEqual(["W-06", "W-05", "W-04"]);
  });

  test("reversed dates are refused where the listing says so", async () => {
    expect(await problem("works-passed", { from: "2025-02-28", to: "2025-02-01" })).toMatchObject({
      status: 422,
      faults: [{ code: "window.reversed", parameter: "to" }],
    });
  });
});

describe("totals", () => {
  test("the total is of what is shown, and the unfiltered one of the whole listing", async () => {
    const { meta } = await running.client.records("works-raised", {
      from: "2025-02",
      to: "2025-02",
      with: "unfiltered",
    });
    expect(meta).toMatchObject({
      total: 4,
      totalExact: true,
      unfiltered: { total: 10, totalExact: true },
    });
    expect(meta.sentence).toContain("1–28 February 2025, blank dates excluded");
  });

  test("a page without records has its totals too", async () => {
    const { records, meta } = await running.client.records("works-raised", {
      from: "2031",
      with: "unfiltered",
    });
    expect(records).toEqual([]);
    expect(meta).toMatchObject({ total: 0, totalExact: true, unfiltered: { total: 10 } });
  });

  test("a total can be omitted, or counted to the last", async () => {
    expect((await running.client.records("works-raised", { total: "none" })).meta).toMatchObject({
      total: null,
      totalExact: false,
    });
    expect((await running.client.records("works-raised", { total: "exact" })).meta.total).toBe(10);
  });

  test("a total is bounded as the listing declares, and says where there are more", async () => {
    const { client } = running;
    const counted = async (upTo: number, total = "bounded") => {
      await client.declareListing("counted", {
        source: "works",
        mainDate: "raised",
        total: { upTo },
      });
      const { meta, records } = await client.records("counted", { total, with: "unfiltered" });
      expect([records.length, meta.notices]).toEqual([10, []]);
      return [meta.total, meta.totalExact, meta.unfiltered];
    };
    expect(await counted(9)).toEqual([9, false, { total: 9, totalExact: false }]);
    expect(await counted(10)).toEqual([10, true, { total: 10, totalExact: true }]);
    expect(await counted(9, "exact")).toEqual([10, true, { total: 10, totalExact: true }]);
    const refused = await refusal(counted(0));
    expect(refused?.faults).toMatchObject([{ path: "total.upTo" }]);
    await client.deleteListing("counted");
  });
});

describe("pages", () => {
  test.each(["raised", "-raised", "cost", "-cost"])(
    "joined in the order %s they are the whole, forwards and back",
    async (order) => {
      const whole = ids(await running.client.records("works-raised", { order, size: "100" }));
      expect([...whole].sort()).toEqual(ALL);
      let page = await running.client.records("works-raised", { order });
      expect(page.links.previous).toBeUndefined();
      const forwards = [...ids(page)];
      const pages = [page];
      while (page.links.next !== undefined) {
        page = await running.client.follow(page.links.next);
        pages.push(page);
        forwards.push(...ids(page));
      }
      expect(forwards).toEqual(whole);
      expect(pages).toHaveLength(4);
      for (const expected of pages.slice(0, -1).reverse()) {
        if (page.links.previous === undefined) throw new Error("there is no way back");
        page = await running.client.follow(page.links.previous);
        expect(ids(page)).toEqual(ids(expected));
      }
      expect(page.links.previous).toBeUndefined();
    },
  );

  test("equal keys are distinguished by id, in the direction of the order", async () => {
    const day = { from: "2025-02-28", to: "2025-02-28" };
    expect(await raised({ ...day, order: "raised" })).toEqual(["W-04", "W-05"]);
    expect(await raised({ ...day, order: "-raised" })).toEqual(["W-05", "W-04"]);
  });

  test("a cursor is refused with other parameters, at another listing, changed, or made up", async () => {
    const { links } = await running.client.records("works-raised", { from: "2025-01" });
    const cursor = new URLSearchParams(links.next?.split("?")[1]).get("cursor") ?? "";
    expect(cursor).not.toBe("");
    const codes = async (listing: string, parameters: QueryParameters) =>
      (await problem(listing, parameters))?.faults.map(({ code }) => code);
    expect(await codes("works-raised", { from: "2025-02", cursor })).toEqual(["cursor.otherQuery"]);
    expect(await codes("works-raised", { from: "2025-01", order: "-raised", cursor })).toEqual([
      "cursor.otherQuery",
    ]);
    expect(await codes("works-passed", { cursor })).toEqual(["cursor.unreadable"]);
    for (const bad of [
      "x",
      `${cursor}A`,
      cursor.slice(0, -2),
      "A".repeat(5_000),
      cursor.replace(/^./, (first) => (first === "-" ? "_" : "-")),
    ]) {
      expect(await codes("works-raised", { from: "2025-01", cursor: bad })).toEqual([
        "cursor.unreadable",
      ]);
    }
  });
});

describe("wrong requests", () => {
  test.each<[QueryParameters, object]>([
    [{ from: "31/02/2025" }, { parameter: "from", value: "31/02/2025", code: "date.impossible" }],
    [{ from: "2025-13-01" }, { parameter: "from", value: "2025-13-01", code: "date.impossible" }],
    [{ from: "abc" }, { parameter: "from", value: "abc", code: "window.word" }],
    [{ from: "03/04/2025" }, { parameter: "from", value: "03/04/2025", code: "date.ambiguous" }],
    [
      { from: ["2025-01-01", "2025-02-01"] },
      { parameter: "from", value: "2025-01-01, 2025-02-01", code: "parameter.repeated" },
    ],
    [
      { form: "2025-01-01" },
      { parameter: "form", value: "2025-01-01", code: "parameter.unknown", nearest: ["from"] },
    ],
    [
      { to: "2025-01-31T10:00" },
      {
        parameter: "to",
        value: "2025-01-31T10:00",
        code: "date.timeRefused",
        nearest: ["2025-01-31"],
      },
    ],
    [
      { order: "rased" },
      { parameter: "order", value: "rased", code: "order.unknown", nearest: ["raised"] },
    ],
    [{ size: "0" }, { parameter: "size", value: "0", code: "page.size" }],
    [{ size: "101" }, { parameter: "size", value: "101", code: "page.size" }],
    [{ count: "exact" }, { parameter: "count", code: "parameter.unknown", nearest: ["total"] }],
    [{ total: "capped" }, { parameter: "total", code: "parameter.value", nearest: ["bounded"] }],
    [
      { "from.blank": "keep", from: "2025" },
      { code: "parameter.value", nearest: ["include"] },
    ],
    [{ size: "ten" }, { parameter: "size", value: "ten", code: "page.size" }],
    [
      { total: "all" },
      {
        parameter: "total",
        value: "all",
        code: "parameter.value",
        accepted: "bounded, exact, none",
      },
    ],
    [{ with: "unfilterd" }, { parameter: "with", value: "unfilterd", code: "parameter.value" }],
    [{ limit: "5" }, { parameter: "limit", value: "5", code: "parameter.notAllowed" }],
  ])("%j is a 422 that says what is accepted", async (parameters, fault) => {
    const found = await problem("works-raised", parameters);
    expect(found).toMatchObject({ status: 422, type: "/problems#invalid-value" });
    expect(found?.faults).toHaveLength(1);
    expect(found?.faults[0]).toMatchObject(fault);
    expect(found?.faults[0]?.message).not.toBe("");
  });

  test("every fault is in one answer", async () => {
    const found = await problem("works-raised", {
      from: "abc",
      form: "1",
      to: "2025-02-30",
      size: "x",
    });
    expect(found?.faults.map(({ parameter }) => parameter)).toEqual(["from", "form", "to", "size"]);
  });

  test("an unknown listing names the nearest", async () => {
    expect(await problem("works-rased", {})).toMatchObject({
      status: 404,
      faults: [{ code: "name.unknown", nearest: ["works-raised"] }],
    });
  });
});

describe("two requests side by side", () => {
  const ids = (records: readonly { readonly id: string | number }[]) => records.map(({ id }) => id);

  test("a tighter bound keeps a part, and the removed records are returned", async () => {
    const found = await running.client.compare("works-raised", {
      before: { from: "2025-02-01" },
      after: { from: "2025-02-28" },
    });
    expect([found.before.total, found.after.total, found.removed.total]).toEqual([5, 3, 2]);
    expect(ids(found.removed.records)).toEqual(["W-02", "W-03"]);
    expect(found.added).toEqual({ total: 0, totalExact: true, records: [] });
    expect(found.after.sentence).toContain("from 28 February 2025");
  });

  test("with and without the filter, blanks and unreadables count among the removed", async () => {
    const found = await running.client.compare("works-raised", {
      after: { from: "2025-02-01", "from.blank": "include" },
      size: 100,
    });
    expect([found.before.total, found.after.total]).toEqual([10, 8]);
    expect([...ids(found.removed.records)].sort()).toEqual(["W-01", "W-10"]);
  });

  test("what only the second keeps has come; a fault of either is refused", async () => {
    const { removed, added } = await running.client.compare("works-raised", {
      before: { to: "2025-01" },
      after: { from: "2025-03" },
    });
    expect([ids(removed.records), ids(added.records)]).toEqual([["W-01"], ["W-06"]]);
    const bad = running.client.compare("works-raised", { after: { from: "31/02/2025" } });
    expect((await refusal(bad))?.faults[0]?.parameter).toBe("from");
  });
});

describe("several requests counted", () => {
  test("each is the number of its own records, in order; only the invalid one is a fault", async () => {
    const requests = [{}, { from: "2025-02" }, { from: "31/02/2025" }, { from: "2031" }];
    const found = await running.client.counts("works-raised", requests);
    expect(found.map(({ total }) => total)).toEqual([
      (await running.client.records("works-raised", {})).meta.total,
      (await running.client.records("works-raised", { from: "2025-02" })).meta.total,
      null,
      0,
    ]);
    expect(found[1]?.total).toBeLessThan(found[0]?.total ?? 0);
    expect(found[2]?.faults).toMatchObject([{ parameter: "from" }]);
  });

  test("no more than a hundred, and one at least", async () => {
    for (const requests of [[], Array.from({ length: 101 }, () => ({}))]) {
      await expect(running.client.counts("works-raised", requests)).rejects.toMatchObject({
        status: 422,
      });
    }
  });
});

describe("explain", () => {
  test("shows what was requested, what it means in both clocks, and the statements", async () => {
    const explanation = await running.client.explain("works-raised", {
      from: "2025-07-01",
      to: "2025-07",
    });
    expect(explanation.conditions).toMatchObject([
      {
        column: "raised",
        parameters: [
          { parameter: "from", sent: "2025-07-01", canonical: "2025-07-01/.." },
          { parameter: "to", sent: "2025-07", canonical: "../2025-07" },
        ],
        intervals: [
          {
            startLocal: "2025-07-01T00:00:00",
            endLocal: "2025-08-01T00:00:00",
            start: "2025-06-30T23:00:00Z",
            end: "2025-07-31T23:00:00Z",
          },
        ],
        recurring: [],
      },
    ]);
    const { page, count } = explanation.statements;
    expect(page.values).toEqual(expect.arrayContaining(["2025-07-01", "2025-08-01"]));
    expect(count?.text).toContain("WHERE (`c2` >= ? AND `c2` < ?)");
    expect(explanation.names).toMatchObject({ c2: "raised" });
  });

  test("no value changes the text of a statement", async () => {
    const textFor = async (to: string) => {
      const explained = await running.client
        .explain("works-raised", { to })
        .catch((error: unknown) => error);
      return explained instanceof OrismaError
        ? explained.status
        : (explained as { statements: { page: { text: string } } }).statements.page.text;
    };
    const text = await textFor("2025-01-31");
    expect(await textFor("2024")).toBe(text);
    for (const hostile of [
      "2025-01-31' OR '1'='1",
      "2025-01-31; DROP TABLE sources",
      "\\'",
      "` OR 1=1 -- ",
      "%00",
      "2025-01-31\0",
    ]) {
      expect(await textFor(hostile)).toBe(422);
    }
    expect(await raised({ from: "2025-02", to: "2025-02" })).toEqual(FEBRUARY);
  });
});
