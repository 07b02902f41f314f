import type { EventEmitter } from "node:events";
import type { Readable } from "node:stream";
import mysql from "mysql2/promise";
import type { DataSource, QueryRunner } from "typeorm";
import type { SqlValue, Statement } from "@orisma/core/internal";
import type { Circuit } from "./circuit.js";
import { DISK_FULL, DiskFull, isDiskFull } from "./disk.js";
import { DatabaseUnavailable } from "./unavailable.js";
import { within } from "./within.js";

/** The client has disconnected: what is not begun is not begun, and what runs was ended. */
export class ClientDisconnected extends Error {}

/** A row of a result: its fields in the order of the statement. */
export type ResultRow = readonly (string | number | null)[];

/** Runs one query for at most so many seconds, a whole number. */
export type Read = (statement: Statement, seconds?: number) => Promise<readonly ResultRow[]>;

/** Runs one statement. */
export type Run = (statement: Statement) => Promise<readonly ResultRow[]>;

/** How a data source of ours logs in. */
interface Login {
  readonly host: string;
  readonly port: number;
  readonly username: string;
  readonly password: string;
}

/** How long a connection that ends a query may take to come about, in milliseconds. */
const END_LIMIT_MS = 2_000;
/** How long a connection may take to come about, or to be given back by another, in milliseconds. */
const CONNECT_LIMIT_MS = 5_000;
/** Milliseconds beyond a statement's own limit after which a server that says nothing is away. */
const SILENT_MS = 2_000;

/** A statement took longer than its limit, and was stopped by the database. */
export class TooSlow extends Error {}

/** A statement has more values than the database takes at once. */
export class TooManyValues extends Error {}

/** Values of one statement at most: the limit of the database's protocol. */
const MAX_VALUES = 65_535;
/** Characters of a statement that is kept prepared at most: longer ones are seldom run again. */
const LONGEST_KEPT = 50_000;

/** Seconds that one statement may take by default. */
export const STATEMENT_LIMIT_S = 10;
/** Seconds that one statement which writes may take by default. */
const WRITE_LIMIT_S = 60;

/**
 * What every connection is set to before its first query: strict modes that refuse impossible
 * dates and read backslashes as the driver writes them, and universal time.
 */
const MODES =
  "SET SESSION sql_mode = 'STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE," +
  "ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION', time_zone = '+00:00'";

/** What else a connection to a database of others is set to: to read, nothing can be written, whatever the account may do. */
const MODES_OF_USE: Readonly<Record<GatewayUse, string | null>> = {
  own: null,
  reading: "SET SESSION TRANSACTION READ ONLY",
  // Whoever edits does not wait for long on what others have locked.
  editing: "SET SESSION innodb_lock_wait_timeout = 5",
};

/** What a gateway may do. */
export type GatewayUse = "own" | "reading" | "editing";

/** The part of the driver's connection that is used here. */
interface DriverConnection {
  execute(
    options: object,
    values: readonly SqlValue[],
    done?: (error: DriverError | null, rows: unknown) => void,
  ): { stream(options: object): Readable };
  /** The number by which the server knows the connection. */
  readonly threadId: number;
  /** Its socket. */
  readonly stream: EventEmitter;
  /** Ends the connection at once. */
  destroy(): void;
  /** Lets go of a prepared statement. */
  unprepare(options: object): void;
}

interface DriverError extends Error {
  readonly errno?: number;
  readonly code?: string;
  readonly fatal?: boolean;
}

/** A table is not as it was when it was attached: a column or all of it has gone, or a right. */
export class TableChanged extends Error {}

/** An imported table has been replaced by another since it was looked up. */
export class TableReplaced extends Error {}

/** No such table, or one that was made after the snapshot was taken. */
const REPLACED = new Set([1146, 1412]);

/** Unknown column, no such table, no right to a table or a column, a view that no longer works. */
const CHANGED = new Set([1054, 1146, 1142, 1143, 1356]);

/** "Query execution was interrupted", by its time limit or by a node on its behalf. */
const TOO_SLOW = new Set([1969, 1317]);
const UNAVAILABLE =
  /^(?:ECONN|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENETUNREACH|PROTOCOL_(?:CONNECTION_LOST|SEQUENCE_TIMEOUT)|POOL_)/;

/**
 * The one way to the records: every query on them is a prepared statement, on a connection
 * whose modes were pinned first, with values of admitted types only.
 */
export class Gateway {
  /** The connections whose modes are set. */
  #pinned = new WeakSet<DriverConnection>();
  #signal: AbortSignal | null = null;
  constructor(
    private readonly dataSource: DataSource,
    private readonly use: GatewayUse = "own",
    /** Of a database of others, which may be away for long. */
    private readonly circuit: Circuit | null = null,
  ) {}

  /** The same way to the same database, whose queries are ended when a signal is aborted. */
  withAbort(signal: AbortSignal): Gateway {
    const bound = new Gateway(this.dataSource, this.use, this.circuit);
    bound.#pinned = this.#pinned;
    bound.#signal = signal;
    return bound;
  }

  #throwIfAborted(): void {
    if (this.#signal?.aborted === true) throw new ClientDisconnected("the client has disconnected");
  }

  /**
   * Runs one query for at most so many seconds, a whole number. A statement is its own
   * consistent, read-only snapshot: figures that belong together are requested in one.
   */
  async read(statement: Statement, seconds = STATEMENT_LIMIT_S): Promise<readonly ResultRow[]> {
    return this.#withConnection((connection) => executeWithin(connection, statement, seconds));
  }

  /** Runs several queries on one consistent, read-only snapshot. */
  async snapshot<T>(work: (read: Read) => Promise<T>): Promise<T> {
    return this.#withConnection(async (connection) => {
      const run = (text: string) =>
        answered(connection, CONNECT_LIMIT_MS, execute(connection, { text, values: [] }));
      await run("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY");
      try {
        return await work(async (statement, seconds = STATEMENT_LIMIT_S) => {
          this.#throwIfAborted();
          return executeWithin(connection, statement, seconds);
        });
      } finally {
        await run("COMMIT");
      }
    });
  }

  /**
   * The rows of some statements, one after the other on one consistent, read-only snapshot, as the
   * database sends them: memory stays flat, and whoever stops early ends the query.
   */
  async *stream(
    statements: readonly Statement[],
    seconds: number,
  ): AsyncGenerator<ResultRow, void, undefined> {
    this.circuit?.check();
    const runner = this.dataSource.createQueryRunner();
    let connection: DriverConnection | null = null;
    let isWhole = false;
    try {
      const pinned = await this.#pinnedConnection(runner);
      connection = pinned;
      const run = (text: string) => execute(pinned, { text, values: [] });
      await run("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY");
      for (const statement of statements) {
        yield* streamed(pinned, limited(statement, seconds), seconds * 1_000 + SILENT_MS);
      }
      await run("COMMIT");
      isWhole = true;
      this.circuit?.succeeded();
    } catch (error) {
      throw this.#failed(error);
    } finally {
      // What is left of a result could only be read to its end, or thrown away with the connection.
      if (!isWhole) connection?.destroy();
      await runner.release();
    }
  }

  async #pinnedConnection(runner: QueryRunner): Promise<DriverConnection> {
    const connection = (await connected(runner)) as DriverConnection;
    if (!this.#pinned.has(connection)) {
      const set = (text: string) =>
        answered(connection, CONNECT_LIMIT_MS, execute(connection, { text, values: [] }));
      await set(MODES);
      const more = MODES_OF_USE[this.use];
      if (more !== null) await set(more);
      this.#pinned.add(connection);
    }
    return connection;
  }

  /** Runs one statement that may take long, as one that makes or fills a table does. */
  async change(text: string): Promise<readonly ResultRow[]> {
    return this.#withConnection((connection) => execute(connection, { text, values: [] }));
  }

  /** Runs statements that write, one after the other on one connection, without a time limit. */
  async write<T>(work: (run: (statement: Statement) => Promise<void>) => Promise<T>): Promise<T> {
    return this.#withConnection((connection) =>
      work(async (statement) => {
        await execute(connection, statement);
      }),
    );
  }

  /**
   * Runs statements that write in one transaction, each within so many seconds: all of them take effect, or none.
   */
  async transaction<T>(work: (run: Run) => Promise<T>, seconds = WRITE_LIMIT_S): Promise<T> {
    return this.#withConnection(async (connection) => {
      const run: Run = (statement) =>
        answered(connection, seconds * 1_000, execute(connection, statement));
      await run({ text: "START TRANSACTION", values: [] });
      try {
        const done = await work(run);
        await run({ text: "COMMIT", values: [] });
        return done;
      } catch (error) {
        // A connection that was lost takes its transaction with it.
        await run({ text: "ROLLBACK", values: [] }).catch(() => undefined);
        throw error;
      }
    });
  }

  async #withConnection<T>(work: (connection: DriverConnection) => Promise<T>): Promise<T> {
    this.#throwIfAborted();
    this.circuit?.check();
    const signal = this.#signal;
    const runner = this.dataSource.createQueryRunner();
    const ending: Promise<void>[] = [];
    let end: () => void = () => undefined;
    try {
      const connection = await this.#pinnedConnection(runner);
      // Waiting for a connection may have taken long.
      this.#throwIfAborted();
      end = () => {
        ending.push(this.#end(connection.threadId));
      };
      signal?.addEventListener("abort", end, { once: true });
      const returned = await work(connection);
      this.circuit?.succeeded();
      return returned;
    } catch (error) {
      if (signal?.aborted === true) {
        throw new ClientDisconnected("the client has disconnected", { cause: error });
      }
      throw this.#failed(error);
    } finally {
      signal?.removeEventListener("abort", end);
      // Until then the connection is nobody else's: another's query would be ended in its place.
      await Promise.all(ending);
      await runner.release();
    }
  }

  /** What a failure means to the caller; the circuit learns of it. */
  #failed(error: unknown): unknown {
    if (error instanceof DatabaseUnavailable || isUnavailable(error)) this.circuit?.failed();
    // Any other answer is one.
    else this.circuit?.succeeded();
    return changeOf(error, this.use) ?? error;
  }

  /**
   * Ends the query that runs on a connection, for a client that has disconnected: by a connection of its own,
   * since all others may be held by queries that wait to be ended.
   */
  async #end(thread: number): Promise<void> {
    if (!Number.isInteger(thread)) return;
    const { host, port, username, password } = this.dataSource.options as Login;
    const login = { host, port, user: username, password, connectTimeout: END_LIMIT_MS };
    const ended = await mysql.createConnection(login).catch(() => null);
    // What fails here has ended by itself, or ends at its limit.
    const killed = ended?.query(`KILL QUERY ${thread}`).catch(() => undefined);
    const late = () => new DatabaseUnavailable("the query could not be ended in time");
    await within(END_LIMIT_MS, Promise.resolve(killed), late).catch(() => undefined);
    ended?.destroy();
  }
}

/** A connection, or {@link DatabaseUnavailable} where none comes about in time. */
async function connected(runner: QueryRunner): Promise<unknown> {
  const connecting = runner.connect() as Promise<unknown>;
  const late = () => {
    // One that comes about afterwards is nobody's.
    connecting.then(
      () => runner.release(),
      () => undefined,
    );
    return new DatabaseUnavailable("no connection came about in time");
  };
  return within(CONNECT_LIMIT_MS, connecting.catch(translate), late);
}

/**
 * What a server answers; a connection on which it says nothing for so many milliseconds is given up, and
 * the server is away: a process that stands still keeps its connections.
 */
function answered<T>(connection: DriverConnection, ms: number, work: Promise<T>): Promise<T> {
  return within(ms, work, () => {
    connection.destroy();
    return new DatabaseUnavailable(`the database said nothing for ${ms} ms`);
  });
}

/** Runs a query within its limit, which the server holds to, and this process where the server does not. */
function executeWithin(
  connection: DriverConnection,
  statement: Statement,
  seconds: number,
): Promise<readonly ResultRow[]> {
  const work = execute(connection, limited(statement, seconds));
  return answered(connection, seconds * 1_000 + SILENT_MS, work);
}

/** What a failure says of a table that is not as it was; null for any other failure. */
function changeOf(error: unknown, use: GatewayUse): Error | null {
  const errno = error instanceof Error ? ((error as DriverError).errno ?? 0) : 0;
  const options = { cause: error };
  if (use === "own") {
    return REPLACED.has(errno) ? new TableReplaced((error as Error).message, options) : null;
  }
  // Whoever edits is told what it was.
  if (use === "editing") return null;
  return CHANGED.has(errno) ? new TableChanged((error as Error).message, options) : null;
}

/** Times that a request is planned again at most, each time that its table was replaced. */
const MAX_PLANS = 5;

/**
 * Does something again from its beginning where an imported table was replaced in the meantime, as
 * an import does when it ends: planned again, it reads the table that there is now.
 */
export async function planAgain<T>(
  work: () => Promise<T>,
  /** Whether nothing has been answered yet. */
  mayBeginAgain: () => boolean = () => true,
): Promise<T> {
  for (let plan = 1; ; plan++) {
    try {
      return await work();
    } catch (error) {
      const isFinal = plan === MAX_PLANS || !mayBeginAgain();
      if (isFinal || !(error instanceof TableReplaced)) throw error;
    }
  }
}

/** Written into the text, since the server does not take the limit as a bound value. */
function limited({ text, values }: Statement, seconds: number): Statement {
  if (!Number.isInteger(seconds)) throw new TypeError("the limit is a whole number of seconds");
  return { text: `SET STATEMENT max_statement_time=${seconds} FOR ${text}`, values };
}

/** How rows come: arrays of plain values, numbers beyond what is exact as strings. */
const ROWS = {
  rowsAsArray: true,
  dateStrings: true,
  supportBigNumbers: true,
  bigNumberStrings: false,
};

/** Rows that may wait for whoever takes them. */
const ROWS_WAITING = 500;

/** The rows of a statement, each of which may take as long as all of it: the first comes when all are sorted. */
async function* streamed(
  connection: DriverConnection,
  { text, values }: Statement,
  limitMs: number,
): AsyncGenerator<ResultRow, void, undefined> {
  for (const value of values) admit(value);
  const query = connection.execute({ sql: text, ...ROWS }, values);
  const found = query.stream({ highWaterMark: ROWS_WAITING });
  // The driver tells the connection alone that it was lost, and whoever waits for a row would wait on.
  const lost = () => found.destroy(new DatabaseUnavailable("the database has gone away"));
  connection.stream.once("close", lost);
  try {
    const rows = found[Symbol.asyncIterator]();
    for (;;) {
      const next = await answered(connection, limitMs, rows.next());
      if (next.done === true) return;
      yield next.value as ResultRow;
    }
  } catch (error) {
    if (error instanceof DatabaseUnavailable) throw error;
    translate(error as DriverError);
  } finally {
    connection.stream.off("close", lost);
  }
}

function execute(
  connection: DriverConnection,
  { text, values }: Statement,
): Promise<readonly ResultRow[]> {
  if (values.length > MAX_VALUES) {
    return Promise.reject(new TooManyValues(`${values.length} values in one statement`));
  }
  for (const value of values) admit(value);
  return new Promise<readonly ResultRow[]>((resolve, reject) => {
    const options = { sql: text, ...ROWS };
    connection.execute(options, values, (error, rows) => {
      if (text.length > LONGEST_KEPT) connection.unprepare(options);
      if (error === null) resolve(rows as readonly ResultRow[]);
      else reject(error);
    });
  }).catch(translate);
}

/** Arrays and objects are refused: the driver would write them out as SQL text. */
function admit(value: unknown): void {
  if (value === null || Buffer.isBuffer(value)) return;
  if (typeof value === "string" || typeof value === "bigint") return;
  if (typeof value === "number" && Number.isFinite(value)) return;
  throw new TypeError(`a value of type ${typeof value} is not bound to a statement`);
}

/** Whether a failure of the driver, or one around it, says that the database is away. */
export function isUnavailable(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code, fatal, driverError } = error as DriverError & { readonly driverError?: unknown };
  if (driverError !== undefined && driverError !== error) return isUnavailable(driverError);
  return UNAVAILABLE.test(code ?? "") || (fatal === true && code !== undefined);
}

function translate(error: DriverError): never {
  if (TOO_SLOW.has(error.errno ?? 0)) throw new TooSlow(error.message);
  if (isDiskFull(error)) throw new DiskFull(DISK_FULL, { cause: error });
  if (error.fatal === true || UNAVAILABLE.test(error.code ?? "")) {
    throw new DatabaseUnavailable(error.message, { cause: error });
  }
  throw error;
}
