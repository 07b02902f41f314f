import type { ListingDeclaration, Reading, RenderedFault } from "@orisma/core";

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
}

/** A column of a source. */
export type SourceColumn =
  | { readonly name: string; readonly type: "text" | "integer" | "decimal" }
  | { readonly name: string; readonly type: "date"; readonly reading: Reading };

/** A source as it is told. */
export interface SourceDescription {
  readonly name: string;
  /** The column whose value is a record's id, or null. */
  readonly key: string | null;
  readonly records: number;
  /** Null until a file was taken. */
  readonly loadedAt: string | null;
  readonly columns: readonly SourceColumn[];
}

/** A source to be declared: columns that are not named are text. */
export interface NewSource {
  readonly name: string;
  readonly key?: string;
  readonly columns?: Readonly<
    Record<
      string,
      | { readonly type: "text" | "integer" | "decimal" }
      | { readonly type: "date"; readonly reading: Reading }
    >
  >;
}

/** What was made of a file, column by column; text columns are taken as they are. */
export interface LoadReport {
  readonly source: string;
  readonly records: number;
  readonly columns: Readonly<
    Record<
      string,
      {
        readonly read: number;
        readonly blank: number;
        readonly unreadable: number;
        /** The first unreadable cells, by line of the file. */
        readonly examples: readonly ({ readonly line: number } & RenderedFault)[];
      }
    >
  >;
}

/** A listing to be declared; what is left out gets a default. */
export type NewListing = Pick<ListingDeclaration, "source" | "mainDate"> &
  Partial<Pick<ListingDeclaration, "title" | "zone" | "columns" | "reversed">> & {
    readonly parameters?: readonly (Omit<ListingDeclaration["parameters"][number], "blanks"> &
      Partial<Pick<ListingDeclaration["parameters"][number], "blanks">>)[];
    readonly order?: Partial<ListingDeclaration["order"]>;
    readonly page?: Partial<ListingDeclaration["page"]>;
  };

/** A listing as it is listed. */
export type ListingDescription = ListingDeclaration & { readonly version: number };

/** A listing with what a page needs to draw it. */
export type ListingDetails = ListingDescription & {
  readonly shown: readonly {
    readonly name: string;
    readonly type: "text" | "integer" | "decimal" | "date";
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
