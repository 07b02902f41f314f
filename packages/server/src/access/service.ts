import { fault } from "@orisma/core";
import type { DataSource } from "typeorm";
import { problemOf, type Caller, type Role } from "../http/index.js";
import { AccessKey, Session } from "./entities.js";
import { csrfToken, hashOf, makeCode, makeKey, makeSessionToken, normalCode } from "./secrets.js";

/** How long a person stays signed in, in milliseconds. */
export const SESSION_MS = 30 * 24 * 3_600_000;
/** How long a one-time code can be used, in milliseconds. */
export const CODE_MS = 60 * 60_000;

/** A person in the console, who had the owner's code. */
const SIGNED_IN: Caller = { id: "session", name: "session", role: "owner", listings: null };

/** A key as it is listed: never the key itself. */
export interface KeyDescription {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  readonly listings: readonly string[] | null;
  readonly createdAt: string;
}

/** A person signed in, as the console needs to know it. */
export interface SignedIn {
  readonly token: string;
  readonly csrf: string;
}

/**
 * Keys, sessions and sign-in codes. Keys and sessions live in the database and are held in
 * memory, since every request asks for one; this process is the only one that changes them.
 */
export class Access {
  readonly #keys = new Map<string, Caller>();
  readonly #sessions = new Map<string, number>();
  /** Hashes of codes not used yet, with the time at which they lapse. */
  readonly #codes = new Map<string, number>();

  constructor(
    private readonly dataSource: DataSource,
    private readonly secret: Buffer,
    private readonly now: () => number,
  ) {}

  /** Reads keys and sessions from the database. */
  async load(): Promise<void> {
    await this.dataSource
      .getRepository(Session)
      .createQueryBuilder()
      .delete()
      .where("expiresAt <= :now", { now: this.now() })
      .execute();
    for (const key of await this.dataSource.getRepository(AccessKey).find()) this.#hold(key);
    for (const { hash, expiresAt } of await this.dataSource.getRepository(Session).find()) {
      this.#sessions.set(hash, expiresAt);
    }
  }

  /** Who shows a key, or null. */
  byKey(key: string): Caller | null {
    return this.#keys.get(hashOf(key)) ?? null;
  }

  /** Who shows a session's cookie, or null. Whoever had the code is the owner. */
  bySession(token: string): Caller | null {
    const expiresAt = this.#sessions.get(hashOf(token)) ?? 0;
    return expiresAt > this.now() ? SIGNED_IN : null;
  }

  /** The token that a session's writes must show. */
  csrfOf(token: string): string {
    return csrfToken(this.secret, token);
  }

  /** Makes a key, which is told this once. */
  async createKey(
    name: string,
    role: Role,
    listings: readonly string[] | null,
  ): Promise<KeyDescription & { readonly key: string }> {
    const key = makeKey();
    const made = await this.dataSource.getRepository(AccessKey).save({
      name,
      role,
      listings: listings === null ? null : [...listings],
      hash: hashOf(key),
      createdAt: this.now(),
    });
    this.#hold(made);
    return { ...describe(made), key };
  }

  /** Every key, the oldest first. */
  async listKeys(): Promise<readonly KeyDescription[]> {
    const keys = await this.dataSource.getRepository(AccessKey).find({ order: { id: "ASC" } });
    return keys.map(describe);
  }

  /** Ends a key at once. */
  async revokeKey(id: number): Promise<void> {
    const keys = this.dataSource.getRepository(AccessKey);
    const found = await keys.findOneBy({ id });
    if (found === null) {
      const known = (await keys.find()).map((key) => String(key.id));
      throw problemOf([fault("name.unknown", { what: "key", name: String(id), known })]);
    }
    this.#keys.delete(found.hash);
    await keys.delete({ id });
  }

  /** Makes a one-time code with which a person can sign in to the console. */
  createCode(): { readonly code: string; readonly expiresAt: number } {
    const code = makeCode();
    const expiresAt = this.now() + CODE_MS;
    this.#codes.set(hashOf(normalCode(code)), expiresAt);
    return { code, expiresAt };
  }

  /** Uses up a code and begins a session; null where the code is not one, or not any more. */
  async signIn(typed: string): Promise<SignedIn | null> {
    const hash = hashOf(normalCode(typed));
    const lapses = this.#codes.get(hash) ?? 0;
    this.#codes.delete(hash);
    if (lapses <= this.now()) return null;
    const token = makeSessionToken();
    const createdAt = this.now();
    const session = { hash: hashOf(token), createdAt, expiresAt: createdAt + SESSION_MS };
    await this.dataSource.getRepository(Session).insert(session);
    this.#sessions.set(session.hash, session.expiresAt);
    return { token, csrf: this.csrfOf(token) };
  }

  /** Ends a session. */
  async signOut(token: string): Promise<void> {
    const hash = hashOf(token);
    this.#sessions.delete(hash);
    await this.dataSource.getRepository(Session).delete({ hash });
  }

  #hold({ id, name, role, listings, hash }: AccessKey): void {
    this.#keys.set(hash, { id: String(id), name, role, listings });
  }
}

function describe({ id, name, role, listings, createdAt }: AccessKey): KeyDescription {
  return { id, name, role, listings, createdAt: new Date(createdAt).toISOString() };
}
