/**
 * Taking a CSV file against the database's own bulk load of the same rows, already converted,
 * into a table with the same columns and indexes; and the memory that the service takes for it.
 */
import type { ChildProcess } from "node:child_process";
import { once } from "node:events";
import {
  chmodSync,
  createReadStream,
  createWriteStream,
  mkdtempSync,
  readFileSync,
  rmSync,
  type WriteStream,
} from "node:fs";
import { cpus, release, tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import type { NewSource } from "@orisma/client";
import { startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { median } from "../measure.js";
import { startOrisma } from "../service.js";

const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 3);
const ROWS_AT_ONCE = 5_000;
const MS_PER_DAY = 86_400_000;

const DAY = {
  type: "date",
  reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"], blanks: ["N/A"] },
} as const;
const SOURCE: NewSource = {
  name: "works",
  key: "order",
  columns: {
    raised: DAY,
    due: DAY,
    finished: {
      type: "date",
      reading: { kind: "local", encoding: "text", patterns: ["yyyy-MM-dd'T'HH:mm:ss"] },
    },
    cost: { type: "integer" },
  },
};

const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
chmodSync(scratch, 0o711);
const engine = await startEngine({
  folder: join(scratch, "database"),
  tell: say,
  onCrash: say,
  localFiles: true,
});
const children: ChildProcess[] = [];
try {
  await run();
} finally {
  for (const child of children) {
    child.kill("SIGTERM");
    if (child.exitCode === null && child.signalCode === null) await once(child, "exit");
  }
  await engine.stop();
  rmSync(scratch, { recursive: true, force: true });
}

async function run(): Promise<void> {
  const [some, all] = [join(scratch, "some.csv"), join(scratch, "all.csv")];
  await writeCsv(some, Math.floor(ROWS / 4));
  await writeCsv(all, ROWS);
  const { client, child } = await startOrisma(engine.login, join(scratch, "state"));
  children.push(child);
  await client.createSource(SOURCE);
  const take = async (file: string) => {
    const body = Readable.toWeb(createReadStream(file)) as ReadableStream;
    const started = performance.now();
    const { records } = await client.importFile("works", body, { again: true });
    return { seconds: (performance.now() - started) / 1_000, records };
  };
  await take(some);
  const memoryOfSome = peakMb(child);
  await take(all);
  const memoryOfAll = peakMb(child);

  const database = await mysql.createConnection({ ...engine.login, dateStrings: true });
  const rows = join(scratch, "rows.tsv");
  const table = await recordsTable(database);
  await writeRows(database, table, rows);
  const times = { orisma: [] as number[], bulk: [] as number[] };
  for (let count = 0; count < PASSES; count++) {
    times.orisma.push((await take(all)).seconds);
    times.bulk.push(await bulkLoad(database, await recordsTable(database), rows));
    say(
      `pass ${count + 1} of ${PASSES}: ${times.orisma.at(-1)?.toFixed(1)} s, ${times.bulk.at(-1)?.toFixed(1)} s`,
    );
  }
  await database.end();
  const ratios = times.orisma.map((time, index) => time / (times.bulk[index] ?? NaN));
  process.stdout.write(
    [
      `Taking a CSV file of ${ROWS} rows and 8 columns, three of them dates; ${PASSES} passes in turn, medians.`,
      `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}, MariaDB on the same machine.`,
      "",
      `orisma                    ${median(times.orisma).toFixed(1)} s`,
      `bulk load of the database ${median(times.bulk).toFixed(1)} s, of rows already converted`,
      `orisma / bulk load: ${median(ratios).toFixed(2)} times as long`,
      `memory of the service at most: ${memoryOfSome} MB after a quarter of the rows, ${memoryOfAll} MB after all, ${peakMb(child)} MB in the end`,
      "",
    ].join("\n"),
  );
}

/** The most memory that a process has had, in megabytes. */
function peakMb({ pid }: ChildProcess): number {
  const status = readFileSync(`/proc/${pid ?? 0}/status`, "utf8");
  return Math.round(Number(/VmHWM:\s+(\d+)/.exec(status)?.[1]) / 1_024);
}

async function writeCsv(path: string, rows: number): Promise<void> {
  const stream = createWriteStream(path);
  stream.write("order,raised,due,finished,place,task,priority,cost\n");
  for (let start = 0; start < rows; start += ROWS_AT_ONCE) {
    const count = Math.min(ROWS_AT_ONCE, rows - start);
    await write(
      stream,
      Array.from({ length: count }, (_, index) => csvLine(start + index)).join(""),
    );
  }
  await new Promise((resolve) => stream.end(resolve));
}

function csvLine(index: number): string {
  const raised = Date.UTC(2010, 0, 1) + ((index * 7_919) % 5_500) * MS_PER_DAY;
  const due = raised + ((index * 31) % 90) * MS_PER_DAY;
  const finished = new Date(due + ((index * 7_907) % 86_400) * 1_000).toISOString().slice(0, 19);
  const priority = ["low", "medium", "high"][index % 3] ?? "";
  return (
    `W-${index},${dayFirst(raised)},${index % 12 === 0 ? "N/A" : dayFirst(due)},${finished},` +
    `Brindle Top Lock ${index % 50},"Repair the towpath, north side",${priority},${1_500 + (index % 40_000)}\n`
  );
}

function dayFirst(ms: number): string {
  const [year, month, day] = new Date(ms).toISOString().slice(0, 10).split("-");
  return `${day}/${month}/${year}`;
}

async function recordsTable(database: mysql.Connection): Promise<string> {
  const [rows] = await database.query<mysql.RowDataPacket[]>(
    "SELECT recordsTable AS name FROM sources",
  );
  return String(rows[0]?.name);
}

/** The rows of a table as its own bulk load wants them. */
async function writeRows(database: mysql.Connection, table: string, path: string): Promise<void> {
  const stream = createWriteStream(path);
  let after = "";
  for (;;) {
    const [rows] = await database.query<mysql.RowDataPacket[]>(
      `SELECT * FROM ${table} WHERE id > ? ORDER BY id LIMIT ${ROWS_AT_ONCE}`,
      [after],
    );
    const lines = rows.map(
      (row) =>
        `${Object.values(row)
          .map((value) => (value === null ? "\\N" : String(value)))
          .join("\t")}\n`,
    );
    await write(stream, lines.join(""));
    if (rows.length < ROWS_AT_ONCE) break;
    after = String(rows.at(-1)?.id);
  }
  await new Promise((resolve) => stream.end(resolve));
}

/** Seconds that the database takes for the rows, into a fresh table like another. */
async function bulkLoad(database: mysql.Connection, like: string, path: string): Promise<number> {
  await database.query("DROP TABLE IF EXISTS bulk");
  await database.query(`CREATE TABLE bulk LIKE ${like}`);
  const started = performance.now();
  const [done] = await database.query<mysql.ResultSetHeader>({
    sql: "LOAD DATA LOCAL INFILE 'rows' INTO TABLE bulk CHARACTER SET utf8mb4",
    infileStreamFactory: () => createReadStream(path),
  });
  if (done.affectedRows !== ROWS) throw new Error(`${done.affectedRows} rows were loaded`);
  return (performance.now() - started) / 1_000;
}

async function write(stream: WriteStream, text: string): Promise<void> {
  if (!stream.write(text)) await once(stream, "drain");
}

function say(line: string): void {
  process.stderr.write(`${line}\n`);
}
