import { spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { PassThrough, Readable } from "node:stream";
import { finished, pipeline } from "node:stream/promises";
import { createGzip } from "node:zlib";
import type { DataSource } from "typeorm";
import { MIGRATIONS, type DiskSpace, type TableGate } from "../database/index.js";
import { Problem } from "../http/index.js";
import { spool } from "../imports/index.js";
import type { DatabaseLogin, StateFolder } from "../settings/index.js";
import { BackupUnreadable, checked, sqlOf, written, type BackupHeader } from "./backup-file.js";

/** Programs of Debian's MariaDB client, which its server brings. */
const DUMP = "/usr/bin/mariadb-dump";
const LOAD = "/usr/bin/mariadb";
/** Lines of what a program said that are passed on. */
const MAX_LINES = 5;

/** What backups are made of. */
export interface BackupParts {
  readonly dataSource: DataSource;
  readonly login: DatabaseLogin;
  readonly state: StateFolder;
  readonly gate: TableGate;
  readonly disk: DiskSpace;
  /** Whether anything is kept here that a restored backup would replace. */
  readonly isEmpty: () => boolean;
  /** Starts the service anew, with what was restored. */
  readonly restart: () => void;
  readonly now: () => number;
}

/** What came of restoring a backup. */
export interface Restored {
  readonly createdAt: string;
  readonly hasSecret: boolean;
}

/** Copies all that the service keeps, and puts a copy in the place of what an empty one has. */
export class Backups {
  constructor(private readonly parts: BackupParts) {}

  /**
   * Makes a backup of one moment, while the service goes on, as gzip (RFC 1952). Whoever wants it no more
   * destroys it.
   */
  async create(withSecret: boolean): Promise<Readable> {
    const { gate, state, now } = this.parts;
    mustBeThere(DUMP);
    const migrations = [...(await this.#migrations())];
    // From here on to its beginning nothing waits: another would begin beside it.
    if (gate.isCopying) throw new Problem("busy", "A backup is being made now");
    const header: BackupHeader = {
      format: "orisma-backup",
      version: 1,
      createdAt: new Date(now()).toISOString(),
      migrations,
      secret: withSecret ? state.secret().toString("hex") : null,
    };
    const sql = this.#dump();
    const backup = createGzip();
    // However it ends, the dump ends with it; what failed is known by the end that is missing.
    pipeline(Readable.from(written(header, sql)), backup).catch(() => undefined);
    backup.once("close", () => sql.destroy());
    return backup;
  }

  /** Puts a backup in the place of what there is, which must be nothing; the service starts anew after it. */
  async restore(body: Readable, sent: number): Promise<Restored> {
    const { disk, state, isEmpty } = this.parts;
    mustBeThere(LOAD);
    if (!isEmpty()) {
      const detail =
        "This service has sources or listings, which a backup would replace: start another, with " +
        "ORISMA_STATE=FOLDER npm start -- --empty, and restore into that";
      throw new Problem("already-there", detail);
    }
    await disk.mustFit(sent);
    const file = await spool(body, state.arriving, { isPacked: false });
    try {
      const { header, bytes } = await checked(file.path).catch(refused);
      this.#mustBeKnown(header);
      await disk.mustFit(Math.ceil(bytes / 2));
      state.beginRestoring();
      await this.#load(file.path).catch((error: unknown) => {
        throw new Problem("invalid-value", `${HALF_RESTORED} ${String(error)}`);
      });
      await this.#endPlaces();
      if (header.secret !== null) state.keepSecret(header.secret);
      state.endRestoring();
      return { createdAt: header.createdAt, hasSecret: header.secret !== null };
    } finally {
      await file.remove();
    }
  }

  /**
   * Ends the places from which callers would resume: the changes that they have seen since the backup was made are
   * no more, and others will have their numbers.
   */
  async #endPlaces(): Promise<void> {
    const { dataSource } = this.parts;
    // A backup of a version without them has none to end.
    const marks = await dataSource.query<unknown[]>(
      "SELECT 1 FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = 'sources' AND column_name = 'changesMark'",
    );
    if (marks.length === 0) return;
    await dataSource.query("UPDATE sources SET changesMark = UUID() WHERE changesMark IS NOT NULL");
  }

  /** Starts the service anew, once an answer has been sent. */
  restart(): void {
    this.parts.restart();
  }

  async #migrations(): Promise<readonly string[]> {
    const rows = await this.parts.dataSource.query<{ name: string }[]>(
      "SELECT name FROM migrations ORDER BY id",
    );
    return rows.map(({ name }) => name);
  }

  /** A backup of a later version has tables that this one does not know. */
  #mustBeKnown({ migrations }: BackupHeader): void {
    const known = new Set<string>(MIGRATIONS.map(({ name }) => name));
    const unknown = migrations.filter((name) => !known.has(name));
    if (unknown.length === 0) return;
    const detail = `The backup was made by a later version of Orisma (${unknown.join(", ")}): restore it with that version`;
    throw new Problem("invalid-value", detail);
  }

  /** The tables of the service and of the records that are in use, as SQL; ends the dump where it is destroyed. */
  #dump(): PassThrough {
    const sql = new PassThrough();
    const copied = this.parts.gate.copy(async (begun) => {
      const tables = await this.#tables();
      const dump = this.#spawn(DUMP, [
        ...["--single-transaction", "--quick", "--skip-lock-tables", "--skip-comments"],
        ...["--hex-blob", "--no-tablespaces", "--default-character-set=utf8mb4"],
        ...[this.parts.login.database, ...tables],
      ]);
      // Its first table comes after its moment.
      dump.output.on("data", (piece: Buffer) => {
        if (piece.includes("CREATE TABLE")) begun();
      });
      try {
        await pipeline(dump.output, sql, { end: false });
        await dump.ended;
      } finally {
        dump.end();
      }
    });
    copied.then(
      () => sql.end(),
      (error: unknown) => sql.destroy(error as Error),
    );
    return sql;
  }

  /** Tables of records that no source has any more, or has not yet, are left out. */
  async #tables(): Promise<readonly string[]> {
    const { dataSource } = this.parts;
    const all = await dataSource.query<{ name: string }[]>(
      "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE'",
    );
    const sources = await dataSource.query<{ now: string | null; before: string | null }[]>(
      "SELECT recordsTable AS now, JSON_VALUE(`before`, '$.recordsTable') AS `before` FROM sources",
    );
    const used = new Set(sources.flatMap((each) => [each.now, each.before]));
    return all
      .map(({ name }) => name)
      .filter((name) => !name.startsWith("records_") || used.has(name));
  }

  async #load(path: string): Promise<void> {
    const { login } = this.parts;
    // Without commands of the program itself: a backup is a file, and comes from anywhere.
    const load = this.#spawn(LOAD, [
      ...["--sandbox", "--local-infile=0", "--batch", "--default-character-set=utf8mb4"],
      login.database,
    ]);
    load.output.resume();
    try {
      for await (const piece of sqlOf(path)) {
        if (!load.input.write(piece)) await load.drained();
      }
      load.input.end();
      await finished(load.input);
    } catch {
      // It has ended; why is said below.
    }
    await load.ended;
  }

  #spawn(program: string, words: readonly string[]) {
    const { host, port, user, password } = this.parts.login;
    const place = [`--host=${host}`, `--port=${port}`, `--user=${user}`];
    // Passwords of others could be seen among the words of a process.
    const env = { ...process.env, MYSQL_PWD: password };
    const child = spawn(program, ["--no-defaults", ...place, ...words], { env });
    let said = "";
    child.stderr.on("data", (text) => (said += String(text)));
    child.stdin.on("error", () => undefined);
    const exited = new Promise<number | null>((resolve, reject) => {
      child.once("error", reject);
      child.once("close", (code) => resolve(code));
    });
    const ended = exited.then((code) => {
      if (code === 0) return;
      const lines = said.trim().split("\n").slice(-MAX_LINES).join("; ");
      throw new Error(`${program} ended with ${code ?? "a signal"}: ${lines}`);
    });
    ended.catch(() => undefined);
    const drained = () =>
      Promise.race([new Promise((resolve) => child.stdin.once("drain", resolve)), exited]);
    const end = () => child.kill("SIGTERM");
    return { output: child.stdout, input: child.stdin, ended, drained, end };
  }
}

const HALF_RESTORED =
  "The backup could not be loaded whole, and this service is of no use now: delete its state folder, " +
  "and restore into another.";

function refused(error: unknown): never {
  if (error instanceof BackupUnreadable) {
    throw new Problem("invalid-value", `Nothing was restored: ${error.message}`);
  }
  throw error;
}

function mustBeThere(program: string): void {
  if (existsSync(program)) return;
  throw new Problem(
    "not-found",
    `${program} is not installed where the service runs: apt-get install mariadb-client`,
  );
}
