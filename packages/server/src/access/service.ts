import type { KeyDescription, Role } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import { PUBLIC_ROLE, Problem, problemOf, type Caller } from "../http/index.js";
import { AccessKey, Session } from "./entities.js";
import type { Identity } from "./issuer.js";
import { People } from "./people.js";
import {
  browserProof,
  csrfToken,
  hashOf,
  makeCode,
  makeKey,
  makeSessionToken,
  normalCode,
  sameText,
} from "./secrets.js";

/** How long a person stays signed in, in milliseconds. */
export const SESSION_MS = 30 * 24 * 3_600_000;
/** How long a one-time code can be used, in milliseconds. */
export const CODE_MS = 60 * 60_000;

/** A person in the console, who had the owner's code. */
const SIGNED_IN: Caller = { id: "session", name: "session", role: "owner", listings: null };

/** A key to be made. */
export interface NewKey {
  readonly name: string;
  readonly role: Role;
  /** The listings that a reader may read; null for all. */
  readonly listings: readonly string[] | null;
  /** Milliseconds since 1970-01-01T00:00:00Z; null for never. */
  readonly expiresAt: number | null;
}

/** A key as it is held: who shows it, until when it counts, and when it was last shown. */
interface HeldKey {
  caller: Caller;
  readonly expiresAt: number | null;
  lastUsedAt: number | null;
}

/** A session as it is held. */
interface HeldSession {
  readonly expiresAt: number;
  readonly key: number | null;
  readonly person: number | null;
}

/** How long the use of a key may be remembered only here, in milliseconds. */
const FLUSH_MS = 10_000;

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
  readonly #keys = new Map<string, HeldKey>();
  readonly #sessions = new Map<string, HeldSession>();
  readonly #byId = new Map<number, HeldKey>();
  /** The keys whose use is not written yet. */
  readonly #used = new Set<HeldKey>();
  #timer: NodeJS.Timeout | null = null;
  #rotated: (before: string, after: string) => Promise<void> = () => Promise.resolve();
  /** Hashes of codes not used yet, with the time at which they expire. */
  readonly #codes = new Map<string, number>();
  readonly people: People;

  constructor(
    private readonly dataSource: DataSource,
    private readonly secret: Buffer,
    private readonly now: () => number,
  ) {
    this.people = new People(dataSource, now, (id) => this.#endSessions({ person: id }));
  }

  /** Registers what is called with the ids of a key and of the one that takes its place. */
  onRotated(rotated: (before: string, after: string) => Promise<void>): void {
    this.#rotated = rotated;
  }

  /** Reads keys and sessions from the database. */
  async load(): Promise<void> {
    await this.dataSource
      .getRepository(Session)
      .createQueryBuilder()
      .delete()
      .where("expiresAt <= :now", { now: this.now() })
      .execute();
    for (const key of await this.dataSource.getRepository(AccessKey).find()) this.#hold(key);
    for (const session of await this.dataSource.getRepository(Session).find()) {
      this.#sessions.set(session.hash, session);
    }
    await this.people.load();
  }

  /** Who shows a key, or null for what is none, or not any more. */
  byKey(key: string): Caller | null {
    const held = this.#keys.get(hashOf(key));
    return held === undefined ? null : this.#use(held);
  }

  /**
   * Who shows a session's cookie, or null. Whoever had the code is the owner; a session begun with a
   * key may what the key may, and ends with it; a person may what they may now.
   */
  bySession(token: string): Caller | null {
    const session = this.#sessions.get(hashOf(token));
    if (session === undefined || session.expiresAt <= this.now()) return null;
    if (session.person !== null) return this.people.caller(session.person);
    if (session.key === null) return SIGNED_IN;
    const held = this.#byId.get(session.key);
    return held === undefined ? null : this.#use(held);
  }

  /** Whoever has an id now: the owner's session, a person or a key; null for one that was revoked, or has expired. */
  callerOf(id: string): Caller | null {
    if (id === SIGNED_IN.id) return SIGNED_IN;
    const person = personId(id);
    if (person !== null) return this.people.caller(person);
    const held = this.#byId.get(Number(id));
    return held === undefined ? null : this.#use(held);
  }

  /** Writes the times of use that are remembered only here. */
  async flush(): Promise<void> {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
    const used = [...this.#used];
    this.#used.clear();
    const keys = this.dataSource.getRepository(AccessKey);
    for (const { caller, lastUsedAt } of used) {
      await keys.update({ id: Number(caller.id) }, { lastUsedAt });
    }
  }

  /** A mark by which a browser is known that signed in once: an id, and the proof that it is of this service. */
  browserMark(): string {
    const id = makeSessionToken();
    return `${id}.${browserProof(this.secret, id)}`;
  }

  /** The id of a browser's mark; null for one that this service did not give. */
  browserOf(mark: string): string | null {
    const [id = "", proof = ""] = mark.split(".", 2);
    return sameText(proof, browserProof(this.secret, id)) ? id : null;
  }

  /** The token that a session's writes must show. */
  csrfOf(token: string): string {
    return csrfToken(this.secret, token);
  }

  /** Creates a key, which is shown this once. */
  async createKey(wanted: NewKey): Promise<KeyDescription & { readonly key: string }> {
    const { listings } = wanted;
    const key = makeKey();
    const created = await this.dataSource.getRepository(AccessKey).save({
      ...wanted,
      listings: listings === null ? null : [...listings],
      hash: hashOf(key),
      createdAt: this.now(),
      lastUsedAt: null,
    });
    this.#hold(created);
    return { ...describe(created), key };
  }

  /** Every key, the earliest first. */
  async listKeys(): Promise<readonly KeyDescription[]> {
    await this.flush();
    const keys = await this.dataSource.getRepository(AccessKey).find({ order: { id: "ASC" } });
    return keys.map(describe);
  }

  /**
   * Creates a key with the rights, the name and the end of another, which is valid for so many milliseconds
   * more: long enough to take the new one into use everywhere.
   */
  async rotateKey(
    id: number,
    overlapMs: number,
  ): Promise<KeyDescription & { readonly key: string }> {
    const found = await this.#need(id);
    const { name, role, listings, expiresAt } = found;
    const created = await this.createKey({ name, role, listings, expiresAt });
    await this.#rotated(String(id), String(created.id));
    if (overlapMs === 0) {
      await this.revokeKey(id);
      return created;
    }
    const ends = Math.min(this.now() + overlapMs, expiresAt ?? Infinity);
    await this.dataSource.getRepository(AccessKey).update({ id }, { expiresAt: ends });
    found.expiresAt = ends;
    this.#hold(found);
    return created;
  }

  async #need(id: number): Promise<AccessKey> {
    const keys = this.dataSource.getRepository(AccessKey);
    const found = await keys.findOneBy({ id });
    if (found !== null) return found;
    const known = (await keys.find()).map((key) => String(key.id));
    throw problemOf([fault("name.unknown", { what: "key", name: String(id), known })]);
  }

  /** Ends a key at once. */
  async revokeKey(id: number): Promise<void> {
    const keys = this.dataSource.getRepository(AccessKey);
    const found = await this.#need(id);
    this.#keys.delete(found.hash);
    this.#byId.delete(id);
    await keys.delete({ id });
    await this.#endSessions({ key: id });
  }

  async #endSessions(of: { readonly key: number } | { readonly person: number }): Promise<void> {
    for (const [hash, session] of this.#sessions) {
      const isOf = "key" in of ? session.key === of.key : session.person === of.person;
      if (isOf) this.#sessions.delete(hash);
    }
    await this.dataSource.getRepository(Session).delete(of);
  }

  /** Begins a session of the person whose name and password they are; null for nobody's. */
  async signInPerson(
    name: string,
    password: string,
  ): Promise<(SignedIn & { readonly caller: Caller }) | null> {
    const person = await this.people.signIn(name, password);
    const caller = person === null ? null : this.people.caller(person.id);
    return caller === null ? null : this.#begin(caller, { person: person?.id ?? null });
  }

  /** Begins a session of a person whom an issuer signed in. */
  async signInIdentity(identity: Identity): Promise<SignedIn & { readonly caller: Caller }> {
    const { id } = await this.people.fromIssuer(identity, (name) => this.#isCaller(name));
    const caller = this.people.caller(id);
    if (caller === null) throw new Problem("not-allowed", "The person was deleted meanwhile");
    return this.#begin(caller, { person: id });
  }

  /** Whether a name is that of a key, of the owner's session or of everybody. */
  #isCaller(name: string): boolean {
    const others = [...this.#byId.values()].map(({ caller }) => caller.name);
    const wanted = name.toLowerCase();
    return [SIGNED_IN.name, PUBLIC_ROLE, ...others].some((each) => each.toLowerCase() === wanted);
  }

  /** Makes a one-time code with which a person can sign in to the console. */
  createCode(): { readonly code: string; readonly expiresAt: number } {
    const code = makeCode();
    const expiresAt = this.now() + CODE_MS;
    this.#codes.set(hashOf(normalCode(code)), expiresAt);
    return { code, expiresAt };
  }

  /**
   * Uses up a code and begins a session of the owner, or begins one of a key; null for what is
   * neither, or not any more.
   */
  async signIn(typed: string): Promise<(SignedIn & { readonly caller: Caller }) | null> {
    const held = this.#keys.get(hashOf(typed.trim()));
    if (held !== undefined) {
      const caller = this.#use(held);
      return caller === null ? null : this.#begin(caller, { key: Number(caller.id) });
    }
    const hash = hashOf(normalCode(typed));
    const expires = this.#codes.get(hash) ?? 0;
    this.#codes.delete(hash);
    return expires <= this.now() ? null : this.#begin(SIGNED_IN, {});
  }

  /** The key that a caller shows, as it is listed; null for a person with the owner's code. */
  async keyOf({ id }: Caller): Promise<KeyDescription | null> {
    if (id === SIGNED_IN.id || personId(id) !== null) return null;
    const found = await this.dataSource.getRepository(AccessKey).findOneBy({ id: Number(id) });
    return found === null ? null : describe(found);
  }

  async #begin(
    caller: Caller,
    {
      key = null,
      person = null,
    }: { readonly key?: number | null; readonly person?: number | null },
  ): Promise<SignedIn & { readonly caller: Caller }> {
    const token = makeSessionToken();
    const createdAt = this.now();
    const times = { createdAt, expiresAt: createdAt + SESSION_MS };
    const session = { hash: hashOf(token), ...times, key, person };
    await this.dataSource.getRepository(Session).insert(session);
    this.#sessions.set(session.hash, session);
    return { token, csrf: this.csrfOf(token), caller };
  }

  /** Ends a session. */
  async signOut(token: string): Promise<void> {
    const hash = hashOf(token);
    this.#sessions.delete(hash);
    await this.dataSource.getRepository(Session).delete({ hash });
  }

  /**
   * Lets the keys of a listing read it under another name, in a transaction; what is returned is called once that
   * is committed.
   */
  async renameListing(manager: EntityManager, from: string, to: string): Promise<() => void> {
    const repository = manager.getRepository(AccessKey);
    const keys = (await repository.find()).filter(({ listings }) => listings?.includes(from));
    for (const key of keys) {
      key.listings = (key.listings ?? []).map((each) => (each === from ? to : each));
      await repository.update({ id: key.id }, { listings: key.listings });
    }
    const renamed = await this.people.renameListing(manager, from, to);
    return () => {
      renamed();
      for (const { id, listings } of keys) {
        const held = this.#byId.get(id);
        if (held !== undefined) held.caller = { ...held.caller, listings };
      }
    };
  }

  #hold({ id, name, role, listings, hash, expiresAt, lastUsedAt }: AccessKey): void {
    const caller = { id: String(id), name, role, listings };
    const held = { caller, expiresAt, lastUsedAt };
    this.#keys.set(hash, held);
    this.#byId.set(id, held);
  }

  /** Who shows a key, whose use is remembered; null for one that has expired. */
  #use(held: HeldKey): Caller | null {
    const now = this.now();
    if (held.expiresAt !== null && held.expiresAt <= now) return null;
    held.lastUsedAt = now;
    this.#used.add(held);
    this.#timer ??= setTimeout(() => void this.flush().catch(() => undefined), FLUSH_MS).unref();
    return held.caller;
  }
}

/** The number of a person in the id of a caller; null for another. */
export function personId(caller: string): number | null {
  const [, number] = /^person (\d+)$/.exec(caller) ?? [];
  return number === undefined ? null : Number(number);
}

function describe(key: AccessKey): KeyDescription {
  const { id, name, role, listings, createdAt, expiresAt, lastUsedAt } = key;
  const text = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString());
  return {
    id,
    name,
    role,
    listings,
    createdAt: new Date(createdAt).toISOString(),
    expiresAt: text(expiresAt),
    lastUsedAt: text(lastUsedAt),
  };
}
