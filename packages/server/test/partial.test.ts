import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const CELLS = {
  A: "1977",
  B: "2010-12",
  C: "2010-12-24",
  D: "2010",
  E: "2010-Q4",
  F: "199X",
  G: "1984?",
  H: "",
  I: "soon",
  J: "2011-01",
};
const FILE = `lock,built\n${Object.entries(CELLS)
  .map((cells) => `${cells.join(",")}\n`)
  .join("")}`;
const POLICIES = ["start", "inside", "overlaps"] as const;

let running: TestService;
const readingOf = (partial: (typeof POLICIES)[number]) =>
  ({ type: "date", reading: { kind: "date", encoding: "text", partial } }) as const;

beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  for (const policy of POLICIES) {
    await client.createSource({
      name: policy,
      key: "lock",
      columns: { built: readingOf(policy) },
    });
    await client.importFile(policy, FILE);
    await client.declareListing(policy, {
      source: policy,
      mainDate: "built",
      columns: ["lock", "built"],
      parameters: [
        { name: "on", type: "window", column: "built", comparison: "on" },
        { name: "notOn", type: "window", column: "built", comparison: "notOn" },
        { name: "before", type: "date", column: "built", comparison: "before" },
      ],
      filter: { columns: "all" },
      order: { allowed: ["built"], default: "built" },
      editable: ["built"],
    });
  }
});
afterAll(() => running.end());

async function kept(policy: string, parameters: Record<string, string>): Promise<string> {
  const { records } = await running.client.records(policy, parameters);
  return records
    .map(({ lock }) => String(lock))
    .sort()
    .join("");
}

describe("dates without a day", () => {
  test.each<[Record<string, string>, string, string, string]>([
    [{ on: "2010-12" }, "BC", "BC", "BCDE"],
    [{ on: "2010" }, "BCDE", "BCDE", "BCDE"],
    [{ on: "2010-12-01" }, "B", "", "BDE"],
    [{ on: "2010-11" }, "", "", "DE"],
    [{ on: "2010-10/2010-12" }, "BCE", "BCE", "BCDE"],
    [{ on: "1990/1994" }, "F", "", "F"],
    [{ on: "1990/1999" }, "F", "F", "F"],
    [{ on: "1984-06" }, "", "", "G"],
    [{ on: "2010-12-31/.." }, "J", "J", "BDEJ"],
    [{ on: "../1977-06-30" }, "A", "", "A"],
    [{ on: "2010-10|2010-12" }, "BCE", "BC", "BCDE"],
    [{ notOn: "2010-12" }, "ADEFGJ", "ADEFGJ", "AFGJ"],
    [{ before: "2010-12-24" }, "ABDEFG", "AFG", "ABDEFG"],
    [{ on: "2010-12", "on.blank": "include" }, "BCH", "BCH", "BCDEH"],
    [{ on: "2010-12;BYDAY=FR" }, "C", "C", "BCDE"],
    [{ on: "2009/2011;BYMONTH=12" }, "BC", "BC", "BCDE"],
    [{ filter: "month(built) = 10" }, "E", "E", "E"],
    [{ filter: "inWindow(built, '2010-12')" }, "BC", "BC", "BCDE"],
    [{ filter: "NOT inWindow(built, '2010-12')" }, "ADEFGJ", "ADEFGJ", "AFGJ"],
    [{ filter: "built >= DATE('2010-12-24') OR lock = 'A'" }, "ACJ", "ACJ", "ABCDEJ"],
  ])("under %j are kept as their policy says", async (parameters, ...expected) => {
    for (const [index, policy] of POLICIES.entries()) {
      expect([policy, await kept(policy, parameters)]).toEqual([policy, expected[index]]);
    }
  });

  test("are not held against rules that recur without end", async () => {
    const { client } = running;
    expect(await kept("start", { on: "../..;BYMONTH=12" })).toBe("BC");
    for (const policy of ["inside", "overlaps"]) {
      const refused = await refusal(client.records(policy, { on: "../..;BYMONTH=12" }));
      expect(refused?.faults).toMatchObject([{ parameter: "on", code: "column.partial" }]);
    }
  });

  test("are counted, ordered and put on the timeline as they are kept", async () => {
    for (const policy of POLICIES) {
      const { client } = running;
      const requested = { on: "2010-11/2011-01" };
      const { records } = await client.records(policy, requested);
      const [total] = await client.counts(policy, [requested]);
      expect(total?.total).toBe(records.length);
      const days = records.map(({ built }) => String(built));
      expect(days).toEqual([...days].sort());
      for (const unit of ["day", "month", "year"]) {
        const { buckets } = await client.timeline(policy, { ...requested, unit });
        const sum = buckets.reduce((total, { records: each }) => total + each, 0);
        expect([policy, unit, sum]).toEqual([policy, unit, records.length]);
      }
    }
  });

  test("say in which way they are judged, for a record too", async () => {
    const { client } = running;
    const explained = await client.explain("inside", { on: "2010-12-01" });
    expect(JSON.stringify(explained)).toContain("all of its days are");
    for (const [policy, isKept] of [
      ["start", true],
      ["inside", false],
      ["overlaps", true],
    ] as const) {
      const { record } = await client.why(policy, { on: "2010-12-01" }, "B");
      expect([policy, record?.isIn]).toEqual([policy, isKept]);
    }
  });

  test("are what an edit, an update by key and another reading make of them", async () => {
    const { client } = running;
    await client.editRecord("inside", "B", { built: "2010-11" }, { etag: "*" });
    expect(await kept("inside", { on: "2010-11" })).toBe("B");
    expect(await kept("inside", { on: "2010-11-01/2010-11-29" })).toBe("");
    await client.importFile("overlaps", "lock,built\nC,2010\nK,2012\n", { mode: "update" });
    expect(await kept("overlaps", { on: "2010-01" })).toBe("CD");
    expect(await kept("overlaps", { on: "2012-06" })).toBe("K");
    await client.setReadings("start", { built: readingOf("inside") });
    expect(await kept("start", { on: "2010-12-01" })).toBe("");
    expect(await kept("start", { on: "2010" })).toBe("BCDE");
    await client.setReadings("start", { built: readingOf("start") });
    expect(await kept("start", { on: "2010-12-01" })).toBe("B");
  });
});
