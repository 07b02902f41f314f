import type { AuditDetails } from "@orisma/contract";
import { Column, Entity, Index, PrimaryGeneratedColumn } from "typeorm";

/** One thing that somebody did. */
@Entity("audit_entries")
export class AuditEntry {
  @PrimaryGeneratedColumn({ type: "bigint", unsigned: true })
  id: string;

  /** Milliseconds since 1970-01-01T00:00:00Z. */
  @Index("audit_at")
  @Column({ type: "bigint", transformer: { to: (ms: number) => ms, from: Number } })
  at: number;

  /** The id of the key, `session` for a person with the owner's code; null for nobody who is known. */
  @Column({ type: "varchar", length: 32, nullable: true })
  caller: string | null;

  /** The name of the key at that time. */
  @Column({ type: "varchar", length: 64, nullable: true })
  name: string | null;

  @Column({ type: "varchar", length: 64, nullable: true })
  address: string | null;

  /** Method and path, as the call is declared. */
  @Column({ type: "varchar", length: 96 })
  action: string;

  /** The listing, the source or whatever else the call is about. */
  @Column({ type: "varchar", length: 255, nullable: true })
  target: string | null;

  @Column({ type: "smallint", unsigned: true })
  status: number;

  @Column({ type: "json", nullable: true })
  details: AuditDetails | null;
}
