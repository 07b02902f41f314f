import { Column, Entity, Index, PrimaryGeneratedColumn } from "typeorm";
import { MS, MS_OR_NULL } from "../database/index.js";

/** A private address under which what a request keeps is read as a calendar or a feed, without a key. */
@Entity("feeds")
export class Feed {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  /** SHA-256 of its token, in hexadecimal. */
  @Index("feeds_hash", { unique: true })
  @Column({ type: "char", length: 64, charset: "ascii", collation: "ascii_bin" })
  hash: string;

  /** For whom it is, in words. */
  @Column({ type: "varchar", length: 64 })
  name: string;

  @Index("feeds_listing")
  @Column({ type: "varchar", length: 64 })
  listing: string;

  /** What is sent, by parameter. */
  @Column({ type: "json" })
  parameters: Readonly<Record<string, readonly string[]>>;

  /** The id of the key that made it, with whose rights it reads; `session` for the owner. */
  @Column({ type: "varchar", length: 32 })
  caller: string;

  /** Milliseconds since 1970-01-01T00:00:00Z, here and below. */
  @Column({ type: "bigint", transformer: MS })
  createdAt: number;

  @Column({ type: "bigint", nullable: true, transformer: MS_OR_NULL })
  deliveredAt: number | null;

  /** To which program, as it names itself. */
  @Column({ type: "varchar", length: 200, nullable: true })
  deliveredTo: string | null;

  @Column({ type: "varchar", length: 64, nullable: true })
  deliveredAddress: string | null;

  @Column({ type: "int", unsigned: true, nullable: true })
  deliveredRecords: number | null;
}
