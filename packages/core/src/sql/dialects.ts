import type { Database, Dialect } from "./dialect.js";
import { MARIADB } from "./mariadb.js";
import { POSTGRESQL } from "./postgresql.js";
import { SQLITE } from "./sqlite.js";

/** How each database is written for. */
export const DIALECTS: Readonly<Record<Database, Dialect>> = {
  mariadb: MARIADB,
  postgresql: POSTGRESQL,
  sqlite: SQLITE,
};
