import type {
  ColumnType,
  DateParameter,
  ColumnSample,
  Database,
  DateQuality,
  Holding,
  ListedWindowAnswer,
  ListingCalendar,
  ListingDeclaration,
  Reading,
  RecordSample,
  RenderedFault,
  TranslatedColumn,
  ValueParameter,
} from "@orisma/core/internal";

/** What a key allows, from most to least. */
export type Role = "owner" | "maker" | "reader";

/** A key as it is listed: never the key itself. */
export interface KeyDescription {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  /** The listings that a reader may read; null for all. */
  readonly listings: readonly string[] | null;
  readonly createdAt: string;
  /** From when on it is none any more; null for a key that does not lapse. */
  readonly expiresAt: string | null;
  /** When it was last shown; null until it is. */
  readonly lastUsedAt: string | null;
}

/** A database of others, of which tables may be read. */
export interface AttachedDatabase {
  readonly name: string;
  readonly host: string;
  readonly port: number;
  readonly database: string;
  readonly user: string;
  /** Whether an account that can write was accepted all the same. */
  readonly allowWriter: boolean;
  readonly attachedAt: string;
}

/** A database to be attached, and the account with which it is read. */
export interface NewAttachedDatabase {
  readonly host: string;
  /** 3306 unless told. */
  readonly port?: number;
  readonly database: string;
  readonly user: string;
  readonly password: string;
  readonly allowWriter?: boolean;
}

/** A table or view of an attached database. */
export interface AttachedTable {
  readonly name: string;
  readonly kind: "table" | "view";
  /** About how many records it has, as the database reckons; null for a view. */
  readonly about: number | null;
}

/** What an attached database says of one of its tables. */
export interface AttachedTableDetails {
  readonly name: string;
  readonly kind: "table" | "view";
  readonly columns: readonly {
    readonly name: string;
    /** In the database's own words, such as `varchar(10)`. */
    readonly type: string;
    /** Null for what cannot be filtered, such as binary data. */
    readonly holding: Holding | null;
  }[];
  /** The columns of each index in its order, by the name of the index. */
  readonly indexes: Readonly<Record<string, readonly string[]>>;
  /** Columns that identify a record by themselves. */
  readonly keys: readonly string[];
}

/** A filter to be written for a table of one's own. */
export interface TranslateFilter extends Partial<WhenAsked> {
  readonly database: Database;
  readonly table: string;
  /** The column that identifies a record; `id` unless told. */
  readonly key?: string;
  readonly columns: Readonly<
    Record<string, TranslatedColumn["type"] & Pick<TranslatedColumn, "holding">>
  >;
  /** In CQL2: a text, or a document of the JSON form. */
  readonly filter: unknown;
  /** A column, with `-` before it for descending, or several of them. */
  readonly order?: string | readonly string[];
  /** Records of a page at most; 50 unless told. */
  readonly limit?: number;
}

/** A column of a source. */
export type SourceColumn =
  | { readonly name: string; readonly type: Exclude<ColumnType, "date"> }
  | { readonly name: string; readonly type: "date"; readonly reading: Reading };

/** A source as it is told. */
export interface SourceDescription {
  readonly name: string;
  /** The column whose value is a record's id, or null. */
  readonly key: string | null;
  /** The table of an attached database that it is; null for one of the service's own. */
  readonly attached: {
    readonly database: string;
    /** With a date in braces it is a pattern for several. */
    readonly table: string;
    /** Of a pattern: the column that has the dates of its tables. */
    readonly dateColumn?: string;
    /** Of a pattern: whether the table of the day that has not ended is read too. */
    readonly runningDay?: boolean;
  } | null;
  /** The sources that it is, and how their columns differ; null for one that is not several. */
  readonly stacked: {
    readonly of: readonly string[];
    /** The column that says from which of them a record comes. */
    readonly column: string;
    readonly differences: readonly string[];
  } | null;
  /** The values inside a column of another that it is; null for one that is not. */
  readonly inside: InsideSource | null;
  /** For a pattern of tables: those that are read, and those that are not. */
  readonly tables?: {
    readonly count: number;
    readonly first: string | null;
    readonly last: string | null;
    readonly leftOut: readonly { readonly table: string; readonly reason: string }[];
  };
  /** Null for an attached one, whose records come and go. */
  readonly records: number | null;
  /** Null until a file was taken. */
  readonly loadedAt: string | null;
  /** The load that its records come from; null until a file was taken. */
  readonly load: number | null;
  /** What can be restored, or null. */
  readonly before: { readonly load: number | null; readonly records: number } | null;
  /** A file that the service takes again when it changes, or null. */
  readonly watch: WatchedFile | null;
  readonly columns: readonly SourceColumn[];
}

/** How a file is taken: instead of the records, besides them, or over those of the same keys. */
export type LoadMode = "replace" | "append" | "update";

/** A file of the service's inbox that it takes by itself. */
export interface WatchedFile {
  readonly file: string;
  readonly mode: LoadMode;
  /** Seconds between two looks at it. */
  readonly every: number;
  readonly options: Readonly<Record<string, string>>;
}

/** A column as it is declared. */
export type NewColumn =
  | { readonly type: Exclude<ColumnType, "date"> }
  | { readonly type: "date"; readonly reading: Reading };

/** A source that is the values inside a column of JSON texts of another. */
export interface InsideSource {
  readonly source: string;
  readonly column: string;
  /** Where the elements are, as a path into a text (RFC 9535); `$[*]` unless told. */
  readonly each: string;
  /** The values of an element, by the name of their column. */
  readonly values: Readonly<Record<string, { readonly path: string; readonly column: NewColumn }>>;
}

/** A source to be declared: columns that are not named are text. */
export interface NewSource {
  readonly name: string;
  readonly key?: string;
  readonly columns?: Readonly<Record<string, NewColumn>>;
  /** A table or view of an attached database that it is to be, in place of a file. */
  readonly attached?: {
    readonly database: string;
    /** With a date in braces it is a pattern for several: `gauges_{yyyyMMdd}`. */
    readonly table: string;
    readonly dateColumn?: string;
    readonly runningDay?: boolean;
  };
  /** The values inside a column of JSON texts of another source that it is to be. */
  readonly inside?: Omit<InsideSource, "each"> & Partial<Pick<InsideSource, "each">>;
  /** Sources of like columns that it is to be, one after the other. */
  readonly stacked?: { readonly of: readonly string[]; readonly column?: string };
}

/** What was made of a file, column by column; text columns are taken as they are. */
export interface LoadReport {
  readonly source: string;
  /** Null where no file was taken. */
  readonly load: number | null;
  /** Records of the source now. */
  readonly records: number;
  /** Records that are new, and that are others than before by their key. */
  readonly added: number;
  readonly changed: number;
  /** Rows of the file that could not be taken at all. */
  readonly refused: number;
  /** How the file was read. */
  readonly file?: FileDescription & { readonly headings: readonly string[] };
  /** Columns with cells that the sheet shows as dates. */
  readonly dateCells?: Readonly<Record<string, DateCells>>;
  /** Whether the same file had been taken before, so that nothing was done. */
  readonly unchanged?: boolean;
  readonly columns: Readonly<
    Record<
      string,
      {
        readonly read: number;
        readonly blank: number;
        readonly unreadable: number;
        /** The first unreadable cells: by line of the file, or by record where none was taken. */
        readonly examples: readonly (RenderedFault & {
          readonly line?: number;
          readonly record?: string;
        })[];
      }
    >
  >;
}

/** How a file was read. */
export interface FileDescription {
  readonly format: FileFormat;
  readonly encoding?: string;
  readonly delimiter?: string;
  readonly sheet?: string;
  /** Rows of headings, and the line on which they end; 0 for a file without any. */
  readonly headingRows: number;
  readonly headingLine: number;
  /** Texts above the headings. */
  readonly above: readonly string[];
  /** What was decided about the file that its sender may want to know. */
  readonly remarks: readonly string[];
}

/** The forms in which a file's records can be written. */
export type FileFormat = "delimited" | "ndjson" | "json" | "xlsx" | "ods";

/** Cells that a sheet shows as dates, and how it stores them. */
export interface DateCells {
  readonly count: number;
  readonly encoding: "serial-1900" | "serial-1904" | "text";
}

/** A file, looked at without anything being stored. */
export interface FileLook extends FileDescription {
  readonly bytes: number;
  readonly sha256: string;
  readonly sheets: readonly {
    readonly name: string;
    readonly hidden: boolean;
    readonly headings: readonly string[];
    /** Why it cannot be taken as it is, or null. */
    readonly reason: string | null;
  }[];
  readonly headings: readonly string[];
  /** Rows below the headings, and those of them that would be refused; null where too many. */
  readonly records: number | null;
  readonly refused: number | null;
  /** The first records as they came. */
  readonly sample: readonly {
    readonly line: number;
    readonly cells: readonly (string | null)[];
  }[];
}

/** How a file is read; what is left out is found out. */
export interface FileOptions {
  readonly format?: FileFormat;
  readonly encoding?: string;
  /** One sign, or comma, semicolon, tab, bar, space. */
  readonly delimiter?: string;
  /** Lines above the headings that are left out. */
  readonly skip?: number;
  /** Rows of headings; 0 where there are none. */
  readonly headings?: number;
  /** A sheet's name, or its number counted from 1. */
  readonly sheet?: string;
  readonly shortRows?: "refuse" | "blank";
}

/** How a file is taken. */
export interface TakeOptions extends FileOptions {
  readonly mode?: LoadMode;
  /** Only these columns of the file. */
  readonly columns?: readonly string[];
  /** Take a file although it is the one that was taken last. */
  readonly again?: boolean;
  /** Take it although listings would no longer be served. */
  readonly force?: boolean;
  /** The file's name, for people. */
  readonly file?: string;
}

/** A load that runs at this moment. */
export interface LoadProgress {
  readonly mode: LoadMode | "settle";
  readonly file: string | null;
  readonly stage: "receiving" | "reading" | "ending";
  /** Bytes that have arrived, and the share of the file that has been read, 0 to 1. */
  readonly bytes: number;
  readonly share: number;
  readonly records: number;
  readonly refused: number;
  readonly startedAt: string;
}

/** A load of the past. */
export interface LoadDescription {
  readonly load: number;
  readonly mode: LoadMode;
  readonly state: "running" | "done" | "failed" | "cancelled";
  readonly file: string | null;
  readonly bytes: number;
  readonly sha256: string;
  readonly startedAt: string;
  readonly endedAt: string | null;
  readonly refused: number;
  readonly records: number | null;
  readonly problem: string | null;
  /** Whether the records are what this load made them. */
  readonly inUse: boolean;
}

/** A row that could not be taken at all. */
export interface RefusedRow {
  readonly line: number;
  readonly reason: string;
  readonly cells: readonly (string | null)[];
}

/** What columns would come to under other readings. */
export interface SettlingPreview {
  readonly columns: Readonly<Record<string, ColumnPreview>>;
  /** The listings that would no longer be served, and why. */
  readonly breaks: readonly { readonly listing: string; readonly reason: string }[];
}

/** What a column would come to under another reading. */
export interface ColumnPreview {
  readonly type: ColumnType;
  /** Of which records all of this is; null for all. */
  readonly sample: RecordSample | null;
  readonly dated: number;
  readonly blank: number;
  readonly unreadable: number;
  readonly quality: DateQuality | null;
  readonly samples: readonly ColumnSample[];
}

/** One record of a source, cell by cell: as it came, and as it is read. */
export interface RecordInspection {
  readonly id: string | number;
  readonly cells: readonly InspectedCell[];
}

/** A cell as it came and as it is read. */
export interface InspectedCell {
  readonly column: string;
  readonly type: ColumnType;
  /** For dates: what they mean, and how they are stored. */
  readonly reading?: Reading;
  readonly raw: string | null;
  readonly state: "dated" | "blank" | "unreadable" | "text";
  /** In standard form and in words, where it is a date. */
  readonly date?: string;
  readonly long?: string;
  readonly fault?: RenderedFault;
}

/** A cell that was given another text. */
export interface RepairedCell {
  readonly id: string | number;
  readonly column: string;
  readonly value: string | null;
  readonly before: string | null;
  readonly state: "dated" | "blank" | "unreadable" | "text";
  readonly fault?: RenderedFault;
}

/** When and where windows are asked for: now and in universal time unless told. */
export interface WhenAsked {
  /** An instant. */
  readonly asOf?: string;
  /** An IANA time zone. */
  readonly zone?: string;
}

/** A ladder to be declared: windows that tile a stretch, by name or as they are written. */
export interface NewLadder {
  readonly label?: string;
  readonly zone?: string;
  readonly calendar?: ListingCalendar;
  readonly rungs: readonly (
    string | { readonly name: string; readonly label?: string; readonly window: string }
  )[];
}

/** A ladder with the dates of its rungs. */
export interface LadderDescription {
  readonly name: string;
  readonly label: string;
  /** The zone in which it was seen to tile. */
  readonly zone: string;
  readonly rungs: readonly ListedWindowAnswer[];
}

/** A list of days off. */
export interface HolidayListDescription {
  readonly name: string;
  /** How many there are. */
  readonly days: number;
  readonly first: string | null;
  readonly last: string | null;
  readonly takenAt: string;
}

/** A day off, in ISO 8601, and what it is called. */
export interface Holiday {
  readonly day: string;
  readonly label: string;
}

type NewParameter<P extends { readonly blanks: unknown }> = Omit<P, "blanks"> &
  Partial<Pick<P, "blanks">>;

/** A listing to be declared; what is left out gets a default. */
export type NewListing = Pick<ListingDeclaration, "source"> &
  Partial<Omit<ListingDeclaration, "name" | "source" | "parameters" | "order" | "page">> & {
    readonly parameters?: readonly (NewParameter<DateParameter> | NewParameter<ValueParameter>)[];
    readonly order?: Partial<ListingDeclaration["order"]>;
    readonly page?: Partial<ListingDeclaration["page"]>;
  };

/** A version of a listing. */
export interface ListingVersion {
  readonly version: number;
  /** When it was declared; null where that is not known. */
  readonly at: string | null;
  /** The name of the key that declared it; null where that is not known. */
  readonly by: string | null;
  /** What it says otherwise than the one before, a line each. */
  readonly changes: readonly string[];
  readonly isServing: boolean;
}

/** A listing as it is listed. */
export type ListingDescription = ListingDeclaration & {
  readonly version: number;
  /** Why it cannot be served, where it no longer fits its source. */
  readonly broken?: string;
};

/** A listing with what a page needs to draw it. */
export type ListingDetails = ListingDescription & {
  readonly shown: readonly {
    readonly name: string;
    readonly type: ColumnType;
    readonly kind?: "date" | "local" | "instant";
  }[];
  readonly key: string | null;
};

/** A problem document (RFC 9457). */
export interface ProblemDocument {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  readonly instance: string;
  readonly faults: readonly RenderedFault[];
}
