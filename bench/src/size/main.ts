/**
 * A listing of five million records: what is requested of it against the best statements by hand with the same
 * indexes, on the same table in one run; and what finds nothing against a page that finds.
 */
import { once } from "node:events";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { cpus, release, tmpdir, totalmem } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { compared, timed, type Scenario } from "../compared.js";
import { median } from "../measure.js";
import { say } from "../rivals.js";
import { startOrisma } from "../service.js";
import { STATES, importWorks, recordsTable } from "../works.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 5_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 7);
/** The number of a status in its dictionary: they come in this order. */
const FINISHED = STATES.indexOf("finished") + 1;
const PAGE = 50;

const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
chmodSync(scratch, 0o711);
const memory = Math.floor(totalmem() / 4 / 1024 ** 2) * 1024 ** 2;
const folder = join(scratch, "database");
const engine = await startEngine({ folder, memory, tell: say, onCrash: say });
const orisma = await startOrisma(engine.login, join(scratch, "state"));
const connection = await mysql.createConnection({
  ...engine.login,
  dateStrings: true,
  timezone: "Z",
});
try {
  say(`importing ${ROWS} rows …`);
  const { client } = orisma;
  const begun = performance.now();
  await importWorks(client, ROWS);
  const minutes = (performance.now() - begun) / 60_000;
  await client.declareListing("sized", {
    source: "works",
    zone: "Europe/London",
    mainDate: "raised",
    parameters: [
      { name: "on", type: "window", column: "raised", comparison: "on" },
      { name: "status", type: "several", column: "status", comparison: "among" },
      { name: "task", type: "text", column: "task", comparison: "contains" },
    ],
    order: { allowed: ["raised"], default: "-raised" },
    page: { size: PAGE, max: PAGE },
    total: { upTo: 1_000_000_000 },
  });
  const indexing = performance.now();
  await untilIndexed();
  const seconds = (performance.now() - indexing) / 1_000;
  const table = await recordsTable(engine.login);
  const read = async (text: string, values: readonly (string | number)[] = []) => {
    const [rows] = await connection.execute<mysql.RowDataPacket[]>(text, [...values]);
    return rows;
  };
  const year = ["2023-01-01", "2024-01-01"];
  const month = ["2023-05-01", "2023-06-01"];
  const within = "c2 >= ? AND c2 < ?";
  const page =
    "SELECT id, c1, c2, s2, t2, c3, c4, c5, s5, t5 " +
    `FROM ${table} WHERE ${within} AND d4 = ${FINISHED} ORDER BY c2 DESC, id DESC LIMIT ${PAGE + 1}`;
  const edges = Array.from({ length: 13 }, (_, index) =>
    new Date(Date.UTC(2023, index, 1)).toISOString().slice(0, 10),
  );
  const bucket = `INTERVAL(TO_DAYS(c2), ${edges.map((day) => `TO_DAYS('${day}')`).join(", ")})`;
  const finished = { on: "2023", status: "finished" };
  const { statements } = await client.explain("sized", finished);
  const scenarios: readonly Scenario[] = [
    {
      name: "the statement of a page of one status in a year",
      own: async () => [
        (await read(statements.page.text, statements.page.values as (string | number)[])).length,
      ],
      hand: async () => [(await read(page, year)).length],
    },
    {
      name: "that page over HTTP",
      own: async () => [
        (await client.records("sized", { ...finished, total: "none" })).records.length,
      ],
      hand: async () => [Math.min(PAGE, (await read(page, year)).length)],
    },
    {
      name: "the same with its total",
      own: async () => {
        const { records, meta } = await client.records("sized", finished);
        return [records.length, meta.total ?? NaN];
      },
      hand: async () => {
        const rows = await read(page, year);
        const [row] = await read(
          `SELECT COUNT(*) AS n FROM ${table} WHERE ${within} AND d4 = ${FINISHED}`,
          year,
        );
        return [Math.min(PAGE, rows.length), Number(row?.n)];
      },
    },
    {
      name: "choices of a column with four values, in a month",
      own: async () => {
        const { choices } = await client.choices("sized", "status", { on: "2023-05" });
        return choices.map(({ records }) => records);
      },
      hand: async () => {
        const rows = await read(
          `SELECT d4, COUNT(*) AS n FROM ${table} WHERE ${within} GROUP BY d4 ORDER BY n DESC`,
          month,
        );
        return rows.map(({ n }) => Number(n));
      },
    },
    {
      name: "timeline of a year of one status, in months",
      own: async () => {
        const { buckets } = await client.timeline("sized", { ...finished, unit: "month" });
        return buckets.map(({ records }) => records);
      },
      hand: async () => {
        const rows = await read(
          `SELECT ${bucket} AS m, COUNT(*) AS n FROM ${table} WHERE ${within} AND d4 = ${FINISHED} GROUP BY m ORDER BY m`,
          year,
        );
        await read(`SELECT COUNT(*) FROM ${table} WHERE c2 IS NULL AND d4 = ${FINISHED}`);
        await read(
          `SELECT COUNT(*) FROM ${table} WHERE c2 >= '2022-01-01' AND c2 < '2023-01-01' AND d4 = ${FINISHED}`,
        );
        return rows.map(({ n }) => Number(n));
      },
    },
    {
      name: "summary of a year by status",
      own: async () => {
        const { groups } = await client.summary("sized", { on: "2023", by: "status" });
        return groups.map(({ records }) => records).sort((a, b) => b - a);
      },
      hand: async () => {
        const rows = await read(
          `SELECT d4, COUNT(*) AS n FROM ${table} WHERE ${within} GROUP BY d4 ORDER BY n DESC`,
          year,
        );
        await read(`SELECT COUNT(*) FROM ${table} WHERE ${within}`, year);
        return rows.map(({ n }) => Number(n));
      },
    },
  ];
  const lines = await compared(scenarios, PASSES);
  const nothing: number[] = [];
  for (let count = 0; count <= PASSES; count++) {
    const finds = await timed(async () => [
      (await client.records("sized", { on: "2023", task: "gear 17" })).records.length,
    ]);
    const misses = await timed(async () => [
      (await client.records("sized", { on: "2023", task: "sluice" })).records.length,
    ]);
    if (finds.found[0] !== PAGE || misses.found[0] !== 0) throw new Error("not what was expected");
    if (count > 0) nothing.push(misses.ms / finds.ms);
  }
  process.stdout.write(
    [
      `A listing of ${ROWS} records; ${PASSES} passes in turn, medians; over HTTP, against bare statements.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, MariaDB on the same machine.`,
      `Imported in ${minutes.toFixed(1)} minutes, its indexes made in ${seconds.toFixed(0)} s while it served.`,
      "",
      ...lines,
      `nothing found, of a page that finds: ${median(nothing).toFixed(2)}`,
      "",
    ].join("\n"),
  );
} finally {
  await connection.end();
  orisma.child.kill("SIGTERM");
  await once(orisma.child, "exit");
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
}

/** Waits for the indexes that the listing needs, which are made in the background. */
async function untilIndexed(): Promise<void> {
  for (;;) {
    const { indexes } = await orisma.client.indexes("works");
    const needed = indexes.filter(({ purpose }) => purpose === "listings");
    const has = (...columns: readonly string[]) =>
      needed.some((each) => each.state === "ready" && each.columns.join() === columns.join());
    if (has("raised", "status", "task") && has("status", "raised")) return;
    await sleep(200);
  }
}
