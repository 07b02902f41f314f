import type { Role } from "@orisma/contract";
import { Column, Entity, Index, PrimaryGeneratedColumn } from "typeorm";

/** Milliseconds, or null. */
const MAYBE = {
  to: (ms: number | null) => ms,
  from: (text: string | null) => (text === null ? null : Number(text)),
};

/** What a caller shows to be let in. Only a hash is kept: the key itself is shown once. */
@Entity("access_keys")
export class AccessKey {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "varchar", length: 64 })
  name: string;

  @Column({ type: "varchar", length: 16 })
  role: Role;

  /** SHA-256 of the key, in hexadecimal; a key has 256 random bits, so no salt is needed. */
  @Column({ type: "char", length: 64, charset: "ascii", collation: "ascii_bin", unique: true })
  hash: string;

  /** The listings that a reader may read; null for all. */
  @Column({ type: "json", nullable: true })
  listings: string[] | null;

  /** Milliseconds since 1970-01-01T00:00:00Z, here and below. */
  @Column({ type: "bigint", transformer: { to: (ms: number) => ms, from: Number } })
  createdAt: number;

  /** When it expires; null for a key that does not. */
  @Column({ type: "bigint", nullable: true, transformer: MAYBE })
  expiresAt: number | null;

  /** Null until it is used. */
  @Column({ type: "bigint", nullable: true, transformer: MAYBE })
  lastUsedAt: number | null;
}

/** A person signed in to the console, by cookie. */
@Entity("sessions")
export class Session {
  /** SHA-256 of the cookie's value, in hexadecimal. */
  @Column({
    type: "char",
    length: 64,
    charset: "ascii",
    collation: "ascii_bin",
    primary: true,
  })
  hash: string;

  @Column({ type: "bigint", transformer: { to: (ms: number) => ms, from: Number } })
  createdAt: number;

  @Column({ type: "bigint", transformer: { to: (ms: number) => ms, from: Number } })
  expiresAt: number;

  /** The key that it was begun with; null for one begun with a code, which is the owner's. */
  @Column({ type: "int", unsigned: true, nullable: true })
  key: number | null;

  /** The person who signed in with a name and a password; null for others. */
  @Column({ type: "int", unsigned: true, nullable: true })
  person: number | null;
}

/** Who signs in with a name and a password, or at an issuer. */
@Entity("people")
export class Person {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Index("people_name", { unique: true })
  @Column({ type: "varchar", length: 64 })
  name: string;

  /** The issuer and its id of the person; null for one with a password. */
  @Index("people_subject", { unique: true })
  @Column({ type: "varchar", length: 500, nullable: true })
  subject: string | null;

  @Column({ type: "varchar", length: 16 })
  role: Role;

  @Column({ type: "json" })
  groups: string[];

  /** What fixed filters may compare columns with, by name. */
  @Column({ type: "json" })
  claims: Readonly<Record<string, readonly string[]>>;

  /** The listings that a reader is kept to; null for all that others may read. */
  @Column({ type: "json", nullable: true })
  listings: string[] | null;

  /** A salted hash, with its costs. */
  @Column({ type: "varchar", length: 200, charset: "ascii", collation: "ascii_bin" })
  password: string;

  /** Milliseconds since 1970-01-01T00:00:00Z, here and below. */
  @Column({ type: "bigint", transformer: { to: (ms: number) => ms, from: Number } })
  createdAt: number;

  @Column({ type: "bigint", nullable: true, transformer: MAYBE })
  lastSignInAt: number | null;
}
