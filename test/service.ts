import { randomBytes } from "node:crypto";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { OrismaClient } from "@orisma/client";
import {
  startService,
  type DatabaseLogin,
  type Service,
  type ServiceOptions,
  type Settings,
} from "@orisma/server";
import mysql from "mysql2/promise";

/** The project's folder. */
export const ROOT = join(import.meta.dirname, "..");

/** A service of a test's own: real HTTP on loopback, and a database that nobody else uses. */
export interface TestService {
  readonly service: Service;
  readonly client: OrismaClient;
  readonly login: DatabaseLogin;
  readonly state: string;
  /** Ends the service and removes all it left. */
  end(): Promise<void>;
}

/** Starts a service on a database of the run's MariaDB: a fresh one, or one that another left. */
export async function startTestService(
  options: {
    now?: () => number;
    inbox?: string;
    login?: DatabaseLogin;
    attachable?: Settings["attachable"];
    limits?: NonNullable<ServiceOptions["limits"]>;
    times?: NonNullable<ServiceOptions["times"]>;
    /** A state folder that another service left. */
    state?: string;
    newSecret?: boolean;
    /** Settings beside those of every test. */
    settings?: Partial<Settings>;
  } = {},
): Promise<TestService> {
  const login = options.login ?? (await freshDatabase());
  const state = options.state ?? mkdtempSync(join(tmpdir(), "orisma-state-"));
  const service = await startService({
    settings: {
      host: "127.0.0.1",
      port: 0,
      state,
      database: login,
      inbox: options.inbox ?? null,
      outbox: null,
      webhooks: [],
      fetchable: [],
      attachable: options.attachable ?? [],
      editableDatabases: [],
      databaseMemory: null,
      baseUrl: null,
      issuer: null,
      trustedProxies: [],
      connections: 10_000,
      maxScanned: 2_000_000,
      auditDays: 90,
      ...options.settings,
    },
    tell: () => undefined,
    onCrash: () => undefined,
    consoleFolder: join(ROOT, "packages/console/dist"),
    ...(options.newSecret === undefined ? {} : { newSecret: options.newSecret }),
    ...(options.now === undefined ? {} : { now: options.now }),
    ...(options.limits === undefined ? {} : { limits: options.limits }),
    ...(options.times === undefined ? {} : { times: options.times }),
  });
  return {
    service,
    login,
    state,
    client: new OrismaClient({ url: service.url, key: service.key }),
    async end() {
      await service.close();
      rmSync(state, { recursive: true, force: true });
    },
  };
}

/** A database of the run's MariaDB that nobody else uses. */
export async function freshDatabase(): Promise<DatabaseLogin> {
  const text = process.env.TEST_DATABASE_LOGIN;
  if (text === undefined) throw new Error("the run has no database");
  const login = JSON.parse(text) as DatabaseLogin;
  const database = `orisma_${randomBytes(6).toString("hex")}`;
  const connection = await mysql.createConnection({ ...login });
  await connection.query(
    `CREATE DATABASE ${database} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`,
  );
  await connection.end();
  return { ...login, database };
}
