import "reflect-metadata";
import { DataSource } from "typeorm";
import { AccessKey, Session } from "./access/entities.js";
import { AttachedDatabase } from "./attached/entities.js";
import { HolidayList } from "./calendars/entities.js";
import { DeclaredWindow, Ladder } from "./windows/entities.js";
import { Attached1764300000000 } from "./database/migrations/attached.js";
import { Nested1764400000000 } from "./database/migrations/nested.js";
import { Windows1764200000000 } from "./database/migrations/windows.js";
import { Ids1764700000000 } from "./database/migrations/ids.js";
import { Keys1764600000000 } from "./database/migrations/keys.js";
import { Versions1764500000000 } from "./database/migrations/versions.js";
import { LateChoice } from "./records/entities.js";
import { Listing, ListingVersion } from "./listings/entities.js";
import type { DatabaseLogin } from "./settings.js";
import { ColumnReading, Load, RefusedRow, Source, SourceColumn } from "./sources/entities.js";
import { FilterColumns1764800000000 } from "./database/migrations/filter-columns.js";
import { FirstCut1764000000000 } from "./database/migrations/first-cut.js";
import { Loads1764100000000 } from "./database/migrations/loads.js";

/** Connections held open at most. */
const POOL_SIZE = 10;
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
      Load,
      RefusedRow,
      Listing,
      ListingVersion,
      LateChoice,
      HolidayList,
      DeclaredWindow,
      Ladder,
    ],
    migrations: [
      FirstCut1764000000000,
      Loads1764100000000,
      Windows1764200000000,
      Attached1764300000000,
      Nested1764400000000,
      Versions1764500000000,
      Keys1764600000000,
      Ids1764700000000,
      FilterColumns1764800000000,
    ],
    migrationsTransactionMode: "each",
    timezone: "Z",
    supportBigNumbers: true,
    bigNumberStrings: false,
    charset: "utf8mb4_unicode_ci",
    poolSize: POOL_SIZE,
    extra: { maxPreparedStatements: STATEMENTS_PER_CONNECTION },
  });
}
