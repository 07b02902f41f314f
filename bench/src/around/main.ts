/**
 * What an interface asks around a listing: values with counts, extent, timeline and summary, each
 * against the best statements by hand that report the same, on the same table in one run.
 */
import { once } from "node:events";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { cpus, release, tmpdir } from "node:os";
import { join } from "node:path";
import { startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { compared, type Scenario } from "../compared.js";
import { say } from "../rivals.js";
import { startOrisma } from "../service.js";
import { importWorks, recordsTable } from "../works.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 5);

const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
chmodSync(scratch, 0o711);
const engine = await startEngine({ folder: join(scratch, "database"), tell: say, onCrash: say });
const orisma = await startOrisma(engine.login, join(scratch, "state"));
const connection = await mysql.createConnection({
  ...engine.login,
  dateStrings: true,
  timezone: "Z",
});
try {
  say(`importing ${ROWS} rows …`);
  const { client } = orisma;
  await importWorks(client, ROWS);
  const table = await recordsTable(engine.login);
  const read = async (text: string, values: readonly (string | number)[] = []) => {
    const [rows] = await connection.execute<mysql.RowDataPacket[]>(text, [...values]);
    return rows;
  };
  const window = ["2023-01-01", "2025-01-01"];
  const within = "c2 >= ? AND c2 < ?";
  const requested = { from: "2023", to: "2024" };
  const months = Array.from({ length: 25 }, (_, index) =>
    new Date(Date.UTC(2023, index, 1)).toISOString().slice(0, 10),
  );
  const month = `INTERVAL(TO_DAYS(c2), ${months.map((day) => `TO_DAYS('${day}')`).join(", ")})`;
  const scenarios: readonly Scenario[] = [
    {
      name: "values of a column with counts, in two years of four",
      own: async () => {
        const { choices, blank } = await client.choices("works", "status", requested);
        return [...choices.map(({ records }) => records), blank];
      },
      hand: async () => {
        const rows = await read(
          `SELECT c4 AS v, COUNT(*) AS n FROM ${table} WHERE ${within} GROUP BY c4 ORDER BY n DESC, v`,
          window,
        );
        const counts = rows.map(({ n }) => Number(n));
        const [none] = await read(
          `SELECT COUNT(*) AS n FROM ${table} WHERE ${within} AND c4 IS NULL`,
          window,
        );
        return [...counts, Number(none?.n)];
      },
    },
    {
      name: "extent",
      own: async () => {
        const { extent } = await client.extent("works");
        return [Date.parse(extent.raised?.first ?? ""), Date.parse(extent.raised?.last ?? "")];
      },
      hand: async () => {
        const [row] = await read(`SELECT MIN(c2) AS a, MAX(c2) AS b FROM ${table}`);
        return [Date.parse(String(row?.a)), Date.parse(String(row?.b))];
      },
    },
    {
      name: "timeline of two years in months",
      own: async () => {
        const { buckets, blank, before } = await client.timeline("works", {
          ...requested,
          unit: "month",
        });
        return [...buckets.map(({ records }) => records), blank, before?.records ?? NaN];
      },
      hand: async () => {
        const rows = await read(
          `SELECT ${month} AS m, COUNT(*) AS n FROM ${table} WHERE ${within} GROUP BY m ORDER BY m`,
          window,
        );
        const [none] = await read(`SELECT COUNT(*) AS n FROM ${table} WHERE c2 IS NULL`);
        const [before] = await read(`SELECT COUNT(*) AS n FROM ${table} WHERE ${within}`, [
          "2020-12-31",
          "2023-01-01",
        ]);
        return [...rows.map(({ n }) => Number(n)), Number(none?.n), Number(before?.n)];
      },
    },
    {
      name: "summary by status and quarter, with sums and totals",
      own: async () => {
        const { groups, grand } = await client.summary("works", {
          ...requested,
          by: ["status", "raised:month"],
          measure: "sum:cost",
        });
        const total = groups.reduce((sum, { records }) => sum + records, 0);
        return [groups.length, total, Number(grand.measures["sum:cost"])];
      },
      hand: async () => {
        const what = "COUNT(*) AS n, SUM(c5) AS s";
        const cells = await read(
          `SELECT c4, ${month} AS m, ${what} FROM ${table} WHERE ${within} GROUP BY c4, m`,
          window,
        );
        await read(`SELECT c4, ${what} FROM ${table} WHERE ${within} GROUP BY c4`, window);
        await read(
          `SELECT ${month} AS m, ${what} FROM ${table} WHERE ${within} GROUP BY m`,
          window,
        );
        const [grand] = await read(`SELECT ${what} FROM ${table} WHERE ${within}`, window);
        const total = cells.reduce((sum, { n }) => sum + Number(n), 0);
        return [cells.length, total, Number(grand?.s)];
      },
    },
  ];
  const lines = await compared(scenarios, PASSES);
  process.stdout.write(
    [
      `Around a listing of ${ROWS} records; ${PASSES} passes in turn, medians; over HTTP, against bare statements.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, MariaDB on the same machine.`,
      "",
      ...lines,
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
