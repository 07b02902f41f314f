/** What an expert writes by hand: rows of the bare driver as lines, with back pressure. */
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import express from "express";
import mysql from "mysql2";
import { rivalTask } from "../records/rivals.js";

const { login, table, key, port } = rivalTask();
const pool = mysql.createPool({ ...login, dateStrings: true, timezone: "Z", connectionLimit: 4 });

const app = express();
app.get("/works.csv", async (request, response) => {
  if (request.headers.authorization !== `Bearer ${key}`) {
    response.status(401).end();
    return;
  }
  const connection = await connected();
  const rows = connection
    .query({
      sql: `SELECT id, c1, c2, c3, c4, c5 FROM ${table} ORDER BY c2, id`,
      rowsAsArray: true,
    })
    .stream({ highWaterMark: 500 });
  response.type("text/csv");
  response.write("order,raised,task,status,cost\n");
  const lines = new Transform({
    writableObjectMode: true,
    transform(row: readonly (string | number | null)[], _encoding, done) {
      done(null, `${row.slice(1).map(cell).join(",")}\n`);
    },
  });
  await pipeline(rows, lines, response);
  connection.release();
});

function connected(): Promise<mysql.PoolConnection> {
  return new Promise((resolve, reject) => {
    pool.getConnection((error, connection) =>
      error === null ? resolve(connection) : reject(error),
    );
  });
}

function cell(value: string | number | null): string {
  if (value === null) return "";
  const text = String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

app.listen(port, "127.0.0.1", () => process.send?.("ready"));
