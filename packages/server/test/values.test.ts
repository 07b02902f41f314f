import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, OrismaError } from "@orisma/client";
import type { RecordAnswer } from "@orisma/core/internal";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

/** Works with every kind of value, and each of them blank somewhere; costs in pence. */
const CSV = `order,task,place,priority,cost,hours,done,raised
W-01,Clear lock gates,Bramble,high,1999,2.5,yes,2025-02-28
W-02,clear Towpath,Kestrel,low,0,0,no,2025-03-01
W-03,Grease paddles,Bramble,High,2000,8,no,2025-03-01
W-04,Mend fence,,medium,,1.25,,2025-03-02
W-05,,Kestrel,,150,,yes,
W-06,100% check,bramble,low,1998,12,perhaps,2025-02-01
`;

interface Work {
  readonly id: string;
  readonly task: string;
  readonly place: string;
  readonly priority: string;
  readonly cost: number | null;
  readonly hours: number | null;
  readonly done: boolean | null;
  readonly raised: string;
}

const WORKS: readonly Work[] = CSV.trim()
  .split("\n")
  .slice(1)
  .map((line) => {
    const [id = "", task = "", place = "", priority = "", cost, hours, done, raised = ""] =
      line.split(",");
    const number = (text = "") => (text === "" ? null : Number(text));
    const yes = done === "yes" ? true : done === "no" ? false : null;
    return {
      id,
      task,
      place,
      priority,
      cost: number(cost),
      hours: number(hours),
      done: yes,
      raised,
    };
  });

const TEXT = { name: "task", type: "text", column: "task", comparison: "is" } as const;
const DATE = { name: "from", type: "date", column: "raised", comparison: "from" } as const;

let running: TestService;
beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 2, 2, 12) });
  const { client } = running;
  const reading = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  await client.createSource({
    name: "works",
    key: "order",
    columns: {
      cost: { type: "integer" },
      hours: { type: "decimal" },
      done: { type: "boolean" },
      raised: { type: "date", reading },
    },
  });
  await client.importFile("works", new TextEncoder().encode(CSV));
  await client.declareListing("works", {
    source: "works",
    mainDate: "raised",
    units: { cost: { scale: 2 } },
    parameters: [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
      { name: "least", type: "decimal", column: "cost", comparison: "atLeast", pair: "cost" },
      { name: "most", type: "decimal", column: "cost", comparison: "atMost", pair: "cost" },
      { name: "hours", type: "range", column: "hours", comparison: "within" },
      { name: "task", type: "text", column: "task", comparison: "contains" },
      { name: "find", type: "search", columns: ["task", "place"], comparison: "contains" },
      { name: "done", type: "boolean", column: "done", comparison: "is" },
      { name: "place", type: "oneOf", column: "place", comparison: "is" },
      {
        name: "priority",
        type: "several",
        column: "priority",
        comparison: "among",
        caseSensitive: false,
        values: ["high", "medium", "low"],
      },
    ],
    order: { allowed: ["raised", "cost"], default: "raised" },
  });
});
afterAll(() => running.end());

async function ids(query: Record<string, string | string[]>, listing = "works") {
  const { records } = await running.client.records(listing, query);
  return records.map(({ id }) => id).sort();
}

async function faults(query: Record<string, string | string[]>, listing = "works") {
  return (await refusal(running.client.records(listing, query)))?.faults;
}

/** For each parameter a value, and what it keeps. */
const CONDITIONS: readonly (readonly [string, string | string[], (work: Work) => boolean])[] = [
  ["from", "2025-03-01", ({ raised }) => raised >= "2025-03-01"],
  ["to", "2025-03-01", ({ raised }) => raised !== "" && raised <= "2025-03-01"],
  ["least", "0", ({ cost }) => cost !== null && cost >= 0],
  ["most", "19.99", ({ cost }) => cost !== null && cost <= 1999],
  ["hours", "0/8", ({ hours }) => hours !== null && hours <= 8],
  ["find", "clear", ({ task, place }) => /clear/i.test(`${task} ${place}`)],
  ["done", "no", ({ done }) => done === false],
  ["priority", ["high", "low"], ({ priority }) => /^(?:high|low)$/i.test(priority)],
];

describe("parameters of values", () => {
  test("every combination of optional parameters returns what those present demand", async () => {
    let some = 0;
    for (let chosen = 0; chosen < 2 ** CONDITIONS.length; chosen++) {
      const present = CONDITIONS.filter((_, index) => (chosen & (1 << index)) !== 0);
      const query = Object.fromEntries(present.map(([name, value]) => [name, value]));
      const wanted = WORKS.filter((work) => present.every(([, , holds]) => holds(work)));
      expect([query, await ids(query)]).toEqual([query, wanted.map(({ id }) => id)]);
      if (wanted.length > 0 && wanted.length < WORKS.length) some++;
    }
    expect(some).toBeGreaterThan(50);
  });

  test.each([
    [{ least: "19.99" }, ["W-01", "W-03"]],
    [{ most: "19.99" }, ["W-01", "W-02", "W-05", "W-06"]],
    // Reversed they are put right, each still in.
    [{ least: "20", most: "19.99" }, ["W-01", "W-03"]],
    [{ hours: "2.5" }, ["W-01"]],
    [{ hours: "../1.25" }, ["W-02", "W-04"]],
    [{ hours: "12/8" }, ["W-03", "W-06"]],
    [{ "find.blank": "include" }, null],
    [{ hours: ".." }, ["W-01", "W-02", "W-03", "W-04", "W-05", "W-06"]],
    [{ task: "CLEAR" }, ["W-01", "W-02"]],
    [{ task: "100%" }, ["W-06"]],
    [{ find: "bramble clear" }, ["W-01"]],
    [{ find: "kestrel" }, ["W-02", "W-05"]],
    [{ done: "TRUE" }, ["W-01", "W-05"]],
    [{ done: "1", "done.blank": "include" }, ["W-01", "W-04", "W-05"]],
    [{ "cost.blank": "" }, null],
    [{ "most.blank": "only" }, ["W-04"]],
    [{ place: "Bramble" }, ["W-01", "W-03"]],
    [{ priority: ["medium"] }, ["W-04"]],
    [{ priority: [""] }, ["W-01", "W-02", "W-03", "W-04", "W-05", "W-06"]],
  ] as const)("%j keeps %j", async (query, wanted) => {
    const requested = query as Record<string, string | string[]>;
    if (wanted === null)
      expect(await faults(requested)).toMatchObject([{ code: "parameter.unknown" }]);
    else expect(await ids(requested)).toEqual(wanted);
  });

  test.each([
    ["least", "19.999", "number.scale"],
    ["most", "much", "number.form"],
    ["hours", "1/2/3", "range.form"],
    ["hours", "a/2", "number.form"],
    ["hours", "deep", "number.form"],
    ["done", "perhaps", "boolean.form"],
    ["priority", "hihg", "parameter.choice"],
    ["priorty", "high", "parameter.unknown"],
  ])("%s=%s is refused as %s, with what is accepted", async (name, value, code) => {
    expect(await faults({ [name]: value })).toMatchObject([{ parameter: name, value, code }]);
  });

  test("a range in reverse order is put right with a notice", async () => {
    const { meta } = await running.client.records("works", { hours: "12/8" });
    expect(meta.notices).toMatchObject([{ code: "range.swapped" }]);
    expect(meta.values).toEqual({ hours: ["8/12"] });
    const pair = await running.client.records("works", { least: "20", most: "19.99" });
    expect(pair.meta.notices).toMatchObject([{ code: "range.swapped" }]);
    expect((await running.client.records("works", { hours: "8/12" })).meta.notices).toEqual([]);
  });

  test("a choice that is nearly right is reported, and every fault of a request at once", async () => {
    const found = await faults({
      priority: ["hihg", "low"],
      done: "x",
      from: "2025-02-30",
      size: "0",
    });
    expect(found?.map(({ code }) => code)).toEqual([
      "parameter.choice",
      "boolean.form",
      "date.impossible",
      "page.size",
    ]);
    expect(found?.[0]).toMatchObject({ nearest: ["high"], accepted: "high, medium, low" });
  });

  test("numbers are answered in the unit that is requested in; the sentence and explain report it so", async () => {
    const { records, meta } = await running.client.records("works", {
      least: "19.99",
      order: "cost",
    });
    expect(records.map((record: RecordAnswer) => record.cost)).toEqual([19.99, 20]);
    expect(meta.sentence).toContain("cost at least 19.99");
    expect(meta.values).toEqual({ least: ["19.99"] });
    const explained = await running.client.explain("works", { least: "19.99" });
    expect(explained.statements.page.values).toContain("1999");
    expect(explained.values).toMatchObject([{ parameters: [{ sent: ["19.99"] }] }]);
    expect(explained.narrowing.steps[0]).toMatchObject({
      condition: "cost at least 19.99",
      alone: 2,
    });
  });
});

describe("fixed filters, defaults and required parameters", () => {
  beforeAll(async () => {
    await running.client.declareListing("open-works", {
      source: "works",
      mainDate: "raised",
      fixedFilter: "done = FALSE OR done IS NULL",
      filter: { columns: "all" },
      unknownParameters: "ignore",
      parameters: [
        { name: "since", type: "date", column: "raised", comparison: "from", default: "month" },
        {
          name: "priority",
          type: "several",
          column: "priority",
          comparison: "among",
          default: ["low", "medium"],
        },
        { name: "place", type: "text", column: "place", comparison: "is", required: true },
      ],
    });
  });

  test("where names that are not known are ignored, all are, and a notice lists them", async () => {
    const { client } = running;
    const requested = { place: "Kestrel", since: "..", priority: ["low", "high"] };
    const answer = await client.records("open-works", requested);
    expect(answer.meta.notices).toEqual([]);
    const more = { page: "7", limit: "1", search: "x", rows: "values", by: "place", colour: "red" };
    const { records, meta } = await client.records("open-works", { ...requested, ...more });
    expect(records).toEqual(answer.records);
    expect(meta.notices).toEqual([
      {
        code: "parameter.ignored",
        message:
          "unknown parameters were ignored: “page”, “limit”, “search”, “rows”, “by”, “colour”",
      },
    ]);
    // A moment that one may not ask for is refused: other records would come than were requested.
    const { key } = await client.createKey({ name: "reads open works", role: "reader" });
    const reader = new OrismaClient({ url: running.service.url, key });
    const refused = await refusal(
      reader.records("open-works", { ...requested, asOf: "2020-01-01" }),
    );
    expect(refused?.faults).toMatchObject([{ code: "parameter.notAllowed", parameter: "asOf" }]);
  });

  test("compound conditions speak of the columns that are named: of none, of some, of all shown", async () => {
    const found = async (columns: readonly string[] | "all", filter: string) => {
      await running.client.declareListing("asked-works", {
        source: "works",
        mainDate: "raised",
        columns: ["order", "raised", "priority"],
        filter: { columns },
      });
      try {
        return await ids({ filter }, "asked-works");
      } catch (error) {
        if (!(error instanceof OrismaError)) throw error;
        return error.problem?.faults.map(({ code }) => code);
      }
    };
    const filter = "priority = 'low' OR priority = 'high'";
    expect(await found([], filter)).toEqual(["column.unknown", "column.unknown"]);
    expect(await found(["raised"], filter)).toEqual(["column.unknown", "column.unknown"]);
    const both = await found(["priority"], filter);
    expect(both).toContain("W-02");
    expect(await found("all", filter)).toEqual(both);
    // Of what is not shown only a listing that names it lets callers speak.
    expect(await found("all", "place = 'Kestrel'")).toEqual(["column.unknown"]);
    expect(await found(["place"], "place = 'Kestrel'")).toContain("W-02");
  });

  test("a condition of the listing holds whatever is requested, in counts and explanations too", async () => {
    const requested = { place: "Kestrel", since: "..", priority: ["low", "high"] };
    expect(await ids(requested, "open-works")).toEqual(["W-02"]);
    const { meta } = await running.client.records("open-works", {
      ...requested,
      with: "unfiltered",
    });
    expect(meta.unfiltered).toEqual({ total: 3, totalExact: true });
    const explained = await running.client.explain("open-works", {
      ...requested,
      filter: "done = TRUE",
    });
    // For authors it is a condition like the others.
    expect(explained.narrowing.records).toBe(6);
    expect(explained.narrowing.steps[0]).toMatchObject({ isFixed: true, alone: 3 });
    expect(explained.narrowing.steps.at(-1)).toMatchObject({ inTurn: 0 });
    const outside = await ids({ ...requested, filter: "done = TRUE OR cost >= 0" }, "open-works");
    expect(outside).toEqual(["W-02"]);
  });

  test("a default takes effect until something is given, and the answer says so", async () => {
    const { records, meta } = await running.client.records("open-works", { place: "Kestrel" });
    expect(records.map(({ id }) => id)).toEqual(["W-02"]);
    expect(meta.defaults).toEqual({ since: ["month"], priority: ["low", "medium"] });
    expect(meta.windows[0]?.start).toBe("2025-03-01T00:00:00Z");
    const bramble = { place: "Bramble", priority: "High" };
    expect(await ids(bramble, "open-works")).toEqual(["W-03"]);
    expect(await ids({ ...bramble, since: "2025-03-02" }, "open-works")).toEqual([]);
  });

  test("what must be given is requested, and what is unknown is omitted where so declared", async () => {
    expect(await faults({}, "open-works")).toMatchObject([
      { code: "parameter.required", parameter: "place" },
    ]);
    expect(await ids({ place: "Kestrel", plaice: "x" }, "open-works")).toEqual(["W-02"]);
  });

  test("what a file would change can be seen for a listing that its source has outgrown, too", async () => {
    const { client } = running;
    const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
    await client.createSource({ name: "logs", columns: { seen: day, left: day } });
    await client.importFile("logs", new TextEncoder().encode("seen,left\n2025-01-01,2025-01-02\n"));
    await client.declareListing("logs", { source: "logs", mainDate: "seen" });
    await client.setReadings("logs", { seen: { type: "text" } }, { force: true });
    expect((await refusal(client.records("logs")))?.status).toBe(503);
    const found = await client.checkListing("logs", { source: "logs", mainDate: "left" });
    expect(found).toMatchObject({ isNew: false, records: null });
    expect(found.changes).toContain("mainDate: “seen” becomes “left”");
    const clash = await refusal(client.checkListing("Logs", { source: "logs", mainDate: "left" }));
    expect(clash?.faults).toMatchObject([{ code: "name.taken", path: "name" }]);
  });

  test.each([
    [{ rows: "values" }, "rows", "parameter.setting"],
    [{ fixedFilter: "dnoe = FALSE" }, "fixedFilter", "column.unknown"],
    [{ fixedFilter: "cost = 'much'" }, "fixedFilter", "column.notText"],
    [
      { choices: { cost: { groups: { dear: ["much"] } } } },
      "choices.cost.groups.dear",
      "number.form",
    ],
    [
      { choices: { done: { groups: { so: ["maybe"] } } } },
      "choices.done.groups.so",
      "boolean.form",
    ],
    [{ choices: { raised: { recent: false } } }, "choices.raised.recent", "column.notChosen"],
    [{ units: { task: { scale: 2 } } }, "units.task", "unit.form"],
    [
      { parameters: [{ ...TEXT, default: "x", values: ["x"] }] },
      "parameters.0.values",
      "parameter.setting",
    ],
    [{ parameters: [{ ...TEXT, column: "cost" }] }, "parameters.0.column", "parameter.column"],
    [
      { parameters: [{ ...TEXT, comparison: "atLeast" }] },
      "parameters.0.comparison",
      "parameter.comparison",
    ],
    [
      { parameters: [{ ...DATE, default: "2025-02-30" }] },
      "parameters.0.default",
      "date.impossible",
    ],
  ] as const)("a declaration with %j is refused at %s", async (changed, path, code) => {
    const listing = { source: "works", mainDate: "raised", ...changed } as never;
    const { faults: found } = (await refusal(running.client.declareListing("bad", listing))) ?? {};
    expect(found).toMatchObject([{ path, code }]);
  });
});
