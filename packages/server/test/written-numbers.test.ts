import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Columns } from "@orisma/contract";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;
beforeAll(async () => {
  running = await startTestService();
});
afterAll(() => running.end());

const HEADINGS = "work;raised;cost;weight;paid;visits";
const LINES = [
  "W-1;2025-02-01;1.234,56 €;1 200 kg;ja;1.200",
  "W-2;2025-02-02;-12,5 €;950 kg;nein;12",
  "W-3;2025-02-03;0,75 €;;ja;7",
  "W-4;2025-02-04;soon;3 kg;perhaps;1.2",
];
const COLUMNS: Columns = {
  raised: { type: "date", reading: { kind: "date", encoding: "text" } },
  cost: { type: "decimal", written: { decimal: ",", group: ".", units: ["€"] } },
  weight: { type: "integer", written: { group: " ", units: ["kg"] } },
  paid: { type: "boolean", written: { true: ["ja"], false: ["nein"] } },
  visits: { type: "integer", written: { group: "." } },
};

async function works(name: string, lines: readonly string[], columns: Columns = COLUMNS) {
  const { client } = running;
  await client.createSource({ name, key: "work", columns });
  const report = await client.importFile(name, [HEADINGS, ...lines].join("\n"));
  await client.declareListing(name, {
    source: name,
    mainDate: "raised",
    order: { allowed: ["cost", "raised"], default: "raised" },
    parameters: [
      { name: "cost", column: "cost", type: "decimal", comparison: "atLeast" },
      { name: "paid", column: "paid", type: "boolean", comparison: "is" },
    ],
    editable: ["cost", "paid"],
    filter: { columns: "all" },
  });
  return report;
}

describe("numbers as they are written", () => {
  test("are numbers: filtered, ordered and summed, and a cell that is none keeps its text", async () => {
    const { columns } = await works("german", LINES);
    expect(columns).toMatchObject({
      cost: { read: 3, unreadable: 1 },
      weight: { read: 3, blank: 1, unreadable: 0 },
      paid: { read: 3, unreadable: 1 },
      visits: { read: 3, unreadable: 1 },
    });
    const { client } = running;
    const idsOf = async (query: Record<string, string>) =>
      (await client.records("german", query)).records.map(({ id }) => id);
    expect(await idsOf({ cost: "0.75" })).toEqual(["W-1", "W-3"]);
    expect(await idsOf({ cost: "1234.57" })).toEqual([]);
    expect(await idsOf({ order: "-cost", cost: "-100" })).toEqual(["W-1", "W-3", "W-2"]);
    expect(await idsOf({ paid: "no" })).toEqual(["W-2"]);
    expect(await idsOf({ filter: "weight > 950 AND visits = 1200" })).toEqual(["W-1"]);
    const { records, meta } = await client.records("german");
    expect(records[0]).toMatchObject({ cost: 1234.56, weight: 1200, paid: true, visits: 1200 });
    expect(meta.unreadable["W-4"]).toEqual({ cost: "soon", paid: "perhaps", visits: "1.2" });
    const cells = (await client.inspectRecord("german", "W-1")).cells;
    expect(cells.find(({ column }) => column === "cost")).toMatchObject({
      ...{ raw: "1.234,56 €", state: "dated" },
    });
  });

  test("are edited in their own form, and undone", async () => {
    await works("edited", LINES);
    const { client } = running;
    const { etag } = await client.recordToEdit("edited", "W-2");
    const made = await client.editRecord("edited", "W-2", { cost: 99.5, paid: true }, { etag });
    expect(made.record).toMatchObject({ cost: 99.5, paid: true });
    const [noted] = await client.edits("edited");
    expect(noted?.cells.map(({ column, before, after }) => [column, before, after])).toEqual([
      ["cost", "-12,5 €", "99,5"],
      ["paid", "nein", "ja"],
    ]);
    await client.undoEdit("edited", made.edit ?? 0);
    expect((await client.records("edited", { cost: "-12.5" })).meta.total).toBe(3);
  });

  test("are recognised with the evidence, and set in one act; what is in doubt is not", async () => {
    const text = ["K;00123;1.234", "L;00456;5.678"].map((line, index) => {
      const [gate, code, doubtful] = line.split(";");
      return `W-${index};2025-02-01;${index},50 €;${code};${gate};${doubtful}`;
    });
    const { client } = running;
    await client.createSource({ name: "found", key: "work" });
    await client.importFile("found", [HEADINGS, ...text].join("\n"));
    const { columns } = await client.profile("found");
    const verdicts = columns.map(({ name, written }) => [name, written.verdict]);
    expect(Object.fromEntries(verdicts)).toMatchObject({
      ...{ cost: "certain", weight: "plain", paid: "none", visits: "ambiguous" },
    });
    const cost = columns.find(({ name }) => name === "cost");
    expect(cost?.written.evidence).toBe("2 cells are numbers written as 1234,56 €");
    const [best] = cost?.written.candidates ?? [];
    const written = best?.form ?? {};
    const preview = await client.previewReadings("found", { cost: { type: "decimal", written } });
    expect(preview.columns.cost).toMatchObject({ dated: 2, unreadable: 0 });
    await client.setReadings("found", { cost: { type: "decimal", written } });
    const source = await client.source("found");
    expect(source.columns.find(({ name }) => name === "cost")).toEqual({
      ...{ name: "cost", type: "decimal", written: { decimal: ",", units: ["€"] } },
    });
    const after = (await client.profile("found")).columns.find(({ name }) => name === "cost");
    expect(after).toMatchObject({ form: written, numbers: { fractional: 2, other: 0 } });
    // The next file is read in the same way.
    await client.importFile("found", [HEADINGS, "W-9;2025-02-01;7,25 €;1;K;1"].join("\n"));
    expect((await client.profile("found")).columns).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ numbers: expect.objectContaining({ fractional: 1 }) }),
      ]),
    );
  });

  test("a form that none can have, or that the file's own numbers do not have, is refused", async () => {
    const { client } = running;
    const faultsOf = async (made: Promise<unknown>) =>
      (await refusal(made))?.faults.map(({ path, message }) => `${path ?? ""}: ${message}`);
    const wrong = { type: "decimal", written: { decimal: ",", group: "," } } as const;
    expect(
      await faultsOf(client.createSource({ name: "wrong", columns: { cost: wrong } })),
    ).toEqual([expect.stringMatching(/^columns\.cost\.written\.group: the same character/)]);
    const words = { type: "boolean", written: { true: ["ja"], false: ["Ja"] } } as const;
    expect(
      await faultsOf(client.createSource({ name: "wrong", columns: { paid: words } })),
    ).toEqual([expect.stringMatching(/^columns\.paid\.written\.false: “ja” cannot mean both/)]);
    const { cost } = COLUMNS;
    await client.createSource({ name: "typed", key: "work", columns: cost ? { cost } : {} });
    const json = JSON.stringify([{ work: "W-1", cost: 1.234 }]);
    expect(await faultsOf(client.importFile("typed", json))).toEqual([
      expect.stringMatching(/one cell of “cost” is a number in the file itself/),
    ]);
    const asText = JSON.stringify([{ work: "W-1", cost: "1.234" }]);
    expect((await client.importFile("typed", asText)).columns.cost).toMatchObject({ read: 1 });
  });
});
