import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { QueryParameters } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

/** Answers that are right and leave a caller at a loss, unless they say more. */
let running: TestService;

/** Tuesday 4 March 2025. */
const NOW = Date.UTC(2025, 2, 4, 12);
const CSV = `id,at,rating,cost
F-1,2025-02-01T10:00:00Z,R,10
F-2,2025-02-02T10:00:00Z,PG,20
F-3,1850-01-01T10:00:00Z,U,30
F-4,soon,PG,x
F-5,,,
`;

beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  const { client } = running;
  await client.createSource({
    name: "boats",
    key: "id",
    columns: {
      at: { type: "date", reading: { kind: "instant", encoding: "text" } },
      cost: { type: "integer" },
    },
  });
  await client.importFile("boats", CSV);
  await client.declareListing("boats", {
    source: "boats",
    mainDate: "at",
    order: { allowed: ["at", "cost", "rating"], default: "at" },
    parameters: [
      {
        name: "since",
        type: "datetime",
        column: "at",
        comparison: "from",
        accepts: { encoding: "epoch-ms" },
        limits: { earliest: "2025-01" },
      },
      { name: "rating", type: "several", column: "rating", comparison: "among" },
      { name: "cost", type: "several", column: "cost", comparison: "among" },
      {
        name: "grade",
        type: "several",
        column: "rating",
        comparison: "among",
        values: ["R", "PG"],
      },
    ],
    filter: { columns: "all" },
  });
});
afterAll(() => running.end());

const records = (parameters: QueryParameters) => running.client.records("boats", parameters);

async function notices(parameters: QueryParameters): Promise<readonly string[]> {
  return (await records(parameters)).meta.notices.map(({ message }) => message);
}

describe("several values in one text", () => {
  test("are one value of a text column, with a notice that says how several are sent", async () => {
    const answer = await records({ rating: "R,PG" });
    expect(answer.meta.total).toBe(0);
    expect(answer.meta.notices).toEqual([
      {
        code: "value.list",
        message: expect.stringContaining("repeat the parameter: rating=R&rating=PG"),
      },
    ]);
    expect((await records({ rating: ["R", "PG"] })).meta.total).toBe(3);
    expect(await notices({ rating: "R" })).toEqual([]);
  });

  test.each<[QueryParameters, string]>([
    [{ cost: "10,20" }, "cost=10&cost=20"],
    [{ grade: "R, PG" }, "grade=R&grade=PG"],
    [{ columns: "at,cost" }, "columns=at&columns=cost"],
    [{ order: "-at,cost" }, "order=-at&order=cost"],
  ])("%j is refused, and says %s", async (parameters, accepted) => {
    const found = await refusal(records(parameters));
    expect(found).toMatchObject({ status: 422, faults: [{ code: "parameter.list", accepted }] });
  });

  test("of figures likewise", async () => {
    const summary = (parameters: QueryParameters) => running.client.summary("boats", parameters);
    expect(await refusal(summary({ by: "rating,at:year" }))).toMatchObject({
      faults: [{ code: "parameter.list", accepted: "by=rating&by=at:year" }],
    });
    expect(await refusal(summary({ by: "rating", measure: "sum:cost,min:cost" }))).toMatchObject({
      faults: [{ code: "parameter.list", accepted: "measure=sum:cost&measure=min:cost" }],
    });
  });

  test("of which one is not known say so", async () => {
    expect(await refusal(records({ columns: "at,csot" }))).toMatchObject({
      faults: [{ code: "column.unknown" }],
    });
  });
});

describe("what could be meant otherwise", () => {
  test("a count of seconds where milliseconds are wanted says what it was read as", async () => {
    const [since] = (await records({ since: "1738400000000" })).meta.windows;
    expect(since?.start).toBe("2025-02-01T08:53:20Z");
    expect(await notices({ since: "1738400000000" })).toEqual([]);
    const low = await refusal(records({ since: "1738400000" }));
    // Before the earliest that may be requested: the limit says so, and what it was read as.
    expect(low?.faults).toMatchObject([{ code: "window.outOfLimits" }]);
    await running.client.declareListing("unlimited", {
      source: "boats",
      mainDate: "at",
      parameters: [
        {
          name: "since",
          type: "datetime",
          column: "at",
          comparison: "from",
          accepts: { encoding: "epoch-ms" },
        },
      ],
    });
    const { meta } = await running.client.records("unlimited", { since: "1738400000" });
    expect(meta.notices).toEqual([
      {
        code: "number.unit",
        message:
          "1738400000 was read as 1970-01-21T02:53:20Z; as a number of seconds it would be 2025-02-01T08:53:20Z",
      },
    ]);
  });

  test("days that were not counted say so", async () => {
    const { meta } = await records({ with: "days" });
    expect(meta.days).toEqual({ present: null, absent: null });
    expect(meta.notices).toMatchObject([{ code: "days.notCounted" }]);
    const near = await records({ with: "days", since: "2025-02-01" });
    expect(near.meta).toMatchObject({ days: { present: 2, absent: 0 }, notices: [] });
  });

  test("an instant that cannot be read is the only thing wrong with a request", async () => {
    const found = await refusal(records({ asOf: "yesterdayish", since: "month-1" }));
    expect(found?.faults.map(({ parameter }) => parameter)).toEqual(["asOf"]);
  });
});

describe("choices", () => {
  test("offer nothing of which the other conditions leave no record", async () => {
    await records({ rating: ["R", "U"] });
    const all = await running.client.choices("boats", "rating");
    expect(all.recent?.map(({ value }) => value).slice(0, 2)).toEqual(["R", "U"]);
    const some = await running.client.choices("boats", "rating", { since: "2025-02-01" });
    expect(some.recent).not.toContainEqual({ value: "U", records: 0 });
    expect(some.recent).toContainEqual({ value: "R", records: 1 });
  });
});

describe("the three states of a cell", () => {
  test("add up to all", async () => {
    const total = async (filter: string) => (await records({ filter })).meta.total ?? NaN;
    for (const column of ["at", "cost"]) {
      const states = ["dated", "unreadable"].map((state) => total(`${state}(${column})`));
      const counts = await Promise.all([...states, total(`${column} IS NULL`)]);
      expect([column, counts]).toEqual([column, [3, 1, 1]]);
    }
  });
});

describe("a total", () => {
  test("needs no group", async () => {
    const found = await running.client.summary("boats", { measure: ["sum:cost", "average:cost"] });
    expect(found).toEqual({
      by: [],
      groups: [],
      totals: [],
      grand: { of: [], records: 5, measures: { "sum:cost": 60, "average:cost": 20 } },
    });
    const none = await running.client.summary("boats", { since: "2025-03", measure: "sum:cost" });
    expect(none.grand).toMatchObject({ records: 0, measures: { "sum:cost": null } });
  });
});
