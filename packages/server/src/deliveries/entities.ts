import type { DeliveryDescription, DeliveryTime } from "@orisma/contract";
import {
  Column,
  Entity,
  Index,
  JoinColumn,
  ManyToOne,
  PrimaryGeneratedColumn,
  type Relation,
} from "typeorm";
import { MS, MS_OR_NULL } from "../database/index.js";

/** Records of a listing that are delivered somewhere, again and again. */
@Entity("deliveries")
export class Delivery {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Index("deliveries_listing")
  @Column({ type: "varchar", length: 64 })
  listing: string;

  @Column({ type: "varchar", length: 64 })
  name: string;

  @Column({ type: "varchar", length: 16 })
  format: DeliveryDescription["format"];

  /** What is sent, by parameter. */
  @Column({ type: "json" })
  parameters: Readonly<Record<string, readonly string[]>>;

  @Column({ type: "varchar", length: 16 })
  time: DeliveryTime;

  /** The time of day, of those that come once in a unit. */
  @Column({ type: "varchar", length: 5, nullable: true })
  at: string | null;

  @Column({ type: "json" })
  target: DeliveryDescription["to"];

  /** Sealed; null for a file, which is not signed. */
  @Column({
    type: "varchar",
    length: 500,
    nullable: true,
    charset: "ascii",
    collation: "ascii_bin",
  })
  secret: string | null;

  /** The id of whoever made it, with whose rights it reads. */
  @Column({ type: "varchar", length: 32 })
  caller: string;

  /** Milliseconds since 1970-01-01T00:00:00Z, here and below. */
  @Column({ type: "bigint", transformer: MS })
  createdAt: number;

  /** When it is due next, where that is known. */
  @Column({ type: "bigint", nullable: true, transformer: MS_OR_NULL })
  nextAt: number | null;

  /** The state of the records that was delivered, or is about to be. */
  @Column({ type: "varchar", length: 64, nullable: true })
  seen: string | null;
}

/** One delivery: what became of it, and when it is tried again. */
@Entity("delivery_runs")
@Index("delivery_runs_delivery", ["deliveryId", "id"])
@Index("delivery_runs_due", ["state", "nextAt"])
export class DeliveryRunEntity {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "int", unsigned: true })
  deliveryId: number;

  @ManyToOne(() => Delivery, { onDelete: "CASCADE" })
  @JoinColumn({ name: "deliveryId", foreignKeyConstraintName: "runs_of_delivery" })
  delivery: Relation<Delivery>;

  /** The same at each attempt, by which a receiver knows it again. */
  @Column({ type: "char", length: 36, charset: "ascii", collation: "ascii_bin" })
  event: string;

  @Column({ type: "bigint", transformer: MS })
  at: number;

  /** One that runs is made again after a crash. */
  @Column({ type: "varchar", length: 16 })
  state: "waiting" | "running" | "done" | "failed";

  @Column({ type: "int", unsigned: true })
  attempts: number;

  @Column({ type: "bigint", nullable: true, transformer: MS_OR_NULL })
  nextAt: number | null;

  @Column({ type: "int", unsigned: true, nullable: true })
  records: number | null;

  @Column({ type: "varchar", length: 500, nullable: true })
  error: string | null;
}
