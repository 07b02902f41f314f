import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing, type QueryParameters } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";

/** A condition means and says the same however it came: parameters, a filter, the listing's own. */

/** Saturday 15 February 2025, 12:00:00 in London. */
const NOW = Date.UTC(2025, 1, 15, 12);

let running: TestService;
let reader: OrismaClient;

const LISTING: NewListing = {
  title: "Works",
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  columns: ["order", "raised", "passed", "cost"],
  parameters: [
    { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
    { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
    { name: "raised", type: "window", column: "raised", comparison: "on" },
    { name: "passed", type: "window", column: "passed", comparison: "on" },
    { name: "not", type: "window", column: "raised", comparison: "notOn" },
  ],
  filter: { columns: "all" },
  order: { allowed: ["raised"], default: "raised" },
  cacheFor: { current: "P1D", past: "P30D" },
};

beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  const { client } = running;
  await importWorks(client);
  await client.declareListing("works", LISTING);
  const fixed = { ...LISTING, fixedFilter: "cost >= 500 AND inWindow(raised, '2025-02/..')" };
  await client.declareListing("dear", fixed);
  // The column of the condition is not shown to readers.
  await client.declareListing("noted", { ...LISTING, fixedFilter: "NOT note LIKE '%midnight%'" });
  await client.declareListing("named", { ...fixed, describeFixedFilter: "the dear ones" });
  await client.declareListing("silent", { ...fixed, describeFixedFilter: false });
  const names = ["works", "dear", "noted", "named", "silent"];
  const { key } = await client.createKey({ name: "board", role: "reader", listings: names });
  reader = new OrismaClient({ url: running.service.url, key });
});
afterAll(() => running.end());

function records(parameters: QueryParameters) {
  return running.client.records("works", { with: "clauses", ...parameters, total: "exact" });
}

describe("one condition, however it came", () => {
  test.each<[QueryParameters, string]>([
    [{ from: "day-7", to: "now" }, "inWindow(raised, 'day-7/now')"],
    [{ from: "2025-02-01", to: "2025-02-28" }, "inWindow(raised, '2025-02-01/2025-02-28')"],
    [{ from: "2025-02-28", to: "2025-02-01" }, "inWindow(raised, '2025-02-28/2025-02-01')"],
    [{ from: "month.20", to: "today" }, "inWindow(raised, 'month.20/today')"],
    [{ from: "month.20" }, "inWindow(raised, 'month.20/..')"],
    [{ raised: "month.20/.." }, "inWindow(raised, 'month.20/..')"],
    [{ from: "2025-02" }, "raised >= DATE('2025-02')"],
    [{ to: "2025-02-14" }, "raised <= DATE('2025-02-14')"],
    [{ raised: "2025-02" }, "raised = DATE('2025-02')"],
    [{ raised: "2025-01|2025-03" }, "inWindow(raised, '2025-01|2025-03')"],
    [{ raised: "../..;BYMONTH=2" }, "inWindow(raised, '../..;BYMONTH=2')"],
    [{ passed: "2025-02-03T10:00/now" }, "inWindow(passed, '2025-02-03T10:00/now')"],
    [{ raised: "2025\u201302" }, "inWindow(raised, '2025\u201302')"],
    [{ raised: "month.31" }, "inWindow(raised, 'month.31')"],
  ])("%j is %s in every word", async (parameters, filter) => {
    const [first, second] = [await records(parameters), await records({ filter })];
    expect(second.records).toEqual(first.records);
    const said = ({ meta }: typeof first) => ({
      sentence: meta.sentence,
      windows: meta.windows,
      notices: meta.notices,
      total: meta.total,
      clauses: meta.clauses?.map(({ column, words }) => [column, words]),
    });
    expect(said(second)).toEqual(said(first));
    expect(first.meta.windows).toHaveLength(1);
    const why = async (sent: QueryParameters) =>
      (await running.client.why("works", sent, "W-03")).record;
    expect(await why({ filter })).toEqual(await why(parameters));
  });

  test("one within OR or NOT is described with the rest, and is no window of its own", async () => {
    const { meta } = await records({
      filter: "inWindow(raised, 'month') OR NOT inWindow(raised, '2025')",
    });
    expect(meta.windows).toEqual([]);
    expect(meta.sentence).toBe(
      "Works: raised in February 2025 (month) or not raised in 2025; earliest first.",
    );
  });

  test("a window that has not begun says so, and one that has does not", async () => {
    const codes = async (raised: string) =>
      (await records({ raised })).meta.notices.map(({ code }) => code);
    expect(await codes("month.20/..")).toEqual(["window.notBegun"]);
    expect(await codes("month.10/..")).toEqual([]);
    expect(await codes("today+P1D/..")).toEqual([]);
  });
});

describe("what an answer may be kept for", () => {
  async function kept(query: string): Promise<string | null> {
    const { headers } = await fetch(`${running.service.url}/v1/listings/works/records?${query}`, {
      headers: { authorization: `Bearer ${running.service.key}` },
    });
    return headers.get("cache-control");
  }

  test.each([
    // A letter in another spelling of JSON is the same letter.
    [String.raw`{"op":"in\u0057indow","args":[{"property":"passed"},"today"]}`, "max-age=43200"],
    [String.raw`{"op":"in\u0057indow","args":[{"property":"passed"},"now/.."]}`, "no-cache"],
    ["inWindow(raised, '2025-01')", "max-age=2592000"],
    ["inWindow(raised, '2024/2026')", "max-age=86400"],
    ["inWindow(raised, 'today')", "max-age=43200"],
    ["inWindow(passed, 'now/..')", "no-cache"],
    ["\"order\" = 'inWindow(passed, now)'", "max-age=86400"],
  ])("%s has %s", async (filter, expected) => {
    expect(await kept(`filter=${encodeURIComponent(filter)}`)).toBe(`private, ${expected}`);
  });
});

describe("the filter that a listing sets for every caller", () => {
  const sentence = async (client: OrismaClient, name: string, sent: QueryParameters = {}) =>
    (await client.records(name, sent)).meta.sentence;

  test("is described to readers who may see all of its columns, and to authors always", async () => {
    const words =
      "Works: cost at least 500; and raised from 1 February 2025, blank dates excluded; earliest first.";
    expect(await sentence(reader, "dear")).toBe(words);
    expect(await sentence(running.client, "dear")).toBe(words);
    expect(await sentence(reader, "noted")).toBe(
      "Works: within this listing's own conditions; earliest first.",
    );
    expect(await sentence(running.client, "noted")).toContain("note does not contain “midnight”");
  });

  test("is described as it is declared to be", async () => {
    expect(await sentence(reader, "named", { to: "2025-02-14" })).toBe(
      "Works: the dear ones; and raised until 14 February 2025, blank dates excluded; earliest first.",
    );
    expect(await sentence(reader, "silent")).toBe(
      "Works: within this listing's own conditions; earliest first.",
    );
    for (const name of ["named", "silent"]) {
      expect(await sentence(running.client, name)).toContain("cost at least 500");
    }
    const { meta } = await reader.records("named", { with: "clauses" });
    expect(meta.clauses?.[0]).toEqual({
      parameters: [],
      column: null,
      isFixed: true,
      words: "the dear ones",
    });
  });

  test("is traced for authors like every other condition", async () => {
    const explained = await running.client.explain("dear", { to: "2025-02-14" });
    expect(explained.fixedFilter).toMatchObject({
      sent: "cost >= 500 AND inWindow(raised, '2025-02/..')",
      canonical: "cost >= 500 AND raised >= DATE('2025-02')",
    });
    expect(explained.narrowing.records).toBe(10);
    expect(explained.narrowing.steps.map(({ isFixed, inTurn }) => [isFixed, inTurn])).toEqual([
      [true, 3],
      [true, 2],
      [undefined, 1],
    ]);
    expect(explained.neighbours.map(({ edge, before, after }) => [edge, before, after])).toEqual([
      ["start", "2025-01-31", "2025-02-01"],
      ["end", "2025-02-14", "2025-02-28"],
    ]);
  });

  test("explains an empty answer, to readers as far as they may know", async () => {
    const { client } = running;
    await client.declareListing("dear", { ...LISTING, fixedFilter: "cost > 90000" });
    const empty = async (of: OrismaClient) => (await of.why("dear")).reasons;
    expect(await empty(reader)).toEqual([
      "the listing has no records: its own conditions match none: cost above 90000",
    ]);
    expect((await client.explain("dear")).empty[0]).toContain("cost above 90000");
    await client.declareListing("dear", { ...LISTING, fixedFilter: "note = 'x'" });
    expect((await empty(reader))[0]).toContain("within this listing's own conditions");
  });

  test.each([
    [{ describeFixedFilter: true }, "describeFixedFilter"],
    [{ fixedFilter: "cost > 1", describeFixedFilter: " " }, "describeFixedFilter"],
  ])("%j is refused", async (more, path) => {
    const found = await running.client
      .declareListing("refused", { ...LISTING, ...more })
      .catch((error: unknown) => error as { problem?: { faults?: readonly unknown[] } });
    expect(found).toMatchObject({ problem: { faults: [{ path, code: "parameter.setting" }] } });
  });
});

describe("windows by name", () => {
  const LATE = "late-winter";

  const declare = (name: string, window: string) =>
    running.client.declareWindow(name, { label: name, window });

  const ids = async (name: string, sent: QueryParameters = {}) =>
    (await running.client.records(name, sent)).records.map(({ id }) => id);

  test("are sent, declared as a default and used in a filter, and follow their definition", async () => {
    const { client } = running;
    await declare(LATE, "2025-02-10/2025-02-28");
    const filter = "inWindow(raised, 'Late-Winter')";
    await client.declareListing("by-name", {
      ...LISTING,
      parameters: [
        {
          ...{ name: "raised", type: "window", column: "raised", comparison: "on" },
          default: LATE,
        },
      ],
      fixedFilter: "NOT inWindow(raised, 'yesterday')",
    });
    const late = ["W-03", "W-04", "W-05"];
    expect(await ids("works", { raised: "late-winter" })).toEqual(late);
    expect(await ids("works", { filter })).toEqual(late);
    expect(await ids("by-name")).toEqual(late.slice(1));
    const { meta } = await records({ raised: " LATE-winter " });
    expect(meta.values).toEqual({ raised: ["2025-02-10/2025-02-28"] });
    // Those that are always there have names too.
    expect(await ids("works", { raised: "last-month" })).toEqual(["W-01"]);
    await declare(LATE, "2025-02-28");
    expect(await ids("by-name")).toEqual(["W-04", "W-05"]);
    expect(await ids("works", { filter })).toEqual(["W-04", "W-05"]);
  });

  test("what uses one by its name is named when it is to be removed", async () => {
    const { client } = running;
    await declare("early", "../2025-02-10");
    await client.declareListing("early-works", {
      ...LISTING,
      fixedFilter: "inWindow(raised, 'early')",
    });
    for (const [name, listing] of [
      ["early", "early-works"],
      [LATE, "by-name"],
    ] as const) {
      const refused = await refusal(client.deleteWindow(name));
      expect(refused).toMatchObject({ status: 409, faults: [{ code: "listing.breaks" }] });
      expect(refused?.faults[0]?.message).toContain(listing);
    }
    expect(await ids("early-works")).toEqual(["W-01", "W-02"]);
    await client.deleteListing("early-works");
    await client.deleteWindow("early");
    expect(await refusal(client.records("works", { raised: "early" }))).toMatchObject({
      faults: [{ parameter: "raised" }],
    });
  });

  test("what would be broken by another definition is named, and nothing is changed", async () => {
    // A day has no hours.
    const refused = await refusal(declare(LATE, "hour"));
    expect(refused).toMatchObject({ status: 409, faults: [{ code: "listing.breaks" }] });
    expect(await ids("by-name")).toEqual(["W-04", "W-05"]);
  });

  test("a name that is a window itself means that window, and can be given to no other", async () => {
    for (const name of ["day-7", "workday"]) {
      const refused = await refusal(declare(name, "2025-02-28"));
      expect(refused?.faults).toMatchObject([{ code: "name.taken" }]);
    }
    const { meta } = await records({ raised: "day-7" });
    expect(meta.windows).toMatchObject([{ canonical: "day-7" }]);
  });

  test("a listing that is declared with a name that no window has is refused", async () => {
    const wrong = { ...LISTING, fixedFilter: "inWindow(raised, 'mid-winter')" };
    const refused = await refusal(running.client.declareListing("refused", wrong));
    expect(refused).toMatchObject({ faults: [{ path: "fixedFilter", column: "raised" }] });
  });
});
