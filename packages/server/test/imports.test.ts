import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { mkdtempSync, readdirSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { type NewListing, type NewSource } from "@orisma/client";
import mysql from "mysql2/promise";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const INBOX = mkdtempSync(join(tmpdir(), "orisma-inbox-"));
const SOURCE: NewSource = {
  name: "orders",
  key: "order",
  columns: {
    raised: {
      type: "date",
      reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: ["tbc"] },
    },
    cost: { type: "integer" },
  },
};
const LISTING: NewListing = { source: "orders", mainDate: "raised", order: { default: "raised" } };
const FILE = "order,raised,cost\nW-1,01/03/2025,100\nW-2,tbc,200\nW-3,31/02/2025,300\n";

let running: TestService;

beforeAll(async () => {
  running = await startTestService({ inbox: INBOX });
});
afterAll(async () => {
  await running.end();
  rmSync(INBOX, { recursive: true, force: true });
});

/** Declares the source afresh with its file. */
async function fresh(): Promise<void> {
  await running.client.deleteListing("orders").catch(() => undefined);
  await running.client.deleteSource("orders").catch(() => undefined);
  await running.client.createSource(SOURCE);
  await running.client.importFile("orders", FILE, { file: "orders.csv" });
  await running.client.declareListing("orders", LISTING);
}

/** `W-1 2025-03-01 100` for every record, in the order of the key. */
async function stored(): Promise<readonly string[]> {
  const { records } = await running.client.records("orders", { size: "100" });
  return records
    .map(({ id, raised, cost }) => {
      const date = raised ?? "-";
      return `${String(id)} ${String(date)} ${String(cost)}`;
    })
    .sort();
}

async function recordTables(): Promise<number> {
  const connection = await mysql.createConnection({ ...running.login });
  const [rows] = await connection.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records%'");
  await connection.end();
  return rows.length;
}

describe("modes of taking a file", () => {
  test("append puts records beside those that are there, and refuses keys that are taken", async () => {
    await fresh();
    const file = "cost,order,raised\n400,W-4,02/03/2025\n500,W-1,03/03/2025\n";
    const report = await running.client.importFile("orders", file, { mode: "append" });
    expect(report).toMatchObject({ records: 4, added: 1, changed: 0, refused: 1 });
    expect(await running.client.refusedRows("orders", report.importNumber ?? 0)).toMatchObject([
      { line: 3, reason: "the key “W-1” is that of another record" },
    ]);
    expect(await stored()).toEqual([
      "W-1 2025-03-01 100",
      "W-2 - 200",
      "W-3 - 300",
      "W-4 2025-03-02 400",
    ]);
  });

  test("append wants the same columns, and names those that differ", async () => {
    await fresh();
    const found = await refusal(
      running.client.importFile("orders", "order,raised,price\nW-9,01/01/2025,1\n", {
        mode: "append",
      }),
    );
    expect(found?.faults.map(({ message, nearest }) => [message, nearest])).toEqual([
      ["unknown column “cost”", undefined],
      ["unknown column “price”", undefined],
    ]);
    expect(await stored()).toHaveLength(3);
  });

  test("update goes by the key: others, new ones, and the same ones are distinguished", async () => {
    await fresh();
    const file = "order,raised,cost\nW-2,04/03/2025,200\nW-1,01/03/2025,100\nW-5,,500\n";
    const report = await running.client.importFile("orders", file, { mode: "update" });
    expect(report).toMatchObject({ records: 4, added: 1, changed: 1, refused: 0 });
    expect(await stored()).toEqual([
      "W-1 2025-03-01 100",
      "W-2 2025-03-04 200",
      "W-3 - 300",
      "W-5 - 500",
    ]);
  });

  test("update of some columns leaves the others, which are blank for new records", async () => {
    await fresh();
    const file = "order,cost\nW-1,101\nW-6,600\nW-6,601\n";
    const report = await running.client.importFile("orders", file, { mode: "update" });
    expect(report).toMatchObject({ records: 4, added: 1, changed: 1, refused: 1 });
    expect(await stored()).toEqual(["W-1 2025-03-01 101", "W-2 - 200", "W-3 - 300", "W-6 - 600"]);
    await running.client.setReadings("orders", SOURCE.columns ?? {});
    expect(await stored()).toHaveLength(4);
  });

  test("update needs a key of the source and in the file", async () => {
    await fresh();
    const without = running.client.importFile("orders", "raised\n01/01/2025\n", { mode: "update" });
    expect((await refusal(without))?.detail).toBe("unknown column “order”");
    await running.client.createSource({ name: "keyless" });
    await running.client.importFile("keyless", "a\n1\n");
    const keyless = running.client.importFile("keyless", "a\n2\n", { mode: "update" });
    expect((await refusal(keyless))?.detail).toContain("has no key");
    await running.client.deleteSource("keyless");
  });

  test("replace takes keys that stand twice once, and refuses the second by its line", async () => {
    await fresh();
    const rows = Array.from({ length: 2_500 }, (_, index) => `K-${index % 2_400},,${index}\n`);
    const report = await running.client.importFile("orders", `order,raised,cost\n${rows.join("")}`);
    expect(report).toMatchObject({ records: 2_400, added: 2_400, refused: 100 });
    const refused = await running.client.refusedRows("orders", report.importNumber ?? 0);
    expect(refused[0]).toMatchObject({ line: 2_402, cells: ["K-0", "", "2400"] });
  });
});

describe("the same file, the one before, the history", () => {
  test("the same file again changes nothing and says so; appending it is refused", async () => {
    await fresh();
    const again = await running.client.importFile("orders", FILE);
    expect(again).toMatchObject({ unchanged: true, records: 3, importNumber: 1 });
    const found = await refusal(running.client.importFile("orders", FILE, { mode: "append" }));
    expect(found).toMatchObject({ status: 409, faults: [{ code: "file.same" }] });
    const forced = await running.client.importFile("orders", FILE, { again: true });
    expect(forced.unchanged).toBeUndefined();
    expect(forced.importNumber).toBe(2);
  });

  test("the file that was added last is taken in place of all records all the same", async () => {
    await fresh();
    const more = "order,raised,cost\nW-7,07/03/2025,700\n";
    await running.client.importFile("orders", more, { mode: "append" });
    expect((await running.client.source("orders")).records).toBe(4);
    const report = await running.client.importFile("orders", more);
    expect(report.unchanged).toBeUndefined();
    expect(report.records).toBe(1);
  });

  test("what was there before an import can be restored, and that undone", async () => {
    await fresh();
    expect((await running.client.source("orders")).before).toBeNull();
    expect((await refusal(running.client.restoreRecords("orders")))?.status).toBe(404);
    const old = await stored();
    await running.client.importFile("orders", "order,raised,cost\nW-7,07/03/2025,700\n");
    const fresher = await stored();
    expect((await running.client.source("orders")).before).toEqual({ importNumber: 1, records: 3 });
    expect(await running.client.restoreRecords("orders")).toMatchObject({
      records: 3,
      importNumber: 1,
    });
    expect(await stored()).toEqual(old);
    await running.client.restoreRecords("orders");
    expect(await stored()).toEqual(fresher);
    const { imports } = await running.client.imports("orders");
    expect(imports.map(({ number, state, inUse, file }) => [number, state, inUse, file])).toEqual([
      [2, "done", true, null],
      [1, "done", false, "orders.csv"],
    ]);
  });

  test("an import that failed is reported, and took nothing", async () => {
    await fresh();
    await refusal(running.client.importFile("orders", "order\nW-1\n", { file: "short.csv" }));
    const { imports, running: now } = await running.client.imports("orders");
    expect(now).toBeNull();
    expect(imports[0]).toMatchObject({ state: "failed", file: "short.csv", inUse: false });
    expect(imports[0]?.problem).toContain("unknown column “raised”");
    expect(await stored()).toHaveLength(3);
  });
});

describe("cancelling", () => {
  const MANY = `order,raised,cost\n${Array.from({ length: 60_000 }, (_, index) => `M-${index},01/01/2025,${index}\n`).join("")}`;

  async function untilReading(): Promise<void> {
    for (let tries = 0; tries < 400; tries++) {
      const { running: now } = await running.client.imports("orders");
      if (now?.stage === "reading" && now.records > 0 && now.share < 1) return;
      await sleep(5);
    }
    throw new Error("the load was not seen to run");
  }

  test("shows how far an import has come, and leaves the records as they were", async () => {
    await fresh();
    const tables = await recordTables();
    const load = refusal(running.client.importFile("orders", MANY));
    await untilReading();
    expect(await refusal(running.client.importFile("orders", FILE, { again: true }))).toMatchObject(
      {
        status: 409,
      },
    );
    expect(await refusal(running.client.deleteSource("orders"))).toMatchObject({ status: 409 });
    await running.client.cancelImport("orders");
    expect((await load)?.detail).toBe("The import was cancelled; the records are as they were");
    expect(await stored()).toHaveLength(3);
    expect(await recordTables()).toBe(tables);
    expect((await running.client.imports("orders")).imports[0]?.state).toBe("cancelled");
    expect(await refusal(running.client.cancelImport("orders"))).toMatchObject({ status: 404 });
    expect(readdirSync(join(running.state, "arriving"))).toEqual([]);
  });

  test("a repair is refused while the records are replaced, which would lose it", async () => {
    await fresh();
    const repair = { id: "W-3", column: "raised", value: "03/03/2025" };
    const load = running.client.importFile("orders", MANY, { mode: "append" });
    await untilReading();
    const refused = await fetch(`${running.service.url}/v1/sources/orders/cells`, {
      method: "PATCH",
      headers: {
        Authorization: `Bearer ${running.service.key}`,
        "Content-Type": "application/json",
      },
      body: JSON.stringify(repair),
    });
    expect([refused.status, refused.headers.get("Retry-After")]).toEqual([409, "10"]);
    expect(await refused.json()).toMatchObject({ type: "/problems#busy" });
    await load;
    await running.client.repairCell("orders", repair);
    expect((await running.client.records("orders", { raised: "2025-03-03" })).meta.total).toBe(1);
  });

  test("a caller who hangs up cancels as well", async () => {
    await fresh();
    const hangUp = new AbortController();
    const load = running.client.importFile("orders", MANY, {}, hangUp.signal).catch(() => "gone");
    await untilReading();
    hangUp.abort();
    expect(await load).toBe("gone");
    for (let tries = 0; tries < 200; tries++) {
      if ((await running.client.imports("orders")).running === null) break;
      await sleep(10);
    }
    expect((await running.client.imports("orders")).imports[0]?.state).toBe("cancelled");
    expect(await stored()).toHaveLength(3);
  });
});

describe("setting readings by looking first", () => {
  test("a preview reports what a reading would come to, and stores nothing", async () => {
    await fresh();
    const reading = {
      kind: "date",
      encoding: "text",
      patterns: ["MM/dd/yyyy"],
      blanks: ["tbc", "31/02/2025"],
    } as const;
    const preview = await running.client.previewReadings("orders", {
      raised: { type: "date", reading },
    });
    const { raised } = preview.columns;
    expect(raised).toMatchObject({
      dated: 1,
      blank: 2,
      unreadable: 0,
      quality: { earliest: "2025-01-03", days: 1 },
    });
    expect(await stored()).toContain("W-1 2025-03-01 100");
    const found = await refusal(
      running.client.previewReadings("orders", { rased: { type: "text" } }),
    );
    expect(found?.faults[0]).toMatchObject({ code: "column.unknown", nearest: ["raised"] });
  });

  test("every cell of a record can be seen as it came, beside what it is read as", async () => {
    await fresh();
    expect(await running.client.inspectRecord("orders", "W-1")).toMatchObject({
      id: "W-1",
      cells: [
        { column: "order", type: "text", raw: "W-1", state: "text" },
        {
          column: "raised",
          raw: "01/03/2025",
          state: "dated",
          date: "2025-03-01",
          long: "1 March 2025",
          reading: { kind: "date", patterns: ["dd/MM/yyyy"] },
        },
        { column: "cost", type: "integer", raw: "100", state: "dated" },
      ],
    });
    const { cells } = await running.client.inspectRecord("orders", "W-3");
    expect(cells[1]).toMatchObject({ state: "unreadable", fault: { code: "date.impossible" } });
    expect((await running.client.inspectRecord("orders", "W-2")).cells[1]?.state).toBe("blank");
    expect((await refusal(running.client.inspectRecord("orders", "W-9")))?.status).toBe(404);
  });

  test("one cell can be repaired, is read as its column is, and stays so when confirmed again", async () => {
    await fresh();
    const cell = { id: "W-3", column: "raised", value: "28/02/2025" };
    expect(await running.client.repairCell("orders", cell)).toMatchObject({
      before: "31/02/2025",
      state: "dated",
    });
    await running.client.setReadings("orders", SOURCE.columns ?? {});
    expect(await stored()).toContain("W-3 2025-02-28 300");
    expect(await running.client.repairCell("orders", { ...cell, value: "soon" })).toMatchObject({
      state: "unreadable",
      fault: { code: "date.pattern", value: "soon" },
    });
    expect(await running.client.repairCell("orders", { ...cell, value: null })).toMatchObject({
      state: "blank",
    });
    expect(
      (await refusal(running.client.repairCell("orders", { ...cell, id: "W-9" })))?.status,
    ).toBe(404);
    expect(
      (await refusal(running.client.repairCell("orders", { ...cell, column: "order" })))?.status,
    ).toBe(422);
    expect(
      (await refusal(running.client.repairCell("orders", { ...cell, column: "rased" })))?.status,
    ).toBe(422);
  });
});

describe("watching a file", () => {
  const file = join(INBOX, "orders.csv");

  async function until(wanted: (imports: number) => boolean): Promise<number> {
    for (let tries = 0; tries < 800; tries++) {
      const { imports } = await running.client.imports("orders");
      const done = imports.filter(({ state }) => state === "done").length;
      if (wanted(done)) return done;
      await sleep(25);
    }
    throw new Error("the file was not imported");
  }

  test("takes it when it changes, and only then", async () => {
    await fresh();
    writeFileSync(file, "order,raised,cost\nW-8,08/03/2025,800\n");
    const watch = { file: "orders.csv", every: 5 };
    expect(await running.client.watchFile("orders", watch)).toMatchObject({
      watch: { file: "orders.csv", mode: "replace", every: 5, options: {} },
    });
    await until((done) => done === 2);
    expect(await stored()).toEqual(["W-8 2025-03-08 800"]);
    writeFileSync(file, "order,raised,cost\nW-8,08/03/2025,800\nW-9,09/03/2025,900\n");
    await until((done) => done === 3);
    expect(await stored()).toHaveLength(2);
    // Two more looks at a file that stays as it is.
    await sleep(11_000);
    expect((await running.client.imports("orders")).imports).toHaveLength(3);
    expect((await running.client.watchFile("orders", null)).watch).toBeNull();
  });

  test("stays within the inbox", async () => {
    await fresh();
    symlinkSync("/etc/hostname", join(INBOX, "link.csv"));
    for (const path of ["../orders.csv", "/etc/hostname", "link.csv", "nothing.csv", "."]) {
      const found = await refusal(running.client.watchFile("orders", { file: path }));
      expect(found).toMatchObject({ status: 404 });
    }
    const options = { delimitr: ";", skip: "x" };
    expect(
      await refusal(running.client.watchFile("orders", { file: "orders.csv", options })),
    ).toMatchObject({ status: 422 });
  });
});
