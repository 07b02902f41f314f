/**
 * What an expert writes by hand for this one listing, with the same duties as Orisma's: key
 * check, validation of every parameter, half-open bounds, prepared statements on the bare
 * driver with dates as text, a capped total, the next page's place, an ETag.
 */
import { createHash } from "node:crypto";
import express from "express";
import mysql from "mysql2/promise";
import { z } from "zod";
import { rivalTask } from "./rivals.js";

const { login, table, key, port } = rivalTask();
const pool = mysql.createPool({
  ...login,
  dateStrings: true,
  timezone: "Z",
  connectionLimit: 10,
  maxPreparedStatements: 200,
});
const keys = new Map([[createHash("sha256").update(key).digest("hex"), "reader"]]);

const STATUS = z.enum(["planned", "in hand", "finished", "cancelled"]);
const QUERY = z.strictObject({
  from: z.iso.date().optional(),
  to: z.iso.date().optional(),
  status: z.union([STATUS.transform((one) => [one]), z.array(STATUS).max(4)]).optional(),
  least: z.coerce.number().int().optional(),
  most: z.coerce.number().int().optional(),
  size: z.coerce.number().int().min(1).max(500).default(50),
  after: z.string().max(200).optional(),
});

const app = express();
app.disable("x-powered-by");
app.set("etag", false);
app.get("/works", async (request, response) => {
  const bearer = /^Bearer (.+)$/.exec(request.headers.authorization ?? "")?.[1] ?? "";
  if (!keys.has(createHash("sha256").update(bearer).digest("hex"))) {
    response.status(401).json({ error: "key" });
    return;
  }
  const read = QUERY.safeParse(request.query);
  if (!read.success) {
    response.status(422).json({ errors: read.error.issues });
    return;
  }
  const { from, to, status, least, most, size, after } = read.data;
  const conditions: string[] = [];
  const values: (string | number)[] = [];
  if (from !== undefined) {
    conditions.push("c2 >= ?");
    values.push(from);
  }
  if (to !== undefined) {
    conditions.push("c2 < ?");
    values.push(new Date(Date.parse(`${to}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10));
  }
  if (status !== undefined) {
    conditions.push(`c4 IN (${status.map(() => "?").join(", ")})`);
    values.push(...status);
  }
  if (least !== undefined) {
    conditions.push("c5 >= ?");
    values.push(least);
  }
  if (most !== undefined) {
    conditions.push("c5 <= ?");
    values.push(most);
  }
  const where = conditions.length === 0 ? "" : `WHERE ${conditions.join(" AND ")}`;
  const [day, id] =
    after === undefined
      ? []
      : (JSON.parse(Buffer.from(after, "base64url").toString()) as [string, string]);
  const place =
    day === undefined || id === undefined
      ? ""
      : `${where === "" ? "WHERE" : "AND"} c2 <= ? AND (c2 < ? OR id < ?)`;
  const placeValues = day === undefined || id === undefined ? [] : [day, day, id];
  const [[rows], [counts]] = await Promise.all([
    pool.execute<mysql.RowDataPacket[]>(
      `SELECT id, c1 AS \`order\`, c2 AS raised, c3 AS task, c4 AS status, c5 AS cost FROM ${table} ${where} ${place} ORDER BY c2 DESC, id DESC LIMIT ?`,
      [...values, ...placeValues, size + 1],
    ),
    pool.execute<mysql.RowDataPacket[]>(
      `SELECT COUNT(*) AS n FROM (SELECT 1 FROM ${table} ${where} LIMIT 10001) AS capped`,
      values,
    ),
  ]);
  const records = rows.slice(0, size);
  const last = records.at(-1);
  const next =
    rows.length > size && last !== undefined
      ? Buffer.from(JSON.stringify([last.raised, last.id])).toString("base64url")
      : null;
  const body = JSON.stringify({ records, total: Number(counts[0]?.n), next });
  const etag = `"${createHash("sha1").update(body).digest("base64url")}"`;
  response.set("ETag", etag).set("Cache-Control", "private, no-cache");
  if (request.headers["if-none-match"] === etag) {
    response.status(304).end();
    return;
  }
  response.type("json").send(body);
});
app.listen(port, "127.0.0.1", () => process.send?.("ready"));
