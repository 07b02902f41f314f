import "reflect-metadata";
import { DataSource } from "typeorm";
import { AccessKey, Session } from "../access/index.js";
import { AttachedDatabase } from "../attached/index.js";
import { HolidayList } from "../calendars/index.js";
import { MIGRATIONS } from "../database/index.js";
import { Listing, ListingVersion } from "../listings/index.js";
import { RecentChoice } from "../records/index.js";
import type { DatabaseLogin } from "../settings/index.js";
import { ColumnReading, FileImport, RefusedRow, Source, SourceColumn } from "../sources/index.js";
import { DeclaredWindow, Ladder } from "../windows/index.js";

/** Connections held open at most. */
const POOL_SIZE = 30;
/** Prepared statements held per connection; the server allows 16,382 over all connections. */
const STATEMENTS_PER_CONNECTION = 200;

/** The entities and connections of the service, not yet connected. */
export function makeDataSource(login: DatabaseLogin): DataSource {
  return new DataSource({
    type: "mariadb",
    host: login.host,
    port: login.port,
    username: login.user,
    password: login.password,
    database: login.database,
    entities: [
      AccessKey,
      Session,
      AttachedDatabase,
      Source,
      SourceColumn,
      ColumnReading,
      FileImport,
      RefusedRow,
      Listing,
      ListingVersion,
      RecentChoice,
      HolidayList,
      DeclaredWindow,
      Ladder,
    ],
    migrations: [...MIGRATIONS],
    migrationsTransactionMode: "each",
    timezone: "Z",
    supportBigNumbers: true,
    bigNumberStrings: false,
    charset: "utf8mb4_unicode_ci",
    poolSize: POOL_SIZE,
    extra: { maxPreparedStatements: STATEMENTS_PER_CONNECTION },
  });
}
