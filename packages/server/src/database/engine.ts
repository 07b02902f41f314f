import { spawn, spawnSync, type ChildProcess } from "node:child_process";
import { createHash, randomBytes } from "node:crypto";
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { statfs } from "node:fs/promises";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import mysql from "mysql2/promise";
import { renameDurably, type DatabaseLogin } from "../settings/index.js";
import { STOP_LIMIT_MS, Supervised, type Launched } from "./supervised.js";

/** A MariaDB server of our own, on loopback. */
export interface Engine {
  readonly login: DatabaseLogin;
  /** The folder that holds its data. */
  readonly folder: string;
  /** Asks the server to end, and waits until it has. */
  stop(): Promise<void>;
}

export interface EngineOptions {
  /** Where the data lies; created if missing. */
  readonly folder: string;
  /** Called where the server ended by itself, and could not be started again, with what is known of why. */
  readonly onCrash: (report: string) => void;
  /** Called with news for the person who started the service. */
  readonly tell: (line: string) => void;
  /** Bytes of memory for tables and indexes; 256 MB by default. */
  readonly memory?: number;
  /** Milliseconds before the first start after a crash; each further one waits twice as long. */
  readonly backOffMs?: number;
  /** Whether each commit must reach the disk; tests do without. */
  readonly durable?: boolean;
  /** Whether clients may send files for bulk loads; the service never does, measurements do. */
  readonly localFiles?: boolean;
  /** A file into which the server writes every statement; tests see there what was sent to it. */
  readonly statementLog?: string;
  /** Accounts beside the service's own, on databases whose names begin like its own. */
  readonly accounts?: readonly EngineAccount[];
}

/** An account of a private server; its name and password are written by the code that starts it. */
export interface EngineAccount {
  readonly user: string;
  readonly password: string;
  readonly rights: "SELECT" | "ALL";
  /** A role that may do all, and that the service's own account can give to it. */
  readonly role?: string;
  /** Another database, in which it may do all. */
  readonly writesIn?: string;
}

const MEGABYTE = 1024 ** 2;
const DATABASE = "orisma";
const USER = "orisma";
const SERVER = "/usr/sbin/mariadbd";
const INSTALLER = "/usr/bin/mariadb-install-db";
const START_LIMIT_MS = 60_000;
/** The longest path of a Unix socket, in bytes, less room for the server's own endings. */
const LONGEST_SOCKET_PATH = 100;

/**
 * Starts a private MariaDB server on a free port of 127.0.0.1, in a folder of its own.
 *
 * Never runs as root: where this process does, the server runs as Debian's user `mysql`. Its
 * accounts are root over the socket, for the operating system's own administrator, and one
 * for the service, whose password is made again at each start and kept only in memory. A server
 * that an earlier run left behind in the same folder is stopped first. A server that ends by itself is
 * started again, with a pause that doubles each time.
 *
 * Throws with the end of the server's log when it does not come up.
 */
export async function startEngine(options: EngineOptions): Promise<Engine> {
  if (!existsSync(SERVER) || !existsSync(INSTALLER)) {
    throw new Error("MariaDB is not installed: apt-get install mariadb-server");
  }
  const account = serverAccount();
  const folder = placeFor(options.folder, account, options.tell);
  const data = join(folder, "data");
  const files = {
    run: join(folder, "run"),
    temporary: join(folder, "tmp"),
    log: join(folder, "log"),
  };
  for (const path of [folder, ...Object.values(files)]) makeFolder(path, account);
  await stopOrphan(join(files.run, "mariadbd.pid"), data, options.tell);
  if (!existsSync(data)) install(folder, data, files.temporary, account);

  const password = randomBytes(24).toString("hex");
  const port = await freePort();
  const socket = socketPath(files.run);
  const initFile = join(files.run, "init.sql");
  const log = join(files.log, "mariadbd.log");
  const login = { host: "127.0.0.1", port, user: USER, password, database: DATABASE };
  const command = [
    SERVER,
    "--no-defaults",
    `--datadir=${data}`,
    `--tmpdir=${files.temporary}`,
    `--socket=${socket}`,
    `--pid-file=${join(files.run, "mariadbd.pid")}`,
    `--log-error=${log}`,
    `--init-file=${initFile}`,
    `--port=${port}`,
    "--bind-address=127.0.0.1",
    "--skip-name-resolve",
    `--local-infile=${(options.localFiles ?? false) ? 1 : 0}`,
    ...(options.statementLog === undefined
      ? []
      : ["--general-log", `--general-log-file=${options.statementLog}`]),
    "--character-set-server=utf8mb4",
    "--collation-server=utf8mb4_unicode_ci",
    "--default-time-zone=+00:00",
    ...(await sizesFor(options.memory ?? DEFAULT_MEMORY, folder)),
    `--innodb-flush-log-at-trx-commit=${(options.durable ?? true) ? 1 : 2}`,
  ];
  const launch = async (): Promise<Launched> => {
    writeOwned(initFile, initialStatements(password, options.accounts ?? []), account);
    const [program = SERVER, ...words] = withDeathSignal(command);
    // A session of its own, so that Ctrl-C reaches the service alone, which ends both in order.
    const server = spawn(program, words, {
      ...account,
      cwd: data,
      stdio: "ignore",
      detached: true,
    });
    const launched = { server, ended: endOf(server) };
    try {
      await ready(login, launched.ended, log);
    } catch (error) {
      server.kill("SIGKILL");
      throw error;
    } finally {
      rmSync(initFile, { force: true });
    }
    return launched;
  };
  const supervised = new Supervised(await launch(), launch, {
    ...options,
    reportOf: (how) => `the database ended by itself (${how}).\n${tailOf(log)}`,
  });
  const stop = async () => {
    const { bavail, bsize } = await statfs(folder);
    await supervised.stop(bavail * bsize < FULL_BYTES ? FULL_STOP_LIMIT_MS : STOP_LIMIT_MS);
  };
  return { login, folder, stop };
}

/**
 * Ends with its parent: whatever ends the service, no server runs on behind it. Killed, since one that is
 * asked to end waits until there is disk space; what was committed is in its log, and read again from there.
 */
function withDeathSignal(command: readonly string[]): readonly string[] {
  return existsSync(DEATH_SIGNAL) ? [DEATH_SIGNAL, "--pdeathsig", "KILL", ...command] : command;
}

/** Bytes of disk space with fewer of which a server does not end by itself: it waits for more. */
const FULL_BYTES = 1_048_576;
/** Milliseconds after which such a server is killed. */
const FULL_STOP_LIMIT_MS = 5_000;

/** A program of util-linux, which every Debian has. */
const DEATH_SIGNAL = "/usr/bin/setpriv";
/** Bytes of the buffer pool by default. */
const DEFAULT_MEMORY = 256 * MEGABYTE;

/**
 * What the server is given of memory and disk: the pool, which takes memory as tables come to need it, and what
 * follows from it, for groups and sorting, and for the log, of which a small disk holds little.
 */
async function sizesFor(memory: number, folder: string): Promise<readonly string[]> {
  const { bavail, bsize } = await statfs(folder);
  const between = (least: number, size: number, most: number) =>
    Math.floor(Math.max(least, Math.min(size, most)) / MEGABYTE) * MEGABYTE;
  const log = between(96 * MEGABYTE, Math.min(memory / 4, (bavail * bsize) / 20), 1_024 * MEGABYTE);
  const temporary = between(16 * MEGABYTE, memory / 64, 256 * MEGABYTE);
  return [
    `--innodb-buffer-pool-size=${memory}`,
    `--innodb-log-file-size=${log}`,
    `--tmp-table-size=${temporary}`,
    `--max-heap-table-size=${temporary}`,
    `--innodb-sort-buffer-size=${between(MEGABYTE, memory / 64, 64 * MEGABYTE)}`,
  ];
}

interface Account {
  readonly uid?: number;
  readonly gid?: number;
}

/** Whom the server runs as: this user, or `mysql` where this user is root. */
function serverAccount(): Account {
  if (process.getuid?.() !== 0) return {};
  const line = readFileSync("/etc/passwd", "utf8")
    .split("\n")
    .find((each) => each.startsWith("mysql:"));
  const [, , uid, gid] = line?.split(":") ?? [];
  if (uid === undefined || gid === undefined) {
    throw new Error("there is no user “mysql” to run the database as, and it never runs as root");
  }
  return { uid: Number(uid), gid: Number(gid) };
}

/** The wanted folder, or one under /var/lib where another user cannot pass through to it. */
function placeFor(wanted: string, account: Account, tell: (line: string) => void): string {
  if (account.uid === undefined) return wanted;
  mkdirSync(dirname(wanted), { recursive: true, mode: 0o711 });
  for (let path = dirname(wanted); path !== "/"; path = dirname(path)) {
    if ((statSync(path).mode & 0o001) !== 0) continue;
    const name = createHash("sha256").update(wanted).digest("hex").slice(0, 12);
    const place = join("/var/lib/orisma", name);
    mkdirSync(dirname(place), { recursive: true, mode: 0o755 });
    tell(`the user mysql may not pass through ${path}, so the database lies in ${place}`);
    return place;
  }
  return wanted;
}

function makeFolder(path: string, account: Account): void {
  mkdirSync(path, { recursive: true, mode: 0o700 });
  own(path, account);
}

function own(path: string, account: Account): void {
  if (account.uid !== undefined && account.gid !== undefined) {
    chownSync(path, account.uid, account.gid);
  }
}

function writeOwned(path: string, text: string, account: Account): void {
  writeFileSync(path, text, { mode: 0o600 });
  chmodSync(path, 0o600);
  own(path, account);
}

/** Makes a fresh data folder beside the final one, so that a half-made one is never used. */
function install(folder: string, data: string, temporary: string, account: Account): void {
  const fresh = join(folder, "data.new");
  rmSync(fresh, { recursive: true, force: true });
  makeFolder(fresh, account);
  const done = spawnSync(
    INSTALLER,
    [
      "--no-defaults",
      `--datadir=${fresh}`,
      `--tmpdir=${temporary}`,
      "--auth-root-authentication-method=socket",
      "--skip-test-db",
      "--skip-name-resolve",
    ],
    { ...account, cwd: fresh, encoding: "utf8", env: { PATH: "/usr/sbin:/usr/bin:/sbin:/bin" } },
  );
  if (done.status !== 0) {
    throw new Error(`a fresh database could not be made:\n${done.stdout}${done.stderr}`);
  }
  renameDurably(fresh, data);
}

/** One statement a line; run by the server before it takes connections. */
function initialStatements(password: string, accounts: readonly EngineAccount[]): string {
  return [
    `CREATE DATABASE IF NOT EXISTS ${DATABASE} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;`,
    `CREATE USER IF NOT EXISTS ${USER}@'127.0.0.1' IDENTIFIED BY '${password}';`,
    `ALTER USER ${USER}@'127.0.0.1' IDENTIFIED BY '${password}';`,
    `GRANT ALL ON \`${DATABASE}%\`.* TO ${USER}@'127.0.0.1';`,
    ...accounts.flatMap((each) => [
      `CREATE OR REPLACE USER ${each.user}@'127.0.0.1' IDENTIFIED BY '${each.password}';`,
      `GRANT ${each.rights} ON \`${DATABASE}%\`.* TO ${each.user}@'127.0.0.1';`,
      ...(each.writesIn === undefined
        ? []
        : [`GRANT ALL ON \`${each.writesIn}\`.* TO ${each.user}@'127.0.0.1';`]),
      ...(each.role === undefined
        ? []
        : [
            `CREATE OR REPLACE ROLE ${each.role} WITH ADMIN ${USER}@'127.0.0.1';`,
            `GRANT ALL ON \`${DATABASE}%\`.* TO ${each.role};`,
          ]),
    ]),
    "",
  ].join("\n");
}

async function ready(login: DatabaseLogin, ended: Promise<string>, log: string): Promise<void> {
  const deadline = performance.now() + START_LIMIT_MS;
  const failure: { how?: string } = {};
  void ended.then((how) => (failure.how = how));
  for (;;) {
    try {
      const connection = await mysql.createConnection({ ...login });
      await connection.end();
      return;
    } catch {
      if (failure.how !== undefined || performance.now() > deadline) {
        throw new Error(
          `the database did not start (${failure.how ?? "too slow"}).\n${tailOf(log)}`,
        );
      }
      await sleep(50);
    }
  }
}

function endOf(server: ChildProcess): Promise<string> {
  return new Promise((resolve) => {
    server.once("error", (error) => resolve(error.message));
    server.once("exit", (code, signal) =>
      resolve(signal === null ? `exit code ${code ?? "unknown"}` : `signal ${signal}`),
    );
  });
}

/** A crash of the service leaves its server running; it is known by its data folder. */
async function stopOrphan(
  pidFile: string,
  data: string,
  tell: (line: string) => void,
): Promise<void> {
  const pid = existsSync(pidFile) ? Number(readFileSync(pidFile, "utf8").trim()) : 0;
  const runs = () => pid > 0 && commandLine(pid).includes(`--datadir=${data}`);
  if (!runs()) return;
  tell("stopping a database that an earlier run left behind");
  process.kill(pid, "SIGTERM");
  const deadline = performance.now() + STOP_LIMIT_MS;
  while (runs()) {
    if (performance.now() > deadline) process.kill(pid, "SIGKILL");
    await sleep(50);
  }
}

function commandLine(pid: number): readonly string[] {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, "utf8").split("\0");
  } catch {
    return [];
  }
}

function socketPath(run: string): string {
  const path = join(run, "mariadbd.sock");
  if (Buffer.byteLength(path) <= LONGEST_SOCKET_PATH) return path;
  return join(
    tmpdir(),
    `orisma-${createHash("sha256").update(run).digest("hex").slice(0, 12)}.sock`,
  );
}

/** A port that is free now; the server binds it a moment later. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once("error", reject);
    probe.listen(0, "127.0.0.1", () => {
      const address = probe.address();
      const port = typeof address === "object" && address !== null ? address.port : 0;
      probe.close(() => resolve(port));
    });
  });
}

function tailOf(log: string): string {
  if (!existsSync(log)) return `There is no log at ${log}.`;
  const lines = readFileSync(log, "utf8").trimEnd().split("\n").slice(-12);
  return `Its log is ${log} and ends:\n${lines.map((line) => `  ${line}`).join("\n")}`;
}
