import {
  Column,
  Entity,
  ManyToOne,
  PrimaryColumn,
  PrimaryGeneratedColumn,
  type Relation,
} from "typeorm";
import { MS, MS_OR_NULL } from "../database/index.js";
import type { ListingDeclaration } from "@orisma/core/internal";
import { Source } from "../sources/index.js";

/** A declared listing; each change of it counts its version up. */
@Entity("listings")
export class Listing {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "varchar", length: 64, unique: true })
  name: string;

  @Column({ type: "int", unsigned: true })
  version: number;

  @ManyToOne(() => Source, { onDelete: "RESTRICT", nullable: false })
  source: Relation<Source>;

  @Column({ type: "json" })
  declaration: ListingDeclaration;

  /** When its records were last read, in milliseconds since 1970-01-01T00:00:00Z; null until they are. */
  @Column({ type: "bigint", nullable: true, transformer: MS_OR_NULL })
  lastUsedAt: number | null;
}

/** What a listing said at a time; versions outlive their listing. */
@Entity("listing_versions")
export class ListingVersion {
  @PrimaryColumn({ type: "varchar", length: 64 })
  name: string;

  @PrimaryColumn({ type: "int", unsigned: true })
  version: number;

  @Column({ type: "json" })
  declaration: ListingDeclaration;

  /** Milliseconds since 1970-01-01T00:00:00Z. */
  @Column({ type: "bigint", transformer: MS })
  at: number;

  /** The name of the key that declared it. */
  @Column({ type: "varchar", length: 64 })
  by: string;
}

/** A name that a listing had before, under which it is still found for a time. */
@Entity("listing_names")
export class FormerName {
  @PrimaryColumn({ type: "varchar", length: 64 })
  former: string;

  /** The name that it has now. */
  @Column({ type: "varchar", length: 64 })
  name: string;

  /** Milliseconds since 1970-01-01T00:00:00Z. */
  @Column({ type: "bigint", transformer: MS })
  until: number;
}

/** A default that was set from outside the declaration of a listing. */
@Entity("overrides")
export class Override {
  @PrimaryColumn({ type: "varchar", length: 64 })
  listing: string;

  @PrimaryColumn({ type: "varchar", length: 128 })
  parameter: string;

  @Column({ type: "json" })
  value: string | readonly string[];

  @Column({ type: "varchar", length: 200 })
  reason: string;

  /** The name of whoever set it. */
  @Column({ type: "varchar", length: 64 })
  by: string;

  /** Milliseconds since 1970-01-01T00:00:00Z, here and below. */
  @Column({ type: "bigint", transformer: MS })
  at: number;

  /** Null until it is removed. */
  @Column({ type: "bigint", nullable: true, transformer: MS_OR_NULL })
  until: number | null;
}
