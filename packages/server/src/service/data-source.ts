import "reflect-metadata";
import { WatchLookEntity } from "../imports/index.js";
import { DataSource, type Logger } from "typeorm";
import { AccessKey, Person, Session } from "../access/index.js";
import { AuditEntry } from "../audit/index.js";
import { AttachedDatabase } from "../attached/index.js";
import { HolidayList } from "../calendars/index.js";
import { MIGRATIONS } from "../database/index.js";
import { Delivery, DeliveryRunEntity } from "../deliveries/index.js";
import { Edit, EditedCell } from "../edits/index.js";
import { Feed } from "../feeds/index.js";
import { SavedView } from "../views/index.js";
import { FormerName, Listing, ListingVersion, Override } from "../listings/index.js";
import { RecentChoice } from "../records/index.js";
import type { DatabaseLogin } from "../settings/index.js";
import {
  ColumnReading,
  Dictionary,
  FileImport,
  RefusedRow,
  Source,
  SourceColumn,
} from "../sources/index.js";
import { DeclaredWindow, Ladder } from "../windows/index.js";

/** Connections held open at most. */
const POOL_SIZE = 30;
/** Prepared statements held per connection; the server allows 16,382 over all connections. */
const STATEMENTS_PER_CONNECTION = 200;

/**
 * Milliseconds that a statement on what the service keeps may take, records aside: a database that stands
 * still costs each call so much, and no call for ever.
 */
const STATEMENT_LIMIT_MS = 12_000;

/** Values of statements are people's own, and go to no log. */
const SILENT: Logger = {
  logQuery: () => undefined,
  logQueryError: () => undefined,
  logQuerySlow: () => undefined,
  logSchemaBuild: () => undefined,
  logMigration: () => undefined,
  log: () => undefined,
};

/** Ends statements that take too long; only once the migrations are done, which may take as long as they need. */
export function limitStatements(dataSource: DataSource): void {
  Object.assign(dataSource.driver.options, {
    enableQueryTimeout: true,
    maxQueryExecutionTime: STATEMENT_LIMIT_MS,
  });
}

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
      AuditEntry,
      Person,
      Session,
      AttachedDatabase,
      Source,
      SourceColumn,
      ColumnReading,
      Dictionary,
      FileImport,
      RefusedRow,
      WatchLookEntity,
      Delivery,
      DeliveryRunEntity,
      Edit,
      EditedCell,
      Feed,
      SavedView,
      FormerName,
      Listing,
      ListingVersion,
      Override,
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
    logger: SILENT,
    extra: { maxPreparedStatements: STATEMENTS_PER_CONNECTION },
  });
}
