import { accessSync, constants, existsSync, readFileSync } from "node:fs";
import type { Finding } from "@orisma/contract";
import type { DataSource } from "typeorm";
import type { AttachedDatabases } from "../attached/index.js";
import type { Access } from "../access/index.js";
import { DatabaseUnavailable, within, type DiskSpace } from "../database/index.js";
import type { Settings, StateFolder } from "../settings/index.js";
import type { IndexProposal, Sources } from "../sources/index.js";

/** What is looked at. */
export interface DoctorParts {
  readonly dataSource: DataSource;
  readonly settings: Settings;
  readonly state: StateFolder;
  readonly disk: DiskSpace;
  readonly access: Access;
  readonly databases: AttachedDatabases;
  readonly sources: Pick<Sources, "names" | "withoutDictionaries">;
  /** The indexes that would have served slow requests to a source. */
  readonly proposals: (source: string) => readonly IndexProposal[];
  /** The listings that no longer fit their sources. */
  readonly broken: () => readonly string[];
  readonly now: () => number;
}

const LOOK_LIMIT_MS = 5_000;
/** Bytes of disk space with fewer of which an import of some size is refused. */
const LITTLE_SPACE = 1024 ** 3;
/** Milliseconds by which the clocks of the service and its database may differ. */
const CLOCKS_APART_MS = 2_000;
/** Files that a process opens beside its connections. */
const OTHER_FILES = 200;
const UNUSED_MS = 90 * 86_400_000;

/** Looks at an installation, and says in words what is wrong with it and what to do. */
export class Doctor {
  constructor(private readonly parts: DoctorParts) {}

  /** What was found, the worst first; each look ends in time. */
  async findings(): Promise<readonly Finding[]> {
    const looks = [
      this.#database(),
      this.#memory(),
      this.#disk(),
      this.#databases(),
      this.#keys(),
      Promise.resolve([...this.#listings(), ...this.#files(), ...this.#exposure()]),
      Promise.resolve([...this.#indexes(), ...this.#dictionaries()]),
    ];
    const found = (await Promise.all(looks)).flat();
    const order = ["problem", "warning", "ok"];
    return found.sort((a, b) => order.indexOf(a.level) - order.indexOf(b.level));
  }

  async #database(): Promise<readonly Finding[]> {
    const { dataSource, now } = this.parts;
    try {
      const [row] = await this.#query<{ version: string; at: string }>(
        "SELECT VERSION() AS version, CAST(UNIX_TIMESTAMP(NOW(3)) * 1000 AS CHAR) AS at",
      );
      const apart = Math.abs(Number(row?.at) - now());
      if (apart > CLOCKS_APART_MS) {
        return [
          warning(
            `The clocks of the service and its database are ${Math.round(apart / 1_000)} s apart`,
            "Set both by a time server: “now” is the service's",
          ),
        ];
      }
      const name = dataSource.options.database;
      return [ok(`The database ${String(name)} answers (${row?.version ?? "unknown version"})`)];
    } catch (error) {
      return [
        problem(
          `The database does not answer: ${messageOf(error)}`,
          "See its log in the state folder",
        ),
      ];
    }
  }

  /** Whether the tables fit the memory that the database has for them. */
  async #memory(): Promise<readonly Finding[]> {
    try {
      const [row] = await this.#query<Record<"pool" | "log" | "temporary" | "size", string>>(
        "SELECT @@innodb_buffer_pool_size AS pool, @@innodb_log_file_size AS log, " +
          "@@tmp_table_size AS temporary, (SELECT COALESCE(SUM(data_length + index_length), 0) " +
          "FROM information_schema.tables WHERE table_schema = DATABASE()) AS size",
      );
      const [pool, size] = [Number(row?.pool), Number(row?.size)];
      const said =
        `The tables have ${megabytes(size)}, the database has ${megabytes(pool)} of memory for them, ` +
        `${megabytes(Number(row?.temporary))} for each group and sort, and ${megabytes(Number(row?.log))} of log`;
      if (size <= pool) return [ok(said)];
      return [
        warning(
          said,
          "Raise ORISMA_DATABASE_MEMORY: what does not fit is read from disk at each request",
        ),
      ];
    } catch {
      return [];
    }
  }

  async #disk(): Promise<readonly Finding[]> {
    const free = await this.parts.disk.free();
    if (free >= LITTLE_SPACE) return [ok(`${megabytes(free)} of disk space are free`)];
    const advice = "Free disk space: an import needs about five times the size of its file";
    return [warning(`Only ${megabytes(free)} of disk space are free`, advice)];
  }

  async #databases(): Promise<readonly Finding[]> {
    const { databases } = this.parts;
    return Promise.all(
      databases.list().map(async ({ name }) => {
        try {
          const late = () => new DatabaseUnavailable("it does not answer");
          await within(LOOK_LIMIT_MS, databases.tables(name), late);
          return ok(`The attached database ${name} can be read`);
        } catch (error) {
          return problem(
            `The attached database ${name} cannot be read: ${messageOf(error)}`,
            "Start it, or attach it again with the account it has now: orisma databases add",
          );
        }
      }),
    );
  }

  async #keys(): Promise<readonly Finding[]> {
    const { access, now } = this.parts;
    const late = () => new DatabaseUnavailable("the database does not answer");
    const keys = await within(LOOK_LIMIT_MS, access.listKeys(), late).catch(() => []);
    return keys.flatMap(({ id, name, expiresAt, createdAt, lastUsedAt }) => {
      if (expiresAt !== null && Date.parse(expiresAt) <= now()) {
        return [warning(`Key ${id} (${name}) has expired`, `Revoke it: orisma keys revoke ${id}`)];
      }
      if (now() - Date.parse(lastUsedAt ?? createdAt) < UNUSED_MS) return [];
      return [
        warning(
          `Key ${id} (${name}) was not used for 90 days`,
          `Revoke it if nobody needs it: orisma keys revoke ${id}`,
        ),
      ];
    });
  }

  #listings(): readonly Finding[] {
    return this.parts
      .broken()
      .map((name) =>
        problem(
          `The listing ${name} no longer fits its source`,
          `See what is wrong: orisma listings check ${name}.yaml`,
        ),
      );
  }

  /** The index that would serve most, of each source that was slow. */
  #indexes(): readonly Finding[] {
    const { sources, proposals } = this.parts;
    return sources.names().flatMap((name) =>
      proposals(name)
        .slice(0, 1)
        .map(({ columns, requests, slowestMs, column }) =>
          warning(
            `Requests to ${name} filtered by ${column} were slow: ${requests}, up to ${slowestMs} ms`,
            `Make an index: orisma sources index ${name} ${columns.join(" ")}`,
          ),
        ),
    );
  }

  #dictionaries(): readonly Finding[] {
    return this.parts.sources
      .withoutDictionaries()
      .map((name) =>
        warning(
          `The text columns of ${name} are searched record by record: the dictionaries take too much memory`,
          "Delete sources that nobody uses",
        ),
      );
  }

  /** Whether the process may open a file for each connection, and write its log. */
  #files(): readonly Finding[] {
    const { settings, state } = this.parts;
    const found: Finding[] = [];
    const limit = openFiles();
    if (limit !== null && limit < settings.connections + OTHER_FILES) {
      found.push(
        warning(
          `The process may open ${limit} files, and ORISMA_CONNECTIONS is ${settings.connections}`,
          "Raise the limit (LimitNOFILE of systemd, ulimit -n), or lower ORISMA_CONNECTIONS",
        ),
      );
    }
    try {
      accessSync(state.logs, constants.W_OK);
    } catch {
      found.push(
        problem(
          `The log cannot be written in ${state.logs}`,
          "Give the folder to the user of the service",
        ),
      );
    }
    return found;
  }

  #exposure(): readonly Finding[] {
    const { host, baseUrl } = this.parts.settings;
    const isLocal = ["127.0.0.1", "::1", "localhost"].includes(host);
    if (isLocal || (baseUrl?.startsWith("https:") ?? false)) return [];
    return [
      warning(
        `The service listens on ${host} without TLS: keys and records can be read on the way`,
        "Put a proxy with TLS before it, and set ORISMA_BASE_URL to its https URL",
      ),
    ];
  }

  async #query<Row>(text: string): Promise<readonly Row[]> {
    const late = () => new DatabaseUnavailable("it did not answer in time");
    return within(LOOK_LIMIT_MS, this.parts.dataSource.query<Row[]>(text), late);
  }
}

/** Files that this process may open, or null where the system does not say. */
function openFiles(): number | null {
  const path = "/proc/self/limits";
  if (!existsSync(path)) return null;
  const [, soft] = /^Max open files +(\d+)/m.exec(readFileSync(path, "utf8")) ?? [];
  return soft === undefined ? null : Number(soft);
}

function ok(what: string): Finding {
  return { level: "ok", what };
}

function warning(what: string, advice: string): Finding {
  return { level: "warning", what, advice };
}

function problem(what: string, advice: string): Finding {
  return { level: "problem", what, advice };
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

function megabytes(bytes: number): string {
  return `${Math.ceil(bytes / 1024 ** 2).toLocaleString("en")} MB`;
}
