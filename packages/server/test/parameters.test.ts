import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing, QueryParameters } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { SMALL, SMALL_CSV } from "../../../test/works.js";

/** Saturday 15 February 2025, 12:00:00 in London; the test of another day moves it. */
const NOW = Date.UTC(2025, 1, 15, 12);
const clock = { now: NOW };

let running: TestService;

const LISTING: NewListing = {
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  columns: ["order", "raised"],
  order: { allowed: ["raised", "passed"], default: "raised" },
  parameters: [
    { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
    { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
    { name: "raised", type: "window", column: "raised", comparison: "on" },
    { name: "notRaised", type: "window", column: "raised", comparison: "notOn" },
    { name: "passed", type: "window", column: "passed", comparison: "on" },
    { name: "passedFrom", type: "datetime", column: "passed", comparison: "from" },
    { name: "passedTo", type: "datetime", column: "passed", comparison: "to" },
    {
      name: "day",
      type: "date",
      column: "raised",
      comparison: "on",
      accepts: { encoding: "text", patterns: ["dd/MM/yyyy"] },
      fields: { year: "year", month: "month", day: "dayOfMonth" },
    },
    {
      name: "short",
      type: "window",
      column: "raised",
      comparison: "on",
      limits: { earliest: "2025-01", latest: "today+P1M", longest: "P1M" },
    },
  ],
};

beforeAll(async () => {
  running = await startTestService({ now: () => clock.now });
  await running.client.createSource(SMALL);
  await running.client.importFile("works", SMALL_CSV);
  await running.client.declareListing("works", LISTING);
});
afterAll(() => running.end());

async function orders(parameters: QueryParameters): Promise<string> {
  const { records } = await running.client.records("works", parameters);
  return records.map(({ id }) => String(id).slice(2)).join(" ");
}

const ALL = "07 08 09 10 01 02 03 04 05 06";

describe("dates that move", () => {
  test.each<[QueryParameters, string]>([
    [{ from: "today-P1D" }, "03 04 05 06"],
    [{ from: "month", to: "now" }, "02 03"],
    [{ to: "month-1" }, "01"],
    [{ raised: "month" }, "02 03 04 05"],
    [{ raised: "month-1/yesterday" }, "01 02 03"],
    [{ raised: "P15D/today" }, "02 03"],
    [{ notRaised: "month" }, "01 06"],
    [{ raised: "2025-01|2025-03" }, "01 06"],
    [{ raised: "../..;BYMONTH=2" }, "02 03 04 05"],
    [{ raised: "../..;BYMONTHDAY=-1" }, "01 04 05"],
    [{ notRaised: "../..;BYMONTHDAY=-1" }, "02 03 06"],
    [{ raised: "2025;BYDAY=FR" }, "01 03 04 05"],
    [{ passed: "now-P2D/now" }, "03"],
    [{ passed: "../..;BYHOUR=12" }, "03"],
    [{ passedFrom: "now" }, "04 05 06"],
    [{ passedTo: "now", raised: ".." }, "09 01 02 03"],
    [{ "raised.blank": "include", raised: "month-1" }, "07 08 09 01"],
  ])("%j keeps %s", async (parameters, expected) => {
    expect(await orders(parameters)).toBe(expected);
  });

  test("run on two days, the same request gives two right answers", async () => {
    const requested = { raised: "month-1" };
    expect(await orders(requested)).toBe("01");
    clock.now = Date.UTC(2025, 2, 1);
    expect(await orders(requested)).toBe("02 03 04 05");
    clock.now = NOW;
  });

  test("every page of an answer has the window of the first, though the month has turned", async () => {
    const first = await running.client.records("works", { raised: "month", size: "3" });
    expect(first.records.map(({ id }) => id)).toEqual(["W-02", "W-03", "W-04"]);
    const cursor = new URLSearchParams(first.links.next?.split("?")[1]).get("cursor") ?? "";
    clock.now = Date.UTC(2025, 2, 1);
    const requested = { raised: "month", size: "3", cursor };
    const second = await running.client.records("works", requested);
    expect(second.records.map(({ id }) => id)).toEqual(["W-05"]);
    expect(second.meta.windows[0]).toMatchObject({ startLocal: "2025-02-01T00:00:00" });
    clock.now = NOW;
  });

  test("the ETag stays while a moving edge passes over nothing, and changes when it does", async () => {
    const etag = async () => {
      const address = `${running.service.url}/v1/listings/works/records?passed=month/now`;
      const headers = { Authorization: `Bearer ${running.service.key}` };
      return (await fetch(address, { headers })).headers.get("etag");
    };
    const before = await etag();
    clock.now = NOW + 60_000;
    expect(await etag()).toBe(before);
    clock.now = Date.UTC(2025, 1, 28, 12);
    expect(await etag()).not.toBe(before);
    clock.now = NOW;
  });

  test("an empty window says why", async () => {
    const { records, meta } = await running.client.records("works", { raised: "month.31" });
    expect(records).toEqual([]);
    expect(meta.total).toBe(0);
    expect(meta.notices).toMatchObject([{ code: "window.lacksDay" }]);
    const begun = await running.client.records("works", { from: "month.20", to: "today" });
    expect([begun.records, begun.meta.notices[0]?.code]).toEqual([[], "window.notBegun"]);
  });

  test("meta reports the intervals, the sentence both dates and how they were written", async () => {
    const { meta } = await running.client.records("works", { raised: "2025-01|month+1" });
    expect(meta.values).toEqual({ raised: ["2025-01|month+1"] });
    expect(meta.windows[0]).toMatchObject({
      column: "raised",
      canonical: "2025-01|month+1",
      startLocal: "2025-01-01T00:00:00",
      endLocal: "2025-04-01T00:00:00",
      intervals: [{ endLocal: "2025-02-01T00:00:00" }, { startLocal: "2025-03-01T00:00:00" }],
    });
    expect(meta.sentence).toContain("(2025-01|month+1), blank dates excluded");
  });

  test("explain shows recurring rules, and what is sent to the database", async () => {
    const { conditions, statements } = await running.client.explain("works", {
      raised: "../..;BYMONTH=2",
    });
    expect(conditions).toMatchObject([
      { intervals: [], recurring: [{ start: null, end: null, parts: ["BYMONTH=2"] }] },
    ]);
    expect(statements.page.values).toEqual(expect.arrayContaining(["2025-02-01", "2025-03-01"]));
  });
});

describe("forms, fields and limits", () => {
  test.each<[QueryParameters, string]>([
    [{ day: "28/02/2025" }, "04 05"],
    [{ day: "2025-02" }, "02 03 04 05"],
    [{ year: "2025", month: "2" }, "02 03 04 05"],
    [{ year: "2025", month: "02", dayOfMonth: "28" }, "04 05"],
    [{ year: "2025", month: "", dayOfMonth: "" }, "01 02 03 04 05 06"],
    [{ year: "", month: "" }, ALL],
    [{ short: "month" }, "02 03 04 05"],
  ])("%j keeps %s", async (parameters, expected) => {
    expect(await orders(parameters)).toBe(expected);
  });

  test.each<[QueryParameters, string, string]>([
    [{ day: "31/02/2025" }, "day", "date.impossible"],
    [{ day: "2025/02/28" }, "day", "date.pattern"],
    [{ year: "2025", month: "13" }, "month", "field.value"],
    [{ year: "2", month: "2025" }, "year", "field.value"],
    [{ month: "2" }, "month", "field.missing"],
    [{ year: "2025", month: "2", dayOfMonth: "30" }, "day", "date.impossible"],
    [{ short: "2024-12" }, "short", "window.outOfLimits"],
    [{ short: "month+2" }, "short", "window.outOfLimits"],
    [{ short: "month-1/month" }, "short", "window.longerThan"],
    [{ short: "2025/.." }, "short", "window.openEnd"],
    [{ raised: "now-PT1H/now" }, "raised", "column.finerThanDay"],
    [{ from: "month-1/now" }, "from", "window.oneDate"],
    [{ raised: "monht" }, "raised", "window.word"],
  ])("%j is a 422 that names %s and says what is accepted", async (parameters, name, code) => {
    const found = await refusal(running.client.records("works", parameters));
    expect(found?.status).toBe(422);
    expect(found?.faults[0]).toMatchObject({ parameter: name, code });
    expect(found?.faults[0]?.accepted).not.toBe("");
  });

  test("a refusal names the patterns that the listing declares, and only where it does", async () => {
    const accepted = async (query: QueryParameters) =>
      (await refusal(running.client.records("works", query)))?.faults[0]?.accepted;
    expect(await accepted({ day: "31/02/2025" })).toMatch(/^dd\/MM\/yyyy, or an ISO 8601 date/);
    expect(await accepted({ day: "soon" })).toMatch(/^dd\/MM\/yyyy, or /);
    expect(await accepted({ passedFrom: "soon" })).toMatch(/^an ISO 8601 date/);
  });

  test("which windows go with which columns and comparisons is reported", async () => {
    const kinds = await running.client.allowedWindows("works");
    const goesWith = (example: string) =>
      kinds.find((each) => each.example === example)?.columns.map(({ parameter }) => parameter);
    expect(goesWith("2026-03")).toContain("from");
    expect(goesWith("month-1/yesterday")).toEqual(["raised", "notRaised", "passed", "short"]);
    expect(goesWith("week;BYHOUR=9..16")).toEqual(["passed"]);
    expect(goesWith("2026-03-05T14:30")).toEqual(["passed", "passedFrom", "passedTo"]);
  });

  test("each example that is returned can be sent, and others are refused by name", async () => {
    for (const { example, columns } of await running.client.allowedWindows("works")) {
      const taken = new Set(columns.map(({ parameter }) => parameter));
      for (const { name } of LISTING.parameters ?? []) {
        if (name === "short") continue;
        const requested = running.client.records("works", { [name]: example });
        if (taken.has(name)) expect((await requested).meta.values?.[name]).toBeDefined();
        else expect((await refusal(requested))?.faults[0]?.parameter).toBe(name);
      }
    }
  });

  test("a declaration that cannot be is refused with the place of each fault", async () => {
    const found = await refusal(
      running.client.declareListing("bad", {
        ...LISTING,
        calendar: { holidayLists: [], fiscalYearStart: "13-01" },
        parameters: [
          { name: "a", type: "window", column: "raised", comparison: "from" },
          {
            name: "b",
            type: "date",
            column: "raised",
            comparison: "on",
            limits: { longest: "long" },
          },
        ],
      }),
    );
    expect(found?.faults.map(({ path }) => path)).toEqual([
      "calendar.fiscalYearStart",
      "parameters.0.comparison",
      "parameters.1.limits.longest",
    ]);
  });
});

describe("windows of very many intervals", () => {
  const EVEN_HOURS = Array.from({ length: 12 }, (_, index) => index * 2).join(",");

  beforeAll(async () => {
    await running.client.declareListing("many", {
      source: "works",
      zone: "Europe/London",
      mainDate: "passed",
      order: { allowed: ["passed"], default: "passed" },
      parameters: ["a", "b"].map((name) => ({
        name,
        type: "window" as const,
        column: "passed",
        comparison: "on" as const,
      })),
      filter: { columns: ["note"] },
    });
  });

  test("are answered beside a long list of values", async () => {
    const list = ["'in the middle'", ...Array.from({ length: 300 }, (_, index) => `'n${index}'`)];
    const { records, meta } = await running.client.records("many", {
      a: "../..;BYHOUR=12",
      filter: `note IN (${list.join(", ")})`,
    });
    expect([records.map(({ id }) => id), meta.total]).toEqual([["W-03"], 1]);
  });

  test("keep no fewer records the wider they are, and the same twice", async () => {
    const expectedIds = ["W-02", "W-09", "W-03", "W-04", "W-06"];
    for (const range of ["2020/2030", "2010/2030", "1950/2090", "0001/9999", "../.."]) {
      const window = `${range};BYHOUR=${EVEN_HOURS}`;
      for (const parameters of [{ a: window }, { a: window, b: window }] as const) {
        const { records, meta } = await running.client.records("many", parameters);
        expect([range, records.map(({ id }) => id), meta.total]).toEqual([range, expectedIds, 5]);
      }
    }
  });
});

describe("records without a date", () => {
  const DATED = "01 02 03 04 05 06".split(" ");
  const NONE = "07 08 09 10".split(" ");

  beforeAll(async () => {
    for (const blanks of ["first", "last"] as const) {
      await running.client.declareListing(`blanks-${blanks}`, {
        source: "works",
        zone: "Europe/London",
        mainDate: "raised",
        order: { allowed: ["raised"], default: "raised", blanks },
        parameters: [{ name: "raised", type: "window", column: "raised", comparison: "on" }],
      });
    }
  });

  /** Every record of a listing, page by page; and back again from the last page to the first. */
  async function pages(listing: string, parameters: QueryParameters) {
    const there: string[] = [];
    const back: string[] = [];
    const ids = ({ records }: { readonly records: readonly { readonly id: string | number }[] }) =>
      records.map(({ id }) => String(id).slice(2));
    let page = await running.client.records(listing, { ...parameters, size: "3" });
    for (;;) {
      there.push(...ids(page));
      if (page.links.next === undefined) break;
      page = await running.client.follow(page.links.next);
    }
    for (;;) {
      back.unshift(...ids(page));
      if (page.links.previous === undefined) break;
      page = await running.client.follow(page.links.previous);
    }
    return { there, back };
  }

  test.each([
    ["blanks-last", "raised", [...DATED, ...NONE]],
    ["blanks-last", "-raised", [...DATED].reverse().concat([...NONE].reverse())],
    ["blanks-first", "raised", [...NONE, ...DATED]],
    ["blanks-first", "-raised", [...NONE].reverse().concat([...DATED].reverse())],
    ["works", "raised", [...NONE, ...DATED]],
    ["works", "-raised", [...DATED].reverse().concat([...NONE].reverse())],
  ])(
    "stand where %s declares it, ordered by %s, on every page both ways",
    async (listing, order, expected) => {
      expect(await pages(listing, { order })).toEqual({ there: expected, back: expected });
    },
  );

  test("come after a window that keeps them, and the total counts both", async () => {
    const requested = {
      raised: "2025-01|2025-02-01|2025-02-14|2025-03|2025-04",
      "raised.blank": "include",
    };
    const expected = ["01", "02", "03", "06", "07", "08", "09"];
    expect((await pages("blanks-last", requested)).there).toEqual(expected);
    const { meta } = await running.client.records("blanks-last", { ...requested, size: "1" });
    expect(meta.total).toBe(7);
  });
});

describe("compound conditions", () => {
  const COMPOUND: NewListing = {
    source: "works",
    zone: "Europe/London",
    mainDate: "raised",
    order: { allowed: ["raised"], default: "raised" },
    parameters: [{ name: "raised", type: "window", column: "raised", comparison: "on" }],
    filter: { columns: ["raised", "cost", "note"] },
  };

  beforeAll(async () => {
    await running.client.declareListing("compound", COMPOUND);
  });

  async function idsFor(filter: string, more: QueryParameters = {}): Promise<string> {
    const { records } = await running.client.records("compound", { filter, ...more });
    return records.map(({ id }) => String(id).slice(2)).join(" ");
  }

  test.each([
    ["cost >= 500 AND cost <= 2000", "01 02 04"],
    ["(raised = DATE('2025-02-28') AND cost = 500) OR note LIKE '%midnight'", "02 04 06"],
    ["raised = DATE('2025-02-28') AND (cost = 500 OR note LIKE '%midnight')", "04"],
    ["NOT cost > 12", "07 08 10 03 06"],
    ["CASEI(note) = CASEI('LAST MOMENT')", "05"],
    ["note = 'Last moment'", ""],
    ["raised IS NULL", "07 08 09"],
    ["unreadable(raised) OR unreadable(cost)", "09 10"],
    ["inWindow(raised, 'month')", "02 03 04 05"],
    ["inWindow(raised, '../..;BYMONTHDAY=-1') AND month(raised) = '02'", "04 05"],
    ["note = 'x''y''; -- '", ""],
    ['{"op":"in","args":[{"property":"cost"},[0,7]]}', "07 03"],
  ])("%s keeps %s", async (filter, expected) => {
    expect(await idsFor(filter)).toBe(expected);
  });

  test("stand beside the listing's own parameters, and are part of its sentence", async () => {
    expect(await idsFor("cost > 0", { raised: "2025-02" })).toBe("02 04");
    const { meta } = await running.client.records("compound", { filter: "cost > 0" });
    expect(meta.sentence).toContain("compound: cost above 0; earliest first.");
  });

  test.each([
    ["csot = 1", "column.unknown", "cost"],
    ["passed IS NULL", "column.unknown", undefined],
    ["cost = 'x'", "column.notText", undefined],
    ["cost =", "filter.syntax", undefined],
    ["{", "filter.syntax", undefined],
    ["raised = DATE('31/02/2025')", "date.impossible", undefined],
  ])("%s is a 422 on the parameter", async (filter, code, nearest) => {
    const found = await refusal(running.client.records("compound", { filter }));
    expect(found).toMatchObject({ status: 422, faults: [{ parameter: "filter", code }] });
    if (nearest !== undefined) expect(found?.faults[0]?.nearest).toEqual([nearest]);
  });

  test("are refused where a listing does not declare them", async () => {
    const found = await refusal(running.client.records("works", { filter: "cost = 1" }));
    expect(found?.faults[0]).toMatchObject({ parameter: "filter", code: "parameter.notAllowed" });
  });

  test("are explained: in words, in CQL2, and where they contradict themselves", async () => {
    const explained = await running.client.explain("compound", {
      filter: "inWindow(raised, 'month') AND cost > 5 AND cost < 5",
    });
    expect(explained.compound).toMatchObject({
      sentence: "raised in February 2025 (month) and cost above 5 and cost below 5",
      canonical: "inWindow(raised, 'month') AND cost > 5 AND cost < 5",
      contradictions: ["nothing can be cost above 5 and also cost below 5"],
    });
  });

  test("no value changes a statement's text, and none of it is ever in the text", async () => {
    const textFor = async (value: string) =>
      (await running.client.explain("compound", { filter: `note = '${value}' OR cost IN (1)` }))
        .statements.page.text;
    const plain = await textFor("zzz");
    for (const value of [
      "zzzz",
      "\\",
      "`",
      "%",
      '"',
      "''); DROP TABLE sources; --",
      "?",
      "\u0000",
    ]) {
      expect(await textFor(value)).toBe(plain);
    }
    expect(plain).not.toContain("zzz");
  });

  describe("explain", () => {
    const explained = (filter: string, more: QueryParameters = {}) =>
      running.client.explain("compound", { filter, ...more });

    test("reports how each condition narrows, alone and in turn, and what holds no value", async () => {
      const { narrowing } = await explained("cost >= 500 AND note LIKE '%m%'", {
        raised: "2025-02",
      });
      expect(narrowing.records).toBe(10);
      expect(narrowing.steps.map(({ alone, inTurn }) => [alone, inTurn])).toEqual([
        [4, 4],
        [3, 2],
        [6, 2],
      ]);
      expect(narrowing.steps[1]?.condition).toBe("cost at least 500");
      expect(narrowing.without).toEqual({
        raised: { blank: 3, unreadable: 1 },
        cost: { blank: 1, unreadable: 1 },
        note: { blank: 0, unreadable: 0 },
      });
    });

    test("reports the nearest dates at each edge, and the plan in words", async () => {
      const { neighbours, plan, empty } = await explained("", { raised: "2025-02" });
      expect(neighbours).toEqual([
        {
          column: "raised",
          edge: "start",
          at: "2025-02-01T00:00:00",
          before: "2025-01-31",
          after: "2025-02-01",
        },
        {
          column: "raised",
          edge: "end",
          at: "2025-03-01T00:00:00",
          before: "2025-02-28",
          after: "2025-03-01",
        },
      ]);
      expect(plan.page[0]?.words).toMatch(
        /^(?:reads ranges of|walks along) the index on raised|^reads the whole/,
      );
      expect(empty).toEqual([]);
    });

    test.each([
      ["raised < DATE('2024-01-01')", "the first date of raised is 31 January 2025"],
      ["inWindow(raised, '2026/..')", "the last date of raised is 1 March 2025"],
      ["raised = DATE('2025-02-02')", "the nearest are 1 February 2025 and 14 February 2025"],
      ["note = 'Last Moment'", "but 1 has it in other letter case"],
      ["note = 'last momnet'", "there is “last moment”"],
      ["note = ' last moment'", "there is “last moment”"],
      ["note IN ('Blank')", "but 1 has it in other letter case"],
      ["cost > 2000", "but 1 lies just on the bound"],
      ["cost = 3", "no record matches “cost 3”"],
      ["cost > 12 AND raised > DATE('2025-02-28')", "each condition has records, but none has all"],
      ["cost > 5 AND cost < 5", "nothing can be cost above 5 and also cost below 5"],
    ])("says why %s has none", async (filter, reason) => {
      const { empty } = await explained(filter);
      expect(empty.join("; ")).toContain(reason);
    });
  });
});
