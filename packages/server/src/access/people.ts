import type { PersonDescription, Role } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import type { DataSource, EntityManager } from "typeorm";
import { Problem, problemOf, type Caller } from "../http/index.js";
import { Person } from "./entities.js";
import type { Identity } from "./issuer.js";
import { hashPassword, isPassword, makePassword } from "./passwords.js";

/** What is known of a person beside the password. */
export interface NewPerson {
  readonly name: string;
  readonly role: Role;
  readonly groups: readonly string[];
  /** What fixed filters may compare columns with, by name. */
  readonly claims: Readonly<Record<string, readonly string[]>>;
  /** The listings that a reader is kept to; null for all that others may read. */
  readonly listings: readonly string[] | null;
}

/** The people who sign in with a name and a password. Held in memory: each request of theirs asks for one. */
export class People {
  readonly #byId = new Map<number, Person>();

  constructor(
    private readonly dataSource: DataSource,
    private readonly now: () => number,
    /** Ends the sessions of a person. */
    private readonly endSessions: (id: number) => Promise<void>,
  ) {}

  async load(): Promise<void> {
    for (const person of await this.#repository.find()) this.#byId.set(person.id, person);
  }

  get #repository() {
    return this.dataSource.getRepository(Person);
  }

  /** The people, by name. */
  list(): readonly PersonDescription[] {
    return [...this.#byId.values()]
      .map(describePerson)
      .sort((a, b) => (a.name.toLowerCase() < b.name.toLowerCase() ? -1 : 1));
  }

  /** A person as whoever makes a request; null where there is none of the id. */
  caller(id: number): Caller | null {
    const person = this.#byId.get(id);
    if (person === undefined) return null;
    const { name, role, listings, groups, claims } = person;
    return { id: `person ${id}`, name, role, listings, groups, claims };
  }

  /** A person by id, as it is shown. */
  describe(id: number): PersonDescription | null {
    const person = this.#byId.get(id);
    return person === undefined ? null : describePerson(person);
  }

  /** Whose name and password they are; null for nobody's. */
  async signIn(name: string, password: string): Promise<Person | null> {
    const person = this.#named(name);
    if (!(await isPassword(password, person?.password ?? null)) || person === null) return null;
    person.lastSignInAt = this.now();
    await this.#repository.update({ id: person.id }, { lastSignInAt: person.lastSignInAt });
    return person;
  }

  /**
   * The person whom an issuer knows so: a reader where they come for the first time, under the name that they have
   * there. Groups and claims are the issuer's each time. Throws a problem where the name is that of somebody else,
   * who may be named in listings.
   */
  async fromIssuer(
    { subject, name, groups, claims }: Identity,
    isTaken: (name: string) => boolean,
  ): Promise<Person> {
    const known = [...this.#byId.values()].find((each) => each.subject === subject);
    if (known === undefined && (this.#named(name) !== null || isTaken(name))) {
      throw new Problem(
        "already-there",
        `${name} is the name of another person or of a key here: whoever owns the service deletes one of the two`,
      );
    }
    const lastSignInAt = this.now();
    const fields = { groups: [...groups], claims: { ...claims }, lastSignInAt };
    if (known !== undefined) {
      await this.#repository.update({ id: known.id }, fields);
      return Object.assign(known, fields);
    }
    const rights = { name, subject, role: "reader", listings: null, password: "" } as const;
    const person = await this.#repository.save(
      this.#repository.create({ ...rights, ...fields, createdAt: lastSignInAt }),
    );
    this.#byId.set(person.id, person);
    return person;
  }

  /** Adds a person, with a password of their own or a fresh one, which is returned this once. */
  async create(
    wanted: NewPerson,
    password: string | null,
  ): Promise<PersonDescription & { readonly password: string | null }> {
    const { name } = wanted;
    if (this.#named(name) !== null)
      throw problemOf([fault("name.taken", { name })], "already-there");
    const fresh = password ?? makePassword();
    const person = await this.#repository.save(
      this.#repository.create({
        ...fieldsOf(wanted),
        name,
        subject: null,
        password: await hashPassword(fresh),
        createdAt: this.now(),
        lastSignInAt: null,
      }),
    );
    this.#byId.set(person.id, person);
    return { ...describePerson(person), password: password === null ? fresh : null };
  }

  /** Changes what a person may; it counts from their next request on. */
  async change(name: string, changed: Omit<NewPerson, "name">): Promise<PersonDescription> {
    const person = this.#need(name);
    const fields = fieldsOf(changed);
    await this.#repository.update({ id: person.id }, fields);
    Object.assign(person, fields);
    return describePerson(person);
  }

  /** Gives a person a fresh password, which is returned this once, and ends their sessions. */
  async resetPassword(name: string): Promise<PersonDescription & { readonly password: string }> {
    const person = this.#need(name);
    if (person.subject !== null) {
      throw new Problem("not-allowed", `${name} signs in at an issuer, and has no password here`);
    }
    const password = makePassword();
    await this.#keepPassword(person, password);
    return { ...describePerson(person), password };
  }

  /** Changes one's own password; throws a problem where the one before is wrong. */
  async changePassword(id: number, before: string, after: string): Promise<void> {
    const person = this.#byId.get(id);
    if (person === undefined || !(await isPassword(before, person.password))) {
      throw new Problem("not-allowed", "The current password is not the one that was sent");
    }
    await this.#keepPassword(person, after);
  }

  async #keepPassword(person: Person, password: string): Promise<void> {
    person.password = await hashPassword(password);
    await this.#repository.update({ id: person.id }, { password: person.password });
    await this.endSessions(person.id);
  }

  /** Deletes a person, whose sessions end at once. */
  async remove(name: string): Promise<void> {
    const { id } = this.#need(name);
    this.#byId.delete(id);
    await this.endSessions(id);
    await this.#repository.delete({ id });
  }

  /** Lets people who are kept to a listing read it under another name; what is returned is called once that is certain. */
  async renameListing(manager: EntityManager, from: string, to: string): Promise<() => void> {
    const kept = [...this.#byId.values()].filter(({ listings }) => listings?.includes(from));
    const renamed = kept.map((person) => ({
      person,
      listings: (person.listings ?? []).map((each) => (each === from ? to : each)),
    }));
    for (const { person, listings } of renamed) {
      await manager.update(Person, { id: person.id }, { listings });
    }
    return () => {
      for (const { person, listings } of renamed) person.listings = listings;
    };
  }

  #named(name: string): Person | null {
    const wanted = name.trim().toLowerCase();
    return [...this.#byId.values()].find((each) => each.name.toLowerCase() === wanted) ?? null;
  }

  #need(name: string): Person {
    const found = this.#named(name);
    if (found !== null) return found;
    const known = [...this.#byId.values()].map((each) => each.name);
    throw problemOf([fault("name.unknown", { what: "person", name, known })]);
  }
}

function fieldsOf({ role, groups, claims, listings }: Omit<NewPerson, "name">) {
  const kept = listings === null ? null : [...listings];
  return { role, groups: [...groups], claims: { ...claims }, listings: kept };
}

function describePerson(person: Person): PersonDescription {
  const { name, role, groups, claims, listings, subject, createdAt, lastSignInAt } = person;
  return {
    ...{ name, role, groups, claims, listings },
    isOfIssuer: subject !== null,
    createdAt: new Date(createdAt).toISOString(),
    lastSignInAt: lastSignInAt === null ? null : new Date(lastSignInAt).toISOString(),
  };
}
