import {
  Column,
  Entity,
  Index,
  JoinColumn,
  ManyToOne,
  PrimaryGeneratedColumn,
  type Relation,
} from "typeorm";
import { Source } from "../sources/index.js";
import { MS } from "../database/index.js";

/** Looks at the file of a watch, one after the other, that came to the same. */
@Entity("watch_looks")
@Index("watch_looks_source", ["sourceId", "id"])
export class WatchLookEntity {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "int", unsigned: true })
  sourceId: number;

  @ManyToOne(() => Source, { onDelete: "CASCADE" })
  @JoinColumn({ name: "sourceId", foreignKeyConstraintName: "looks_of_source" })
  source: Relation<Source>;

  /** The address, or the path within the inbox. */
  @Column({ type: "varchar", length: 2000 })
  place: string;

  @Column({ type: "varchar", length: 16 })
  outcome: "imported" | "unchanged" | "failed";

  @Column({ type: "bigint", transformer: MS })
  firstAt: number;

  @Column({ type: "bigint", transformer: MS })
  lastAt: number;

  /** How many there were. */
  @Column({ type: "int", unsigned: true })
  looks: number;

  @Column({ type: "varchar", length: 500, nullable: true })
  problem: string | null;

  @Column({ type: "int", unsigned: true, nullable: true })
  importNumber: number | null;

  @Column({ type: "int", unsigned: true, nullable: true })
  records: number | null;

  /** What the file was like, by which it is known to be the same the next time; null where it could not be taken. */
  @Column({ type: "text", nullable: true })
  form: string | null;
}
