import { MARIADB } from "@orisma/core/internal";
import { DataSource } from "typeorm";
import {
  Circuit,
  DatabaseUnavailable,
  Gateway,
  TableChanged,
  TooSlow,
  within,
} from "../database/index.js";
import type { DatabaseLogin } from "../settings/index.js";

/** Connections to one attached database at most: it has other work to do. */
const POOL_SIZE = 4;
const STATEMENTS_PER_CONNECTION = 100;
const CONNECT_LIMIT_MS = 5_000;

/** A way to an attached database. */
export interface Connection {
  readonly gateway: Gateway;
  close(): Promise<void>;
}

/** Connects to an attached database; throws the driver's error where it cannot. */
export async function connect(
  login: DatabaseLogin,
  circuit = new Circuit(),
  use: "reading" | "editing" = "reading",
): Promise<Connection> {
  const dataSource = new DataSource({
    type: "mariadb",
    host: login.host,
    port: login.port,
    username: login.user,
    password: login.password,
    database: login.database,
    entities: [],
    timezone: "Z",
    supportBigNumbers: true,
    bigNumberStrings: false,
    charset: "utf8mb4_unicode_ci",
    poolSize: POOL_SIZE,
    connectTimeout: CONNECT_LIMIT_MS,
    // A column of JSON is read as the text that it holds.
    extra: { maxPreparedStatements: STATEMENTS_PER_CONNECTION, jsonStrings: true },
  });
  const late = () => new DatabaseUnavailable("the database did not answer in time");
  await within(2 * CONNECT_LIMIT_MS, dataSource.initialize(), late);
  const gateway = new Gateway(dataSource, use, circuit);
  return { gateway, close: () => dataSource.destroy() };
}

/** What a server says of itself, by which it is known again under another name. */
export async function identityOf(gateway: Gateway): Promise<{
  readonly version: string;
  readonly identity: string;
}> {
  const [row] = await gateway.read({
    text: "SELECT @@version, CONCAT_WS(' ', @@hostname, @@port, @@datadir)",
    values: [],
  });
  return { version: String(row?.[0]), identity: String(row?.[1]) };
}

/** Whether values of a column are all different; null where that takes too long to find out. */
export async function isDistinct(
  table: string,
  column: string,
  gateway: Gateway,
): Promise<boolean | null> {
  const [from, key] = [table, column].map((name) => MARIADB.quoteName(name));
  try {
    const rows = await gateway.read({
      text: `SELECT 1 FROM ${from} GROUP BY ${key} HAVING COUNT(*) > 1 OR ${key} IS NULL LIMIT 1`,
      values: [],
    });
    return rows.length === 0;
  } catch (error) {
    if (error instanceof TooSlow) return null;
    throw error;
  }
}

/** Why a database could not be read, in words for its owner; null for a fault of the service. */
export function reasonOf(error: unknown): string | null {
  if (error instanceof TableChanged || error instanceof DatabaseUnavailable) return error.message;
  if (!(error instanceof Error)) return null;
  const code = "code" in error ? String(error.code) : "";
  if (/^(?:E[A-Z]+|ER_[A-Z_]+|PROTOCOL_[A-Z_]+|HANDSHAKE_[A-Z_]+)$/.test(code))
    return error.message;
  return error.cause === undefined ? null : reasonOf(error.cause);
}
