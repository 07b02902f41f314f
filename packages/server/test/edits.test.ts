import { afterAll, beforeAll, beforeEach, describe, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const now = Date.UTC(2025, 2, 14, 12);
let running: TestService;
let reader: OrismaClient;

const FILE = `work,raised,seen,status,cost,urgent,note,finished
W-1,10/02/2025,2025-02-10 09:30,open,1999,yes,Grease the gear,
W-2,28/02/2025,2025-02-28 10:00,open,20000,no,,
W-3,05/03/2025,2025-03-05 11:00,held,,,Clear the weed,
W-4,09/03/2025,2025-03-09 12:00,done,500,no,Mend the gate,12/03/2025
`;

const WORKS: NewListing = {
  source: "works",
  title: "Works of the vale",
  zone: "Europe/London",
  mainDate: "raised",
  parameters: [
    { name: "status", column: "status", type: "several", comparison: "among" },
    { name: "from", column: "raised", type: "date", comparison: "from" },
  ],
  units: { cost: { scale: 2 } },
  editable: ["raised", "seen", "status", "cost", "urgent", "note", "finished"],
  actions: {
    finish: {
      label: "Mark finished",
      set: { status: "done", finished: "today", note: "caller()" },
    },
    reopen: { set: { status: "open", finished: null } },
  },
  allow: { edit: "reader", act: "reader" },
};

beforeAll(async () => {
  running = await startTestService({ now: () => now });
  const { client, service } = running;
  const date = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] } as const;
  const time = { kind: "local", encoding: "text", patterns: ["yyyy-MM-dd HH:mm"] } as const;
  await client.createSource({
    name: "works",
    key: "work",
    columns: {
      raised: { type: "date", reading: date },
      finished: { type: "date", reading: date },
      seen: { type: "date", reading: time },
      cost: { type: "integer" },
      urgent: { type: "boolean" },
    },
  });
  await client.importFile("works", FILE);
  await client.declareListing("works", WORKS);
  await client.declareListing("open", {
    ...WORKS,
    title: "Open works",
    fixedFilter: "status = 'open'",
    columns: ["work", "raised", "note"],
    editable: ["note"],
  });
  const { key } = await client.createKey({ name: "Ann", role: "reader" });
  reader = new OrismaClient({ url: service.url, key });
});
beforeEach(async () => {
  await running.client.importFile("works", FILE, { again: true, edits: "overwrite" });
});
afterAll(() => running.end());

async function record(id: string) {
  const { record: found } = await running.client.recordToEdit("works", id);
  return found;
}

async function ids(listing: string, query: Record<string, string> = {}): Promise<string> {
  const { records } = await running.client.records(listing, query);
  return records
    .map(({ id }) => String(id))
    .sort()
    .join(" ");
}

/** Every text of the records as it is stored. */
async function stored(id: string): Promise<Record<string, string | null>> {
  const { cells } = await running.client.inspectRecord("works", id);
  return Object.fromEntries(cells.map(({ column, raw }) => [column, raw]));
}

describe("an edit of a record", () => {
  test("stores values as their columns are read, and finds them at once", async () => {
    const { etag } = await reader.recordToEdit("works", "W-3");
    const values = {
      raised: "2025-03-31",
      seen: "2025-03-07T08:05",
      status: "a value that no record had",
      cost: 19.99,
      urgent: true,
      note: null,
      finished: "today+P7D",
    };
    const edited = await reader.editRecord("works", "W-3", values, { etag });
    expect(edited).toMatchObject({ isIn: true, notices: [] });
    expect(edited.record).toMatchObject({
      ...{ raised: "2025-03-31", seen: "2025-03-07T08:05:00", cost: 19.99, urgent: true },
      ...{ finished: "2025-03-21", note: null },
    });
    expect(await stored("W-3")).toMatchObject({
      ...{ raised: "31/03/2025", seen: "2025-03-07 08:05", cost: "1999", urgent: "true" },
      ...{ finished: "21/03/2025", note: null },
    });
    expect(await ids("works", { from: "2025-03-31" })).toBe("W-3");
    // It is in the dictionary of its column too, by which conditions are looked up.
    expect(await ids("works", { status: "a value that no record had" })).toBe("W-3");
    expect(await ids("works", { status: "held" })).toBe("");
  });

  test("is refused with every value that cannot be stored, and changes nothing", async () => {
    const { etag } = await reader.recordToEdit("works", "W-1");
    const values = {
      raised: "2025-02-30",
      seen: "2025-03-07",
      cost: "12,5",
      urgent: "perhaps",
      status: 7,
      finished: "2025-03",
      work: "W-9",
    };
    const problem = await refusal(reader.editRecord("works", "W-1", values, { etag }));
    expect(problem?.status).toBe(422);
    const faults = problem?.faults.map(({ path, code }) => `${path} ${code}`);
    expect(faults).toEqual([
      "values.raised date.impossible",
      "values.seen edit.value",
      "values.cost number.form",
      "values.urgent boolean.form",
      "values.status edit.value",
      "values.finished edit.value",
      "values.work edit.column",
    ]);
    expect(problem?.faults.at(-1)?.accepted).toContain("note");
    expect(problem?.faults.at(-1)?.accepted).not.toContain("work,");
    expect(await stored("W-1")).toMatchObject({ raised: "10/02/2025", status: "open" });
    expect((await refusal(reader.editRecord("works", "W-1", {}, { etag })))?.faults[0]?.code).toBe(
      "edit.empty",
    );
  });

  test("is for the record as it was read: a change in between, or none named, is refused", async () => {
    const { etag } = await reader.recordToEdit("works", "W-1");
    expect(etag).toMatch(/^"[\w-]+\.[\w-]+"$/);
    await running.client.editRecord("works", "W-1", { note: "first" }, { etag });
    const late = refusal(reader.editRecord("works", "W-1", { note: "second" }, { etag }));
    expect(await late).toMatchObject({ status: 412 });
    expect(await record("W-1")).toMatchObject({ note: "first" });
    const any = await reader.editRecord("works", "W-1", { note: "third" }, { etag: "*" });
    expect(any.record).toMatchObject({ note: "third" });
    const { key } = await running.client.createKey({ name: "Bea", role: "author" });
    const sent = await fetch(`${running.service.url}/v1/listings/works/records/W-1`, {
      method: "PATCH",
      headers: { Authorization: `Bearer ${key}`, "Content-Type": "application/json" },
      body: JSON.stringify({ values: { note: "fourth" } }),
    });
    expect(sent.status).toBe(428);
    expect(await sent.text()).toContain("If-Match");
    expect(await record("W-1")).toMatchObject({ note: "third" });
  });

  test("says when the record leaves what was requested, and when it leaves the listing", async () => {
    const parameters = { status: "open" };
    const edited = await reader.editRecord(
      "works",
      "W-1",
      { status: "held" },
      { etag: "*", parameters },
    );
    expect(edited.isIn).toBe(false);
    expect(edited.record).toMatchObject({ status: "held" });
    expect(edited.notices[0]).toMatch(/left the list.*status/s);
    const stays = await reader.editRecord("works", "W-2", { note: "x" }, { etag: "*", parameters });
    expect(stays).toMatchObject({ isIn: true, notices: [] });
    const report = await reader.act("open", "finish", { ids: ["W-2"] });
    expect(report).toMatchObject({ records: 1, changed: 1, left: 1 });
    expect(await ids("open")).toBe("");
  });

  test("is possible only for columns that are editable, by those who may, in the listing's records", async () => {
    const hidden = await refusal(reader.editRecord("open", "W-1", { cost: 1 }, { etag: "*" }));
    expect(hidden).toMatchObject({ status: 422 });
    expect(hidden?.faults[0]).toMatchObject({ code: "edit.column", accepted: "note" });
    const other = await refusal(reader.editRecord("open", "W-4", { note: "x" }, { etag: "*" }));
    expect(other).toMatchObject({ status: 404 });
    const { client } = running;
    await client.declareListing("kept", { ...WORKS, title: "Kept", allow: {} });
    const denied = await refusal(reader.editRecord("kept", "W-1", { note: "x" }, { etag: "*" }));
    expect(denied).toMatchObject({ status: 403 });
    expect(denied?.detail).toContain("author");
    await client.declareListing("kept", { ...WORKS, title: "Kept", allow: { edit: "nobody" } });
    const nobody = await refusal(client.editRecord("kept", "W-1", { note: "x" }, { etag: "*" }));
    expect(nobody).toMatchObject({ status: 403 });
    expect(await stored("W-1")).toMatchObject({ note: "Grease the gear" });
    expect((await reader.listing("kept")).rights).toEqual({ editable: [], actions: [] });
    const { rights } = await reader.listing("works");
    expect(rights.actions).toEqual([
      { name: "finish", label: "Mark finished" },
      { name: "reopen", label: "reopen" },
    ]);
    expect(await reader.listing("works")).not.toHaveProperty("actions");
  });
});

describe("an action", () => {
  test("counts what it is for, and then changes as many at once", async () => {
    const request = { status: "open" };
    const tried = await reader.act("works", "finish", { dryRun: true }, request);
    expect(tried).toEqual({ records: 2, changed: 2, left: null, edit: null });
    expect(await ids("works", request)).toBe("W-1 W-2");
    const unsaid = await refusal(reader.act("works", "finish", { dryRun: false }, request));
    expect(unsaid).toMatchObject({ status: 428 });
    const wrong = await refusal(reader.act("works", "finish", { expected: 3 }, request));
    expect(wrong).toMatchObject({ status: 412 });
    expect(wrong?.detail).toContain("keeps 2 records now, not 3");
    expect(await ids("works", request)).toBe("W-1 W-2");
    const done = await reader.act("works", "finish", { expected: 2 }, request);
    expect(done).toMatchObject({ records: 2, changed: 2, left: 2 });
    expect(await ids("works", request)).toBe("");
    expect(await stored("W-2")).toMatchObject({
      ...{ status: "done", finished: "14/03/2025", note: "Ann" },
    });
    expect(await stored("W-4")).toMatchObject({ finished: "12/03/2025" });
  });

  test("is one that the listing names, of records that it has", async () => {
    const unknown = await refusal(reader.act("works", "finnish", { dryRun: true }));
    expect(unknown).toMatchObject({ status: 404 });
    expect(unknown?.faults[0]?.nearest).toEqual(["finish"]);
    const missing = await refusal(reader.act("works", "finish", { ids: ["W-1", "W-77"] }));
    expect(missing).toMatchObject({ status: 404 });
    expect(missing?.detail).toContain("W-77");
    expect(await stored("W-1")).toMatchObject({ status: "open" });
    const same = await reader.act("works", "reopen", { ids: ["W-1"] });
    expect(same).toEqual({ records: 1, changed: 0, left: 0, edit: null });
  });
});

describe("the history", () => {
  test("says who changed what in a record, and takes it back", async () => {
    await reader.editRecord("works", "W-1", { status: "held", cost: 5 }, { etag: "*" });
    const { edit } = await reader.act("works", "finish", { ids: ["W-1", "W-2"] });
    const [last, first] = await reader.edits("works", { record: "W-1" });
    expect(last).toMatchObject({ by: "Ann", action: "finish", records: 2, undoneBy: null });
    expect(last?.cells).toContainEqual({
      ...{ id: "W-1", column: "status", before: "held", after: "done" },
    });
    expect(last?.cells.every(({ id }) => id === "W-1")).toBe(true);
    expect(first).toMatchObject({ listing: "works", action: null, records: 1 });
    expect(first?.cells).toContainEqual({
      ...{ id: "W-1", column: "cost", before: "1999", after: "500" },
    });
    const undone = await reader.undoEdit("works", edit ?? 0);
    expect(undone).toMatchObject({ records: 2, changed: 2 });
    expect(await stored("W-1")).toMatchObject({ status: "held", finished: "", cost: "500" });
    expect(await stored("W-2")).toMatchObject({ status: "open", note: "" });
    const again = await refusal(reader.undoEdit("works", edit ?? 0));
    expect(again).toMatchObject({ status: 409 });
    expect(again?.detail).toContain("taken back already");
  });

  test("takes nothing back where a record was changed since, and nothing of somebody else's", async () => {
    const { edit } = await reader.act("works", "finish", { ids: ["W-1", "W-2"] });
    await running.client.editRecord("works", "W-2", { status: "held" }, { etag: "*" });
    const problem = await refusal(reader.undoEdit("works", edit ?? 0));
    expect(problem).toMatchObject({ status: 412 });
    expect(problem?.detail).toContain("W-2");
    expect(await stored("W-1")).toMatchObject({ status: "done" });
    const [others] = await running.client.edits("works");
    const foreign = await refusal(reader.undoEdit("works", others?.number ?? 0));
    expect(foreign).toMatchObject({ status: 403 });
    expect(await refusal(reader.undoEdit("open", edit ?? 0))).toMatchObject({ status: 404 });
  });

  test("shows a reader no column that the listing does not show", async () => {
    await reader.act("open", "finish", { ids: ["W-1"] });
    const [shown] = await reader.edits("open");
    expect(shown?.cells.map(({ column }) => column)).toEqual(["note"]);
    const [all] = await running.client.edits("open");
    expect(all?.cells.map(({ column }) => column).sort()).toEqual(["finished", "note", "status"]);
    // It is in this listing no more.
    expect(await refusal(reader.edits("open", { record: "W-1" }))).toMatchObject({ status: 404 });
  });

  test("has repairs of the source too", async () => {
    await running.client.repairCell("works", { id: "W-4", column: "cost", value: "about 5" });
    const [repair] = await running.client.edits("works", { record: "W-4" });
    expect(repair).toMatchObject({ listing: null, by: "command line of this machine" });
    expect(repair?.cells).toEqual([{ id: "W-4", column: "cost", before: "500", after: "about 5" }]);
  });
});

describe("an import after edits", () => {
  const newer = FILE.replace("W-2,28/02/2025", "W-2,27/02/2025").replace("W-4,", "W-5,");

  test("is refused with what it would overwrite, unless it says what becomes of it", async () => {
    await reader.editRecord("works", "W-1", { status: "held" }, { etag: "*" });
    const problem = await refusal(running.client.importFile("works", newer));
    expect(problem).toMatchObject({ status: 409, type: "/problems#overwrites-edits" });
    expect(problem?.detail).toMatch(/one edit: status of W-1 \(“held”\).*edits=preserve/s);
    expect(await ids("works")).toBe("W-1 W-2 W-3 W-4");
    const report = await running.client.importFile("works", newer, { edits: "overwrite" });
    expect(report.edits).toEqual({ preserved: 0, overwritten: 1, lost: 0 });
    expect(await stored("W-1")).toMatchObject({ status: "open" });
  });

  test("makes them again where it is to, and says which records are gone", async () => {
    const { client } = running;
    await reader.editRecord("works", "W-1", { status: "a new word", cost: 1 }, { etag: "*" });
    await reader.editRecord("works", "W-4", { note: "gone" }, { etag: "*" });
    const { edit } = await reader.editRecord("works", "W-2", { note: "undone" }, { etag: "*" });
    await reader.undoEdit("works", edit ?? 0);
    await client.setEditPolicy("works", "preserve");
    expect(await client.source("works")).toMatchObject({ edits: "preserve" });
    const report = await client.importFile("works", newer);
    await client.setEditPolicy("works", "report");
    expect(report.edits).toEqual({ preserved: 2, overwritten: 0, lost: 1 });
    expect(await stored("W-1")).toMatchObject({ status: "a new word", cost: "100" });
    expect(await stored("W-2")).toMatchObject({ raised: "27/02/2025", note: "" });
    expect(await ids("works", { status: "a new word" })).toBe("W-1");
    // The file that agrees with an edit overwrites nothing.
    const same = newer.replace("open,1999", "a new word,100");
    expect((await client.importFile("works", same)).edits).toBeUndefined();
  });

  test("keeps them when the records before are restored, and when they are read otherwise", async () => {
    const { client } = running;
    await client.importFile("works", newer);
    await reader.editRecord("works", "W-1", { status: "a later word" }, { etag: "*" });
    expect(await refusal(client.restoreRecords("works"))).toMatchObject({ status: 409 });
    const report = await client.restoreRecords("works", { edits: "preserve" });
    expect(report.edits).toEqual({ preserved: 1, overwritten: 0, lost: 0 });
    expect(await ids("works", { status: "a later word" })).toBe("W-1");
    expect(await stored("W-4")).toMatchObject({ status: "done" });
    const reading = { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] } as const;
    await client.setReadings("works", { raised: { type: "date", reading } });
    expect(await ids("works", { status: "a later word" })).toBe("W-1");
  });

  test("cannot make them again where records have no key", async () => {
    const { client } = running;
    await client.createSource({ name: "tolls", columns: { paid: { type: "integer" } } });
    await client.importFile("tolls", "day,paid\n2025-03-01,5\n2025-03-02,6\n");
    const reading = { kind: "date", encoding: "text" } as const;
    await client.setReadings("tolls", { day: { type: "date", reading } });
    await client.declareListing("tolls", { source: "tolls", editable: ["paid"] });
    await client.editRecord("tolls", "2", { paid: 7 }, { etag: "*" });
    const other = "day,paid\n2025-03-02,6\n2025-03-01,5\n";
    const problem = await refusal(client.importFile("tolls", other, { edits: "preserve" }));
    expect(problem?.detail).toContain("no key");
    await client.importFile("tolls", other, { edits: "overwrite" });
    // Record 2 is another now: it has no history.
    expect(await client.edits("tolls", { record: "2" })).toEqual([]);
    const more = await client.importFile("tolls", "day,paid\n2025-03-03,8\n", { mode: "append" });
    expect(more).toMatchObject({ added: 1 });
  });
});

test("many edits at once of one record lose none", async () => {
  const notes = Array.from({ length: 12 }, (_, index) => `note ${index}`);
  await Promise.all(
    notes.map((note) => reader.editRecord("works", "W-1", { note }, { etag: "*" })),
  );
  const edits = await reader.edits("works", { record: "W-1", limit: 12 });
  const chain = edits.map(({ cells }) => cells[0]);
  // Each began where the one before it ended.
  for (const [index, cell] of chain.slice(0, -1).entries()) {
    expect(cell?.before).toBe(chain[index + 1]?.after);
  }
  expect(new Set(chain.map((cell) => cell?.after)).size).toBe(12);
  expect(await record("W-1")).toMatchObject({ note: chain[0]?.after });
});

test("what is changed in a listing is declared with columns of its source that can be", async () => {
  const { client } = running;
  const sent: NewListing = {
    ...WORKS,
    columns: ["work", "raised"],
    editable: ["raised", "note", "work", "nothing"],
    actions: { "two words": { set: {} }, late: { set: { raised: "soon", other: 1 } } },
  };
  const problem = await refusal(client.declareListing("wrong", sent));
  const faults = problem?.faults.map(({ path, code }) => `${path} ${code}`);
  expect(faults).toEqual([
    "editable.1 column.unknown",
    "editable.3 column.unknown",
    "actions.two words name.form",
    "actions.two words.set edit.empty",
    "actions.late.set.other column.unknown",
    "editable.2 parameter.setting",
  ]);
});
