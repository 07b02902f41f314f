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

/** A change of records: of one by its cells, of several by an action, or what takes another back. */
@Entity("edits")
@Index("edits_source", ["sourceId", "id"])
export class Edit {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "int", unsigned: true })
  sourceId: number;

  @ManyToOne(() => Source, { onDelete: "CASCADE" })
  @JoinColumn({ name: "sourceId", foreignKeyConstraintName: "edits_of_source" })
  source: Relation<Source>;

  /** What the ids of the records are: where the source says otherwise, they are those of other records. */
  @Column({ type: "varchar", length: 255 })
  ids: string;

  /** In which it was made; null for a repair of the source. */
  @Column({ type: "varchar", length: 64, nullable: true })
  listing: string | null;

  @Column({ type: "varchar", length: 64, nullable: true })
  action: string | null;

  /** Milliseconds since 1970-01-01T00:00:00Z. */
  @Column({ type: "bigint", transformer: { to: (ms: number) => ms, from: Number } })
  at: number;

  /** The id of the key, or session. */
  @Column({ type: "varchar", length: 32 })
  caller: string;

  /** Its name at that time. */
  @Column({ type: "varchar", length: 64 })
  by: string;

  @Column({ type: "int", unsigned: true })
  records: number;

  /** The edit that it takes back. */
  @Column({ type: "int", unsigned: true, nullable: true })
  undoes: number | null;

  @Column({ type: "int", unsigned: true, nullable: true })
  undoneBy: number | null;

  /** Of an attached table: whether it is not known yet that it took effect there. */
  @Column({ type: "boolean", default: false })
  isPending: boolean;
}

/** A cell that an edit changed, with its text before and after. */
@Entity("edited_cells")
@Index("edited_cells_record", ["recordId", "columnName"])
export class EditedCell {
  @PrimaryGeneratedColumn({ type: "bigint", unsigned: true })
  id: string;

  @Index("edited_cells_edit")
  @Column({ type: "int", unsigned: true })
  editId: number;

  @ManyToOne(() => Edit, { onDelete: "CASCADE" })
  @JoinColumn({ name: "editId", foreignKeyConstraintName: "cells_of_edit" })
  edit: Relation<Edit>;

  @Column({ type: "varchar", length: 128 })
  columnName: string;

  @Column({ type: "varchar", length: 255 })
  recordId: string;

  @Column({ type: "mediumtext", nullable: true })
  before: string | null;

  @Column({ type: "mediumtext", nullable: true })
  after: string | null;
}
