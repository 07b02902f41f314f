import {
  Column,
  Entity,
  JoinColumn,
  ManyToOne,
  OneToMany,
  OneToOne,
  PrimaryGeneratedColumn,
  type Relation,
} from "typeorm";
import type { ColumnType, DateEncoding, DateKind } from "@orisma/core";

/** A table of records that was brought in. */
@Entity("sources")
export class Source {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "varchar", length: 64, unique: true })
  name: string;

  /** The column whose value is a record's id; null for a surrogate. */
  @Column({ type: "varchar", length: 128, nullable: true })
  keyColumn: string | null;

  /** The table that holds the records; null until a file was taken. */
  @Column({ type: "varchar", length: 64, nullable: true })
  recordsTable: string | null;

  /** Counts the files taken, so that each has a table name of its own. */
  @Column({ type: "int", unsigned: true, default: 0 })
  loads: number;

  @Column({ type: "bigint", default: 0, transformer: { to: (n: number) => n, from: Number } })
  records: number;

  /** Milliseconds since 1970-01-01T00:00:00Z, or null until a file was taken. */
  @Column({
    type: "bigint",
    nullable: true,
    transformer: {
      to: (ms: number | null) => ms,
      from: (ms: string | null) => (ms === null ? null : Number(ms)),
    },
  })
  loadedAt: number | null;

  @OneToMany(() => SourceColumn, (column) => column.source, { cascade: true })
  columns: Relation<SourceColumn>[];
}

/** A column of a source. */
@Entity("source_columns")
export class SourceColumn {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @ManyToOne(() => Source, (source) => source.columns, { onDelete: "CASCADE", nullable: false })
  source: Relation<Source>;

  /** Counted from 1, as in the file. */
  @Column({ type: "int", unsigned: true })
  position: number;

  @Column({ type: "varchar", length: 128 })
  name: string;

  @Column({ type: "varchar", length: 16 })
  type: ColumnType;

  @OneToOne(() => ColumnReading, (reading) => reading.column, { cascade: true })
  reading: Relation<ColumnReading> | null;
}

/** How the stored values of a date column are understood. */
@Entity("readings")
export class ColumnReading {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @OneToOne(() => SourceColumn, (column) => column.reading, {
    onDelete: "CASCADE",
    nullable: false,
  })
  @JoinColumn()
  column: Relation<SourceColumn>;

  @Column({ type: "varchar", length: 16 })
  kind: DateKind;

  @Column({ type: "varchar", length: 16 })
  encoding: DateEncoding;

  /** All else that a reading says. */
  @Column({ type: "json" })
  details: {
    readonly patterns?: string[];
    readonly locales?: string[];
    readonly zone?: string;
    readonly blanks?: string[];
    readonly sentinels?: string[];
    readonly twoDigitYearFrom?: number;
  };
}
