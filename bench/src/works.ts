/** The works that several scenarios read: a source of its own, its listing, and its table. */
import { Readable } from "node:stream";
import type { OrismaClient } from "@orisma/client";
import type { DatabaseLogin } from "@orisma/server";
import mysql from "mysql2/promise";

export const YEARS_MS = 4 * 365.25 * 86_400_000;
export const FIRST_DAY = Date.UTC(2022, 0, 1);
export const STATES = ["planned", "in hand", "finished", "cancelled"] as const;
/** Costs are below it. */
export const MAX_COST = 99_991;
/** Lines of a file that are made at once. */
const BLOCK = 50_000;

/** Imports so many of them; their costs as numbers, or as strings of which 99,991 are others. */
export async function importWorks(
  client: OrismaClient,
  rows: number,
  costs: "integer" | "text" = "integer",
): Promise<void> {
  await client.createSource({
    name: "works",
    key: "order",
    columns: {
      raised: {
        type: "date",
        reading: { kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] },
      },
      cost: { type: costs },
    },
  });
  await client.importFile(
    "works",
    Readable.toWeb(Readable.from(linesOf(rows))) as globalThis.ReadableStream,
  );
  await client.declareListing("works", {
    source: "works",
    zone: "Europe/London",
    mainDate: "raised",
    parameters: [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
      { name: "status", type: "several", column: "status", comparison: "among" },
      ...(costs === "text"
        ? []
        : ([
            { name: "least", type: "integer", column: "cost", comparison: "atLeast", pair: "cost" },
            { name: "most", type: "integer", column: "cost", comparison: "atMost", pair: "cost" },
          ] as const)),
    ],
    order: { allowed: ["raised", "cost"] },
    filter: { columns: "all" },
  });
}

/** The table in which the records lie, its statistics up to date. */
export async function recordsTable(login: DatabaseLogin): Promise<string> {
  const connection = await mysql.createConnection({ ...login });
  const [rows] = await connection.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records\\_%'");
  await connection.query(`ANALYZE TABLE ${String(Object.values(rows[0] ?? {})[0])}`);
  await connection.end();
  return String(Object.values(rows[0] ?? {})[0]);
}

/** A CSV file of works, block by block. */
function* linesOf(rows: number): Generator<Uint8Array> {
  const encoder = new TextEncoder();
  yield encoder.encode("order,raised,task,status,cost\n");
  for (let from = 0; from < rows; from += BLOCK) {
    const size = Math.min(BLOCK, rows - from);
    const lines = Array.from({ length: size }, (_, index) => lineOf(from + index, rows));
    yield encoder.encode(lines.join(""));
  }
}

function lineOf(index: number, rows: number): string {
  const ms = FIRST_DAY + ((index * 7_919_317) % rows) * (YEARS_MS / rows);
  const day = new Date(ms).toISOString();
  const raised = `${day.slice(8, 10)}/${day.slice(5, 7)}/${day.slice(0, 4)}`;
  const state = STATES[index % STATES.length] ?? "";
  return `W-${String(index).padStart(7, "0")},${raised},Grease the paddle gear ${index % 97},${state},${(index * 37) % MAX_COST}\n`;
}
