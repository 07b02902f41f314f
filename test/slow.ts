import { setTimeout as sleep } from "node:timers/promises";
import type { DatabaseLogin } from "@orisma/server";
import mysql from "mysql2/promise";

/** Milliseconds for which the tables of records are held. */
const HELD_MS = 400;

/** Does something that reads records while their tables are held for a moment, so that it takes long. */
export async function slowly<T>(login: DatabaseLogin, work: () => Promise<T>): Promise<T> {
  const connection = await mysql.createConnection({ ...login });
  const [rows] = await connection.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records\\_%'");
  const tables = rows.map((row) => `${String(Object.values(row)[0])} WRITE`);
  try {
    await connection.query(`LOCK TABLES ${tables.join(", ")}`);
    const done = work();
    await sleep(HELD_MS);
    await connection.query("UNLOCK TABLES");
    return await done;
  } finally {
    await connection.end();
  }
}
