import { addNames } from "@orisma/core/internal";
import { OTHER_NAMES } from "@orisma/core/names";
import { once } from "node:events";
import { rmSync } from "node:fs";
import { createServer, type Server } from "node:http";
import { totalmem } from "node:os";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import type { Express } from "express";
import type { Logger } from "pino";
import type { DataSource } from "typeorm";
import { Admission, type CostClass, type PoolLimits } from "../admission/index.js";
import { Access, Issuer, Sealer } from "../access/index.js";
import { AuditTrail } from "../audit/index.js";
import { AttachedDatabases } from "../attached/index.js";
import { Deliveries, Outbox, Webhooks } from "../deliveries/index.js";
import { EditWriter, Edits, KeepEdits } from "../edits/index.js";
import { Feeds } from "../feeds/index.js";
import { Views } from "../views/index.js";
import { HolidayLists } from "../calendars/index.js";
import { makeApp } from "./app.js";
import { limitStatements, makeDataSource } from "./data-source.js";
import { Ending } from "./ending.js";
import { openLog } from "./log-file.js";
import {
  DiskSpace,
  Gateway,
  MIGRATIONS,
  TableGate,
  startEngine,
  type Engine,
} from "../database/index.js";
import { ARRIVAL_LIMITS, Places, errorForLog, type ArrivalLimits } from "../http/index.js";
import { Listings, Overrides } from "../listings/index.js";
import { Cursors, Demand, RecentChoices, Records } from "../records/index.js";
import type { Settings } from "../settings/index.js";
import { Fetcher, Imports, Staging, Watching } from "../imports/index.js";
import { Indexing, SourceLocks, Sources } from "../sources/index.js";
import { StateFolder } from "../settings/index.js";
import { Metrics } from "../system/index.js";
import { Backups, Doctor } from "../upkeep/index.js";
import { NamedWindows } from "../windows/index.js";

/** A service that answers. */
export interface Service {
  readonly url: string;
  /** An owner's key for the command line of this machine. */
  readonly key: string;
  readonly state: StateFolder;
  /** Bytes of memory that the private database has for tables; null where the database is another's. */
  readonly databaseMemory: number | null;
  /** Makes a one-time code for signing in to the console. */
  createCode(): string;
  /**
   * Answers what it has begun, then ends the service and its database. For `graceMs` it still accepts
   * requests while it says that it is not ready; by default for none.
   */
  close(limits?: { readonly graceMs?: number }): Promise<void>;
}

export interface ServiceOptions {
  readonly settings: Settings;
  /** Called with news for the person who started the service. */
  readonly tell: (line: string) => void;
  /** Called when the private database ends by itself. */
  readonly onCrash: (report: string) => void;
  /** The folder of the console's built files. */
  readonly consoleFolder: string;
  /** How many calls on records run and wait at once; by what the machine has by default. */
  readonly limits?: Readonly<Record<CostClass, PoolLimits>>;
  /** How long a client may take to send something, and a connection be idle. */
  readonly times?: Partial<ConnectionTimes>;
  /** Called when a backup was restored: the service is to be closed and started again on the same port. */
  readonly onRestored?: () => void;
  /** Whether to begin with another secret; cursors and sessions end by it. */
  readonly newSecret?: boolean;
  /** The clock: milliseconds since 1970-01-01T00:00:00Z. */
  readonly now?: () => number;
}

/** How long connections are waited for, in milliseconds. */
export interface ConnectionTimes {
  readonly arrival: ArrivalLimits;
  /** For which a connection may be idle. */
  readonly idleMs: number;
  /** Within which the head of a request must arrive. */
  readonly headersMs: number;
  /** Between two looks at which connections are late. */
  readonly checkEveryMs: number;
}

/** How long requests that have begun may still take when the service ends, in milliseconds. */
const FINISH_LIMIT_MS = 30_000;
const TIMES: ConnectionTimes = {
  arrival: ARRIVAL_LIMITS,
  // More than the minute after which clients and proxies give one up, so that none is closed just when it
  // is used again.
  idleMs: 75_000,
  headersMs: 60_000,
  checkEveryMs: 10_000,
};
/**
 * Connections that may wait to be accepted: of fewer those beyond would be dropped by the system, and tried
 * again by it only after a second.
 */
const BACKLOG = 4_096;
/** A file may take this long to arrive, in milliseconds. */
const UPLOAD_LIMIT_MS = 3_600_000;

/** Starts the service: database, migrations, what is held in memory, HTTP. */
export async function startService(options: ServiceOptions): Promise<Service> {
  addNames(OTHER_NAMES);
  const { settings, tell, now = Date.now } = options;
  const times = { ...TIMES, ...options.times };
  const state = new StateFolder(settings.state);
  state.lock();
  const log = await openLog(join(state.logs, "service.log"));
  const { logger } = log;
  const closers: (() => unknown)[] = [];
  const closeAll = async () => {
    for (const close of closers.splice(0).reverse()) await close();
  };
  closers.push(() => state.unlock());
  closers.push(() => log.close());
  try {
    if (state.isRestoring) {
      throw new Error(
        `a backup was not restored whole into ${state.path}: delete that folder, and restore again`,
      );
    }
    // Before the database starts: it is of no use without.
    const secret = options.newSecret === true ? state.newSecret() : state.secret();
    const engine = settings.database === null ? await startOwnEngine(state, options, logger) : null;
    if (engine !== null) closers.push(() => engine.stop());
    const login = engine?.login ?? settings.database ?? unreachable();
    const dataSource = makeDataSource(login);
    await dataSource.initialize();
    closers.push(() => dataSource.destroy());
    await mustBeKnown(dataSource);
    await dataSource.runMigrations();
    limitStatements(dataSource);

    // What a crash left of files that were arriving.
    rmSync(state.arriving, { recursive: true, force: true });
    const disk = new DiskSpace({
      state: state.path,
      tables: engine?.folder ?? null,
      warn: (line) => {
        logger.warn(line);
        tell(line);
      },
    });
    disk.watch();
    closers.push(() => disk.stop());
    const parts = await makeParts(dataSource, { state, settings, secret, disk, logger, now });
    closers.push(() => parts.databases.close());
    closers.push(() => parts.gate.stop());
    closers.push(() => parts.indexing.stop());
    // These can be done without, where the disk is full or the database away.
    closers.push(() => parts.recent.flush().catch(() => undefined));
    closers.push(() => parts.access.flush().catch(() => undefined));
    closers.push(() => parts.listings.lastUses.flush().catch(() => undefined));
    const places = new Places(settings.fetchable, {
      setting: "ORISMA_FETCHABLE",
      nothing: "Nothing is fetched from",
    });
    const watching = new Watching({
      ...parts,
      fetcher: new Fetcher(places),
      dataSource,
      inbox: settings.inbox,
      logger,
      now,
    });
    const ending = new Ending();
    const admission = new Admission(options.limits);
    const { imports } = parts;
    const metrics = new Metrics({ dataSource, admission, imports, disk });
    closers.push(() => metrics.stop());
    const backups = new Backups({
      dataSource,
      login,
      state,
      gate: parts.gate,
      disk,
      isEmpty: () => parts.sources.names().length === 0 && parts.listings.names().length === 0,
      restart: () => options.onRestored?.(),
      now,
    });
    const doctor = new Doctor({
      ...parts,
      dataSource,
      settings,
      state,
      disk,
      proposals: (source) => parts.demand.of(source),
      broken: () => parts.listings.broken(),
      now,
    });
    const audit = new AuditTrail(dataSource, settings.auditDays, logger, now);
    audit.start();
    closers.push(() => audit.stop().catch(() => undefined));
    const app = makeApp({
      audit,
      backups,
      doctor,
      ending,
      ...parts,
      admission,
      maxScanned: settings.maxScanned,
      metrics,
      watching,
      spoolFolder: state.arriving,
      hosts: hostsOf(settings),
      trustedProxies: settings.trustedProxies,
      baseUrl: settings.baseUrl,
      issuer: settings.issuer === null ? null : new Issuer(settings.issuer),
      secret,
      isSecure: settings.baseUrl?.startsWith("https:") ?? false,
      arrival: times.arrival,
      logger,
      dataSource,
      consoleFolder: options.consoleFolder,
      now,
    });
    const server = makeServer(app, settings, times);
    metrics.watchConnections(server);
    const stopReporting = reportDropped(server, settings.connections, logger);
    closers.push(stopReporting);
    await listen(server, settings);
    let graceMs = 0;
    closers.push(() =>
      ending.end(server, { graceMs, finishMs: FINISH_LIMIT_MS }, () => parts.imports.cancelAll()),
    );
    watching.start();
    closers.push(() => watching.stop());
    parts.deliveries.start(admission);
    closers.push(() => parts.deliveries.stop());

    const url = urlOf(settings.host, (server.address() as AddressInfo).port);
    const key = await ownKey(state, parts.access);
    state.writeClientFile({ url, key });
    logger.info({ url }, "started");
    return {
      url,
      key,
      state,
      databaseMemory: engine === null ? null : memoryOf(settings),
      createCode: () => parts.access.createCode().code,
      close: async (limits = {}) => {
        logger.info("ending");
        graceMs = limits.graceMs ?? 0;
        await closeAll();
      },
    };
  } catch (error) {
    tell("the service could not start");
    await closeAll();
    throw error;
  }
}

/** Refuses tables that a later version of the service has changed: what it wrote would be misread. */
async function mustBeKnown(dataSource: DataSource): Promise<void> {
  const [has] = await dataSource.query<unknown[]>("SHOW TABLES LIKE 'migrations'");
  if (has === undefined) return;
  const rows = await dataSource.query<{ name: string }[]>("SELECT name FROM migrations");
  const known = new Set<string>(MIGRATIONS.map(({ name }) => name));
  const unknown = rows.map(({ name }) => name).filter((name) => !known.has(name));
  if (unknown.length === 0) return;
  throw new Error(
    `the database was used by a later version of Orisma (${unknown.join(", ")}): start that version, ` +
      "or restore a backup from before into another state folder",
  );
}

/** Bytes for the private database: a quarter of the machine's memory by default, whole mebibytes of it. */
function memoryOf({ databaseMemory }: Settings): number {
  return databaseMemory ?? Math.floor(totalmem() / 4 / 1024 ** 2) * 1024 ** 2;
}

function startOwnEngine(
  state: StateFolder,
  options: ServiceOptions,
  logger: Logger,
): Promise<Engine> {
  return startEngine({
    folder: state.database,
    memory: memoryOf(options.settings),
    tell: (line) => {
      logger.warn(line);
      options.tell(line);
    },
    onCrash: (report) => {
      logger.fatal(report);
      options.onCrash(report);
    },
  });
}

async function makeParts(
  dataSource: DataSource,
  given: {
    readonly state: StateFolder;
    readonly settings: Settings;
    readonly secret: Buffer;
    readonly disk: DiskSpace;
    readonly logger: Logger;
    readonly now: () => number;
  },
) {
  const { state, settings, secret, disk, logger, now } = given;
  const gateway = new Gateway(dataSource);
  const access = new Access(dataSource, secret, now);
  const databases = new AttachedDatabases(
    dataSource,
    gateway,
    new Sealer(secret, SEALED_ACCOUNT),
    { attachable: settings.attachable, editable: settings.editableDatabases },
    now,
  );
  const locks = new SourceLocks();
  const gate = new TableGate();
  const sources = new Sources(dataSource, gateway, databases, locks, gate, now);
  const imports = new Imports(
    dataSource,
    gateway,
    sources,
    new Staging(dataSource, gateway, sources, gate, now),
    locks,
    state.arriving,
    disk,
    now,
  );
  const holidays = new HolidayLists(dataSource, now);
  const windows = new NamedWindows(dataSource, holidays, now);
  const overrides = new Overrides(dataSource, now);
  const listings = new Listings(dataSource, sources, holidays, windows, overrides, now);
  sources.supports((changed) => listings.brokenBy({ sources: changed }));
  const demand = new Demand();
  const indexing = new Indexing({
    dataSource,
    sources,
    locks,
    disk,
    proposals: (source) => demand.of(source),
    onFailure: (source, error) => {
      logger.error({ source, error: errorForLog(error) }, "indexes could not be made");
    },
  });
  sources.indexes.serve((source) => listings.filteredColumns(source));
  const feeds = new Feeds(dataSource, (id) => access.callerOf(id), now);
  const views = new Views(dataSource, now);
  const edits = new Edits({
    dataSource,
    gateway,
    sources,
    writer: new EditWriter(gateway, sources, now),
  });
  imports.keepEdits(new KeepEdits(gateway));
  const records = new Records(sources, new Cursors(secret), now);
  const deliveries = new Deliveries({
    ...{ dataSource, sources, listings, records, logger, now },
    outbox: new Outbox(settings.outbox),
    webhooks: new Webhooks(settings.webhooks),
    sealer: new Sealer(secret, SEALED_SECRET),
    callerOf: (id) => access.callerOf(id),
  });
  listings.onUses(async (name) => [...(await feeds.uses(name)), ...(await deliveries.uses(name))]);
  listings.onRemoving(async (manager, name) => {
    await deliveries.forget(manager, name);
    await views.forget(manager, name);
  });
  listings.onRenaming(async (manager, from, to) => {
    await edits.renameListing(manager, from, to);
    await feeds.renameListing(manager, from, to);
    await views.renameListing(manager, from, to);
    await deliveries.renameListing(manager, from, to);
    const renamed = [
      await overrides.renameListing(manager, from, to),
      await access.renameListing(manager, from, to),
    ];
    return () => {
      for (const each of renamed) each();
    };
  });
  access.onRotated(async (before, after) => {
    await edits.moveTo(before, after);
    await feeds.moveTo(before, after);
    await views.moveTo(before, after);
    await deliveries.moveTo(before, after);
  });
  listings.onDeclared((source) => indexing.ensure(source));
  windows.supports((named) => listings.brokenBy({ named }));
  const recent = new RecentChoices(dataSource);
  await access.load();
  await databases.load();
  const secretBefore = state.secretBefore();
  if (secretBefore !== null) {
    await databases.reseal(new Sealer(secretBefore, SEALED_ACCOUNT));
    await deliveries.reseal(new Sealer(secretBefore, SEALED_SECRET));
    state.forgetSecretBefore();
  }
  await sources.load();
  await imports.load();
  await holidays.load();
  await windows.load();
  await overrides.load();
  await listings.load();
  await recent.load();
  await deliveries.load();
  for (const name of sources.names()) indexing.ensure(name);
  return {
    demand,
    deliveries,
    edits,
    feeds,
    views,
    indexing,
    access,
    databases,
    sources,
    imports,
    holidays,
    windows,
    listings,
    records,
    recent,
    gate,
  };
}

/** For what the sealed passwords of attached databases are. */
const SEALED_ACCOUNT = "account of a database";
/** For what the sealed secrets of deliveries are. */
const SEALED_SECRET = "secret of a delivery";

/** The same key at each start, as long as the database knows it. */
async function ownKey(state: StateFolder, access: Access): Promise<string> {
  const storedKey = state.ownKey();
  if (storedKey !== null && access.byKey(storedKey) !== null) return storedKey;
  const { key } = await access.createKey({
    name: "command line of this machine",
    role: "owner",
    listings: null,
    expiresAt: null,
  });
  state.keepOwnKey(key);
  return key;
}

function makeServer(app: Express, settings: Settings, times: ConnectionTimes): Server {
  const server = createServer({ connectionsCheckingInterval: times.checkEveryMs }, app);
  server.maxConnections = settings.connections;
  server.requestTimeout = UPLOAD_LIMIT_MS;
  server.keepAliveTimeout = times.idleMs;
  // Counted from the end of the answer before: it must not end a connection that may still idle.
  server.headersTimeout = times.idleMs + times.headersMs;
  return server;
}

/** Writes to the log, once a minute at most, that connections beyond the limit were closed. */
function reportDropped(server: Server, limit: number, logger: Logger): () => void {
  let dropped = 0;
  let timer: NodeJS.Timeout | null = null;
  server.on("drop", () => {
    dropped++;
    timer ??= setTimeout(() => {
      logger.warn(
        { dropped, limit },
        "connections were closed: more than ORISMA_CONNECTIONS were open",
      );
      [dropped, timer] = [0, null];
    }, REPORT_DROPPED_MS).unref();
  });
  return () => {
    if (timer !== null) clearTimeout(timer);
  };
}

const REPORT_DROPPED_MS = 60_000;

/** The names under which the service may be asked. */
function hostsOf({ host, baseUrl }: Settings): readonly string[] {
  return baseUrl === null ? [host] : [host, new URL(baseUrl).hostname];
}

async function listen(server: Server, { host, port }: Settings): Promise<void> {
  server.listen({ port, host, backlog: BACKLOG });
  try {
    await once(server, "listening");
  } catch (error) {
    const inUse = error instanceof Error && "code" in error && error.code === "EADDRINUSE";
    if (!inUse) throw error;
    throw new Error(`port ${port} of ${host} is in use; set ORISMA_PORT to another`, {
      cause: error,
    });
  }
}

function urlOf(host: string, port: number): string {
  return `http://${host.includes(":") ? `[${host}]` : host}:${port}`;
}

function unreachable(): never {
  throw new Error("there is either a private database or one outside");
}
