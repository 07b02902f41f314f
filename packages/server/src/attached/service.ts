import type {
  AttachedDatabase as DatabaseView,
  AttachedTable,
  Calls,
  ReadBody,
} from "@orisma/contract";
import { fault, nameFault, withLocation } from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import type { Sealer } from "../access/index.js";
import { Circuit, type Gateway } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import type { HostAndPort } from "../settings/index.js";
import { writingRights } from "./account.js";
import { catalogueOf, tablesOf, type TableCatalogue } from "./catalogue.js";
import { connect, identityOf, reasonOf, type Connection } from "./connection.js";
import { datedTables, type DateNamed, type DatedTable } from "./date-named.js";
import { AttachedDatabase } from "./entities.js";

type AttachedSent = ReadBody<Calls["PUT /v1/databases/{name}"]>;

/** Milliseconds for which the tables of a pattern are not looked for again. */
const TABLES_KNOWN_MS = 5_000;

/** Seconds after which a caller may ask again for a database that is away. */
const RETRY_AFTER_S = 5;

/** What the operator allows. */
export interface AllowedPlaces {
  /** The only places that may be connected to. */
  readonly attachable: readonly HostAndPort[];
  /** Those of them on which records may be edited. */
  readonly editable: readonly HostAndPort[];
}

/** Knows the databases of others, and reads them; nothing is written there but edits, where these are allowed. */
export class AttachedDatabases {
  readonly #known = new Map<string, AttachedDatabase>();
  /** Connected when first needed. */
  readonly #connections = new Map<string, Promise<Connection>>();
  /** Those on which records are edited. */
  readonly #editing = new Map<string, Promise<Connection>>();
  readonly #circuits = new Map<string, Circuit>();
  readonly #dated = new Map<
    string,
    { readonly at: number; readonly tables: readonly DatedTable[] }
  >();

  constructor(
    private readonly dataSource: DataSource,
    private readonly own: Gateway,
    private readonly sealer: Sealer,
    private readonly allowed: AllowedPlaces,
    private readonly now: () => number,
  ) {}

  async load(): Promise<void> {
    for (const each of await this.dataSource.getRepository(AttachedDatabase).find()) {
      this.#known.set(each.name, each);
    }
  }

  /** Seals the passwords anew that another sealer has sealed; what neither can open stays. */
  async reseal(before: Sealer): Promise<void> {
    for (const each of this.#known.values()) {
      const opened = this.sealer.open(each.password) === null ? before.open(each.password) : null;
      if (opened === null) continue;
      each.password = this.sealer.seal(opened);
      await this.dataSource.getRepository(AttachedDatabase).save(each);
    }
  }

  /** Every attached database, by name. */
  list(): readonly DatabaseView[] {
    return [...this.#known.values()].map(described).sort((a, b) => (a.name < b.name ? -1 : 1));
  }

  describe(name: string): DatabaseView {
    return described(this.#need(name));
  }

  /**
   * Attaches a database, or another account to one that is attached. It is connected to first:
   * what cannot be read, what can be written, and our own database are refused.
   */
  async attach(name: string, sent: AttachedSent): Promise<DatabaseView> {
    const wrongName = nameFault(name, "name");
    if (wrongName !== null) throw problemOf([wrongName]);
    const { host, port, database, user, password, allowWriter } = sent;
    this.#mustBeAllowed(host, port);
    const circuit = new Circuit();
    const connection = await connecting(name, () =>
      connect({ host, port, database, user, password }, circuit),
    );
    try {
      await this.#check({ name, database }, connection.gateway, allowWriter);
      const entity = Object.assign(new AttachedDatabase(), {
        name,
        host,
        port,
        database,
        user,
        password: this.sealer.seal(JSON.stringify([name, password])),
        allowsWriter: allowWriter,
        attachedAt: this.now(),
      });
      await this.dataSource.getRepository(AttachedDatabase).save(entity);
      await this.#disconnect(name);
      this.#known.set(name, entity);
      this.#connections.set(name, Promise.resolve(connection));
      this.#circuits.set(name, circuit);
      return described(entity);
    } catch (error) {
      await connection.close();
      throw error;
    }
  }

  /** Ends the attaching of a database, which stays as it is. */
  async detach(name: string): Promise<void> {
    this.#need(name);
    await this.dataSource.getRepository(AttachedDatabase).delete({ name });
    this.#known.delete(name);
    await this.#disconnect(name);
  }

  /** The tables and views that can be read. */
  async tables(name: string): Promise<readonly AttachedTable[]> {
    const { database } = this.#need(name);
    return connecting(name, async () => tablesOf(database, await this.gateway(name)));
  }

  /** What the database says of a table; throws a problem with the nearest name for none. */
  async table(name: string, table: string): Promise<TableCatalogue> {
    const { database } = this.#need(name);
    const gateway = await this.gateway(name);
    const found = await connecting(name, () => catalogueOf(database, table, gateway));
    if (found !== null) return found;
    const known = (await this.tables(name)).map((each) => each.name);
    const unknown = fault("name.unknown", { what: "table", name: table, known });
    throw problemOf([withLocation(unknown, { path: "attached.table", value: table })]);
  }

  /** The tables of a pattern, as they were some seconds ago at most: new ones are found. */
  async dated(name: string, pattern: DateNamed): Promise<readonly DatedTable[]> {
    const { database } = this.#need(name);
    const key = [name, pattern.prefix, pattern.suffix].join("\0");
    const held = this.#dated.get(key);
    const age = this.now() - (held?.at ?? 0);
    // Of a clock that went back nothing is known.
    if (held !== undefined && age >= 0 && age < TABLES_KNOWN_MS) return held.tables;
    const gateway = await this.gateway(name);
    const tables = await connecting(name, () => datedTables(database, pattern, gateway));
    this.#dated.set(key, { at: this.now(), tables });
    return tables;
  }

  /** The way to read an attached database. */
  async gateway(name: string): Promise<Gateway> {
    return this.#connected(name, "reading", this.#connections);
  }

  /** The way to edit records of an attached database; throws a problem where that is not allowed. */
  async editing(name: string): Promise<Gateway> {
    const reason = this.readOnlyReason(name);
    if (reason !== null)
      throw new Problem("not-allowed", `The records cannot be changed: ${reason}`);
    return this.#connected(name, "editing", this.#editing);
  }

  /** Why records of an attached database cannot be edited, in words for its owner; null where they can. */
  readOnlyReason(name: string): string | null {
    const { host, port, allowsWriter, user } = this.#need(name);
    if (!isAmong(this.allowed.editable, { host, port })) {
      return `the operator does not list ${host}:${port} in ORISMA_EDITABLE_DATABASES`;
    }
    if (allowsWriter) return null;
    return `${name} was attached for reading: attach it again with an account that may write, and --allow-writer (${user} is its account)`;
  }

  async #connected(
    name: string,
    use: "reading" | "editing",
    connections: Map<string, Promise<Connection>>,
  ): Promise<Gateway> {
    const held = connections.get(name);
    if (held !== undefined) return (await held).gateway;
    const { host, port, database, user, password } = this.#need(name);
    this.#mustBeAllowed(host, port);
    const opened = this.sealer.open(password);
    if (opened === null) {
      const detail = `The password of ${name} was sealed by another service: attach it again`;
      throw new Problem("unavailable", detail, [], { "Retry-After": String(RETRY_AFTER_S) });
    }
    const [, plain = ""] = JSON.parse(opened) as readonly string[];
    // Several callers may wait for the one connection.
    const circuit = this.#circuits.get(name) ?? new Circuit();
    this.#circuits.set(name, circuit);
    const connection = connecting(name, async () => {
      circuit.check();
      try {
        return await connect({ host, port, database, user, password: plain }, circuit, use);
      } catch (error) {
        circuit.failed();
        throw error;
      }
    });
    connections.set(name, connection);
    // One that failed is tried again once its circuit lets a request try.
    connection.catch(() => connections.delete(name));
    return (await connection).gateway;
  }

  /** Ends all connections. */
  async close(): Promise<void> {
    const names = new Set([...this.#connections.keys(), ...this.#editing.keys()]);
    for (const name of names) await this.#disconnect(name);
  }

  async #check(
    { name, database }: Pick<AttachedDatabase, "name" | "database">,
    gateway: Gateway,
    allowWriter: boolean,
  ): Promise<void> {
    const there = await connecting(name, () => identityOf(gateway));
    if (!/mariadb/i.test(there.version)) {
      throw problemOf([fault("attach.server", { version: there.version }, { path: "host" })]);
    }
    if (there.identity === (await identityOf(this.own)).identity) {
      throw problemOf([fault("attach.own", {}, { path: "host" })]);
    }
    if (allowWriter) return;
    const rights = await connecting(name, () => writingRights(database, gateway));
    if (rights.length > 0) throw problemOf([fault("attach.writer", { rights }, { path: "user" })]);
  }

  #mustBeAllowed(host: string, port: number): void {
    const { attachable } = this.allowed;
    if (isAmong(attachable, { host, port })) return;
    const allowed = attachable.map((each) => `${each.host}:${each.port}`);
    const place = { path: "host", value: `${host}:${port}` };
    throw problemOf([fault("attach.host", { allowed }, place)]);
  }

  #need(name: string): AttachedDatabase {
    const found = this.#known.get(name);
    if (found !== undefined) return found;
    const known = [...this.#known.keys()];
    throw problemOf([fault("name.unknown", { what: "database", name, known })]);
  }

  async #disconnect(name: string): Promise<void> {
    const held = [this.#connections, this.#editing].flatMap((all) => {
      const found = all.get(name);
      all.delete(name);
      return found ?? [];
    });
    // What stood there under the name may be another database from now on.
    this.#dated.clear();
    for (const each of await Promise.allSettled(held)) {
      if (each.status === "fulfilled") await each.value.close();
    }
  }
}

function isAmong(places: readonly HostAndPort[], { host, port }: HostAndPort): boolean {
  return places.some((each) => each.host === host && each.port === port);
}

/** Does something with an attached database; what it says against it is reported. */
async function connecting<T>(name: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const reason = error instanceof Problem ? null : reasonOf(error);
    if (reason === null) throw error;
    const again = { "Retry-After": String(RETRY_AFTER_S) };
    throw new Problem("unavailable", `The database ${name} cannot be read: ${reason}`, [], again);
  }
}

function described(each: AttachedDatabase): DatabaseView {
  const { name, host, port, database, user, allowsWriter, attachedAt } = each;
  return {
    name,
    host,
    port,
    database,
    user,
    allowWriter: allowsWriter,
    attachedAt: new Date(attachedAt).toISOString(),
  };
}
