/** Tables of records that are being read, as by an export that takes long. */
import mysql from "mysql2/promise";
import type { TestService } from "./service.js";

/** Does something while every table of records is read by somebody else. */
export async function whileRead<T>(
  login: TestService["login"],
  work: () => Promise<T>,
): Promise<T> {
  const connection = await mysql.createConnection({ ...login });
  try {
    const [rows] = await connection.query<mysql.RowDataPacket[]>("SHOW TABLES LIKE 'records\\_%'");
    await connection.query("START TRANSACTION");
    for (const row of rows) {
      await connection.query(`SELECT id FROM ${String(Object.values(row)[0])} LIMIT 1`);
    }
    const done = await work();
    await connection.query("COMMIT");
    return done;
  } finally {
    await connection.end();
  }
}
