import { spawn, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import mysql from "mysql2/promise";
import { ROOT, startTestService, type TestService } from "../../../test/service.js";

const DAY_MS = 86_400_000;

/** Records of which some have the same date, some none; every third will be deleted meanwhile. */
const WORKS = Array.from({ length: 300 }, (_, index) => ({
  ref: `W-${String(index).padStart(3, "0")}`,
  raised:
    index % 11 === 0
      ? ""
      : new Date(Date.UTC(2025, 0, 1) + ((index * 37) % 90) * DAY_MS).toISOString().slice(0, 10),
  cost: String((index * 53) % 40),
  note: ["gate", "Paddle", "sill", "culvert"][(index * 7) % 4] ?? "",
}));
const STEADY = WORKS.filter((_, index) => index % 3 !== 0);

/**
 * What another process does while pages are read: it deletes every third record, and adds copies of
 * records under keys of their own, among which it deletes too.
 */
const MEDDLER = `
import mysql from "mysql2/promise";
const connection = await mysql.createConnection(JSON.parse(process.env.LOGIN));
const { TABLE, KEY, COLUMNS } = process.env;
const others = COLUMNS.split(",").filter((name) => name !== KEY);
let n = 0;
for (;;) {
  const from = "W-" + String((n * 17) % 300).padStart(3, "0");
  const key = "X-" + String((n * 7919) % 1000).padStart(4, "0") + "-" + n;
  await connection.execute(
    "INSERT INTO " + TABLE + " (" + KEY + "," + others.join() + ") SELECT ?," + others.join() +
      " FROM " + TABLE + " WHERE " + KEY + " = ?", [key, from]);
  if (n % 3 === 0) await connection.execute("DELETE FROM " + TABLE + " WHERE " + KEY + " LIKE 'X-%' LIMIT 2", []);
  const gone = "W-" + String((n * 3) % 300).padStart(3, "0");
  if (n < 100) await connection.execute("DELETE FROM " + TABLE + " WHERE " + KEY + " = ?", [gone]);
  n++;
  if (n === 5) process.stdout.write("at work\\n");
}
`;

let running: TestService;
let meddler: ChildProcess;

beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  const text = { encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  await client.createSource({
    name: "works",
    key: "ref",
    columns: {
      raised: { type: "date", reading: { kind: "date", ...text } },
      cost: { type: "integer" },
    },
  });
  await client.importFile("works", WORKS.map((work) => JSON.stringify(work)).join("\n"));
  await client.declareListing("works", {
    source: "works",
    mainDate: "raised",
    order: { allowed: ["raised", "cost", "note"], default: "raised", tieBreakers: ["-cost"] },
    page: { max: 1_000 },
  });
  const connection = await mysql.createConnection({ ...running.login });
  const [tables] = await connection.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records\\_%'");
  const table = String(Object.values(tables[0] ?? {})[0]);
  const [columns] = await connection.query<mysql.RowDataPacket[]>(
    "SELECT column_name AS name, column_key AS role FROM information_schema.columns " +
      "WHERE table_schema = DATABASE() AND table_name = ? AND extra NOT LIKE '%GENERATED%'",
    [table],
  );
  await connection.end();
  const key = columns.find(({ role }) => role === "PRI")?.name as string;
  meddler = spawn(process.execPath, ["--input-type=module", "-e", MEDDLER], {
    cwd: ROOT,
    env: {
      PATH: process.env.PATH ?? "",
      LOGIN: JSON.stringify(running.login),
      TABLE: table,
      KEY: key,
      COLUMNS: columns.map(({ name }) => String(name)).join(),
    },
    stdio: ["ignore", "pipe", "inherit"],
  });
  if (meddler.stdout !== null) await once(meddler.stdout, "data");
});
afterAll(async () => {
  meddler.kill("SIGKILL");
  await running.end();
});

type Work = (typeof WORKS)[number];

/** How two values stand: nothing before all, strings without regard to letter case. */
function compare(a: string, b: string): number {
  const [first, second] = [a.toLowerCase(), b.toLowerCase()];
  return first === second ? 0 : first < second ? -1 : 1;
}

const BY: Readonly<Record<string, (a: Work, b: Work) => number>> = {
  raised: (a, b) => compare(a.raised, b.raised),
  cost: (a, b) => Number(a.cost) - Number(b.cost),
  note: (a, b) => compare(a.note, b.note),
};

function ordered(order: readonly string[]): readonly string[] {
  const named = [...order, ...(order.some((each) => each.endsWith("cost")) ? [] : ["-cost"])];
  const isDown = order[0]?.startsWith("-") === true;
  return [...STEADY]
    .sort((a, b) => {
      for (const each of named) {
        const sign = each.startsWith("-") ? -1 : 1;
        const found = sign * (BY[each.replace("-", "")]?.(a, b) ?? 0);
        if (found !== 0) return found;
      }
      return (isDown ? -1 : 1) * compare(a.ref, b.ref);
    })
    .map(({ ref }) => ref);
}

describe("while another process inserts and deletes records", () => {
  test.each([
    [["raised"]],
    [["-raised"]],
    [["cost"]],
    [["-cost", "raised"]],
    [["raised", "-note"]],
    [["-note", "cost"]],
  ])("the pages by %j have every record that stays once, in order", async (order) => {
    const seen: string[] = [];
    let page = await running.client.records("works", { order, size: 7, total: "none" });
    let pages = 1;
    for (;;) {
      seen.push(...page.records.map(({ id }) => String(id)));
      if (page.links.next === undefined) break;
      page = await running.client.follow(page.links.next);
      pages++;
    }
    expect(pages).toBeGreaterThan(25);
    expect(new Set(seen).size).toBe(seen.length);
    const steady = new Set(STEADY.map(({ ref }) => ref));
    expect(seen.filter((id) => steady.has(id))).toEqual(ordered(order));
    expect(seen.some((id) => id.startsWith("X-"))).toBe(true);
  });

  test("an export has every record that stays once, and a page back leads to the page before", async () => {
    const headers = { authorization: `Bearer ${running.service.key}` };
    const url = `${running.service.url}/v1/listings/works/records.ndjson?order=raised`;
    const lines = (await (await fetch(url, { headers })).text()).trim().split("\n");
    const ids = lines.map((line) => (JSON.parse(line) as { id: string }).id);
    expect(new Set(ids).size).toBe(ids.length);
    const steady = new Set(STEADY.map(({ ref }) => ref));
    expect(ids.filter((id) => steady.has(id))).toEqual(ordered(["raised"]));
    const first = await running.client.records("works", { order: "raised", size: 40 });
    const second = await running.client.follow(first.links.next ?? "");
    const back = await running.client.follow(second.links.previous ?? "");
    const last = (page: typeof first) =>
      page.records
        .map(({ id }) => String(id))
        .filter((id) => steady.has(id))
        .at(-1);
    expect(last(back)).toBe(last(first));
  });
});
