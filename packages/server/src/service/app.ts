import express, { type Express } from "express";
import helmet from "helmet";
import type { Logger } from "pino";
import type { DataSource } from "typeorm";
import type { Admission } from "../admission/index.js";
import { auditRoutes, type AuditTrail } from "../audit/index.js";
import { accessRoutes, identify, issuerRoutes, type Access, type Issuer } from "../access/index.js";
import { attachedRoutes, type AttachedDatabases } from "../attached/index.js";
import { calendarRoutes, type HolidayLists } from "../calendars/index.js";
import {
  answerFailures,
  checkHost,
  compressed,
  limitArrival,
  logRequests,
  nothingHere,
  type ArrivalLimits,
} from "../http/index.js";
import { deliveryRoutes, type Deliveries } from "../deliveries/index.js";
import { editRoutes, type Edits } from "../edits/index.js";
import { feedRoutes, type Feeds } from "../feeds/index.js";
import { viewRoutes, type Views } from "../views/index.js";
import { dateRoutes } from "../dates/index.js";
import { filterRoutes } from "../filters/index.js";
import {
  listingRoutes,
  publicReader,
  ownEndpoints,
  redirects,
  schemaRoutes,
  sharing,
  type Listings,
} from "../listings/index.js";
import { recordRoutes, type Demand, type RecentChoices, type Records } from "../records/index.js";
import { importRoutes, type Imports, type Watching } from "../imports/index.js";
import { sourceRoutes, type Indexing, type Sources } from "../sources/index.js";
import { pageRoutes } from "../pages/index.js";
import { windowRoutes, type NamedWindows } from "../windows/index.js";
import { openApiRoutes } from "../openapi/index.js";
import { upkeepRoutes, type Backups, type Doctor } from "../upkeep/index.js";
import type { Ending } from "./ending.js";
import {
  consoleRoutes,
  healthRoutes,
  metricsRoutes,
  problemRoutes,
  type Metrics,
} from "../system/index.js";

/** What the HTTP interface is made of. */
export interface AppParts {
  /** The names under which the service may be asked. */
  readonly hosts: readonly string[];
  readonly trustedProxies: readonly string[];
  /** Whether people reach the service by TLS, which a proxy has. */
  readonly isSecure: boolean;
  /** The URL under which people reach the service, or null for its own. */
  readonly baseUrl: string | null;
  readonly arrival: ArrivalLimits;
  readonly logger: Logger;
  readonly dataSource: DataSource;
  readonly access: Access;
  /** Who signs people in from outside; null for nobody. */
  readonly issuer: Issuer | null;
  /** What strings are sealed with. */
  readonly secret: Buffer;
  readonly databases: AttachedDatabases;
  readonly sources: Sources;
  readonly indexing: Indexing;
  readonly demand: Demand;
  /** Records that a request may look at one by one at most. */
  readonly maxScanned: number;
  readonly imports: Imports;
  readonly watching: Watching;
  /** The folder in which files lie while they are taken. */
  readonly spoolFolder: string;
  readonly listings: Listings;
  readonly deliveries: Deliveries;
  readonly edits: Edits;
  readonly feeds: Feeds;
  readonly views: Views;
  readonly holidays: HolidayLists;
  readonly windows: NamedWindows;
  readonly records: Records;
  readonly admission: Admission;
  readonly ending: Ending;
  readonly metrics: Metrics;
  readonly audit: AuditTrail;
  readonly backups: Backups;
  readonly doctor: Doctor;
  readonly recent: RecentChoices;
  /** The folder of the console's built files. */
  readonly consoleFolder: string;
  readonly now: () => number;
}

/** Puts the HTTP interface together. */
export function makeApp(parts: AppParts): Express {
  const { logger, access, listings, records, now } = parts;
  const app = express();
  app.disable("x-powered-by");
  // The answers that have an ETag make it themselves.
  app.set("etag", false);
  app.set("query parser", false);
  app.set("trust proxy", [...parts.trustedProxies]);

  app.use(parts.ending.watch);
  app.use(parts.metrics.watch);
  app.use(logRequests(logger));
  app.use(checkHost(parts.hosts));
  app.use(limitArrival(parts.arrival));
  app.use(compressed());

  app.use(ownEndpoints(listings));
  app.use("/v1", (_request, response, next) => {
    response.set("X-Content-Type-Options", "nosniff").set("Cache-Control", "no-store");
    next();
  });
  // Before the key is looked at: a browser asks first whether it may send one at all.
  app.use("/v1/listings/:name", sharing(listings));
  app.use(parts.admission.turnAway);
  app.use("/v1", parts.audit.watch);
  app.use(["/v1", "/openapi.json", "/metrics"], identify(access));
  app.use("/v1/listings/:name", redirects(listings));
  app.use("/v1/listings/:name", publicReader(listings));
  // First, since they are requested most.
  app.use(recordRoutes(records, listings, parts.recent, parts.admission, parts));
  app.use(importRoutes(parts));
  app.use(calendarRoutes(parts.holidays, (list) => listings.mustNotUseHolidays(list)));
  app.use(accessRoutes({ ...parts, knownListings: () => listings.names() }));
  app.use(attachedRoutes(parts.databases, (name) => parts.sources.mustNotUseDatabase(name)));
  app.use(dateRoutes());
  app.use(windowRoutes(parts.windows));
  app.use(filterRoutes(parts.windows));
  app.use(sourceRoutes(parts.sources, parts.indexing, (source) => listings.mustNotUse(source)));
  app.use(editRoutes(parts));
  app.use(deliveryRoutes(parts.deliveries, listings));
  app.use(feedRoutes(parts));
  app.use(viewRoutes(parts));
  app.use(listingRoutes(listings, parts.windows));
  app.use(auditRoutes(parts.audit));
  app.use(upkeepRoutes(parts.backups, parts.doctor));
  app.use("/v1", nothingHere);

  app.use(
    healthRoutes(
      parts.dataSource,
      () => listings.broken(),
      () => parts.ending.hasBegun,
    ),
  );
  app.use(metricsRoutes(parts.metrics));
  app.use(helmet({ contentSecurityPolicy: { directives: { "upgrade-insecure-requests": null } } }));
  app.use(issuerRoutes(parts));
  app.use(pageRoutes(listings, records, parts.admission));
  app.use(openApiRoutes(records, listings, now));
  app.use(problemRoutes());
  app.use(schemaRoutes());
  app.use(consoleRoutes(parts.consoleFolder));
  app.use(nothingHere);
  app.use(answerFailures(logger));
  return app;
}
