import { Column, Entity, PrimaryColumn } from "typeorm";

/** A database of others, of which tables may be read. */
@Entity("attached_databases")
export class AttachedDatabase {
  @PrimaryColumn({ type: "varchar", length: 64 })
  name: string;

  @Column({ type: "varchar", length: 255 })
  host: string;

  @Column({ type: "int", unsigned: true })
  port: number;

  @Column({ type: "varchar", length: 64 })
  database: string;

  @Column({ type: "varchar", length: 128 })
  user: string;

  /** The account's password, sealed. */
  @Column({ type: "text" })
  password: string;

  /** Whether the owner insisted on an account that can write. */
  @Column({ type: "boolean", default: false })
  allowsWriter: boolean;

  /** Milliseconds since 1970-01-01T00:00:00Z. */
  @Column({ type: "bigint", transformer: { to: (value: number) => value, from: Number } })
  attachedAt: number;
}
