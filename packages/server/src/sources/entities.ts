import type { ColumnDeclaration, EditPolicy, ImportMode, ImportReport } from "@orisma/contract";
import {
  Column,
  Entity,
  JoinColumn,
  ManyToOne,
  OneToMany,
  OneToOne,
  PrimaryColumn,
  PrimaryGeneratedColumn,
  type Relation,
} from "typeorm";
import type {
  BooleanForm,
  ColumnType,
  DatabaseType,
  DateEncoding,
  DateKind,
  PartialPolicy,
  NumberForm,
} from "@orisma/core/internal";

/** The driver gives large numbers as strings; those here are well within what is exact. */
const NUMBER = { to: (value: number) => value, from: Number };
const NUMBER_OR_NULL = {
  to: (value: number | null) => value,
  from: (value: string | null) => (value === null ? null : Number(value)),
};

/** A table of records that was imported. */
@Entity("sources")
export class Source {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @Column({ type: "varchar", length: 64, unique: true })
  name: string;

  /** The column whose value is a record's id; null for a surrogate. */
  @Column({ type: "varchar", length: 128, nullable: true })
  keyColumn: string | null;

  /** The table that holds the records; null until a file was imported. */
  @Column({ type: "varchar", length: 64, nullable: true })
  recordsTable: string | null;

  /** Counts imports and repairs: each table has a name of its own, and each state of the records a number. */
  @Column({ type: "int", unsigned: true, default: 0 })
  imports: number;

  @Column({ type: "bigint", default: 0, transformer: NUMBER })
  records: number;

  /** Milliseconds since 1970-01-01T00:00:00Z, or null until a file was imported. */
  @Column({ type: "bigint", nullable: true, transformer: NUMBER_OR_NULL })
  importedAt: number | null;

  /** The number of the import that made the records what they are; null until a file was imported. */
  @Column({ type: "int", unsigned: true, nullable: true })
  importNumber: number | null;

  /**
   * The import that gave the records their ids, where they have no key of their own: an id names one
   * record as long as this stays the same. 0 before the first.
   */
  @Column({ type: "int", unsigned: true, default: 0 })
  idsSince: number;

  /** What the source was before that import, to be restored; null where there was nothing. */
  @Column({ type: "json", nullable: true })
  before: SourceState | null;

  /** The table of an attached database that it is, or null for an imported source. */
  @Column({ type: "json", nullable: true })
  attached: AttachedSource | null;

  /** The sources that it is, or null for one of its own. */
  @Column({ type: "json", nullable: true })
  combine: CombinedSource | null;

  /** The values inside a column of another source that it is, or null. */
  @Column({ type: "json", nullable: true })
  unnest: UnnestedSource | null;

  /** The columns of the indexes that were requested for its tables, or null for none. */
  @Column({ type: "json", nullable: true })
  indexes: readonly (readonly string[])[] | null;

  /** What becomes of edits that an import would overwrite. */
  @Column({ type: "varchar", length: 16, default: "report" })
  onImport: EditPolicy;

  /**
   * Where it is noted which records changed last, for those who pick up where they stopped: a mark that is another
   * once a backup was restored, since the numbers of changes begin again there; else null.
   */
  @Column({ type: "varchar", length: 36, nullable: true })
  changesMark: string | null;

  /** A file that is taken again when it changes, or null. */
  @Column({ type: "json", nullable: true })
  watch: Watch | null;

  @OneToMany(() => SourceColumn, (column) => column.source, { cascade: true })
  columns: Relation<SourceColumn>[];
}

/** A column of a source, and whether it has its type from the file alone. */
export type StoredColumnDeclaration = ColumnDeclaration & { readonly isStated?: true };

/** A source that is a table of an attached database. */
export interface AttachedSource {
  readonly database: string;
  readonly table: string;
  /** The columns of each of its indexes, by the name of the index. */
  readonly indexes: Readonly<Record<string, readonly string[]>>;
  /** Where its name is a pattern: the column of the tables' dates. */
  readonly dates?: {
    readonly column: string;
    /** Whether the table of the day that has not ended is read too. */
    readonly runningDay: boolean;
  };
  /** Columns that several of the table make up, by name. */
  readonly parts?: Readonly<Record<string, readonly string[]>>;
}

/** A source that is several sources of like columns, one after the other. */
export interface CombinedSource {
  /** Names of sources, in their order. */
  readonly of: readonly string[];
  /** The column that says from which of them a record comes. */
  readonly column: string;
}

/** A source that is the values inside a column of JSON strings of another. */
export interface UnnestedSource {
  readonly source: string;
  readonly column: string;
  /** Where the elements are, as a path into a text. */
  readonly each: string;
  /** The values of an element, by the name of their column. */
  readonly values: Readonly<
    Record<string, { readonly path: string; readonly column: ColumnDeclaration }>
  >;
}

/** The records of a source, and how they are understood. */
export interface SourceState {
  readonly recordsTable: string;
  readonly records: number;
  readonly importedAt: number;
  readonly importNumber: number | null;
  /** As {@link Source.idsSince}; absent in what was stored before it was known. */
  readonly idsSince?: number;
  /** In the order of the table. */
  readonly columns: readonly (readonly [name: string, column: StoredColumnDeclaration])[];
}

/** A file that the service takes by itself. */
export interface Watch {
  /** Its path within the inbox of the service, or else the address from which it is fetched. */
  readonly file?: string;
  readonly url?: string;
  readonly mode: ImportMode;
  /** Seconds between two looks at it. */
  readonly every: number;
  /** The parameters with which it is read. */
  readonly options: Readonly<Record<string, string>>;
}

/** One import of a file, or the attempt. */
@Entity("imports")
export class FileImport {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  @ManyToOne(() => Source, { onDelete: "CASCADE", nullable: false })
  source: Relation<Source>;

  /** Counted from 1 within its source; there are gaps. */
  @Column({ type: "int", unsigned: true })
  number: number;

  @Column({ type: "varchar", length: 16 })
  mode: ImportMode;

  @Column({ type: "varchar", length: 16 })
  state: "running" | "done" | "failed" | "cancelled";

  /** The name that the file had, for people. */
  @Column({ type: "varchar", length: 255, nullable: true })
  file: string | null;

  @Column({ type: "bigint", transformer: NUMBER })
  bytes: number;

  /** Of the file, in hexadecimal. */
  @Column({ type: "char", length: 64, charset: "ascii", collation: "ascii_bin" })
  sha256: string;

  /** Milliseconds since 1970-01-01T00:00:00Z, here and below. */
  @Column({ type: "bigint", transformer: NUMBER })
  startedAt: number;

  @Column({ type: "bigint", nullable: true, transformer: NUMBER_OR_NULL })
  endedAt: number | null;

  @Column({ type: "int", unsigned: true, default: 0 })
  refused: number;

  /** What came of it; null unless done. */
  @Column({ type: "json", nullable: true })
  report: ImportReport | null;

  /** Why it came to nothing. */
  @Column({ type: "text", nullable: true })
  problem: string | null;
}

/** A row of a file that could not be imported. */
@Entity("refused_rows")
export class RefusedRow {
  @PrimaryGeneratedColumn({ type: "bigint", unsigned: true })
  id: number;

  @ManyToOne(() => FileImport, { onDelete: "CASCADE", nullable: false })
  fileImport: Relation<FileImport>;

  @Column({ type: "int", unsigned: true })
  line: number;

  @Column({ type: "varchar", length: 512 })
  reason: string;

  /** As they came: a JSON array of strings and nulls. */
  @Column({ type: "longtext" })
  cells: string;
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

  /** Whether it has its type from the file alone: with the next file it may have another. */
  @Column({ type: "boolean", default: false })
  isStated: boolean;

  /** How its numbers are written, or its yes and no; null for plainly. */
  @Column({ type: "json", nullable: true })
  written: NumberForm | BooleanForm | null;

  /** What the database says that it holds; null for a column of our own. */
  @Column({ type: "json", nullable: true })
  holding: DatabaseType | null;

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
    readonly partial?: PartialPolicy;
    readonly exact?: boolean;
  };
}

/** The dictionary of a column of a table of records. */
@Entity("dictionaries")
export class Dictionary {
  @PrimaryColumn({ type: "varchar", length: 64 })
  recordsTable: string;

  @PrimaryColumn({ type: "varchar", length: 128 })
  column: string;

  /** In the order of their numbers, counted from 1. */
  @Column({ type: "json" })
  values: string[];
}
